<script setup lang="ts">
import { figure, fieldOfView } from '@keen/core/quantities';
import type { RigSetup } from '@keen/core/rig';
import { computed } from 'vue';

/** The camera's field to scale beside the Moon, with an object in it where one is chosen. */
const props = defineProps<{
  setup: Pick<RigSetup, 'focalLengthMm' | 'camera'>;
  object?: { id: string; majorArcmin: number | null; minorArcmin: number | null; paDeg?: number | null } | null;
}>();
/** The Moon's mean width [′]. */
const MOON = 31;
const W = 420;
const H = 190;
const size = computed(() => {
  const { camera, focalLengthMm } = props.setup;
  const { widthDeg, heightDeg } = fieldOfView(camera, focalLengthMm);
  return { w: 60 * widthDeg, h: 60 * heightDeg };
});
const scale = computed(() => Math.min((W - 120) / (size.value.w + MOON + 20), (H - 34) / Math.max(size.value.h, MOON)));
const box = computed(() => ({ w: size.value.w * scale.value, h: size.value.h * scale.value }));
const x0 = computed(() => 20);
const y0 = computed(() => (H - box.value.h) / 2);
/** Both sides in one unit. */
const degrees = (arcmin: number) =>
  Math.max(size.value.w, size.value.h) >= 90 ? `${figure(arcmin / 60, 1)}°` : `${figure(arcmin, 0)}′`;
const shape = computed(() => {
  const o = props.object;
  if (!o?.majorArcmin) return null;
  return {
    rx: (o.majorArcmin / 2) * scale.value,
    ry: ((o.minorArcmin ?? o.majorArcmin) / 2) * scale.value,
    // the long axis lies across at 90°, upright at 0°; east is to the left
    turn: o.paDeg === null || o.paDeg === undefined ? 0 : 90 - o.paDeg,
  };
});
</script>

<template>
  <svg
    :viewBox="`0 0 ${W} ${H}`"
    role="img"
    :aria-label="`Field ${degrees(size.w)} by ${degrees(size.h)}, beside the Moon`"
  >
    <rect
      :x="x0"
      :y="y0"
      :width="box.w"
      :height="box.h"
      fill="var(--sky-night)"
      stroke="var(--ink)"
      stroke-width="1.4"
    />
    <clipPath id="first-field"><rect :x="x0" :y="y0" :width="box.w" :height="box.h" /></clipPath>
    <ellipse
      v-if="shape"
      :cx="x0 + box.w / 2"
      :cy="y0 + box.h / 2"
      :rx="shape.rx"
      :ry="shape.ry"
      :transform="`rotate(${shape.turn} ${x0 + box.w / 2} ${y0 + box.h / 2})`"
      clip-path="url(#first-field)"
      fill="none"
      stroke="var(--accent)"
      stroke-width="1.6"
    />
    <circle
      :cx="x0 + box.w + 14 + (MOON * scale) / 2"
      :cy="H / 2"
      :r="(MOON * scale) / 2"
      fill="var(--surface)"
      stroke="var(--ink-2)"
    />
    <text :x="x0" :y="Math.max(12, y0 - 5)" font-size="12" fill="var(--ink-2)" class="mono">
      {{ degrees(size.w) }} × {{ degrees(size.h) }}
    </text>
    <text
      :x="x0 + box.w + 14 + (MOON * scale) / 2"
      :y="H / 2 + (MOON * scale) / 2 + 15"
      font-size="12"
      text-anchor="middle"
      fill="var(--ink-2)"
    >
      Moon
    </text>
  </svg>
</template>
