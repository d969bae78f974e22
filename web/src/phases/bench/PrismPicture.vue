<script setup lang="ts">
import { coneAt, shadowMap, type PrismInput } from '@keen/core/train';
import { useElementSize } from '@vueuse/core';
import type { z } from 'zod';
import { computed, onMounted, ref, watch } from 'vue';
import { useLight } from '../../stores/light.ts';
import { useUnits } from '../../stores/units.ts';

const units = useUnits();
/**
 * Down the tube, looking to the sky: main sensor, image circle, prism, the cone of light at its corner, the guide window,
 * and the shadow as a layer that follows the hand. The prism is dragged: outward and inward, and round.
 */
const props = defineProps<{ input: z.output<typeof PrismInput>; off: boolean; clearMm: number | null }>();
const emit = defineEmits<{ place: [innerEdgeMm: number, angleDeg: number] }>();
const box = ref<HTMLElement>();
const layer = ref<HTMLCanvasElement>();
const { width } = useElementSize(box);
const light = useLight();
const HEIGHT = 430;
const p = computed(() => props.input.prism);
const cone = computed(() => coneAt(props.input));
const reach = computed(
  () =>
    Math.max(
      props.input.imageCircleMm / 2,
      p.value.innerEdgeMm + p.value.depthMm,
      Math.hypot(props.input.sensor.widthMm, props.input.sensor.heightMm) / 2,
    ) + 6,
);
const scale = computed(() => Math.min(width.value, HEIGHT) / 2 / reach.value);
const cx = computed(() => width.value / 2);
const cy = HEIGHT / 2;
const X = (mm: number) => cx.value + mm * scale.value;
const Y = (mm: number) => cy - mm * scale.value;
const sensor = computed(() => ({ w: props.input.sensor.widthMm, h: props.input.sensor.heightMm }));
const guideAt = computed(() => (p.value.innerEdgeMm + p.value.depthMm / 2) / cone.value.k);

const COLUMNS = 90;
const rowsOf = () => Math.max(8, Math.round((COLUMNS * sensor.value.h) / sensor.value.w));
let pending = 0;
/** Draws the shadow once a frame at most; a small map is scaled up by the canvas. */
function paint() {
  if (pending) return;
  pending = requestAnimationFrame(() => {
    pending = 0;
    const canvas = layer.value;
    const draw = canvas?.getContext('2d');
    if (!canvas || !draw) return;
    const rows = rowsOf();
    const map = shadowMap(props.input, COLUMNS, rows);
    canvas.width = COLUMNS;
    canvas.height = rows;
    const image = draw.createImageData(COLUMNS, rows);
    const [r, g, b] = light.light === 'day' ? [160, 49, 38] : light.light === 'night' ? [239, 143, 125] : [255, 60, 40];
    for (let y = 0; y < rows; y++)
      for (let x = 0; x < COLUMNS; x++) {
        const v = map[(rows - 1 - y) * COLUMNS + x]!;
        const at = 4 * (y * COLUMNS + x);
        image.data[at] = r!;
        image.data[at + 1] = g!;
        image.data[at + 2] = b!;
        image.data[at + 3] = Math.round(235 * Math.min(1, Math.sqrt(v * 1.4)));
      }
    draw.putImageData(image, 0, 0);
  });
}
onMounted(paint);
watch(() => [props.input, width.value, light.light], paint, { deep: true });

const svg = ref<SVGSVGElement>();
let held: { distance: number; angle: number } | null = null;
const polar = (e: PointerEvent) => {
  const r = svg.value!.getBoundingClientRect();
  const [x, y] = [(e.clientX - r.left - cx.value) / scale.value, (cy - (e.clientY - r.top)) / scale.value];
  return { distance: Math.hypot(x, y), angle: (Math.atan2(y, x) * 180) / Math.PI };
};
function grab(e: PointerEvent) {
  if (props.off) return;
  const at = polar(e);
  held = { distance: p.value.innerEdgeMm - at.distance, angle: p.value.angleDeg - at.angle };
  (e.target as Element).setPointerCapture(e.pointerId);
}
function drag(e: PointerEvent) {
  if (!held) return;
  const at = polar(e);
  const raw = (at.angle + held.angle + 720) % 360;
  const square = Math.round(raw / 90) * 90;
  const angle = Math.abs(raw - square) < 4 ? square % 360 : Math.round(raw);
  emit('place', Math.max(0, Math.round((at.distance + held.distance) * 10) / 10), angle);
}
function nudge(e: KeyboardEvent) {
  const step = e.shiftKey ? 1 : 0.1;
  const turn = e.shiftKey ? 10 : 1;
  const by: Record<string, [number, number]> = {
    ArrowUp: [step, 0],
    ArrowDown: [-step, 0],
    ArrowLeft: [0, turn],
    ArrowRight: [0, -turn],
  };
  const move = by[e.key];
  if (!move || props.off) return;
  e.preventDefault();
  emit(
    'place',
    Math.max(0, Math.round((p.value.innerEdgeMm + move[0]) * 10) / 10),
    (p.value.angleDeg + move[1] + 360) % 360,
  );
}
const corner = computed(() => {
  // the corner of the sensor nearest the prism: its cone is the first that is touched
  const a = (p.value.angleDeg * Math.PI) / 180;
  return {
    x: (Math.sign(Math.cos(a)) || 0) * (sensor.value.w / 2),
    y: (Math.sign(Math.sin(a)) || 0) * (sensor.value.h / 2),
  };
});
</script>

<template>
  <div ref="box" class="box" :style="{ height: `${HEIGHT}px` }">
    <canvas
      ref="layer"
      class="layer"
      :style="{
        left: `${X(-sensor.w / 2)}px`,
        top: `${Y(sensor.h / 2)}px`,
        width: `${sensor.w * scale}px`,
        height: `${sensor.h * scale}px`,
      }"
      aria-hidden="true"
    />
    <svg
      v-if="width > 0"
      ref="svg"
      :width="width"
      :height="HEIGHT"
      role="group"
      aria-label="View down the tube"
      @pointermove="drag"
      @pointerup="held = null"
    >
      <circle
        :cx="cx"
        :cy="cy"
        :r="(input.imageCircleMm / 2) * scale"
        fill="none"
        stroke="var(--lane-edge)"
        stroke-dasharray="6 4"
      />
      <text
        :x="cx"
        :y="cy + (input.imageCircleMm / 2) * scale - 6"
        text-anchor="middle"
        font-size="12"
        fill="var(--ink-2)"
      >
        image circle {{ units.length(input.imageCircleMm, 1) }}
      </text>
      <rect
        :x="X(-sensor.w / 2)"
        :y="Y(sensor.h / 2)"
        :width="sensor.w * scale"
        :height="sensor.h * scale"
        fill="none"
        stroke="var(--ink)"
        stroke-width="1.6"
      />
      <text :x="X(-sensor.w / 2) + 6" :y="Y(-sensor.h / 2) - 7" font-size="12" fill="var(--ink-2)">
        main sensor {{ units.length(sensor.w, 1) }} × {{ units.length(sensor.h, 1) }}
      </text>
      <circle
        :cx="X(cone.k * corner.x)"
        :cy="Y(cone.k * corner.y)"
        :r="cone.radiusMm * scale"
        fill="none"
        stroke="var(--accent)"
        stroke-width="1.2"
        stroke-dasharray="2 3"
      >
        <title>Light that the edge of the sensor needs, where the prism stands</title>
      </circle>
      <circle :cx="cx" :cy="cy" r="2.5" fill="var(--accent)" />
      <g :transform="`translate(${cx} ${cy}) rotate(${-p.angleDeg})`">
        <path
          v-if="clearMm !== null"
          :d="`M${clearMm * scale} ${-(p.widthMm / 2) * scale - 12}V${(p.widthMm / 2) * scale + 12}`"
          stroke="var(--good)"
          stroke-width="1.6"
          stroke-dasharray="4 3"
        >
          <title>Clear of every cone from here outward</title>
        </path>
        <g
          class="prism"
          :class="{ off }"
          role="slider"
          :tabindex="off ? -1 : 0"
          aria-label="Prism: arrows up and down move it, left and right turn it"
          :aria-valuenow="p.innerEdgeMm"
          :aria-valuetext="`${units.length(p.innerEdgeMm, 1)} from the axis at ${p.angleDeg} degrees`"
          @pointerdown="grab"
          @keydown="nudge"
        >
          <rect
            :x="p.innerEdgeMm * scale"
            :y="(-p.widthMm / 2) * scale"
            :width="p.depthMm * scale"
            :height="p.widthMm * scale"
          />
          <path :d="`M${(p.innerEdgeMm + p.depthMm) * scale} 0h26m-7 -5l7 5l-7 5`" class="arm" />
        </g>
        <rect
          :x="(guideAt - input.guideSensor.heightMm / 2) * scale"
          :y="(-input.guideSensor.widthMm / 2) * scale"
          :width="input.guideSensor.heightMm * scale"
          :height="input.guideSensor.widthMm * scale"
          fill="none"
          stroke="var(--accent)"
          stroke-width="1.6"
          pointer-events="none"
        >
          <title>guide window</title>
        </rect>
      </g>
    </svg>
  </div>
</template>

<style scoped>
.box {
  position: relative;
}
.layer {
  position: absolute;
  image-rendering: auto;
}
svg {
  position: relative;
  display: block;
}
.prism {
  cursor: grab;
  outline: none;
}
.prism.off {
  cursor: default;
}
.prism rect {
  fill: var(--lane);
  fill-opacity: 0.75;
  stroke: var(--lane-edge);
  stroke-width: 1.5;
}
.prism:focus-visible rect {
  stroke: var(--accent);
  stroke-width: 3;
}
.arm {
  fill: none;
  stroke: var(--lane-edge);
  stroke-width: 1.4;
}
</style>
