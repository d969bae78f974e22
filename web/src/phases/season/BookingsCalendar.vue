<script setup lang="ts">
import type { BookingRecord, SharingRecord } from '@keen/contract';
import { USUAL_SHARING, wayOf } from '@keen/core/booking';
import { addDays, instantOfLocal } from '@keen/core/sky';
import { computed } from 'vue';
import { clock, dayName } from '../../common/times.ts';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';

/** Nights by week, Monday first: of each rig a line from four in the afternoon to eight in the morning, with whose hours are whose. */
const props = defineProps<{
  bookings: readonly BookingRecord[];
  /** The Monday of the first week. */
  first: string;
  weeks: number;
  night: string;
  sharing: readonly SharingRecord[];
}>();
const emit = defineEmits<{ choose: [night: string] }>();
const club = useClub();
const session = useSession();
const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
const FROM_HOUR = 16;
const HOURS = 16;
const days = computed(() => Array.from({ length: 7 * props.weeks }, (_, i) => addDays(props.first, i)));
const rigs = computed(() => club.records);
const zoneOf = (rigId: string) =>
  club.sites.find((s) => s.id === rigs.value.find((r) => r.id === rigId)?.siteId)?.timeZone ?? 'UTC';
const SHOWN = ['held', 'asked', 'waiting'];
const spans = computed(() =>
  props.bookings
    .filter((b) => SHOWN.includes(b.state))
    .map((b) => {
      const zone = zoneOf(b.rigId);
      const zero = instantOfLocal(zone, Date.parse(`${b.night}T${FROM_HOUR}:00:00Z`));
      const at = (iso: string) => Math.min(100, Math.max(0, ((Date.parse(iso) - zero) / (HOURS * 3_600_000)) * 100));
      return {
        b,
        left: at(b.start),
        width: Math.max(2, at(b.end) - at(b.start)),
        mine: b.memberId === session.member?.id,
      };
    }),
);
const spansOf = (night: string, rigId: string) => spans.value.filter((s) => s.b.night === night && s.b.rigId === rigId);
const wayOn = (rigId: string, night: string) =>
  wayOf(props.sharing.find((s) => s.rigId === rigId) ?? USUAL_SHARING, night);
const wayWords = { calendar: 'by calendar', queue: 'by the rules', mixed: 'booked, else by the rules' };
const told = (night: string) => {
  const of = spans.value.filter((s) => s.b.night === night);
  if (!of.length) return 'nothing booked';
  return of
    .map(
      ({ b }) =>
        `${rigs.value.find((r) => r.id === b.rigId)?.name ?? ''} ${clock(b.start, zoneOf(b.rigId))} to ${clock(b.end, zoneOf(b.rigId))} ${b.member}${b.state === 'held' ? '' : `, ${b.state}`}`,
    )
    .join('; ');
};
function move(e: KeyboardEvent, day: string) {
  const by = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: 7, ArrowUp: -7 }[e.key];
  if (!by) return;
  e.preventDefault();
  const to = addDays(day, by);
  emit('choose', to);
  const box = (e.currentTarget as HTMLElement).parentElement;
  setTimeout(() => box?.querySelector<HTMLElement>(`[data-night="${to}"]`)?.focus());
}
</script>

<template>
  <div class="calendar" :class="{ tall: weeks === 1 }">
    <span v-for="d in DAYS" :key="d" class="head small muted">{{ d }}</span>
    <button
      v-for="d in days"
      :key="d"
      type="button"
      class="day"
      :class="{ here: d === night, past: d < club.tonight, tonight: d === club.tonight }"
      :data-night="d"
      :aria-pressed="d === night"
      :aria-label="`${dayName(d)}: ${told(d)}`"
      :tabindex="d === night || (!days.includes(night) && d === first) ? 0 : -1"
      @click="emit('choose', d)"
      @keydown="move($event, d)"
    >
      <span class="date mono">{{ Number(d.slice(8)) === 1 || d === first ? dayName(d) : Number(d.slice(8)) }}</span>
      <span
        v-for="r in rigs"
        :key="r.id"
        class="line"
        :class="wayOn(r.id, d)"
        :title="`${r.name}, ${wayWords[wayOn(r.id, d)]}`"
      >
        <span
          v-for="s in spansOf(d, r.id)"
          :key="s.b.id"
          class="span"
          :class="[s.b.state, { mine: s.mine }]"
          :style="{ left: `${s.left}%`, width: `${s.width}%` }"
          ><template v-if="weeks === 1">{{ s.b.object || s.b.member }}</template></span
        >
      </span>
    </button>
  </div>
  <p class="small muted legend">
    A line is a rig from {{ FROM_HOUR }}:00 to {{ String((FROM_HOUR + HOURS) % 24).padStart(2, '0') }}:00, in the order
    {{ rigs.map((r) => r.name).join(', ') }}. <span class="key mine" /> yours <span class="key" /> another’s
    <span class="key asked" /> asked or waiting
  </p>
</template>

<style scoped>
.calendar {
  display: grid;
  grid-template-columns: repeat(7, minmax(0, 1fr));
  gap: 2px;
}
.head {
  padding: 0 4px;
}
.day {
  display: grid;
  align-content: start;
  gap: 3px;
  min-height: 62px;
  padding: 4px;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--surface);
  color: var(--ink);
  text-align: left;
  cursor: pointer;
  min-width: 0;
}
.day.past {
  color: var(--ink-2);
  border-style: dashed;
}
.day.tonight .date {
  color: var(--accent);
  font-weight: 700;
}
.day.here {
  border-color: var(--ink);
  box-shadow: inset 0 0 0 1px var(--ink);
}
.day:focus-visible {
  outline: 2px solid var(--accent);
  outline-offset: 1px;
}
.date {
  font-size: 13px;
}
.line {
  position: relative;
  height: 7px;
  background: var(--sky-night);
  border-radius: 1px;
  overflow: hidden;
}
.line.queue {
  background: repeating-linear-gradient(90deg, var(--sky-night) 0 5px, var(--line) 5px 6px);
}
.tall .line {
  height: 22px;
}
.span {
  position: absolute;
  top: 0;
  bottom: 0;
  background: var(--lane);
  border: 1px solid var(--lane-edge);
  border-radius: 1px;
  font-size: 12px;
  line-height: 20px;
  padding: 0 3px;
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
}
.calendar:not(.tall) .span {
  padding: 0;
}
.span.mine {
  background: var(--accent);
  color: var(--on-accent);
}
.span.asked,
.span.waiting {
  background: transparent;
  border-style: dashed;
  color: var(--ink);
}
.key {
  display: inline-block;
  width: 14px;
  height: 8px;
  background: var(--lane);
  border: 1px solid var(--lane-edge);
  margin-left: 8px;
}
.key.mine {
  background: var(--accent);
}
.key.asked {
  background: transparent;
  border-style: dashed;
}
@media (max-width: 600px) {
  .day {
    min-height: 48px;
    padding: 2px;
  }
  .tall .span {
    font-size: 0;
  }
}
</style>
