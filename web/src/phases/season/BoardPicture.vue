<script setup lang="ts">
import type { Board } from '@keen/contract';
import { zoneOffsetMs } from '@keen/core/sky';
import type { AtOnce } from '@keen/core/season';
import { useElementSize } from '@vueuse/core';
import { computed, ref } from 'vue';
import { clock, clockMarks, dayName } from '../../common/times.ts';
import { useSlotDrag } from './useSlotDrag.ts';

/** Nights downwards, hours to the right, to scale: whose each is, the dark and the Moon behind. */
const props = defineProps<{
  board: Board;
  /** Where each rig stands, by its clock. */
  zones: ReadonlyMap<string, string>;
  names: ReadonlyMap<string, string>;
  rigNames: ReadonlyMap<string, string>;
  /** The slot that is looked at, and the project that stands out. */
  slotId: string;
  project: string;
  greedy: boolean;
  /** What a wish does while it is searched for. */
  quick: AtOnce | null;
  /** Slots may be drawn onto others. */
  draggable: boolean;
}>();
const emit = defineEmits<{
  choose: [slot: string];
  /** An object is held over a slot; an empty slot: over none. */
  over: [slot: string, project: string];
  drop: [slot: string, project: string];
}>();

const TOP = 22;
const LANE = 19;
const GAP = 5;
const box = ref<HTMLElement>();
const { width } = useElementSize(box);
const label = computed(() => (width.value < 480 ? 52 : 128));

const all = computed(() => [...props.board.slots, ...props.board.promised]);
const nights = computed(() => [...new Set(all.value.map((s) => s.night))].sort());
const rigs = computed(() => [...new Set(all.value.map((s) => s.rigId))]);
const zoneOf = (rigId: string) => props.zones.get(rigId) ?? 'UTC';
/** Time within its own night by its own place’s clock, so that nights stand under each other [ms]. */
const within = (iso: string, night: string, rigId: string) => {
  const ms = Date.parse(iso);
  return ms + zoneOffsetMs(zoneOf(rigId), ms) - Date.parse(`${night}T00:00Z`);
};
const placed = computed(() =>
  props.board.slots.map((s) => ({ ...s, a: within(s.start, s.night, s.rigId), b: within(s.end, s.night, s.rigId) })),
);
/** Hours that are somebody’s already. */
const promised = computed(() =>
  props.board.promised.map((p) => ({
    ...p,
    a: within(p.start, p.night, p.rigId),
    b: within(p.end, p.night, p.rigId),
    text: `${dayName(p.night)} ${clock(p.start, zoneOf(p.rigId))}–${clock(p.end, zoneOf(p.rigId))}, ${props.rigNames.get(p.rigId) ?? ''}: ${props.names.get(p.projectId ?? '') ?? 'booked'}`,
  })),
);
const drawn = computed(() => [...placed.value, ...promised.value]);
const from = computed(() => Math.min(...drawn.value.map((s) => s.a)));
const until = computed(() => Math.max(...drawn.value.map((s) => s.b)));
const x = (ms: number) =>
  label.value +
  ((ms - from.value) / Math.max(1, until.value - from.value)) * Math.max(40, width.value - label.value - 4);
const rowHeight = computed(() => rigs.value.length * LANE + GAP);
const y = (night: string, rig: string) =>
  TOP + nights.value.indexOf(night) * rowHeight.value + rigs.value.indexOf(rig) * LANE;
const height = computed(() => TOP + nights.value.length * rowHeight.value + 4);
const locks = computed(() => new Set(props.board.locked.map((l) => l.slot)));
const marks = computed(() => {
  const night = nights.value[0];
  if (!night) return [];
  const zero = Date.parse(`${night}T00:00Z`);
  return clockMarks(zero + from.value, zero + until.value, 'UTC').map((ms) => ({
    ms: ms - zero,
    text: clock(ms, 'UTC'),
  }));
});
const holder = (s: Board['slots'][number]) =>
  props.greedy ? s.greedyProjectId : props.quick?.slots.has(s.id) ? props.quick.slots.get(s.id)! : s.projectId;

const { drag, down } = useSlotDrag({
  may: () => props.draggable,
  over: (slot, project) => emit('over', slot, project),
  drop: (slot, project) => emit('drop', slot, project),
});
const mayTake = computed(() => {
  const project = drag.value?.far ? drag.value.project : '';
  return new Set(props.board.projects.find((p) => p.projectId === project)?.eligible.map((e) => e.slot) ?? []);
});
/** Slots of one object after one another carry its name once: where such a run ends. */
const runs = computed(() => {
  const list = placed.value;
  const follows = (at: number) => {
    const [before, s] = [list[at - 1], list[at]];
    return (
      before !== undefined &&
      s !== undefined &&
      before.night === s.night &&
      before.rigId === s.rigId &&
      before.order === s.order - 1 &&
      holder(before) === holder(s)
    );
  };
  return list.map((s, i) => {
    if (holder(s) === null || follows(i)) return null;
    let last = i;
    while (follows(last + 1)) last++;
    return list[last]!.b;
  });
});
/** A name as far as there is room: of a catalogue’s, rather its number than half of it. */
function shortened(name: string, room: number): string {
  const number = name.split(' ').slice(1).join(' ');
  return [name, number].find((n) => n && n.length <= room) ?? (room > 3 ? `${name.slice(0, room - 1)}…` : '');
}
const boxes = computed(() =>
  placed.value.map((s, i) => {
    const [left, right] = [x(s.a), x(s.b)];
    const id = holder(s);
    const name = id ? (props.names.get(id) ?? '') : '';
    const run = runs.value[i];
    const room = run ? Math.floor((x(run) - left - 8) / 6.6) : 0;
    return {
      s,
      left,
      width: Math.max(1, right - left - 1),
      top: y(s.night, s.rigId),
      given: id !== null,
      mine: id !== null && id === props.project,
      here: s.id === props.slotId,
      may: mayTake.value.has(s.id),
      over: drag.value?.far === true && drag.value.over === s.id,
      locked: locks.value.has(s.id),
      beyond: s.beyondShare && !props.greedy,
      text: shortened(name, room),
      title: `${dayName(s.night)} ${clock(s.start, zoneOf(s.rigId))}–${clock(s.end, zoneOf(s.rigId))}, ${props.rigNames.get(s.rigId) ?? ''}: ${name || 'nobody’s'}`,
    };
  }),
);
/** Nights after which most people sleep in. */
const weekend = (night: string) => [5, 6].includes(new Date(`${night}T12:00Z`).getUTCDay());
function move(e: KeyboardEvent, s: Board['slots'][number]) {
  const list = props.board.slots;
  const at = list.indexOf(s);
  const step = { ArrowRight: 1, ArrowLeft: -1 }[e.key];
  const beside =
    step === undefined
      ? e.key === 'ArrowDown' || e.key === 'ArrowUp'
        ? nextRow(s, e.key === 'ArrowDown' ? 1 : -1)
        : undefined
      : list[at + step];
  if (!beside) return;
  e.preventDefault();
  emit('choose', beside.id);
  const drawn = box.value?.querySelectorAll<SVGElement>('[data-slot]') ?? [];
  [...drawn].find((g) => g.dataset.slot === beside.id)?.focus();
}
/** The slot of the row below or above that is nearest in the night. */
function nextRow(s: Board['slots'][number], by: 1 | -1) {
  const rows = [...new Set(placed.value.map((p) => y(p.night, p.rigId)))].sort((a, b) => a - b);
  const row = rows[rows.indexOf(y(s.night, s.rigId)) + by];
  const here = placed.value.find((p) => p.id === s.id)!;
  return placed.value
    .filter((p) => y(p.night, p.rigId) === row)
    .sort((a, b) => Math.abs(a.a - here.a) - Math.abs(b.a - here.a))[0];
}
</script>

<template>
  <div ref="box" class="board-picture">
    <svg v-if="width > 0" :width="width" :height="height" role="group" aria-label="The coming nights, hour by hour">
      <g v-for="m in marks" :key="m.ms">
        <line :x1="x(m.ms)" :x2="x(m.ms)" :y1="TOP - 4" :y2="height" stroke="var(--line)" />
        <text :x="x(m.ms)" y="12" font-size="12" fill="var(--ink-2)" text-anchor="middle" class="mono">
          {{ m.text }}
        </text>
      </g>
      <g v-for="n in nights" :key="n">
        <text
          x="0"
          :y="y(n, rigs[0]!) + 14"
          font-size="13"
          :fill="weekend(n) ? 'var(--accent)' : 'var(--ink)'"
          class="mono"
        >
          {{ dayName(n) }}
        </text>
        <template v-if="label > 100">
          <text
            v-for="r in rigs"
            :key="r"
            :x="label - 6"
            :y="y(n, r) + 14"
            font-size="11"
            text-anchor="end"
            fill="var(--ink-2)"
          >
            {{ (rigNames.get(r) ?? '').slice(0, 8) }}{{ (rigNames.get(r) ?? '').length > 8 ? '…' : '' }}
          </text>
        </template>
      </g>
      <g
        v-for="b in boxes"
        :key="b.s.id"
        class="slot"
        role="button"
        :tabindex="b.here || (!slotId && b === boxes[0]) ? 0 : -1"
        :data-slot="b.s.id"
        :aria-label="b.title"
        :aria-pressed="b.here"
        @pointerdown="down($event, b.s.id, holder(b.s))"
        @click="emit('choose', b.s.id)"
        @keydown.enter.prevent="emit('choose', b.s.id)"
        @keydown.space.prevent="emit('choose', b.s.id)"
        @keydown="move($event, b.s)"
      >
        <rect
          :x="b.left"
          :y="b.top"
          :width="b.width"
          :height="LANE - 2"
          :fill="b.mine ? 'var(--accent)' : b.given ? 'var(--lane)' : 'var(--sky-night)'"
          :class="{ may: b.may, over: b.over }"
          :stroke="b.here ? 'var(--ink)' : b.locked ? 'var(--lane-edge)' : 'none'"
          :stroke-width="b.here ? 2 : 1.5"
          :stroke-dasharray="b.here ? undefined : '3 2'"
        />
        <rect
          v-if="b.s.moonUp > 0 && b.s.moonlit > 0.05"
          :x="b.left"
          :y="b.top + LANE - 4"
          :width="b.width * b.s.moonUp"
          height="2"
          fill="var(--ink-2)"
          :opacity="0.25 + 0.75 * b.s.moonlit"
        />
        <title>{{ b.title }}</title>
      </g>
      <g v-for="p in promised" :key="`${p.rigId} ${p.start}`" class="promised">
        <rect
          :x="x(p.a)"
          :y="y(p.night, p.rigId) + 3"
          :width="Math.max(2, x(p.b) - x(p.a) - 1)"
          :height="LANE - 8"
          :fill="p.projectId !== null && p.projectId === project ? 'var(--accent)' : 'var(--surface)'"
          stroke="var(--lane-edge)"
        />
        <text
          :x="x(p.a) + 4"
          :y="y(p.night, p.rigId) + 12.5"
          font-size="10.5"
          :fill="p.projectId !== null && p.projectId === project ? 'var(--on-accent)' : 'var(--ink-2)'"
        >
          {{ shortened(names.get(p.projectId ?? '') ?? 'booked', Math.floor((x(p.b) - x(p.a) - 6) / 6)) }}
        </text>
        <title>{{ p.text }}</title>
      </g>
      <template v-for="b in boxes" :key="`name ${b.s.id}`">
        <text
          v-if="b.text"
          :x="b.left + 4"
          :y="b.top + 12.5"
          font-size="11.5"
          :fill="b.mine ? 'var(--on-accent)' : 'var(--ink)'"
          :font-style="b.beyond ? 'italic' : undefined"
        >
          {{ b.text }}
        </text>
      </template>
    </svg>
  </div>
</template>

<style scoped>
.board-picture {
  min-width: 0;
  overflow: hidden;
}
.slot {
  cursor: pointer;
}
rect.may {
  stroke: var(--accent);
  stroke-width: 1.5;
}
rect.over {
  stroke: var(--ink);
  stroke-width: 2;
}
.slot:focus-visible {
  outline: none;
}
.slot:focus-visible rect:first-child {
  stroke: var(--accent);
  stroke-width: 3;
}
text {
  pointer-events: none;
}
</style>
