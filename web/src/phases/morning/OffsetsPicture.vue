<script setup lang="ts">
import type { OffsetsOutput } from '@keen/core/focus';
import { figure, signed } from '@keen/core/quantities';
import type { ChartOptions } from 'chart.js';
import { Scatter } from 'vue-chartjs';
import { computed } from 'vue';
import { axisOf, noteLook, useChartLook } from '../../common/charts.ts';
import FilterTile from '../../common/FilterTile.vue';

/** Offsets with their 95 % bars against the focus zone; plain averages beside them as hollow marks. */
const props = defineProps<{
  found: OffsetsOutput;
  reference: string;
  zoneSteps: number | null;
  adopted: Record<string, { steps: number }> | null;
}>();
const look = useChartLook();
const rows = computed(() =>
  Object.entries(props.found.offsets)
    .map(([filter, o]) => ({
      filter,
      ...o,
      naive: props.found.naiveOffsets[filter] ?? 0,
      before: props.adopted?.[filter]?.steps ?? null,
    }))
    .sort((a, b) => a.steps - b.steps),
);
const ROW = 34;
/** Room for the axis below the rows. */
const AXIS = 30;
const at = (v: (r: (typeof rows.value)[number]) => number | null) =>
  rows.value.map((r, i) => ({ x: v(r), y: i })).filter((p): p is { x: number; y: number } => p.x !== null);
const point = { type: 'scatter' as const, pointStyle: 'circle' as const };
const data = computed(() => ({
  datasets: [
    {
      ...point,
      label: 'offset',
      data: at((r) => r.steps),
      radius: 4.5,
      backgroundColor: look.value.ink,
      borderColor: look.value.ink,
    },
    {
      ...point,
      label: 'plain average',
      data: at((r) => (r.filter === props.reference ? null : r.naive)),
      radius: 5,
      backgroundColor: 'transparent',
      borderColor: look.value.bad,
      borderWidth: 1.6,
    },
    {
      ...point,
      pointStyle: 'line' as const,
      rotation: 90,
      label: 'adopted',
      data: at((r) => r.before),
      radius: 11,
      borderColor: look.value.accent,
      borderWidth: 2,
    },
    ...rows.value.map((r, i) => ({
      ...point,
      showLine: true,
      pointStyle: 'line' as const,
      rotation: 90,
      label: 'at 95 %',
      radius: 5,
      data: [
        { x: r.steps - r.interval95, y: i },
        { x: r.steps + r.interval95, y: i },
      ],
      borderColor: look.value.ink,
      borderWidth: 1.6,
    })),
  ],
}));
const options = computed<ChartOptions<'scatter'>>(() => {
  const half = (props.zoneSteps ?? 0) / 2;
  return {
    responsive: true,
    maintainAspectRatio: false,
    layout: { padding: 0, autoPadding: false },
    scales: {
      x: axisOf(look.value, '', {
        suggestedMin: -half,
        suggestedMax: half,
        ticks: {
          color: look.value.ink2,
          font: look.value.font,
          maxTicksLimit: 7,
          callback: (v: string | number) => signed(Number(v), 0),
        },
        afterFit: (a: { height: number }) => (a.height = AXIS),
      }),
      y: { type: 'linear', display: false, min: -0.5, max: rows.value.length - 0.5, reverse: true },
    },
    plugins: {
      legend: { display: false },
      tooltip: {
        ...noteLook(look.value),
        callbacks: {
          title: (items) => rows.value[Math.round(items[0]?.parsed.y ?? 0)]?.filter ?? '',
          label: (i) => `${i.dataset.label ?? ''} ${signed(i.parsed.x ?? 0, 1)}`,
        },
      },
      annotation: {
        annotations: props.zoneSteps
          ? {
              zone: {
                type: 'box',
                xMin: -half,
                xMax: half,
                backgroundColor: look.value.goodWash,
                borderWidth: 0,
                drawTime: 'beforeDatasetsDraw',
              },
            }
          : {},
      },
    },
  };
});
</script>

<template>
  <div class="picture">
    <div class="names" :style="{ gridAutoRows: `${ROW}px` }">
      <span v-for="r in rows" :key="r.filter" class="row"><FilterTile :name="r.filter" /></span>
    </div>
    <div class="chart" :style="{ height: `${rows.length * ROW + AXIS}px` }">
      <Scatter
        :data="data"
        :options="options"
        :aria-label="`Offsets with 95 % bars${zoneSteps ? `; the band is the critical focus zone of ${figure(zoneSteps, 0)} steps` : ''}`"
      />
    </div>
    <table class="figures">
      <tbody>
        <tr v-for="r in rows" :key="r.filter" :style="{ height: `${ROW}px` }">
          <td class="num">
            {{ r.filter === reference ? 'reference' : `${signed(r.steps, 0)} ± ${figure(r.interval95, 1)}` }}
          </td>
          <td class="num muted">{{ r.filter === reference ? '' : signed(r.naive, 0) }}</td>
          <td class="num muted">{{ r.runs }}</td>
        </tr>
        <tr class="heads">
          <td class="num">steps, ± at 95 %</td>
          <td class="num">plain</td>
          <td class="num">runs</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.picture {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: 12px;
}
.chart {
  position: relative;
  min-width: 0;
}
.names {
  display: grid;
  align-content: start;
}
td {
  padding: 0 6px;
}
.heads td {
  color: var(--ink-2);
  font-size: 12px;
  font-family: inherit;
}
</style>
