<script setup lang="ts">
import type { MoonDisk } from '@keen/core/sky';
import { computed } from 'vue';

/** Sensor, what of it is read out, and the Moon at one scale. */
const props = defineProps<{
  disk: MoonDisk;
  moonPx: number;
  sensor: { w: number; h: number };
  crop: { w: number; h: number };
}>();
const side = computed(() => 1.04 * Math.max(props.sensor.w, props.sensor.h, props.moonPx));
const view = computed(() => {
  const h = 1.04 * Math.max(props.sensor.h, props.moonPx);
  return `${-side.value / 2} ${-h / 2} ${side.value} ${h}`;
});
/** The lit part: a half circle and half an ellipse. */
const lit = computed(() => {
  const r = props.moonPx / 2;
  const k = Math.cos((props.disk.phaseAngleDeg * Math.PI) / 180);
  return `M0 ${-r}A${r} ${r} 0 0 1 0 ${r}A${Math.abs(k) * r} ${r} 0 0 ${k > 0 ? 1 : 0} 0 ${-r}Z`;
});
const line = computed(() => side.value / 400);
</script>

<template>
  <svg class="moon" :viewBox="view" role="img" aria-label="The Moon against the sensor and what of it is read out">
    <rect
      :x="-sensor.w / 2"
      :y="-sensor.h / 2"
      :width="sensor.w"
      :height="sensor.h"
      fill="var(--sunk)"
      stroke="var(--line-strong)"
      :stroke-width="line"
    />
    <circle class="unlit" :r="moonPx / 2" stroke="var(--lane-edge)" :stroke-width="line" />
    <path class="lit" :d="lit" stroke="var(--ink)" :stroke-width="line" />
    <rect
      :x="-crop.w / 2"
      :y="-crop.h / 2"
      :width="crop.w"
      :height="crop.h"
      fill="none"
      stroke="var(--accent)"
      :stroke-width="2.4 * line"
      :stroke-dasharray="`${8 * line} ${6 * line}`"
    />
  </svg>
</template>

<style scoped>
.unlit {
  fill: var(--ghost);
}
.lit {
  fill: var(--surface);
}
:root:not([data-light='day']) .unlit {
  fill: var(--bg);
}
:root:not([data-light='day']) .lit {
  fill: var(--ink-2);
}
.moon {
  width: 100%;
  max-height: 360px;
}
</style>
