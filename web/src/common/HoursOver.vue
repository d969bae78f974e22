<script setup lang="ts">
import type { HoursOutcome } from '@keen/contract';
import { Button } from 'ant-design-vue';
import { useClub } from '../stores/club.ts';
import { useSession } from '../stores/session.ts';
import StillComing from './StillComing.vue';
import { clock, dayName } from './times.ts';
import { useHours } from './useHours.ts';

/** Hours that are over, and of which nobody said what came: told once, in the morning, by one press each. */
const club = useClub();
const session = useSession();
const h = useHours();
const OUTCOMES: [HoursOutcome, string][] = [
  ['used', 'Used'],
  ['clouded', 'Clouded'],
  ['fault', 'A fault'],
  ['unused', 'Not used'],
];
const rigOf = (id: string) => club.records.find((r) => r.id === id);
const zoneOf = (id: string) => club.sites.find((s) => s.id === rigOf(id)?.siteId)?.timeZone ?? 'UTC';
</script>

<template>
  <StillComing
    v-if="h.answer.trouble.value"
    what="The hours that are over"
    :failed="h.answer.trouble.value"
    @again="h.answer.load()"
  />
  <section v-if="h.over.value.length && session.mayEdit" class="panel stack" data-test="hours-over">
    <h2>What came of these hours?</h2>
    <div v-for="b in h.over.value" :key="b.id" class="row">
      <span class="grow">
        {{ dayName(b.night) }},
        <span class="mono">{{ clock(b.start, zoneOf(b.rigId)) }}–{{ clock(b.end, zoneOf(b.rigId)) }}</span>,
        {{ rigOf(b.rigId)?.name }}: <strong>{{ b.object || 'not said for what' }}</strong
        ><template v-if="!h.mine(b)">, {{ b.member }}</template>
      </span>
      <Button
        v-for="[outcome, text] in OUTCOMES"
        :key="outcome"
        size="small"
        :disabled="h.busy.value"
        :aria-label="`${text}: ${b.object || b.member}, ${dayName(b.night)}`"
        @click="h.say(b, outcome)"
        >{{ text }}</Button
      >
    </div>
    <p v-if="h.refused.value" class="level-bad" role="alert">{{ h.refused.value.text }}</p>
    <p class="small muted">Clouded hours stand in the ledger; how much of them counts as had, the club’s rule says.</p>
  </section>
</template>

<style scoped>
.grow {
  flex: 1 1 260px;
}
</style>
