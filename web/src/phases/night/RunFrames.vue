<script setup lang="ts">
import type { RunResult } from '@keen/core/observatory';
import type { z } from 'zod';
import type { ChartOptions } from 'chart.js';
import { Scatter } from 'vue-chartjs';
import { computed } from 'vue';
import { axisOf, clockAxis, useChartLook } from '../../common/charts.ts';
import { filterLook } from '../../common/filters.ts';
import { clock } from '../../common/times.ts';

/** Star width of every frame over the night; refused frames as crosses. */
const props = defineProps<{ frames: z.output<typeof RunResult>['frames']; timeZone: string }>();
const look = useChartLook();
const filters = computed(() => [...new Set(props.frames.map((f) => f.filter))]);
const SHAPES = ['circle', 'rect', 'triangle', 'rectRot', 'star', 'crossRot', 'dash'] as const;
const data = computed(() => ({
  datasets: [
    ...filters.value.map((name, i) => ({
      label: name,
      data: props.frames
        .filter((f) => f.filter === name && f.accepted)
        .map((f) => ({ x: Date.parse(f.start), y: f.hfdPx })),
      pointStyle: SHAPES[i % SHAPES.length],
      radius: 4,
      backgroundColor: look.value.red ? 'transparent' : filterLook(name).colour,
      borderColor: look.value.red ? look.value.ink : filterLook(name).colour,
    })),
    {
      label: 'refused',
      data: props.frames.filter((f) => !f.accepted).map((f) => ({ x: Date.parse(f.start), y: f.hfdPx })),
      pointStyle: 'crossRot' as const,
      radius: 6,
      borderWidth: 2,
      borderColor: look.value.bad,
    },
  ],
}));
const options = computed<ChartOptions<'scatter'>>(() => ({
  responsive: true,
  maintainAspectRatio: false,
  scales: {
    x: clockAxis(look.value, props.timeZone),
    y: axisOf(look.value, 'star width HFD, px', { min: 0 }),
  },
  plugins: {
    legend: {
      display: true,
      align: 'end' as const,
      labels: { usePointStyle: true, color: look.value.ink2, font: look.value.font, boxHeight: 7 },
    },
    tooltip: {
      callbacks: {
        label: (c) =>
          `${c.dataset.label ?? ''} ${clock(c.parsed.x ?? 0, props.timeZone)}  ${(c.parsed.y ?? 0).toFixed(2)} px`,
      },
    },
  },
}));
</script>

<template>
  <p v-if="!frames.length" class="muted small">No frame was taken: there is no course to draw.</p>
  <div v-else class="chart">
    <Scatter :data="data" :options="options" aria-label="Star width of the frames over the night" />
  </div>
</template>

<style scoped>
.chart {
  height: 200px;
}
</style>
