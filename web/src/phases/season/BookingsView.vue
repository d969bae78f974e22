<script setup lang="ts">
import { makeVerdict, phrase } from '@keen/core/phrases';
import { addDays } from '@keen/core/sky';
import { Button } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';
import { questions } from '../../api/questions.ts';
import { useAnswer } from '../../common/answer.ts';
import EmptyState from '../../common/EmptyState.vue';
import { clock, dayName } from '../../common/times.ts';
import { useHours } from '../../common/useHours.ts';
import VerdictLine from '../../common/VerdictLine.vue';
import WhenThere from '../../common/WhenThere.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import AbsencesPanel from './AbsencesPanel.vue';
import BookingNight from './BookingNight.vue';
import BookingsCalendar from './BookingsCalendar.vue';
import CalendarFeeds from './CalendarFeeds.vue';
import SharingForm from './SharingForm.vue';

/** Whose which hours are: by month or week, with what may be booked, asked for, waited for and given back. */
const club = useClub();
const session = useSession();
const h = useHours();
const sharing = useAnswer('How the rigs are shared', questions.sharing);
const weeks = ref<1 | 5>(5);
const night = ref(club.night);
/** The Monday with which what is shown begins. */
const first = ref('');
const monday = (day: string) => addDays(day, -((new Date(`${day}T12:00:00Z`).getUTCDay() + 6) % 7));
watch(
  () => club.tonight,
  (tonight) => {
    if (!tonight) return;
    night.value ||= tonight;
    first.value ||= monday(night.value);
  },
  { immediate: true },
);
/** Hours are read for so many nights around today; what lies beyond is read when it is looked at. */
const shown = useAnswer('The booked hours of these nights', () =>
  first.value ? questions.bookings(first.value, addDays(first.value, 7 * weeks.value - 1)) : null,
);
const bookings = computed(() => shown.value.value ?? []);
function step(by: number) {
  first.value = addDays(first.value, 7 * by);
}
watch(
  () => club.night,
  (n) => (night.value = n),
);
watch(night, (n) => {
  if (n < first.value || n > addDays(first.value, 7 * weeks.value - 1)) first.value = monday(n);
});

const rigOf = (id: string) => club.records.find((r) => r.id === id);
const zoneOf = (id: string) => club.sites.find((s) => s.id === rigOf(id)?.siteId)?.timeZone ?? 'UTC';
const verdict = computed(() => {
  const all = h.all.value.filter((b) => Date.parse(b.end) > club.now);
  const next = all.find((b) => h.mine(b) && b.state === 'held');
  const waiting = all.filter((b) => h.mine(b) && b.state === 'waiting').length;
  const asked = all.filter((b) => b.state === 'asked').length;
  const unplanned = h.tonight.value.some((b) => b.planId === null && (h.mine(b) || session.isSteward));
  return makeVerdict(
    unplanned || (asked && session.isSteward) ? 'caution' : 'good',
    next
      ? phrase('season.bookings-next', {
          night: dayName(next.night),
          from: clock(next.start, zoneOf(next.rigId)),
          until: clock(next.end, zoneOf(next.rigId)),
          rig: rigOf(next.rigId)?.name ?? '',
          object: next.object ? `, ${next.object}` : '',
        })
      : phrase('season.bookings-none'),
    ...(unplanned ? [phrase('season.bookings-unplanned')] : []),
    ...(waiting ? [phrase('season.bookings-waiting', { waiting })] : []),
    ...(asked ? [phrase('season.bookings-asked', { asked })] : []),
  );
});
async function changed() {
  await Promise.all([shown.load(), h.answer.load()]);
}
</script>

<template>
  <EmptyState v-if="club.records.length === 0" title="No rig yet" lacks="rig">
    Hours are booked on a rig: once one stands here, its nights can be shared.
  </EmptyState>
  <WhenThere v-else :of="[h.answer, sharing]">
    <VerdictLine :verdict="verdict" />
    <div class="beside">
      <div class="column">
        <section class="panel stack">
          <div class="row">
            <Button size="small" aria-label="Earlier" @click="step(-weeks)">‹</Button>
            <Button size="small" @click="((first = monday(club.tonight)), (night = club.tonight))">Tonight</Button>
            <Button size="small" aria-label="Later" @click="step(weeks)">›</Button>
            <span class="toggle" role="group" aria-label="How much is shown">
              <button type="button" :aria-pressed="weeks === 5" @click="weeks = 5">Month</button>
              <button type="button" :aria-pressed="weeks === 1" @click="((weeks = 1), (first = monday(night)))">
                Week
              </button>
            </span>
          </div>
          <WhenThere :of="[shown]">
            <BookingsCalendar
              :bookings="bookings"
              :first="first"
              :weeks="weeks"
              :night="night"
              :sharing="sharing.value.value!"
              @choose="night = $event"
            />
          </WhenThere>
        </section>
        <SharingForm
          v-if="session.isSteward && !session.alone"
          :sharing="sharing.value.value!"
          @changed="sharing.load()"
        />
        <AbsencesPanel v-if="session.mayEdit && !session.alone" />
        <CalendarFeeds />
      </div>
      <BookingNight
        :night="night"
        :bookings="bookings.filter((b) => b.night === night)"
        :sharing="sharing.value.value!"
        :hours="h"
        @changed="changed"
      />
    </div>
  </WhenThere>
</template>

<style scoped>
.beside,
.column {
  display: grid;
  gap: 16px;
  align-items: start;
}
.beside > *,
.column > * {
  min-width: 0;
}
@media (min-width: 1100px) {
  .beside {
    grid-template-columns: minmax(0, 1fr) 400px;
  }
}
</style>
