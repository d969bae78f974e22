<script setup lang="ts">
import type { AssessOutput, SolveOutput } from '@keen/core/balance';
import type { RigSetup } from '@keen/core/rig';
import type { z } from 'zod';
import { computed } from 'vue';
import { commonScale, draw } from './elevation.ts';
import TurnHandle from './TurnHandle.vue';
import { useUnits } from '../../stores/units.ts';

const units = useUnits();

/** The rig to scale, from the side or from behind, with its mass centre and the moves drawn in. */
const props = defineProps<{
  setup: RigSetup;
  view: 'side' | 'rear';
  assessed: z.output<typeof AssessOutput>;
  solution: SolveOutput | null;
  width: number;
  height: number;
  siblingWidth: number;
  off?: boolean;
}>();
const emit = defineEmits<{
  part: [name: string, dxMm: number, dyMm: number, dzMm: number];
  weight: [place: number, distanceMm: number];
  slide: [dzMm: number];
  turn: [deg: number, taken: boolean];
}>();

/** What is held, where it was taken, and what has been handed on of the way so far [mm]. */
let held: {
  kind: 'part' | 'weight' | 'slide';
  name: string;
  place: number;
  x: number;
  y: number;
  gone: [number, number];
} | null = null;
function grab(e: PointerEvent, kind: 'part' | 'weight' | 'slide', name = '', place = 0) {
  if (props.off) return;
  held = { kind, name, place, x: e.clientX, y: e.clientY, gone: [0, 0] };
  (e.target as Element).setPointerCapture(e.pointerId);
}
function drag(e: PointerEvent) {
  if (!held) return;
  const way = [Math.round((e.clientX - held.x) / scale.value), Math.round((held.y - e.clientY) / scale.value)] as const;
  const [across, up] = [way[0] - held.gone[0], way[1] - held.gone[1]];
  if (across === 0 && up === 0) return;
  held.gone = [way[0], way[1]];
  move(held.kind, held.name, held.place, across, up);
}
function move(kind: 'part' | 'weight' | 'slide', name: string, place: number, across: number, up: number) {
  if (kind === 'part') emit('part', name, up, props.view === 'rear' ? across : 0, props.view === 'side' ? across : 0);
  else if (kind === 'slide') emit('slide', across);
  else emit('weight', place, props.setup.counterweights[place]!.distanceMm - up);
}
function nudge(e: KeyboardEvent, kind: 'part' | 'weight' | 'slide', name = '', place = 0) {
  const step = e.shiftKey ? 10 : 1;
  const by: Record<string, [number, number]> = {
    ArrowLeft: [-step, 0],
    ArrowRight: [step, 0],
    ArrowUp: [0, step],
    ArrowDown: [0, -step],
  };
  const way = by[e.key];
  if (!way || props.off) return;
  e.preventDefault();
  move(kind, name, place, way[0], way[1]);
}

const scale = computed(() =>
  props.view === 'side'
    ? commonScale(props.setup, props.width, props.siblingWidth, props.height, units.mass)
    : commonScale(props.setup, props.siblingWidth, props.width, props.height, units.mass),
);
const d = computed(() => draw(props.setup, props.view, props.width, props.height, scale.value, units.mass));
const along = (v: { yMm: number; zMm: number }) => (props.view === 'side' ? v.zMm : v.yMm);
const X = (mm: number) => d.value.originX + mm * d.value.scale;
const Y = (mm: number) => d.value.originY - mm * d.value.scale;
const centre = computed(() => {
  const c = props.assessed.centreOfMassMm;
  return c ? { x: X(props.view === 'side' ? c.z : c.y), y: Y(c.x), off: props.view === 'side' ? c.z : c.y } : null;
});
const trims = computed(() =>
  (props.solution?.trim ?? []).map((t) => {
    const p = props.setup.trimPoints.find((q) => q.name === t.point)!;
    return { ...t, x: X(along(p)), y: Y(p.xMm) };
  }),
);
/** The tube as a circle from behind. */
const ring = computed(() => {
  const tube = props.view === 'rear' ? props.setup.placed.find((p) => p.kind === 'tube') : undefined;
  return tube ? { cx: X(tube.yMm), cy: Y(tube.xMm), r: (tube.widthMm / 2) * d.value.scale } : null;
});
/** The turn in the rings as an arc about the tube, seen from behind: +x is up, +y to the right, so that it goes clockwise. */
const turned = computed(() => {
  const deg = props.solution?.turnDeg ?? 0;
  if (!deg || !ring.value) return null;
  const [cx, cy, r] = [ring.value.cx, ring.value.cy, ring.value.r + 9];
  const at = (a: number) => [cx + r * Math.sin((a * Math.PI) / 180), cy - r * Math.cos((a * Math.PI) / 180)] as const;
  const [from, to, wing] = [at(0), at(deg), at(deg - 14 * Math.sign(deg))];
  const big = Math.abs(deg) > 180 ? 1 : 0;
  return {
    arc: `M${from[0]} ${from[1]}A${r} ${r} 0 ${big} ${deg > 0 ? 1 : 0} ${to[0]} ${to[1]}`,
    head: `M${to[0]} ${to[1]}L${wing[0] + (wing[0] - cx) * 0.09} ${wing[1] + (wing[1] - cy) * 0.09}M${to[0]} ${to[1]}L${wing[0] - (wing[0] - cx) * 0.09} ${wing[1] - (wing[1] - cy) * 0.09}`,
    text: `turn ${Math.abs(deg)}°`,
    x: to[0] + (to[0] >= cx ? 14 : -14),
    y: to[1] + 14,
    anchor: to[0] >= cx ? 'start' : 'end',
  };
});
const slide = computed(() => (props.view === 'side' ? (props.solution?.slideMm ?? 0) : 0));
const weightNow = computed(() => props.setup.counterweights);
const weightAfter = computed(() => props.solution?.counterweights[0]?.distanceMm ?? null);
const weightsMove = computed(
  () => weightAfter.value !== null && weightNow.value.some((w) => Math.abs(w.distanceMm - weightAfter.value!) > 1),
);
const offText = computed(() => {
  const off = centre.value?.off ?? 0;
  if (Math.abs(off) < 0.5) return props.view === 'side' ? 'mass centre on the axis' : 'mass centre in the middle';
  const side = props.view === 'side' ? (off < 0 ? 'behind' : 'ahead') : off > 0 ? 'to the right' : 'to the left';
  return `mass centre ${units.length(Math.abs(off), 0)} ${side}`;
});
const weightSide = computed(() => 34 * Math.max(0.5, scale.value * 1.6));
const stackUp = computed(() => {
  const seen: number[] = [];
  return weightNow.value.map((w) => {
    const same = seen.filter((v) => Math.abs(v - w.distanceMm) < 1).length;
    seen.push(w.distanceMm);
    return { ...w, same };
  });
});
const totals = computed(() => weightNow.value.reduce((s, w) => s + w.massKg, 0));
</script>

<template>
  <svg
    :viewBox="`0 0 ${width} ${height}`"
    :width="width"
    :height="height"
    role="group"
    :aria-label="`${view === 'side' ? 'Side' : 'Rear'} elevation to scale: ${offText}`"
    @pointermove="drag"
    @pointerup="held = null"
  >
    <line :x1="X(0)" :x2="X(0)" :y1="d.labels.length ? 30 : 12" :y2="height - 26" class="axis" />
    <g class="mount">
      <rect :x="X(0) - 3.5" :y="Y(0)" width="7" :height="Y(-setup.shaft.maxMm) - Y(0) + 10" class="metal" />
      <g
        v-if="view === 'side'"
        class="grip"
        :class="{ off }"
        role="slider"
        :tabindex="off ? -1 : 0"
        aria-label="Slide of the bar: arrow keys move the whole tube"
        :aria-valuenow="setup.slide.markMm"
        @pointerdown="grab($event, 'slide')"
        @keydown="nudge($event, 'slide')"
      >
        <rect :x="X(-46)" :y="Y(78)" :width="92 * d.scale" :height="34 * d.scale" class="metal" />
        <path
          :d="`M${X(0) - 13} ${Y(61)}l6 -4v8zM${X(0) + 13} ${Y(61)}l-6 -4v8zM${X(0) - 8} ${Y(61)}h16`"
          class="arrows"
        />
        <title>Drag to slide the bar; now at mark {{ units.length(setup.slide.markMm, 0) }}</title>
      </g>
      <rect v-else :x="X(-46)" :y="Y(78)" :width="92 * d.scale" :height="34 * d.scale" class="metal" />
      <circle :cx="X(0)" :cy="Y(0)" :r="30 * d.scale" class="metal" />
      <text :x="X(34)" :y="Y(0) + 4" class="note">polar axis</text>
      <rect :x="X(0) - 15" :y="Y(-setup.shaft.maxMm) + 8" width="30" height="5" class="metal" />
      <text :x="X(0) + 20" :y="Y(-setup.shaft.maxMm) + 14" class="note">end-stop</text>
    </g>
    <g
      v-for="(w, i) in stackUp"
      :key="i"
      class="grip"
      :class="{ off }"
      role="slider"
      :tabindex="off ? -1 : 0"
      :aria-label="`Weight ${i + 1}, ${units.mass(w.massKg, 1)}`"
      :aria-valuenow="w.distanceMm"
      @pointerdown="grab($event, 'weight', '', i)"
      @keydown="nudge($event, 'weight', '', i)"
    >
      <rect
        :x="X(0) - weightSide"
        :y="Y(-w.distanceMm) - 13 + w.same * 4"
        :width="2 * weightSide"
        height="26"
        rx="2"
        class="part"
      />
    </g>
    <text v-if="weightNow[0]" :x="X(0) + weightSide + 6" :y="Y(-weightNow[0].distanceMm) + 4" class="note">
      {{ units.mass(totals, 1) }} at {{ units.length(weightNow[0].distanceMm, 0) }}
    </text>
    <g v-if="weightsMove && weightAfter !== null" class="move">
      <rect :x="X(0) - weightSide" :y="Y(-weightAfter) - 13" :width="2 * weightSide" height="26" rx="2" class="ghost" />
      <text :x="X(0) - weightSide - 6" :y="Y(-weightAfter) + 4" text-anchor="end">
        to {{ units.length(weightAfter, 0) }}
      </text>
    </g>
    <g
      v-for="b in d.boxes"
      :key="b.part.name"
      class="grip"
      :class="{ off }"
      role="button"
      :tabindex="off ? -1 : 0"
      :aria-label="`${b.part.name}: arrow keys move it`"
      @pointerdown="grab($event, 'part', b.part.name)"
      @keydown="nudge($event, 'part', b.part.name)"
    >
      <title>
        {{ b.part.name }}, {{ units.mass(b.part.massKg) }} at x {{ units.length(b.part.xMm) }}, y
        {{ units.length(b.part.yMm) }}, z {{ units.length(b.part.zMm) }}
      </title>
      <ellipse
        v-if="b.round"
        :cx="b.x + b.width / 2"
        :cy="b.y + b.height / 2"
        :rx="b.width / 2"
        :ry="b.height / 2"
        class="part"
      />
      <rect v-else :x="b.x" :y="b.y" :width="b.width" :height="b.height" rx="2" class="part" />
    </g>
    <!-- all leaders first: no line runs over a label -->
    <line
      v-for="l in d.labels"
      :key="`line ${l.text}`"
      :x1="l.anchorX"
      :y1="l.y + 3"
      :x2="l.anchorX"
      :y2="l.anchorY"
      class="leader"
    />
    <text v-for="l in d.labels" :key="l.text" :x="l.x" :y="l.y" class="label">{{ l.text }}</text>
    <TurnHandle
      v-if="ring"
      :cx="ring.cx"
      :cy="ring.cy"
      :r="ring.r + 22"
      :off="off"
      @turn="(deg, taken) => emit('turn', deg, taken)"
    />
    <g v-if="turned" class="move">
      <path :d="turned.arc" />
      <path :d="turned.head" />
      <text :x="turned.x" :y="turned.y" :text-anchor="turned.anchor">{{ turned.text }}</text>
    </g>
    <g v-for="t in trims" :key="t.point" class="move">
      <rect :x="t.x - 9" :y="t.y - 9" width="18" height="18" class="ghost" />
      <text :x="t.x" :y="t.y - 13" text-anchor="middle">{{ units.mass(t.massKg) }}</text>
    </g>
    <g v-if="centre" class="centre">
      <circle :cx="centre.x" :cy="centre.y" r="7.5" />
      <path :d="`M${centre.x - 11} ${centre.y}h22M${centre.x} ${centre.y - 11}v22`" />
      <g v-if="Math.abs(slide) >= 0.5" class="move">
        <path
          :d="`M${centre.x + Math.sign(slide) * 14} ${centre.y}h${slide * d.scale - Math.sign(slide) * 8}m${-Math.sign(slide) * 6} -4l${Math.sign(slide) * 6} 4l${-Math.sign(slide) * 6} 4`"
        />
      </g>
      <!-- below the axes nothing rides: the words never stand on a part -->
      <text x="8" :y="height - 8" class="off">
        {{ offText }}
      </text>
    </g>
  </svg>
</template>

<style scoped>
.grip {
  cursor: grab;
  outline: none;
}
.grip.off {
  cursor: default;
}
.grip:hover:not(.off) .part,
.grip:focus-visible .part,
.grip:focus-visible .metal {
  stroke: var(--accent);
  stroke-width: 2.4;
}
.arrows {
  fill: var(--ink-2);
  stroke: var(--ink-2);
}
.axis {
  stroke: var(--accent);
  stroke-dasharray: 5 4;
  stroke-width: 1.2;
}
.metal {
  fill: var(--sunk);
  stroke: var(--ghost);
}
.part {
  fill: var(--part);
  fill-opacity: 0.82;
  stroke: var(--ink);
  stroke-width: 1.3;
}
.ghost {
  fill: none;
  stroke: var(--good);
  stroke-width: 1.8;
  stroke-dasharray: 5 3;
}
.leader {
  stroke: var(--line-strong);
  stroke-width: 0.8;
}
.label,
.note,
.move text {
  paint-order: stroke;
  stroke: var(--surface);
  stroke-width: 4px;
}
.label {
  font-size: 12px;
  fill: var(--ink);
}
.note {
  font-size: 12px;
  fill: var(--ink-2);
}
.move text {
  font-size: 12.5px;
  fill: var(--good);
  font-weight: 650;
}
.move path {
  stroke: var(--good);
  stroke-width: 2.2;
  fill: none;
}
.centre circle {
  fill: none;
  stroke: var(--bad);
  stroke-width: 2;
}
.centre > path {
  stroke: var(--bad);
  stroke-width: 1.4;
}
.off {
  font-size: 12.5px;
  fill: var(--bad);
  font-weight: 650;
  paint-order: stroke;
  stroke: var(--surface);
  stroke-width: 3px;
}
</style>
