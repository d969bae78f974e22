<script setup lang="ts">
import { ref } from 'vue';

/** A knob on a ring about the tube, seen from behind: dragging it, or the arrow keys, turn the tube in its rings. */
const props = defineProps<{ cx: number; cy: number; r: number; off?: boolean }>();
/** Degrees clockwise since it was taken; `taken` with the first of them. */
const emit = defineEmits<{ turn: [deg: number, taken: boolean] }>();
/** Where the knob rests: seldom is anything mounted there. */
const REST_DEG = -60;
const turned = ref(0);
let from: number | null = null;
let begun = false;
const rad = (deg: number) => (deg * Math.PI) / 180;
const at = (deg: number) => ({
  x: props.cx + props.r * Math.sin(rad(deg)),
  y: props.cy - props.r * Math.cos(rad(deg)),
});

function angleOf(e: PointerEvent): number {
  const box = (e.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();
  return (Math.atan2(e.clientX - box.left - props.cx, props.cy - (e.clientY - box.top)) * 180) / Math.PI;
}
function take(e: PointerEvent) {
  if (props.off) return;
  from = angleOf(e);
  begun = false;
  (e.currentTarget as Element).setPointerCapture?.(e.pointerId);
}
function drag(e: PointerEvent) {
  if (from === null) return;
  const deg = Math.round(((angleOf(e) - from + 540) % 360) - 180);
  if (deg === turned.value) return;
  turned.value = deg;
  emit('turn', deg, !begun);
  begun = true;
}
function leave() {
  from = null;
  turned.value = 0;
}
function nudge(e: KeyboardEvent) {
  const way = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[e.key];
  if (!way || props.off) return;
  e.preventDefault();
  emit('turn', way * (e.shiftKey ? 15 : 1), true);
}
</script>

<template>
  <g
    class="turn"
    :class="{ off }"
    role="slider"
    :tabindex="off ? -1 : 0"
    aria-label="Turn of the tube in its rings: arrow keys turn it, with shift by 15°"
    aria-valuemin="-180"
    aria-valuemax="180"
    :aria-valuenow="turned"
    @pointerdown="take"
    @pointermove="drag"
    @pointerup="leave"
    @pointercancel="leave"
    @keydown="nudge"
  >
    <circle :cx="cx" :cy="cy" :r="r" class="ring" />
    <circle :cx="at(REST_DEG + turned).x" :cy="at(REST_DEG + turned).y" r="7" class="knob" />
    <text v-if="turned" :x="at(REST_DEG + turned).x - 12" :y="at(REST_DEG + turned).y - 10" text-anchor="end">
      {{ Math.abs(turned) }}° {{ turned > 0 ? 'clockwise' : 'anticlockwise' }}
    </text>
    <title>Drag to turn the tube in its rings; framing and guide star change with it</title>
  </g>
</template>

<style scoped>
.turn {
  cursor: grab;
  outline: none;
}
.turn.off {
  cursor: default;
}
.ring {
  fill: none;
  stroke: var(--ghost);
  stroke-dasharray: 2 5;
  pointer-events: none;
}
.knob {
  fill: var(--surface);
  stroke: var(--ink);
  stroke-width: 1.6;
}
.turn:hover:not(.off) .knob,
.turn:focus-visible .knob {
  stroke: var(--accent);
  stroke-width: 2.6;
}
text {
  font-size: 12.5px;
  fill: var(--accent);
  font-weight: 650;
  paint-order: stroke;
  stroke: var(--surface);
  stroke-width: 4px;
}
</style>
