<script setup lang="ts">
import { GUIDE_EXPOSURES_S, signalOf, type GuideOptics } from '@keen/core/guiding';
import { figure } from '@keen/core/quantities';
import { computed } from 'vue';

/** Signal to noise of one star at every exposure a guider offers: what is enough, what fills the well, what to set. */
const props = defineProps<{ optics: GuideOptics; mag: number; wanted: number; roomE: number; chosen: number }>();
const emit = defineEmits<{ choose: [exposureS: number] }>();
const bars = computed(() =>
  GUIDE_EXPOSURES_S.map((exposureS) => {
    const s = signalOf(props.optics, props.mag, exposureS);
    return { exposureS, snr: s.snr, full: s.peakElectrons > props.roomE, enough: s.snr >= props.wanted };
  }),
);
const WIDTH = 560;
const HEIGHT = 170;
const BASE = 136;
const top = computed(() => Math.max(props.wanted * 1.6, ...bars.value.map((b) => b.snr)));
const Y = (v: number) => BASE - (v / top.value) * (BASE - 18);
const step = (WIDTH - 50) / GUIDE_EXPOSURES_S.length;
const X = (i: number) => 44 + i * step;
</script>

<template>
  <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="group" aria-label="Signal to noise by exposure" class="bars">
    <path :d="`M40 ${BASE}H${WIDTH}`" stroke="var(--line-strong)" />
    <g
      v-for="(b, i) in bars"
      :key="b.exposureS"
      role="button"
      tabindex="0"
      :aria-label="`${b.exposureS} seconds: ${figure(b.snr, 0)}${b.full ? ', fills the well' : b.enough ? '' : ', too faint'}`"
      :aria-pressed="b.exposureS === chosen"
      class="bar"
      :class="{ chosen: b.exposureS === chosen, full: b.full, faint: !b.enough }"
      @click="emit('choose', b.exposureS)"
      @keydown.enter.space.prevent="emit('choose', b.exposureS)"
    >
      <rect :x="X(i)" y="6" :width="step - 8" :height="HEIGHT - 8" fill="transparent" />
      <rect :x="X(i) + 4" :y="Y(b.snr)" :width="step - 16" :height="Math.max(1, BASE - Y(b.snr))" class="body" />
      <text :x="X(i) + step / 2 - 4" :y="Y(b.snr) - 5" text-anchor="middle" class="value mono">
        {{ figure(b.snr, 0) }}
      </text>
      <text :x="X(i) + step / 2 - 4" :y="BASE + 16" text-anchor="middle" class="mono axis">{{ b.exposureS }} s</text>
      <text v-if="b.full || !b.enough" :x="X(i) + step / 2 - 4" :y="BASE + 31" text-anchor="middle" class="why">
        {{ b.full ? 'full' : 'faint' }}
      </text>
    </g>
    <path :d="`M40 ${Y(wanted)}H${WIDTH}`" class="limit" />
    <text x="2" :y="Y(wanted) + 4" class="axis">wanted</text>
  </svg>
</template>

<style scoped>
.bars {
  width: 100%;
}
.bar {
  cursor: pointer;
}
.bar:focus-visible {
  outline: 2px solid var(--accent);
}
.body {
  fill: var(--lane);
  stroke: var(--lane-edge);
}
.chosen .body {
  fill: var(--accent);
  stroke: var(--accent);
}
.full .body,
.faint .body {
  fill: none;
  stroke: var(--ghost);
  stroke-dasharray: 3 3;
}
.value,
.axis,
.why {
  font-size: 12px;
  fill: var(--ink-2);
}
.chosen .value {
  fill: var(--ink);
  font-weight: 700;
}
.limit {
  stroke: var(--good);
  stroke-dasharray: 6 4;
  stroke-width: 1.6;
}
</style>
