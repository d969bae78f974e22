<script setup lang="ts">
import { horizonAt, type HorizonPoint } from '@keen/core/sky';
import { computed } from 'vue';

/** The horizon unrolled: azimuth across, altitude up, what hides the sky filled in. */
const props = defineProps<{ horizon: HorizonPoint[]; limitDeg?: number }>();
const W = 560;
const H = 150;
const TOP = 60;
const X = (az: number) => 34 + (az / 360) * (W - 44);
const Y = (alt: number) => H - 22 - (Math.max(0, alt) / TOP) * (H - 32);
const path = computed(() => {
  const points = Array.from(
    { length: 181 },
    (_, k) => `${X(2 * k).toFixed(1)} ${Y(horizonAt(props.horizon, 2 * k)).toFixed(1)}`,
  );
  return `M${X(0)} ${Y(0)}L${points.join('L')}L${X(360)} ${Y(0)}Z`;
});
const POINTS = ['N', 'NE', 'E', 'SE', 'S', 'SW', 'W', 'NW', 'N'];
</script>

<template>
  <svg :viewBox="`0 0 ${W} ${H}`" role="img" aria-label="Horizon line by azimuth">
    <g v-for="a in [0, 15, 30, 45, 60]" :key="a">
      <path :d="`M${X(0)} ${Y(a)}H${X(360)}`" stroke="var(--line)" stroke-width="1" />
      <text :x="X(0) - 6" :y="Y(a) + 4" text-anchor="end" font-size="11" fill="var(--ink-2)" class="mono">
        {{ a }}°
      </text>
    </g>
    <path :d="path" fill="var(--lane)" stroke="var(--lane-edge)" stroke-width="1.2" />
    <path v-if="limitDeg" :d="`M${X(0)} ${Y(limitDeg)}H${X(360)}`" stroke="var(--accent)" stroke-dasharray="4 4" />
    <circle v-for="(p, i) in horizon" :key="i" :cx="X(p.azimuthDeg)" :cy="Y(p.altitudeDeg)" r="3" fill="var(--accent)">
      <title>{{ p.azimuthDeg }}°: {{ p.altitudeDeg }}°</title>
    </circle>
    <text
      v-for="(n, i) in POINTS"
      :key="i"
      :x="X(45 * i)"
      :y="H - 6"
      text-anchor="middle"
      font-size="12"
      fill="var(--ink-2)"
    >
      {{ n }}
    </text>
  </svg>
</template>
