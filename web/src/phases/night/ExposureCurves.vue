<script setup lang="ts">
import { figure } from '@keen/core/quantities';
import type { ChartOptions } from 'chart.js';
import { Line } from 'vue-chartjs';
import { computed } from 'vue';
import { axisOf, noteLook, useChartLook } from '../../common/charts.ts';
import { filterLook } from '../../common/filters.ts';
import type { Row } from './useExposures.ts';

/** What read noise adds to a frame's noise, by its length, one line a filter: where the line dips under the wish, longer gains nothing. */
const props = defineProps<{ rows: readonly Row[]; criteriaPercent: number }>();
const SECONDS = [5, 10, 15, 20, 30, 45, 60, 90, 120, 180, 240, 300, 420, 600, 900, 1200];
const DASHES = [[], [7, 4], [2, 3], [9, 3, 2, 3], [12, 4], [4, 2], [1, 4]];
const look = useChartLook();
const data = computed(() => ({
  datasets: props.rows.map(({ advice }, i) => ({
    label: advice.filter,
    data: SECONDS.map((s) => ({ x: s, y: 100 * advice.addedAt(s) })),
    borderColor: look.value.red ? look.value.ink : filterLook(advice.filter).colour,
    borderDash: DASHES[i % DASHES.length]!,
    borderWidth: 2,
    pointRadius: SECONDS.map((s) => (s === advice.recommendedS ? 5 : 0)),
    pointBackgroundColor: look.value.surface,
    pointBorderWidth: 2,
    tension: 0.25,
  })),
}));
const options = computed<ChartOptions<'line'>>(() => ({
  responsive: true,
  maintainAspectRatio: false,
  interaction: { mode: 'index', intersect: false },
  scales: {
    x: {
      ...axisOf(look.value, 'one frame, s'),
      type: 'logarithmic',
      min: 5,
      max: 1200,
      ticks: {
        color: look.value.ink2,
        font: look.value.font,
        autoSkip: false,
        callback: (v) => ([5, 10, 30, 60, 120, 300, 600, 1200].includes(Number(v)) ? String(v) : ''),
        maxRotation: 0,
      },
      afterBuildTicks: (a) => void (a.ticks = SECONDS.map((value) => ({ value }))),
    },
    y: axisOf(look.value, 'noise added, %', { min: 0, max: Math.max(30, 4 * props.criteriaPercent) }),
  },
  plugins: {
    legend: {
      display: true,
      align: 'end',
      labels: {
        color: look.value.ink2,
        font: look.value.font,
        usePointStyle: true,
        pointStyle: 'line',
        pointStyleWidth: 28,
      },
    },
    tooltip: {
      ...noteLook(look.value),
      callbacks: {
        title: (i) => `${figure(i[0]?.parsed.x ?? 0, 0)} s`,
        label: (i) => `${i.dataset.label ?? ''} ${figure(i.parsed.y ?? 0, 1)} %`,
      },
    },
    annotation: {
      annotations: {
        criteria: {
          type: 'line',
          yMin: props.criteriaPercent,
          yMax: props.criteriaPercent,
          borderColor: look.value.good,
          borderDash: [6, 4],
          borderWidth: 1.6,
          label: {
            display: true,
            content: 'accepted',
            position: 'end',
            backgroundColor: look.value.surface,
            color: look.value.ink2,
            font: look.value.font,
            padding: 2,
          },
        },
      },
    },
  },
}));
</script>

<template>
  <div class="chart"><Line :data="data" :options="options" aria-hidden="true" /></div>
</template>

<style scoped>
.chart {
  height: 230px;
}
</style>
