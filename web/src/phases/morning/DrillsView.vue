<script setup lang="ts">
import {
  isKnown,
  KNOWN_AFTER,
  SITUATION_KEYS,
  SITUATIONS,
  type Field,
  type Level,
  type SituationKey,
} from '@keen/core/drills';
import WhenThere from '../../common/WhenThere.vue';
import { makeVerdict, phrase, sentences } from '@keen/core/phrases';
import { Button } from 'ant-design-vue';
import { computed, onMounted } from 'vue';
import { RouterLink } from 'vue-router';
import ChoiceCards from '../../common/ChoiceCards.vue';
import ListTable, { type Column } from '../../common/ListTable.vue';
import PickOne from '../../common/PickOne.vue';
import { useShortcut } from '../../common/shortcuts.ts';
import VerdictLine from '../../common/VerdictLine.vue';
import { useSession } from '../../stores/session.ts';
import { useUnits } from '../../stores/units.ts';
import DrillExhibit from './DrillExhibit.vue';
import TrainedNights from './TrainedNights.vue';
import { useDrills } from './useDrills.ts';

/** Things that go wrong, as one would see them: name the cause and the cure, and be told why, with the numbers. */
const session = useSession();
const units = useUnits();
const drills = useDrills();
const { byKey, spots, trouble, level, drill, cause, cure, judged, knownCount, missed } = drills;
onMounted(drills.load);
useShortcut('n', () => drills.next());

const LEVELS: Record<Level | 0, string> = {
  0: 'every kind',
  1: 'seen at once',
  2: 'two things held together',
  3: 'looks like something else',
};
/** Until it is judged only when it happens is said: names tell too much. */
const FIELDS: Record<Field, string> = {
  bench: 'By daylight',
  dusk: 'At dusk',
  night: 'In the night',
  morning: 'The next morning',
};
const title = (key: SituationKey) => {
  return sentences([phrase(`drill.${key}-name`)]);
};
const verdict = computed(() => {
  const [all, known, open] = [SITUATION_KEYS.length, knownCount.value, missed.value.length];
  return makeVerdict(
    open > 0 || known === 0 ? 'caution' : 'good',
    phrase('drills.known', { known, all, times: KNOWN_AFTER }),
    ...(open ? [phrase('drills.missed', { n: open })] : []),
  );
});
const causes = computed(() =>
  (drill.value?.causes ?? []).map((c) => ({ value: c, label: units.say(phrase(`cause.${c}`)) })),
);
const cures = computed(() =>
  (drill.value?.cures ?? []).map((c) => ({ value: c, label: units.say(phrase(`cure.${c}`)) })),
);
const result = computed(() => {
  const j = judged.value;
  if (!j) return null;
  const said = {
    good: 'drills.both-right',
    caution: j.causeRight ? 'drills.cause-right' : 'drills.cure-right',
    bad: 'drills.neither',
  } as const;
  return makeVerdict(j.level, phrase(said[j.level]));
});

interface Row {
  key: SituationKey;
}
const rows: Row[] = SITUATION_KEYS.map((key) => ({ key }));
const state = (key: SituationKey) =>
  isKnown(byKey.value[key])
    ? 'known'
    : byKey.value[key]
      ? byKey.value[key].latest[0]
        ? 'right once'
        : 'missed'
      : 'new';
const columns = computed<Column<Row>[]>(() => [
  { key: 'title', title: 'Situation', value: (r) => named(r.key) },
  { key: 'level', title: 'Kind', value: (r) => LEVELS[SITUATIONS[r.key].level] },
  { key: 'tries', title: 'Tries', value: (r) => byKey.value[r.key]?.tries ?? 0, numeric: true, decimals: 0 },
  {
    key: 'cause',
    title: 'Cause right',
    value: (r) => byKey.value[r.key]?.causeRight ?? null,
    numeric: true,
    decimals: 0,
  },
  { key: 'cure', title: 'Cure right', value: (r) => byKey.value[r.key]?.cureRight ?? null, numeric: true, decimals: 0 },
  { key: 'state', title: 'Stands', value: (r) => state(r.key) },
]);
/** A situation that was not judged yet goes by when it happens: its name would be the answer. */
const named = (key: SituationKey) =>
  byKey.value[key]
    ? title(key)
    : `${FIELDS[SITUATIONS[key].field]}, no. ${1 + rows.filter((r) => SITUATIONS[r.key].field === SITUATIONS[key].field).findIndex((r) => r.key === key)}`;
const share = (right: number, tries: number) => (tries ? Math.round((100 * right) / tries) : null);
const spotColumns: Column<(typeof spots.value)[number]>[] = [
  { key: 'title', title: 'Situation', value: (s) => title(s.situation) },
  { key: 'people', title: 'People', value: (s) => s.people, numeric: true, decimals: 0 },
  { key: 'tries', title: 'Tries', value: (s) => s.tries, numeric: true, decimals: 0 },
  { key: 'cause', title: 'Cause right, %', value: (s) => share(s.causeRight, s.tries), numeric: true, decimals: 0 },
  { key: 'cure', title: 'Cure right, %', value: (s) => share(s.cureRight, s.tries), numeric: true, decimals: 0 },
];
</script>

<template>
  <WhenThere :of="[drills.answers]">
    <VerdictLine :verdict="verdict" :notes="session.mayEdit ? [] : [phrase('drills.guest')]" />
  </WhenThere>
  <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
  <div v-if="drill" class="split board">
    <div class="stack" data-test="exhibits">
      <DrillExhibit
        v-for="(e, i) in drill.exhibits"
        :key="`${drill.key} ${drill.seed} ${i}`"
        :exhibit="e"
        :judged="judged !== null"
      />
    </div>
    <form class="panel stack side" data-test="question" @submit.prevent="drills.answer">
      <div class="row spread">
        <span class="muted small">{{ LEVELS[drill.level] }}</span>
        <PickOne
          :value="level"
          label="Put to me"
          shown
          size="small"
          :options="Object.entries(LEVELS).map(([value, label]) => ({ value: Number(value), label }))"
          :dropdown-match-select-width="false"
          @update:value="level = Number($event) as Level | 0"
        />
      </div>
      <h2>{{ judged ? title(drill.key) : FIELDS[drill.field] }}</h2>
      <p data-test="tale">{{ units.say(drill.tale) }}</p>
      <div
        v-if="judged && result"
        class="stack judged"
        :class="`level-${result.level}`"
        role="status"
        data-test="judged"
      >
        <strong>{{ result.text }}</strong>
        <p v-if="!judged.causeRight">It was: {{ units.say(phrase(`cause.${judged.rightCause}`)) }}.</p>
        <p v-if="!judged.cureRight">What helps: {{ units.say(phrase(`cure.${judged.rightCure}`)) }}.</p>
        <p>{{ units.say(judged.why) }}</p>
        <p v-for="p in judged.instead" :key="p.code">{{ units.say(p) }}</p>
        <span class="row"
          ><Button type="primary" title="n" @click="drills.next">Next</Button>
          <RouterLink :to="judged.at">Where that is worked out</RouterLink></span
        >
      </div>
      <ChoiceCards v-model="cause" label="What is it?" :options="causes" :disabled="judged !== null" class="one" />
      <ChoiceCards
        v-model="cure"
        label="What is done about it?"
        :options="cures"
        :disabled="judged !== null"
        class="one"
      />
      <div v-if="!judged" class="row">
        <Button type="primary" html-type="submit" :disabled="!cause || !cure">Judge</Button>
        <Button title="n" @click="drills.next">Another one</Button>
      </div>
    </form>
  </div>
  <div class="split lists">
    <section class="panel stack" data-test="record">
      <h2>Where you stand</h2>
      <ListTable :rows="rows" :columns="columns" name="drills" :row-key="(r) => r.key" :page-size="8">
        <template #acts="{ row }"><Button size="small" @click="drills.take(row.key)">Practise</Button></template>
      </ListTable>
    </section>
    <section v-if="session.isSteward && !session.alone" class="panel stack" data-test="weak-spots">
      <h2>What the club misses <span class="muted small">of all answers, nobody named; the weakest first</span></h2>
      <ListTable
        :rows="spots"
        :columns="spotColumns"
        name="weak-spots"
        :row-key="(s) => s.situation"
        :page-size="8"
        empty="Nobody has answered a drill yet."
      />
    </section>
  </div>
  <TrainedNights class="trained" />
</template>

<style scoped>
.board {
  grid-template-columns: minmax(0, 1fr) 380px;
}
.lists {
  grid-template-columns: minmax(0, 1.3fr) minmax(0, 1fr);
}
.side {
  position: sticky;
  top: 66px;
  align-self: start;
  max-height: calc(100vh - 80px);
  overflow: auto;
}
.one {
  grid-template-columns: minmax(0, 1fr);
}
.judged {
  border-left: 4px solid currentcolor;
  padding-left: 12px;
}
.judged p {
  margin: 0;
  color: var(--ink);
}
.trained {
  margin-top: 14px;
}
@media (max-width: 1000px) {
  .board,
  .lists {
    grid-template-columns: minmax(0, 1fr);
  }
  .side {
    position: static;
    max-height: none;
  }
}
</style>
