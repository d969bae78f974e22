<script setup lang="ts">
import type { NightOutput, TargetOutput } from '@keen/core/sky';
import type { NightSchedule, Piece } from '@keen/core/sequence';
import type { PlanRecord } from '@keen/contract';
import { useElementSize } from '@vueuse/core';
import { computed, ref } from 'vue';
import { planTitle } from '../../common/records.ts';
import { clock } from '../../common/times.ts';
import { timeScale } from './lanes.ts';
import NightSky from './NightSky.vue';
import { STEP_WORDS } from './nightWords.ts';
import PlanStrip from './PlanStrip.vue';

/** The chosen leg’s object through the night, and all legs under it as one strip. The chosen leg’s hours are dragged in the picture. */
const props = defineProps<{
  night: NightOutput;
  target: TargetOutput;
  limitDeg: number;
  timeZone: string;
  /** Hours of the chosen leg [ms]; null where it has none. */
  startMs: number | null;
  endMs: number | null;
  flipAt: string | null;
  schedule: NightSchedule | null;
  other: NightSchedule | null;
  /** What the legs are called, in their order. */
  names: string[];
  /** Place of the chosen leg. */
  chosen: number;
  taken: PlanRecord[];
  now: number;
  locked: boolean;
}>();
const emit = defineEmits<{
  span: [side: 'from' | 'until', at: string];
  choose: [legIndex: number];
  reorder: [from: number, to: number];
}>();
const LEFT = 40;
const TOP = 26;
const CURVE = 150;
const STRIP = 26;
const box = ref<HTMLElement>();
const svg = ref<SVGSVGElement>();
const { width } = useElementSize(box);
const from = computed(
  () =>
    Math.min(props.schedule?.startMs ?? Infinity, Date.parse(props.night.sunset ?? props.target.track[0]!.time)) -
    600_000,
);
const to = computed(
  () =>
    Math.max(props.schedule?.endMs ?? 0, Date.parse(props.night.sunrise ?? props.target.track.at(-1)!.time)) + 600_000,
);
const x = computed(() => timeScale(from.value, to.value, LEFT, Math.max(LEFT + 100, width.value - 8)));
const y = (alt: number) => TOP + CURVE - (Math.max(0, alt) / 90) * CURVE;
const stripY = TOP + CURVE + 34;
/** Where the second camera’s frames stand, under the lead’s. */
const BESIDE = 20;
const beside = computed(() =>
  (props.schedule?.legs ?? []).flatMap((l) => l.follower?.events.filter((e) => e.kind !== 'wait') ?? []),
);
const otherY = computed(() => stripY + STRIP + (beside.value.length ? BESIDE + 4 : 0) + 14);
const bottom = computed(
  () => (props.other ? otherY.value + STRIP : stripY + STRIP + (beside.value.length ? BESIDE + 4 : 0)) + 8,
);
const curve = (pick: (p: TargetOutput['track'][number]) => number) =>
  props.target.track
    .map((p, i) => `${i ? 'L' : 'M'}${x.value(Date.parse(p.time)).toFixed(1)} ${y(pick(p)).toFixed(1)}`)
    .join('');
const handles = computed(() =>
  props.startMs === null || props.endMs === null
    ? []
    : [
        { which: 'from' as const, ms: props.startMs, label: 'Start' },
        { which: 'until' as const, ms: props.endMs, label: 'End' },
      ],
);
type Of<P extends Piece['part']> = Extract<Piece, { part: P }>;
const pieces = <P extends Piece['part']>(n: NightSchedule | null, part: P) =>
  (n?.pieces ?? []).filter((p): p is Of<P> => p.part === part);
const around = computed(() => [...pieces(props.schedule, 'opening'), ...pieces(props.schedule, 'closing')]);
const worked = computed(() => pieces(props.schedule, 'leg'));
const events = (n: NightSchedule | null) =>
  (n?.legs ?? []).flatMap((l) => l.schedule?.events.filter((e) => e.kind !== 'wait') ?? []);
const fits = (p: Piece, text: string) => x.value(p.endMs) - x.value(p.startMs) > 8 + 6.6 * text.length;
/** What stands over a stretch of a leg: its name, where that is too long the number of its panel, else nothing. */
function called(p: Piece & { legIndex: number }): string {
  const name = props.names[p.legIndex] ?? '';
  const panel = /panel (\d+)$/.exec(name)?.[1] ?? '';
  return [name, panel].find((text) => text && fits(p, text)) ?? '';
}
const SNAP = 5 * 60_000;
function move(which: 'from' | 'until', ms: number) {
  const snapped = Math.round(ms / SNAP) * SNAP;
  const next = which === 'from' ? Math.min(snapped, props.endMs! - SNAP) : Math.max(snapped, props.startMs! + SNAP);
  emit('span', which, new Date(next).toISOString());
}
let held: 'from' | 'until' | null = null;
function grab(e: PointerEvent, which: 'from' | 'until') {
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
/** The leg that is carried along the strip by its name; let go over another it takes that one’s place in the order. */
let carried: number | null = null;
function carry(e: PointerEvent, legIndex: number) {
  if (props.locked) return;
  carried = legIndex;
  (e.currentTarget as Element).setPointerCapture(e.pointerId);
}
function drop(e: PointerEvent) {
  const from = carried;
  carried = null;
  if (from === null || !svg.value) return;
  const px = e.clientX - svg.value.getBoundingClientRect().left;
  const over = worked.value.find((p) => px >= x.value(p.startMs) && px < x.value(p.endMs));
  if (over && over.legIndex !== from) emit('reorder', from, over.legIndex);
}
const nudge = (e: KeyboardEvent, which: 'from' | 'until', sign: number) => {
  e.preventDefault();
  if (!props.locked)
    move(which, (which === 'from' ? props.startMs! : props.endMs!) + sign * SNAP * (e.shiftKey ? 12 : 1));
};
</script>

<template>
  <div ref="box">
    <svg
      v-if="width > 0"
      ref="svg"
      :width="width"
      :height="bottom + 24"
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
        <title>{{ planTitle(p) }}, {{ p.owner }}</title>
      </rect>
      <text
        v-for="p in taken"
        :key="`t${p.id}`"
        :x="x(Date.parse(p.start)) + 6"
        :y="stripY + 17"
        font-size="12"
        fill="var(--ink-2)"
      >
        {{ planTitle(p) }}, {{ p.owner.split(' ')[0] }}
      </text>
      <g
        v-for="p in worked"
        :key="`l${p.startMs}`"
        class="name"
        @click="emit('choose', p.legIndex)"
        @pointerdown="carry($event, p.legIndex)"
        @pointerup="drop"
      >
        <rect
          :x="x(p.startMs)"
          :y="stripY - 20"
          :width="Math.max(1, x(p.endMs) - x(p.startMs) - 1)"
          height="16"
          :fill="p.legIndex === chosen ? 'var(--accent)' : 'var(--sunk)'"
          :fill-opacity="p.legIndex === chosen ? 0.28 : 1"
          stroke="var(--line-strong)"
          stroke-width="0.7"
        />
        <text v-if="called(p)" :x="x(p.startMs) + 5" :y="stripY - 8" font-size="12" fill="var(--ink)">
          {{ called(p) }}
        </text>
        <title>
          {{ names[p.legIndex] }}, {{ clock(p.startMs, timeZone) }} to {{ clock(p.endMs, timeZone)
          }}{{ locked ? '' : '; drag it onto another to change their order' }}
        </title>
      </g>
      <g v-for="p in around" :key="`a${p.startMs}`">
        <rect
          :x="x(p.startMs)"
          :y="stripY + 4"
          :width="Math.max(1, x(p.endMs) - x(p.startMs) - 0.6)"
          :height="STRIP - 8"
          fill="var(--lane)"
          stroke="var(--line-strong)"
          stroke-width="0.7"
        />
        <text
          v-if="fits(p, STEP_WORDS[p.step]!)"
          :x="x(p.startMs) + 4"
          :y="stripY + 17"
          font-size="11.5"
          fill="var(--ink)"
        >
          {{ STEP_WORDS[p.step] }}
        </text>
        <title>{{ STEP_WORDS[p.step] }}, {{ clock(p.startMs, timeZone) }} to {{ clock(p.endMs, timeZone) }}</title>
      </g>
      <PlanStrip v-if="schedule" :events="events(schedule)" :x="x" :y="stripY" :height="STRIP" detailed />
      <template v-if="beside.length">
        <text :x="LEFT - 8" :y="stripY + STRIP + 18" text-anchor="end" font-size="12" fill="var(--ink)">2nd</text>
        <PlanStrip :events="beside" :x="x" :y="stripY + STRIP + 4" :height="BESIDE" detailed />
      </template>
      <template v-if="other">
        <text :x="LEFT - 8" :y="stripY + 17" text-anchor="end" font-size="12" fill="var(--ink)" font-weight="700">
          A
        </text>
        <text :x="LEFT - 8" :y="otherY + 17" text-anchor="end" font-size="12" fill="var(--ink)" font-weight="700">
          B
        </text>
        <PlanStrip :events="events(other)" :x="x" :y="otherY" :height="STRIP" detailed />
      </template>
      <g
        v-for="h in handles"
        :key="h.which"
        class="handle"
        :class="{ locked }"
        role="slider"
        :tabindex="locked ? -1 : 0"
        :aria-label="`${h.label} of the leg`"
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
.name {
  cursor: pointer;
}
.handle.locked {
  cursor: default;
}
.handle:focus-visible path {
  stroke-width: 4;
}
</style>
