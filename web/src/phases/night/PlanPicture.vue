<script setup lang="ts">
import type { NightOutput, TargetOutput } from '@keen/core/sky';
import type { TimelineOutput } from '@keen/core/sequence';
import type { PlanRecord } from '@keen/contract';
import { useElementSize } from '@vueuse/core';
import { computed, ref } from 'vue';
import { clock } from '../../common/times.ts';
import { timeScale } from './lanes.ts';
import NightSky from './NightSky.vue';
import PlanStrip from './PlanStrip.vue';

/** Altitude through the night, and the plan under it as a strip. Start and end are dragged in the picture. */
const props = defineProps<{
  night: NightOutput;
  target: TargetOutput;
  limitDeg: number;
  timeZone: string;
  start: string;
  end: string;
  flipAt: string | null;
  laid: TimelineOutput | null;
  other: TimelineOutput | null;
  taken: PlanRecord[];
  now: number;
  locked: boolean;
}>();
const emit = defineEmits<{ span: [start: string, end: string] }>();
const LEFT = 40;
const TOP = 26;
const CURVE = 150;
const STRIP = 26;
const box = ref<HTMLElement>();
const svg = ref<SVGSVGElement>();
const { width } = useElementSize(box);
const from = computed(() => Date.parse(props.night.sunset ?? props.target.track[0]!.time) - 600_000);
const to = computed(() => Date.parse(props.night.sunrise ?? props.target.track.at(-1)!.time) + 600_000);
const x = computed(() => timeScale(from.value, to.value, LEFT, Math.max(LEFT + 100, width.value - 8)));
const y = (alt: number) => TOP + CURVE - (Math.max(0, alt) / 90) * CURVE;
const stripY = TOP + CURVE + 22;
const bottom = computed(() => stripY + STRIP + (props.other ? STRIP + 14 : 0) + 8);
const curve = (pick: (p: TargetOutput['track'][number]) => number) =>
  props.target.track
    .map((p, i) => `${i ? 'L' : 'M'}${x.value(Date.parse(p.time)).toFixed(1)} ${y(pick(p)).toFixed(1)}`)
    .join('');
const handles = computed(() => [
  { which: 'start' as const, ms: Date.parse(props.start), label: 'Start' },
  { which: 'end' as const, ms: Date.parse(props.end), label: 'End' },
]);
const SNAP = 5 * 60_000;
function move(which: 'start' | 'end', ms: number) {
  const snapped = Math.round(ms / SNAP) * SNAP;
  const [s, e] = [Date.parse(props.start), Date.parse(props.end)];
  const next: [number, number] =
    which === 'start' ? [Math.min(snapped, e - SNAP), e] : [s, Math.max(snapped, s + SNAP)];
  emit('span', new Date(next[0]).toISOString(), new Date(next[1]).toISOString());
}
let held: 'start' | 'end' | null = null;
function grab(e: PointerEvent, which: 'start' | 'end') {
  if (props.locked) return;
  held = which;
  (e.target as Element).setPointerCapture(e.pointerId);
}
function drag(e: PointerEvent) {
  if (!held || !svg.value) return;
  const px = e.clientX - svg.value.getBoundingClientRect().left;
  const share = (px - x.value(from.value)) / (x.value(to.value) - x.value(from.value));
  move(held, from.value + share * (to.value - from.value));
}
const nudge = (e: KeyboardEvent, which: 'start' | 'end', sign: number) => {
  e.preventDefault();
  if (!props.locked)
    move(which, Date.parse(which === 'start' ? props.start : props.end) + sign * SNAP * (e.shiftKey ? 12 : 1));
};
</script>

<template>
  <div ref="box">
    <svg
      v-if="width > 0"
      ref="svg"
      :width="width"
      :height="bottom + 40"
      role="group"
      aria-label="Altitude and plan"
      @pointermove="drag"
      @pointerup="held = null"
    >
      <NightSky
        :night="night"
        :time-zone="timeZone"
        :x="x"
        :from="from"
        :to="to"
        :top="TOP"
        :bottom="bottom"
        :now="now"
      />
      <g v-for="a in [30, 60]" :key="a">
        <path :d="`M${LEFT} ${y(a)}H${width - 8}`" stroke="var(--line)" stroke-width="0.7" />
        <text :x="LEFT - 6" :y="y(a) + 4" text-anchor="end" font-size="12" fill="var(--ink-2)" class="mono">
          {{ a }}°
        </text>
      </g>
      <path :d="`M${LEFT} ${y(limitDeg)}H${width - 8}`" stroke="var(--accent)" stroke-dasharray="4 4" />
      <path
        :d="curve((p) => p.moonAltitudeDeg)"
        fill="none"
        stroke="var(--ghost)"
        stroke-width="1.4"
        stroke-dasharray="2 4"
      />
      <path :d="curve((p) => p.altitudeDeg)" fill="none" stroke="var(--lane-edge)" stroke-width="2.2" />
      <g v-for="(w, i) in target.windows" :key="i">
        <rect
          :x="x(Date.parse(w.start))"
          :y="TOP + CURVE + 4"
          :width="x(Date.parse(w.end)) - x(Date.parse(w.start))"
          height="5"
          fill="var(--lane)"
          stroke="var(--lane-edge)"
        >
          <title>Workable {{ clock(w.start, timeZone) }} to {{ clock(w.end, timeZone) }}</title>
        </rect>
      </g>
      <g v-if="flipAt">
        <path
          :d="`M${x(Date.parse(flipAt))} ${TOP}V${bottom}`"
          stroke="var(--bad)"
          stroke-width="1.2"
          stroke-dasharray="6 4"
        />
        <text :x="x(Date.parse(flipAt)) + 5" :y="TOP + 13" font-size="12" fill="var(--ink)" class="mono">
          flip {{ clock(flipAt, timeZone) }}
        </text>
      </g>
      <rect
        v-for="p in taken"
        :key="p.id"
        :x="x(Date.parse(p.start))"
        :y="stripY - 3"
        :width="x(Date.parse(p.end)) - x(Date.parse(p.start))"
        :height="STRIP + 6"
        fill="var(--sunk)"
        stroke="var(--line-strong)"
      >
        <title>{{ p.object }}, {{ p.owner }}</title>
      </rect>
      <text
        v-for="p in taken"
        :key="`t${p.id}`"
        :x="x(Date.parse(p.start)) + 6"
        :y="stripY + 17"
        font-size="12"
        fill="var(--ink-2)"
      >
        {{ p.object }}, {{ p.owner.split(' ')[0] }}
      </text>
      <PlanStrip v-if="laid" :events="laid.events" :x="x" :y="stripY" :height="STRIP" detailed />
      <template v-if="other">
        <text :x="LEFT - 8" :y="stripY + 17" text-anchor="end" font-size="12" fill="var(--ink)" font-weight="700">
          A
        </text>
        <text
          :x="LEFT - 8"
          :y="stripY + STRIP + 31"
          text-anchor="end"
          font-size="12"
          fill="var(--ink)"
          font-weight="700"
        >
          B
        </text>
        <PlanStrip :events="other.events" :x="x" :y="stripY + STRIP + 14" :height="STRIP" detailed />
      </template>
      <g
        v-for="h in handles"
        :key="h.which"
        class="handle"
        :class="{ locked }"
        role="slider"
        :tabindex="locked ? -1 : 0"
        :aria-label="`${h.label} of the plan`"
        :aria-valuetext="clock(h.ms, timeZone)"
        :aria-valuenow="Math.round((h.ms - from) / 60000)"
        @pointerdown="grab($event, h.which)"
        @keydown.left="nudge($event, h.which, -1)"
        @keydown.right="nudge($event, h.which, 1)"
      >
        <rect :x="x(h.ms) - 11" :y="TOP" width="22" :height="bottom - TOP" fill="transparent" />
        <path :d="`M${x(h.ms)} ${TOP + CURVE + 10}V${bottom}`" stroke="var(--accent)" stroke-width="2" />
        <rect :x="x(h.ms) - 4" :y="stripY + 3" width="8" :height="STRIP - 6" rx="2" fill="var(--accent)" />
        <title>{{ h.label }} {{ clock(h.ms, timeZone) }}: drag, or arrow keys</title>
      </g>
    </svg>
  </div>
</template>

<style scoped>
.handle {
  cursor: ew-resize;
  outline: none;
}
.handle.locked {
  cursor: default;
}
.handle:focus-visible path {
  stroke-width: 4;
}
</style>
