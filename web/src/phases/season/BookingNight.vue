<script setup lang="ts">
import type { BookingRecord, SharingRecord } from '@keen/contract';
import { wayOf } from '@keen/core/booking';
import { Button, Input } from 'ant-design-vue';
import { computed, ref } from 'vue';
import { clock, dayName } from '../../common/times.ts';
import type { Hours } from '../../common/useHours.ts';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import BookingForm from './BookingForm.vue';

/** One night: whose its hours are on each rig, and what may be done about them. */
const props = defineProps<{
  night: string;
  bookings: readonly BookingRecord[];
  sharing: readonly SharingRecord[];
  hours: Hours;
}>();
const emit = defineEmits<{ changed: [] }>();
const club = useClub();
const session = useSession();
const answers = ref<Record<string, string>>({});
const WAYS = { calendar: 'by calendar', queue: 'by the rules', mixed: 'booked, else by the rules' };
const STATES = { asked: 'asked', waiting: 'waiting', held: '', declined: 'declined', cancelled: 'given back' };
const OUTCOMES = { used: 'used', clouded: 'lost to cloud', fault: 'a fault', unused: 'not used' };
const zoneOf = (siteId: string) => club.sites.find((s) => s.id === siteId)?.timeZone ?? 'UTC';
const rigs = computed(() =>
  club.records.map((r) => {
    const shared = props.sharing.find((s) => s.rigId === r.id);
    const own = props.bookings.filter((b) => b.rigId === r.id);
    const plans = club.plans.filter(
      (p) =>
        p.rigId === r.id && p.night === props.night && p.status !== 'cancelled' && !own.some((b) => b.planId === p.id),
    );
    const open = own.filter(
      (b) => b.state === 'held' && b.planId === null && b.projectId !== null && Date.parse(b.end) > club.now,
    );
    return {
      r,
      zone: zoneOf(r.siteId),
      way: shared ? wayOf(shared, props.night) : null,
      approval: shared?.approval ?? false,
      own,
      plans,
      mayPlan: open.length > 0 && (session.isSteward || open.some(props.hours.mine)),
    };
  }),
);
const toCome = (b: BookingRecord) => Date.parse(b.end) > club.now && !['declined', 'cancelled'].includes(b.state);
const { busy, refused } = props.hours;
async function done(work: Promise<unknown>) {
  if ((await work) !== null) emit('changed');
}
</script>

<template>
  <section class="panel stack" data-test="booking-night">
    <h2>{{ dayName(night) }}</h2>
    <div v-for="x in rigs" :key="x.r.id" class="rig stack">
      <h3>
        {{ x.r.name }}
        <span v-if="x.way && !session.alone" class="small muted"
          >{{ WAYS[x.way] }}{{ x.approval ? ', a steward agrees' : '' }}</span
        >
      </h3>
      <ul class="plain">
        <li v-for="b in x.own" :key="b.id" :class="{ gone: ['declined', 'cancelled'].includes(b.state) }">
          <span>
            <span class="mono">{{ clock(b.start, x.zone) }}–{{ clock(b.end, x.zone) }}</span>
            {{ hours.mine(b) ? 'you' : b.member }}<template v-if="b.object">, {{ b.object }}</template>{{ ' ' }}
            <span class="small muted">
              {{
                [
                  STATES[b.state],
                  b.origin === 'rules' ? 'by the rules' : '',
                  b.planId ? 'planned' : '',
                  b.outcome ? OUTCOMES[b.outcome] : '',
                  b.note,
                  b.answer,
                ]
                  .filter(Boolean)
                  .join(', ')
              }}
            </span>
          </span>
          <span class="row acts">
            <template v-if="b.state === 'asked' && session.isSteward">
              <Input
                v-model:value="answers[b.id]"
                size="small"
                :maxlength="500"
                placeholder="why, if not"
                :aria-label="`What is said to ${b.member}`"
              />
              <Button size="small" :disabled="busy" @click="done(hours.decide(b, true, answers[b.id] ?? ''))"
                >Agree</Button
              >
              <Button size="small" :disabled="busy" @click="done(hours.decide(b, false, answers[b.id] ?? ''))"
                >Decline</Button
              >
            </template>
            <Button
              v-if="hours.mayAct(b) && toCome(b)"
              size="small"
              :disabled="busy"
              :aria-label="`Give back ${clock(b.start, x.zone)} to ${clock(b.end, x.zone)}, ${x.r.name}`"
              @click="done(hours.cancel(b))"
              >{{ b.state === 'held' ? 'Give back' : 'Withdraw' }}</Button
            >
          </span>
        </li>
        <li v-for="p in x.plans" :key="p.id">
          <span>
            <span class="mono">{{ clock(p.start, x.zone) }}–{{ clock(p.end, x.zone) }}</span>
            {{ p.owner }}, {{ [...new Set(p.legs.map((l) => l.object))].join(', ') }}
            <span class="small muted">planned</span>
          </span>
        </li>
      </ul>
      <p v-if="!x.own.length && !x.plans.length" class="small muted">Nobody has any hours.</p>
      <Button v-if="x.mayPlan" size="small" :disabled="busy" @click="hours.plan(x.r.id, night)"
        >Make the plan of these hours</Button
      >
    </div>
    <p v-if="refused" class="level-bad" role="alert">{{ refused.text }}</p>
    <BookingForm
      v-if="session.mayEdit && night >= club.tonight"
      :night="night"
      :sharing="sharing"
      :hours="hours"
      @changed="emit('changed')"
    />
  </section>
</template>

<style scoped>
.rig + .rig {
  border-top: 1px solid var(--line);
  padding-top: 8px;
}
h3 {
  font-size: 15px;
  margin: 0;
}
.plain {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 6px;
}
li {
  display: flex;
  justify-content: space-between;
  gap: 4px 12px;
  align-items: center;
}
.gone {
  color: var(--ink-2);
  text-decoration: line-through;
}
.acts :deep(input) {
  width: 120px;
}
</style>
