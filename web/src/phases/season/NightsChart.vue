<script setup lang="ts">
import type { ProjectRecord } from '@keen/contract';
import { figure } from '@keen/core/quantities';
import type { ChartOptions } from 'chart.js';
import { Bar } from 'vue-chartjs';
import { computed } from 'vue';
import { axisOf, hatched, noteLook, ticksOf, useChartLook } from '../../common/charts.ts';
import { dayName } from '../../common/times.ts';

/** Open-shutter hours a night, stacked by filter: what each clear night added. */
const props = defineProps<{ project: ProjectRecord }>();
const SHOWN = 14;
const look = useChartLook();
const taken = computed(() => props.project.nights.filter((n) => n.accepted > 0));
const nights = computed(() => [...new Set(taken.value.map((n) => n.night))].sort().slice(-SHOWN));
const place = (f: string) => props.project.goals.findIndex((g) => g.filter === f);
const filters = computed(() => [...new Set(taken.value.map((n) => n.filter))].sort((a, b) => place(b) - place(a)));
const of = (night: string, filter: string) => taken.value.filter((n) => n.night === night && n.filter === filter);
const hours = (night: string, filter: string) =>
  of(night, filter).reduce((s, n) => s + (n.accepted * n.exposureS) / 3600, 0);
const data = computed(() => ({
  labels: nights.value.map(dayName),
  datasets: filters.value.map((f) => ({
    label: f,
    data: nights.value.map((n) => hours(n, f)),
    backgroundColor: hatched(look.value, f),
    borderColor: look.value.red ? look.value.ink2 : look.value.surface,
    borderWidth: 0.8,
    maxBarThickness: 82,
  })),
}));
const options = computed<ChartOptions<'bar'>>(() => ({
  responsive: true,
  maintainAspectRatio: false,
  interaction: { mode: 'index' },
  scales: {
    x: { ...axisOf(look.value, ''), type: 'category', stacked: true, grid: { display: false } },
    y: { ...axisOf(look.value, '', { min: 0, suggestedMax: 1, ticks: ticksOf(look.value, ' h') }), stacked: true },
  },
  plugins: {
    legend: { display: true, position: 'right', reverse: true, labels: { color: look.value.ink2, boxWidth: 14 } },
    tooltip: {
      ...noteLook(look.value),
      filter: (item) => (item.parsed.y ?? 0) > 0,
      callbacks: {
        label: (item) => {
          const f = item.dataset.label ?? '';
          const frames = of(nights.value[item.dataIndex]!, f).reduce((s, n) => s + n.accepted, 0);
          return `${f}: ${frames} frames, ${figure(60 * (item.parsed.y ?? 0), 0)} min`;
        },
        footer: (items) =>
          `${figure(
            items.reduce((s, i) => s + (i.parsed.y ?? 0), 0),
            1,
          )} h in all`,
      },
    },
  },
}));
</script>

<template>
  <div v-if="nights.length" class="chart">
    <Bar :data="data" :options="options" aria-label="Hours gathered by night and filter" />
  </div>
  <p v-else class="muted small">No night yet. What a real night brings in under Morning stands here.</p>
</template>

<style scoped>
.chart {
  height: 150px;
}
</style>
