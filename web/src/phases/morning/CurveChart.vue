<script setup lang="ts">
import type { FocusRunRecord } from '@keen/contract';
import { curve, curveAt, CurveInput } from '@keen/core/focus';
import { parseInput } from '@keen/core/calculation';
import { figure } from '@keen/core/quantities';
import type { ChartOptions } from 'chart.js';
import { Scatter } from 'vue-chartjs';
import { computed } from 'vue';
import { axisOf, noteLook, useChartLook } from '../../common/charts.ts';

/** One focus run: the measured points, the fitted V-curve, and where its bottom is. */
const props = defineProps<{ run: FocusRunRecord }>();
const look = useChartLook();
const fit = computed(() => {
  try {
    return props.run.points.length >= 5 ? curve(parseInput(CurveInput, { points: props.run.points })) : null;
  } catch {
    return null;
  }
});
const model = computed(() => {
  const f = fit.value;
  if (!f) return [];
  const at = props.run.points.map((p) => p.position);
  const [a, b] = [Math.min(...at), Math.max(...at)];
  return Array.from({ length: 61 }, (_, k) => {
    const x = a + ((b - a) * k) / 60;
    return { x, y: curveAt(f, x) };
  });
});
const data = computed(() => {
  const c = look.value;
  const kept = fit.value?.kept ?? props.run.points.map(() => true);
  const of = (on: boolean) =>
    props.run.points.filter((_, i) => kept[i] === on).map((p) => ({ x: p.position, y: p.hfd }));
  return {
    datasets: [
      { label: 'fit', data: model.value, showLine: true, pointRadius: 0, borderColor: c.accent, borderWidth: 2 },
      { label: 'point', data: of(true), radius: 4, backgroundColor: c.ink, borderColor: c.ink },
      {
        label: 'left out',
        data: of(false),
        radius: 6,
        pointStyle: 'crossRot' as const,
        borderColor: c.bad,
        borderWidth: 2,
      },
    ],
  };
});
const options = computed<ChartOptions<'scatter'>>(() => ({
  responsive: true,
  maintainAspectRatio: false,
  scales: { x: axisOf(look.value, 'focuser position, steps'), y: axisOf(look.value, 'HFD, px', { min: 0 }) },
  plugins: {
    legend: { display: false },
    tooltip: {
      ...noteLook(look.value),
      callbacks: { label: (c) => `${figure(c.parsed.x ?? 0, 0)} steps: ${figure(c.parsed.y ?? 0, 2)} px` },
    },
    annotation: {
      annotations: fit.value
        ? {
            best: {
              type: 'line' as const,
              xMin: fit.value.position,
              xMax: fit.value.position,
              borderColor: look.value.accent,
              borderWidth: 1,
              borderDash: [4, 4],
            },
          }
        : {},
    },
  },
}));
</script>

<template>
  <div>
    <div v-if="run.points.length" class="chart">
      <Scatter :data="data" :options="options" aria-label="V-curve of the run" />
    </div>
    <p v-else class="muted">This run came with its result only; there are no points to draw.</p>
    <p v-if="fit" class="small">
      <span :class="fit.usable ? 'level-good' : 'level-bad'">{{
        fit.usable ? 'Usable' : `Not usable: ${fit.reason}`
      }}</span
      >, best at <span class="mono">{{ figure(fit.position, 0) }} ± {{ figure(fit.positionError, 1) }}</span>, smallest
      <span class="mono">{{ figure(fit.minHfd, 2) }}</span> px, R²
      <span class="mono">{{ figure(fit.rSquared, 3) }}</span>
    </p>
  </div>
</template>

<style scoped>
.chart {
  height: 190px;
}
</style>
