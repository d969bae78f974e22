<script setup lang="ts">
import type { FocusRunRecord } from '@keen/contract';
import type { OffsetsOutput } from '@keen/core/focus';
import { figure } from '@keen/core/quantities';
import type { ChartOptions } from 'chart.js';
import { Scatter } from 'vue-chartjs';
import { computed } from 'vue';
import { axisOf, noteLook, useChartLook } from '../../common/charts.ts';
import { filterLook } from '../../common/filters.ts';
import { useUnits } from '../../stores/units.ts';

const units = useUnits();

/** Every run less its filter's offset against temperature: what is left is the tube's own drift. */
const props = defineProps<{ runs: FocusRunRecord[]; found: OffsetsOutput }>();
const look = useChartLook();
const shown = (c: number) => units.bare('airC', c);
const level = (r: FocusRunRecord) => r.position - (props.found.offsets[r.filter]?.steps ?? 0);
const withTemperature = computed(() => props.runs.filter((r) => r.temperatureC !== null));
const SHAPES = ['circle', 'rect', 'triangle', 'rectRot', 'star', 'crossRot', 'dash'] as const;
const data = computed(() => {
  const filters = [...new Set(withTemperature.value.map((r) => r.filter))];
  const outlying = new Set(props.found.outliers.map((i) => props.runs[i]?.id));
  const t = withTemperature.value.map((r) => r.temperatureC!);
  const [a, b] = [Math.min(...t), Math.max(...t)];
  const line = (c: number) =>
    props.found.referencePosition + (props.found.temperatureStepsPerC ?? 0) * (c - (props.found.meanTemperatureC ?? c));
  return {
    datasets: [
      ...(props.found.temperatureStepsPerC === undefined
        ? []
        : [
            {
              label: 'fit',
              data: [
                { x: shown(a), y: line(a) },
                { x: shown(b), y: line(b) },
              ],
              showLine: true,
              pointRadius: 0,
              borderColor: look.value.accent,
              borderWidth: 2,
            },
          ]),
      ...filters.map((f, i) => ({
        label: f,
        data: withTemperature.value
          .filter((r) => r.filter === f)
          .map((r) => ({ x: shown(r.temperatureC!), y: level(r) })),
        pointStyle: SHAPES[i % SHAPES.length],
        radius: 4,
        backgroundColor: look.value.red ? 'transparent' : filterLook(f).colour,
        borderColor: look.value.red ? look.value.ink : filterLook(f).colour,
      })),
      {
        label: 'outlier',
        data: withTemperature.value
          .filter((r) => outlying.has(r.id))
          .map((r) => ({ x: shown(r.temperatureC!), y: level(r) })),
        pointStyle: 'circle' as const,
        radius: 9,
        backgroundColor: 'transparent',
        borderColor: look.value.bad,
        borderWidth: 2,
      },
    ],
  };
});
const options = computed<ChartOptions<'scatter'>>(() => ({
  responsive: true,
  maintainAspectRatio: false,
  scales: {
    x: axisOf(look.value, `tube, ${units.unitOf('airC')}`, { reverse: true }),
    y: axisOf(look.value, 'position less offset'),
  },
  plugins: {
    legend: { display: false },
    tooltip: {
      ...noteLook(look.value),
      callbacks: {
        label: (c) =>
          `${c.dataset.label ?? ''} ${figure(c.parsed.x ?? 0, 1)} ${units.unitOf('airC')}: ${figure(c.parsed.y ?? 0, 0)}`,
      },
    },
  },
}));
</script>

<template>
  <div class="chart">
    <Scatter :data="data" :options="options" aria-label="Focus against temperature, offsets taken off" />
  </div>
</template>

<style scoped>
.chart {
  height: 230px;
}
</style>
