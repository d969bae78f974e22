<script setup lang="ts">
import type { Spectrum } from '@keen/core/guiding';
import { figure } from '@keen/core/quantities';
import type { ChartOptions } from 'chart.js';
import { Line } from 'vue-chartjs';
import { computed } from 'vue';
import { axisOf, noteLook, ticksOf, useChartLook } from '../../common/charts.ts';

/** Strength of every rhythm in the trace, with the worm's turn and its parts marked where the rig's record has it. */
const props = defineProps<{ spectrum: Spectrum; wormS: number | null }>();
const look = useChartLook();
const range = computed<[number, number]>(() => [props.spectrum.periodS[0]!, props.spectrum.periodS.at(-1)!]);
const TICKS_S = [10, 20, 30, 60, 120, 300, 600, 1200, 3600, 7200];
const ticks = computed(() => TICKS_S.filter((s) => s >= range.value[0] && s <= range.value[1]));
const worm = computed(() =>
  props.wormS === null
    ? []
    : [1, 2, 3, 4]
        .map((k) => ({ k, s: props.wormS! / k }))
        .filter((m) => m.s >= range.value[0] && m.s <= range.value[1]),
);
const peak = computed(() => {
  const i = props.spectrum.ra.indexOf(Math.max(...props.spectrum.ra));
  return { s: props.spectrum.periodS[i]!, a: props.spectrum.ra[i]! };
});
const seconds = (s: number) => (s < 60 ? `${figure(s, 0)} s` : `${figure(s / 60, s % 60 === 0 ? 0 : 1)} min`);
const line = (v: readonly number[]) => v.map((y, i) => ({ x: props.spectrum.periodS[i]!, y }));
const common = { pointRadius: 0, pointHitRadius: 6 };
const data = computed(() => ({
  datasets: [
    {
      ...common,
      label: 'RA',
      data: line(props.spectrum.ra),
      borderColor: look.value.red ? look.value.ink : look.value.caution,
      borderWidth: 1.6,
    },
    {
      ...common,
      label: 'Dec',
      data: line(props.spectrum.dec),
      borderColor: look.value.violet,
      borderWidth: 1.3,
      borderDash: [5, 3],
    },
  ],
}));
const label = (content: string) => ({
  display: true,
  content,
  position: 'end' as const,
  backgroundColor: look.value.surface,
  color: look.value.accent,
  font: look.value.font,
  padding: 2,
});
const options = computed<ChartOptions<'line'>>(() => ({
  responsive: true,
  maintainAspectRatio: false,
  interaction: { mode: 'index', axis: 'x', intersect: false },
  scales: {
    x: {
      ...axisOf(look.value, ''),
      type: 'logarithmic',
      min: range.value[0],
      max: range.value[1],
      afterBuildTicks: (a) => (a.ticks = ticks.value.map((value) => ({ value }))),
      ticks: { color: look.value.ink2, font: look.value.font, autoSkip: true, callback: (v) => seconds(Number(v)) },
    },
    y: axisOf(look.value, '', {
      min: 0,
      suggestedMax: props.spectrum.noiseArcsec * 1.4,
      ticks: ticksOf(look.value, '″'),
    }),
  },
  plugins: {
    legend: { display: false },
    tooltip: {
      ...noteLook(look.value),
      callbacks: {
        title: (items) => seconds(items[0]?.parsed.x ?? 0),
        label: (i) => `${i.dataset.label ?? ''} ${figure(i.parsed.y ?? 0, 2)}″`,
      },
    },
    annotation: {
      annotations: {
        noise: {
          type: 'line',
          yMin: props.spectrum.noiseArcsec,
          yMax: props.spectrum.noiseArcsec,
          borderColor: look.value.ink2,
          borderDash: [2, 3],
          borderWidth: 1,
        },
        ...Object.fromEntries(
          worm.value.map((m) => [
            `worm${m.k}`,
            {
              type: 'line' as const,
              xMin: m.s,
              xMax: m.s,
              borderColor: look.value.accent,
              borderDash: [2, 4],
              borderWidth: 1,
              label: label(m.k === 1 ? 'worm' : `÷${m.k}`),
            },
          ]),
        ),
      },
    },
  },
}));
</script>

<template>
  <div class="chart">
    <Line
      :data="data"
      :options="options"
      :aria-label="`Strongest rhythm of right ascension ${figure(peak.s, 0)} seconds, ${figure(peak.a, 2)} arcseconds`"
    />
  </div>
  <p class="muted small">
    Half-height of each rhythm; right ascension solid, declination dashed. Above the dotted line chance is below one in
    a thousand.{{
      wormS === null ? ' Enter the worm’s turn under Off-axis to see it marked.' : ` Worm: ${figure(wormS, 0)} s.`
    }}
  </p>
</template>

<style scoped>
.chart {
  height: 220px;
}
</style>
