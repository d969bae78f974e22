<script setup lang="ts">
import { api, type LedgerRecord, type SeasonRules } from '@keen/contract';
import { makeVerdict, phrase, type Code } from '@keen/core/phrases';
import { addDays } from '@keen/core/sky';
import { Button, Switch, message } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';
import { call } from '../../api/client.ts';
import { questions } from '../../api/questions.ts';
import { useAnswer } from '../../common/answer.ts';
import EmptyState from '../../common/EmptyState.vue';
import HoursOver from '../../common/HoursOver.vue';
import ListTable, { type Column } from '../../common/ListTable.vue';
import { problemText } from '../../common/outcome.ts';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import { dayName } from '../../common/times.ts';
import VerdictLine from '../../common/VerdictLine.vue';
import WhenThere from '../../common/WhenThere.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { useUnits } from '../../stores/units.ts';

/** Hours asked, promised, taken, counted and lost to cloud: one’s own, a steward sees everybody’s; and by which rule they count. */
const club = useClub();
const session = useSession();
const units = useUnits();
const days = ref(90);
const since = computed(() => (club.tonight ? addDays(club.tonight, -days.value) : ''));
const rules = useAnswer('The club’s rule', questions.seasonRules);
const lines = useAnswer('The ledger', () => (since.value ? questions.ledger(since.value) : null));
const sum = (of: (l: LedgerRecord) => number) => (lines.value.value ?? []).reduce((s, l) => s + of(l), 0) / 60;
const verdict = computed(() => {
  const list = lines.value.value ?? [];
  return list.length
    ? makeVerdict(
        'good',
        phrase('season.ledger', {
          month: dayName(since.value),
          promisedHours: sum((l) => l.promised),
          takenHours: sum((l) => l.taken),
          countedHours: sum((l) => l.counted),
          cloudedHours: sum((l) => l.clouded),
        }),
      )
    : makeVerdict('caution', phrase('season.ledger-empty', { month: dayName(since.value) }));
});
const hours = (key: 'asked' | 'promised' | 'taken' | 'counted' | 'clouded', title: string): Column<LedgerRecord> => ({
  key,
  title,
  value: (l) => l[key] / 60,
  decimals: 1,
  numeric: true,
});
const columns = computed<Column<LedgerRecord>[]>(() => [
  { key: 'month', title: 'Month', value: (l) => l.month },
  ...(session.isSteward && !session.alone
    ? [{ key: 'member', title: 'Member', value: (l: LedgerRecord) => l.member }]
    : []),
  { key: 'object', title: 'For', value: (l) => l.object || 'not said' },
  hours('asked', 'Asked, h'),
  hours('promised', 'Promised, h'),
  hours('taken', 'Shutter open, h'),
  hours('counted', 'Counted, h'),
  hours('clouded', 'Clouded, h'),
]);

const draft = ref<SeasonRules | null>(null);
const kept = computed<SeasonRules | null>(() => {
  const r = rules.value.value;
  return r ? { fairDays: r.fairDays, cloudShare: r.cloudShare } : null;
});
// what was typed stays when the rule is read anew
watch(
  kept,
  (k, was) => {
    if (k && (!draft.value || JSON.stringify(draft.value) === JSON.stringify(was))) draft.value = { ...k };
  },
  { immediate: true },
);
const dirty = computed(() => JSON.stringify(draft.value) !== JSON.stringify(kept.value));
const fair = computed({
  get: () => draft.value?.fairDays !== null,
  set: (on) => draft.value && (draft.value.fairDays = on ? 90 : null),
});
const cloudPercent = computed({
  get: () => Math.round(100 * (draft.value?.cloudShare ?? 0)),
  set: (p) => draft.value && (draft.value.cloudShare = p / 100),
});
const trouble = ref('');
async function save() {
  const got = await call(api.changeSeasonRules, { body: draft.value! });
  trouble.value = got.ok ? '' : problemText(got.problem);
  if (!got.ok) return;
  draft.value = { fairDays: got.value.fairDays, cloudShare: got.value.cloudShare };
  rules.put(got.value);
  void message.success('The rule was changed.');
}
</script>

<template>
  <EmptyState v-if="club.records.length === 0" title="No rig yet" lacks="rig">
    Hours are counted from what is booked on rigs and what they expose.
  </EmptyState>
  <template v-else>
    <WhenThere :of="[lines]">
      <VerdictLine :verdict="verdict" />
    </WhenThere>
    <HoursOver />
    <section v-if="!session.alone" class="panel stack" data-test="rule">
      <h2>The rule</h2>
      <WhenThere :of="[rules]">
        <p>{{ units.say({ ...rules.value.value!.sentence, code: rules.value.value!.sentence.code as Code }) }}</p>
        <template v-if="session.isSteward && draft">
          <div class="rule">
            <label class="row small"><Switch v-model:checked="fair" size="small" /> equal shares</label>
            <QuantityInput
              v-if="draft.fairDays !== null"
              v-model="draft.fairDays"
              dimension="number"
              unit="days"
              label="What was had counts for"
              :decimals="0"
              :min="1"
              :max="730"
            />
            <QuantityInput
              v-if="draft.fairDays !== null"
              v-model="cloudPercent"
              dimension="number"
              unit="%"
              label="A clouded hour counts as had"
              :decimals="0"
              :min="0"
              :max="100"
            />
            <Button type="primary" :disabled="!dirty" @click="save">Save the rule</Button>
          </div>
          <p class="small muted">
            Two schools: where a clouded hour counts as had, turns go round evenly and bad luck is one’s own; where it
            does not, whoever was clouded out comes first again. Half is between them.
          </p>
        </template>
        <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
      </WhenThere>
    </section>
    <section class="panel stack">
      <div class="row">
        <h2>Hours</h2>
        <PickOne
          v-model:value="days"
          label="Since"
          :options="[30, 90, 180, 365].map((n) => ({ value: n, label: `the last ${n} days` }))"
        />
      </div>
      <WhenThere :of="[lines]">
        <ListTable
          :rows="lines.value.value!"
          :columns="columns"
          name="ledger"
          :row-key="(l) => `${l.month} ${l.memberId} ${l.projectId}`"
          empty="No hours in this time."
        />
      </WhenThere>
    </section>
  </template>
</template>

<style scoped>
.rule {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(150px, 220px));
  gap: 10px 14px;
  align-items: end;
}
</style>
