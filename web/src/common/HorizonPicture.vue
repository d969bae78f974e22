<script setup lang="ts">
import { horizonAt, type HorizonPoint } from '@keen/core/sky';
import { computed, ref } from 'vue';
import { drawnHorizon } from './horizonDrawing.ts';

/** The horizon unrolled: azimuth across, altitude up, what hides the sky filled in. Drawn with the mouse where it may be. */
const props = defineProps<{ horizon: HorizonPoint[]; limitDeg?: number; editable?: boolean }>();
const emit = defineEmits<{ 'update:horizon': [points: HorizonPoint[]] }>();
const W = 560;
const H = 150;
const TOP = 60;
const LEFT = 34;
const X = (az: number) => LEFT + (az / 360) * (W - 44);
const Y = (alt: number) => H - 22 - (Math.max(0, alt) / TOP) * (H - 32);
const path = computed(() => {
  const points = Array.from(
    { length: 181 },
    (_, k) => `${X(2 * k).toFixed(1)} ${Y(horizonAt(props.horizon, 2 * k)).toFixed(1)}`,
  );
  return `M${X(0)} ${Y(0)}L${points.join('L')}L${X(360)} ${Y(0)}Z`;
});
const POINTS = ['N', 'NE', 'E', 'SE', 'S', 'SW', 'W', 'NW', 'N'];

const svg = ref<SVGSVGElement>();
let last: HorizonPoint | null = null;
function at(e: PointerEvent): HorizonPoint {
  const box = svg.value!.getBoundingClientRect();
  const [x, y] = [((e.clientX - box.left) / box.width) * W, ((e.clientY - box.top) / box.height) * H];
  const clamp = (v: number, max: number) => Math.min(max, Math.max(0, v));
  return {
    azimuthDeg: clamp(((x - LEFT) / (W - 44)) * 360, 360),
    altitudeDeg: Math.round(clamp(((H - 22 - y) / (H - 32)) * TOP, 85)),
  };
}
function draw(e: PointerEvent, begin: boolean) {
  if (!props.editable || (!begin && !last)) return;
  const here = at(e);
  emit('update:horizon', drawnHorizon(props.horizon, last ?? here, here));
  last = here;
  if (begin) svg.value!.setPointerCapture(e.pointerId);
}
</script>

<template>
  <svg
    ref="svg"
    :viewBox="`0 0 ${W} ${H}`"
    role="img"
    aria-label="Horizon line by azimuth"
    :class="{ editable }"
    data-test="horizon"
    @pointerdown="draw($event, true)"
    @pointermove="draw($event, false)"
    @pointerup="last = null"
    @pointercancel="last = null"
  >
    <g v-for="a in [0, 15, 30, 45, 60]" :key="a">
      <path :d="`M${X(0)} ${Y(a)}H${X(360)}`" stroke="var(--line)" stroke-width="1" />
      <text :x="X(0) - 6" :y="Y(a) + 4" text-anchor="end" font-size="11" fill="var(--ink-2)" class="mono">
        {{ a }}°
      </text>
    </g>
    <path :d="path" fill="var(--lane)" stroke="var(--lane-edge)" stroke-width="1.2" />
    <path v-if="limitDeg" :d="`M${X(0)} ${Y(limitDeg)}H${X(360)}`" stroke="var(--accent)" stroke-dasharray="4 4" />
    <template v-if="horizon.length <= 24">
      <circle
        v-for="(p, i) in horizon"
        :key="i"
        :cx="X(p.azimuthDeg)"
        :cy="Y(p.altitudeDeg)"
        r="3"
        fill="var(--accent)"
      >
        <title>{{ p.azimuthDeg }}°: {{ p.altitudeDeg }}°</title>
      </circle>
    </template>
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

<style scoped>
.editable {
  cursor: crosshair;
  touch-action: none;
  border: 1px dashed var(--line-strong);
  border-radius: 4px;
}
</style>
