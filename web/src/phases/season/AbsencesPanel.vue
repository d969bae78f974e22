<script setup lang="ts">
import { api, type AbsenceNights } from '@keen/contract';
import type { Code } from '@keen/core/phrases';
import { addDays } from '@keen/core/sky';
import { Button, Input, message } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';
import { call } from '../../api/client.ts';
import { questions } from '../../api/questions.ts';
import { useAnswer } from '../../common/answer.ts';
import DropFile from '../../common/DropFile.vue';
import { problemPlaces } from '../../common/outcome.ts';
import WhenThere from '../../common/WhenThere.vue';
import { useClub } from '../../stores/club.ts';
import { useUnits } from '../../stores/units.ts';
import { plainCopy } from '../../workers/index.ts';

/** Nights on which one is away: typed, or read from a calendar. The rules give none of them, and nobody moves up for them. */
const club = useClub();
const units = useUnits();
const answer = useAnswer('When you are away', questions.absences);
const draft = ref<AbsenceNights[]>([]);
// what was typed or read stays when they are read anew
watch(
  () => answer.value.value,
  (kept, was) => {
    if (kept && JSON.stringify(draft.value) === JSON.stringify(was ?? [])) draft.value = plainCopy([...kept]);
  },
  { immediate: true },
);
const dirty = computed(() => JSON.stringify(draft.value) !== JSON.stringify(answer.value.value));
/** How far ahead a calendar is read [nights]. */
const AHEAD = 365;
const trouble = ref('');
const said = ref('');
async function read(file: File) {
  [trouble.value, said.value] = ['', ''];
  // the reader of calendars comes when one is read
  const { readAbsences } = await import('@keen/core/absences');
  const span = { from: club.tonight, until: addDays(club.tonight, AHEAD), timeZone: club.site?.timeZone ?? 'UTC' };
  const got = readAbsences(await file.text(), span);
  if (!got.ok)
    return void (trouble.value = `${file.name}: ${units.say({ ...got.trouble, code: got.trouble.code as Code })}`);
  const { absences, passedOver } = got.value;
  const there = new Set(draft.value.map((a) => JSON.stringify([a.from, a.until])));
  const fresh = absences.filter((a) => !there.has(JSON.stringify([a.from, a.until])));
  draft.value = [...draft.value, ...fresh].sort((a, b) => (a.from < b.from ? -1 : 1));
  said.value = `${file.name}: ${fresh.length} ${fresh.length === 1 ? 'absence' : 'absences'} taken, to be kept${passedOver ? `, ${passedOver} ${passedOver === 1 ? 'event' : 'events'} passed over (free, called off, by day, or not in the next year)` : ''}.`;
}
function add() {
  draft.value.push({ from: club.tonight, until: club.tonight, title: '' });
}
async function keep() {
  const got = await call(api.keepAbsences, { body: { absences: plainCopy(draft.value) } });
  trouble.value = got.ok ? '' : problemPlaces(got.problem);
  if (!got.ok) return;
  said.value = '';
  draft.value = plainCopy([...got.value]);
  answer.put(got.value);
  void message.success('Kept.');
}
</script>

<template>
  <section class="panel stack no-print" data-test="absences">
    <h2>When you are away</h2>
    <p class="small muted">
      The rules give your projects none of these nights, and you do not move up for them. Only you read them.
    </p>
    <WhenThere :of="[answer]">
      <div v-for="(a, i) in draft" :key="i" class="row">
        <label class="small muted"
          >First night<input v-model="a.from" type="date" :aria-label="`First night of absence ${i + 1}`"
        /></label>
        <label class="small muted"
          >Last night<input v-model="a.until" type="date" :min="a.from" :aria-label="`Last night of absence ${i + 1}`"
        /></label>
        <Input v-model:value="a.title" :maxlength="200" class="title" :aria-label="`What absence ${i + 1} is`" />
        <Button type="text" size="small" :aria-label="`Remove absence ${i + 1}`" @click="draft.splice(i, 1)">✕</Button>
      </div>
      <p v-if="said" class="small" role="status">{{ said }}</p>
      <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
      <div class="row">
        <Button size="small" @click="add">Add one</Button>
        <Button type="primary" :disabled="!dirty" @click="keep">Keep</Button>
      </div>
      <DropFile title="From a calendar" accept=".ics,text/calendar" test="calendar" @take="read">
        An .ics file, as calendars export it: the nights its events reach into. It is read on this page; what is kept
        are the nights alone.
      </DropFile>
    </WhenThere>
  </section>
</template>

<style scoped>
.row {
  align-items: end;
}
.title {
  width: 160px;
}
</style>
