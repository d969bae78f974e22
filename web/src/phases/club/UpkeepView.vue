<script setup lang="ts">
import { api, type UpkeepRecord } from '@keen/contract';
import { eveningDate } from '@keen/core/sky';
import { Button, Input, Modal, Textarea } from 'ant-design-vue';
import { computed, reactive, ref } from 'vue';
import { call } from '../../api/client.ts';
import { questions } from '../../api/questions.ts';
import { useAnswer } from '../../common/answer.ts';
import EmptyState from '../../common/EmptyState.vue';
import { problemPlaces, problemText } from '../../common/outcome.ts';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import RigHands from '../../common/RigHands.vue';
import { dayName } from '../../common/times.ts';
import { dueWords, oftenWords } from '../../common/upkeepWords.ts';
import WhenThere from '../../common/WhenThere.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';

/** What comes again on each rig: when it is due, who did it last. */
const club = useClub();
const session = useSession();
const upkeep = useAnswer('Upkeep', questions.upkeep);
const all = computed(() => upkeep.value.value ?? []);
const LEVEL = { over: 'level-caution', soon: '', later: 'muted' } as const;
const byRig = computed(() =>
  club.records
    .map((r) => ({ rig: r, items: all.value.filter((u) => u.rigId === r.id) }))
    .filter(({ items }) => items.length > 0),
);
const over = computed(() => all.value.filter((u) => u.due.state === 'over').length);

const blank = () => ({
  id: '',
  version: 0,
  rigId: club.rig?.id ?? club.records[0]?.id ?? '',
  what: '',
  everyDays: null as number | null,
  everyNights: null as number | null,
  note: '',
});
const form = reactive(blank());
const open = ref(false);
const trouble = ref('');
function edit(u?: UpkeepRecord) {
  const { id, version, rigId, what, everyDays, everyNights, note } = u ?? blank();
  Object.assign(form, { id, version, rigId, what, everyDays, everyNights, note });
  trouble.value = '';
  open.value = true;
}
const body = () => {
  const { rigId, what, everyDays, everyNights, note } = form;
  return { rigId, what, everyDays, everyNights, note };
};
async function save() {
  const got = form.id
    ? await call(api.changeUpkeep, { params: { id: form.id }, body: { ...body(), version: form.version } })
    : await call(api.addUpkeep, { body: body() });
  if (got.ok) {
    open.value = false;
    await upkeep.load();
    return;
  }
  trouble.value = problemPlaces(got.problem);
  if (got.problem.code === 'stale') form.version = (got.problem.current as UpkeepRecord).version;
}
async function drop() {
  const got = await call(api.dropUpkeep, { params: { id: form.id } });
  if (got.ok) {
    open.value = false;
    await upkeep.load();
  } else trouble.value = problemText(got.problem);
}

const done = reactive({ id: '', version: 0, day: '', note: '', trouble: '' });
function begin(u: UpkeepRecord) {
  const siteId = club.records.find((r) => r.id === u.rigId)?.siteId;
  const zone = club.sites.find((s) => s.id === siteId)?.timeZone ?? 'UTC';
  Object.assign(done, { id: u.id, version: u.version, day: eveningDate(zone, club.now), note: '', trouble: '' });
}
async function sayDone() {
  const { id, day, note, version } = done;
  const got = await call(api.upkeepDone, { params: { id }, body: { day, note, version } });
  done.trouble = got.ok ? '' : problemPlaces(got.problem);
  // somebody did it, or changed it, a moment ago: what they did is shown
  if (got.ok) done.id = '';
  else if (got.problem.code === 'stale') done.version = (got.problem.current as UpkeepRecord).version;
  if (got.ok || got.problem.code === 'stale') await upkeep.load();
}
</script>

<template>
  <RigHands />
  <EmptyState v-if="!club.records.length" title="No rig to look after" lacks="rig">
    What comes again on a rig stands here: when it is due, and who did it last.
  </EmptyState>
  <section v-else class="panel stack">
    <div class="row spread">
      <h2>Upkeep</h2>
      <Button v-if="session.isSteward" type="primary" @click="edit()">Add</Button>
    </div>
    <p class="muted small">
      What comes again after so many days, or after so many nights on record. Whoever does it says so here; from then on
      it is counted anew.
    </p>
    <WhenThere :of="[upkeep]">
      <p v-if="all.length" role="status" :class="over ? 'level-caution' : 'level-good'">
        {{ over ? `${over} of ${all.length} ${over === 1 ? 'is' : 'are'} due now.` : 'Nothing is due.' }}
      </p>
      <p v-else class="muted" data-test="no-upkeep">
        Nothing comes again yet.
        {{
          session.isSteward
            ? 'Add what you would otherwise keep in a calendar: greasing, cleaning, a new battery.'
            : 'A steward says what does.'
        }}
      </p>
      <div v-for="{ rig, items } in byRig" :key="rig.id" class="stack">
        <h3>{{ rig.name }}</h3>
        <ul>
          <li v-for="u in items" :key="u.id" :data-test="`upkeep-${u.due.state}`">
            <div class="item">
              <span>
                <strong>{{ u.what }}</strong>: <span :class="LEVEL[u.due.state]">{{ dueWords(u) }}</span>
                <span class="muted small"
                  >; {{ oftenWords(u)
                  }}{{ u.doneBy ? `, last by ${u.doneBy} on ${dayName(u.since)}` : `, counted from ${dayName(u.since)}`
                  }}{{ u.everyNights !== null ? `, ${u.nights} nights since` : '' }}</span
                >
              </span>
              <span class="row">
                <Button v-if="session.mayEdit && done.id !== u.id" size="small" @click="begin(u)">Done</Button>
                <Button v-if="session.isSteward" type="text" size="small" @click="edit(u)">Edit</Button>
              </span>
            </div>
            <p v-if="u.note" class="small muted">{{ u.note }}</p>
            <form v-if="done.id === u.id" class="row said" @submit.prevent="sayDone">
              <label class="small muted">Done on<input v-model="done.day" type="date" class="plain" /></label>
              <label class="small muted grow">Note<Input v-model:value="done.note" :maxlength="1000" /></label>
              <Button type="primary" html-type="submit" :disabled="!done.day">It was done</Button>
              <Button @click="done.id = ''">Not yet</Button>
              <p v-if="done.trouble" class="level-bad" role="alert">{{ done.trouble }}</p>
            </form>
            <details v-if="u.done.length" class="small">
              <summary>{{ u.done.length === 1 ? 'Done once' : `The last ${u.done.length} times` }}</summary>
              <p v-for="(d, i) in u.done" :key="i" class="muted">
                {{ dayName(d.day) }}, {{ d.by }}{{ d.note ? `: ${d.note}` : '' }}
              </p>
            </details>
          </li>
        </ul>
      </div>
    </WhenThere>
  </section>
  <Modal v-model:open="open" :title="form.id ? form.what : 'Add upkeep'" ok-text="Save" @ok="save">
    <div class="stack">
      <PickOne
        v-if="!form.id"
        v-model:value="form.rigId"
        label="Rig"
        shown
        :options="club.records.map((r) => ({ value: r.id, label: r.name }))"
      />
      <label class="small muted">What<Input v-model:value="form.what" :maxlength="200" /></label>
      <div class="row">
        <QuantityInput
          v-model="form.everyDays"
          dimension="number"
          unit="days"
          label="Every"
          optional
          :decimals="0"
          :min="1"
          :max="3650"
        />
        <QuantityInput
          v-model="form.everyNights"
          dimension="number"
          unit="nights"
          label="or every"
          optional
          :decimals="0"
          :min="1"
          :max="2000"
        />
      </div>
      <label class="small muted">Note<Textarea v-model:value="form.note" :rows="2" :maxlength="1000" /></label>
      <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
      <Button v-if="form.id" danger size="small" class="drop" @click="drop">It does not come again</Button>
    </div>
  </Modal>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  padding: 6px 0;
  border-top: 1px solid var(--line);
}
.item {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 12px;
  align-items: start;
}
@media (max-width: 640px) {
  .item {
    grid-template-columns: 1fr;
  }
}
li p,
h3 {
  margin: 0;
}
.said {
  align-items: end;
  margin-top: 6px;
}
.grow {
  flex: 1 1 180px;
}
.drop {
  justify-self: start;
}
</style>
