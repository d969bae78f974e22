<script setup lang="ts">
import type { Spectrum } from '@keen/core/guiding';
import { figure } from '@keen/core/quantities';
import { scaleLog } from 'd3-scale';
import { computed } from 'vue';

/** Strength of every rhythm in the trace, with the worm's turn and its parts marked where the rig's record has it. */
const props = defineProps<{ spectrum: Spectrum; wormS: number | null }>();
const W = 1080;
const H = 210;
const LEFT = 50;
const BASE = H - 30;
const range = computed<[number, number]>(() => [props.spectrum.periodS[0]!, props.spectrum.periodS.at(-1)!]);
const X = computed(() =>
  scaleLog()
    .domain(range.value)
    .range([LEFT, W - 10]),
);
const top = computed(
  () => 1.15 * Math.max(props.spectrum.noiseArcsec * 1.3, ...props.spectrum.ra, ...props.spectrum.dec),
);
const Y = (v: number) => BASE - (v / top.value) * (BASE - 12);
const line = (v: number[]) =>
  `M${v.map((a, i) => `${X.value(props.spectrum.periodS[i]!).toFixed(1)},${Y(a).toFixed(1)}`).join('L')}`;
const ticks = computed(() =>
  [10, 20, 30, 60, 120, 300, 600, 1200, 3600, 7200].filter((s) => s >= range.value[0] && s <= range.value[1]),
);
const grid = computed(() => [0.25, 0.5, 0.75, 1].map((k) => k * top.value));
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
const seconds = (s: number) => (s < 60 ? `${s} s` : `${s / 60} min`);
</script>

<template>
  <svg
    :viewBox="`0 0 ${W} ${H}`"
    class="spectrum"
    role="img"
    :aria-label="`Strongest rhythm of right ascension ${figure(peak.s, 0)} seconds, ${figure(peak.a, 2)} arcseconds`"
  >
    <g v-for="g in grid" :key="g">
      <path :d="`M${LEFT} ${Y(g)}H${W - 10}`" stroke="var(--line)" />
      <text x="2" :y="Y(g) + 4" class="mono axis">{{ figure(g, 2) }}″</text>
    </g>
    <g v-for="t in ticks" :key="t">
      <path :d="`M${X(t)} ${BASE}v5`" stroke="var(--line-strong)" />
      <text :x="X(t)" :y="H - 8" text-anchor="middle" class="mono axis">{{ seconds(t) }}</text>
    </g>
    <path :d="`M${LEFT} ${BASE}H${W - 10}`" stroke="var(--line-strong)" />
    <g v-for="m in worm" :key="m.k">
      <path :d="`M${X(m.s)} ${BASE}V16`" stroke="var(--accent)" stroke-dasharray="2 4" />
      <text :x="X(m.s)" y="12" text-anchor="middle" class="axis worm">{{ m.k === 1 ? 'worm' : `÷${m.k}` }}</text>
    </g>
    <path :d="`M${LEFT} ${Y(spectrum.noiseArcsec)}H${W - 10}`" class="noise">
      <title>Noise alone rarely exceeds this</title>
    </path>
    <path :d="line(spectrum.dec)" class="dec" />
    <path :d="line(spectrum.ra)" class="ra" />
  </svg>
  <p class="muted small">
    Half-height of each rhythm; right ascension solid, declination dashed. Above the dotted line chance is below one in
    a thousand.{{
      wormS === null ? ' Enter the worm’s turn under Off-axis to see it marked.' : ` Worm: ${figure(wormS, 0)} s.`
    }}
  </p>
</template>

<style scoped>
.spectrum {
  width: 100%;
}
.axis {
  font-size: 12px;
  fill: var(--ink-2);
}
.worm {
  fill: var(--accent);
}
.ra {
  fill: none;
  stroke: var(--caution);
  stroke-width: 1.6;
}
.dec {
  fill: none;
  stroke: var(--violet);
  stroke-width: 1.3;
  stroke-dasharray: 5 3;
}
.noise {
  stroke: var(--ink-2);
  stroke-dasharray: 2 3;
}
</style>
