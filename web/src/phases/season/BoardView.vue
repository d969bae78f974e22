<script setup lang="ts">
import type { Board, BoardProject } from '@keen/contract';
import { makeVerdict, phrase, type Code } from '@keen/core/phrases';
import { figure } from '@keen/core/quantities';
import type { AtOnce } from '@keen/core/season';
import { Button, Switch } from 'ant-design-vue';
import { useDebounceFn } from '@vueuse/core';
import { computed, ref, watch } from 'vue';
import EmptyState from '../../common/EmptyState.vue';
import JobProgress from '../../common/JobProgress.vue';
import ListTable, { type Column } from '../../common/ListTable.vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import StillComing from '../../common/StillComing.vue';
import { dayName } from '../../common/times.ts';
import VerdictLine from '../../common/VerdictLine.vue';
import WhenThere from '../../common/WhenThere.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { useUnits } from '../../stores/units.ts';
import BoardPicture from './BoardPicture.vue';
import BoardPromise from './BoardPromise.vue';
import BoardShares from './BoardShares.vue';
import BoardSlot from './BoardSlot.vue';
import { useBoard } from './useBoard.ts';

/** The coming nights: which object has which hours, why, and when each would be finished. */
const club = useClub();
const session = useSession();
const units = useUnits();
const b = useBoard();
const { settings, fair, board, before, job, busy, trouble, looked, lookTrouble, clearPercent, learntPercent, spells } =
  b;
const zones = computed(
  () => new Map(club.records.map((r) => [r.id, club.sites.find((s) => s.id === r.siteId)?.timeZone ?? 'UTC'])),
);
const slot = ref('');
const project = ref('');
const greedy = ref(false);
const names = computed(() => new Map(club.projects.map((p) => [p.id, p.object])));
const members = computed(() => new Map(club.projects.map((p) => [p.ownerId, p.owner])));
const rigNames = computed(() => new Map(club.records.map((r) => [r.id, r.name])));
watch(board, (found) => {
  if (found && !found.slots.some((s) => s.id === slot.value)) slot.value = '';
});
const promisedBefore = computed(() => board.value?.promised.some((p) => p.origin === 'rules') ?? false);
/** Typed to its end before it is worked out [ms]. */
const TYPED_MS = 600;
const weigh = useDebounceFn((id: string, weight: number) => b.weigh(id, weight), TYPED_MS);
/** A member’s own wants are theirs; what others should have is the steward’s. */
const mayWeigh = (p: BoardProject) => session.isSteward || (session.mayEdit && p.memberId === session.member?.id);

const verdict = computed(() => {
  const found = board.value;
  if (!found) return null;
  const given = found.slots.filter((s) => s.projectId).length;
  const hours = found.slots.filter((s) => s.projectId).reduce((s, x) => s + x.minutes, 0) / 60;
  if (!found.slots.length) return makeVerdict('caution', phrase('season.board-no-slots'));
  const done = found.projects.filter((p) => p.chance >= 0.5).length;
  const main = phrase('season.board', { given, of: found.slots.length, expectedHours: hours });
  const finishing = phrase('season.board-finishing', { done, projects: found.projects.length });
  const gain = found.greedyObjective > 0 ? 100 * (found.objective / found.greedyObjective - 1) : 0;
  const better = phrase(gain > 0.05 ? 'season.board-better' : 'season.board-as-good', { gainPercent: gain });
  return found.proven
    ? makeVerdict(
        'good',
        main,
        finishing,
        better,
        phrase('season.board-proven', { openPercent: 100 * (found.gap ?? 0) }),
      )
    : makeVerdict(
        'caution',
        main,
        finishing,
        found.gap === null
          ? phrase('season.cut-short-unknown', { seconds: Math.round(found.seconds) })
          : phrase('season.cut-short', { seconds: Math.round(found.seconds), openPercent: 100 * found.gap }),
      );
});
const finished = (p: BoardProject) =>
  p.nights.p50
    ? `${dayName(p.nights.p50)}, ${Math.round(100 * p.chance)} of 100`
    : `${Math.round(100 * p.chance)} of 100`;
const columns = computed<Column<BoardProject>[]>(() => [
  { key: 'object', title: 'Object', value: (p) => names.value.get(p.projectId) ?? '' },
  ...(session.alone
    ? []
    : [{ key: 'whose', title: 'Whose', value: (p: BoardProject) => members.value.get(p.memberId) ?? '' }]),
  { key: 'weight', title: 'Weight', value: (p) => p.weight, decimals: 1, numeric: true },
  { key: 'wanted', title: 'Wanted, h', value: (p) => p.wantedMinutes / 60, decimals: 1, numeric: true },
  ...(board.value?.promised.length
    ? [
        {
          key: 'promised',
          title: 'Has, h',
          value: (p: BoardProject) => p.promisedMinutes / 60,
          decimals: 1,
          numeric: true,
        },
      ]
    : []),
  { key: 'given', title: 'Given, h', value: (p) => p.minutes / 60, decimals: 1, numeric: true },
  ...(before.value
    ? [{ key: 'change', title: 'Before, h', value: (p: BoardProject) => wasGiven(p) / 60, decimals: 1, numeric: true }]
    : []),
  { key: 'finished', title: 'Finished by', value: finished },
  { key: 'why', title: 'Why no more', value: (p) => units.say({ ...p.why, code: p.why.code as Code }) },
]);
const wasGiven = (p: BoardProject) => before.value?.projects.find((x) => x.projectId === p.projectId)?.minutes ?? 0;
/** By what the worth of a board is counted: two are compared only where it is the same. */
const countedBy = (of: Board) => JSON.stringify([of.settings, of.projects.map((p) => [p.projectId, p.weight])]);
/** What the last wish changed of the whole. */
const cost = computed(() => {
  const [now, was] = [board.value, before.value];
  if (!now || !was) return null;
  const moved = now.slots.filter((s, i) => s.projectId !== was.slots[i]!.projectId).length;
  const wish = now.locked.length > 0 && countedBy(now) === countedBy(was);
  return { moved, worth: wish ? now.objective - was.objective : null };
});
/** An object held over a slot, and what giving it there would do. */
const held = ref<{ slot: string; project: string; does: AtOnce | null } | null>(null);
function hold(over: string, wanted: string) {
  held.value = over ? { slot: over, project: wanted, does: b.preview(over, wanted) } : null;
}
function drop(over: string, wanted: string) {
  const does = held.value?.does;
  held.value = null;
  slot.value = over;
  if (does) void b.give(over, wanted);
  else
    dropTrouble.value = `${names.value.get(wanted) ?? ''} does not stand free in those hours, or is taken with another rig.`;
}
const dropTrouble = ref('');
watch([busy, board], () => (dropTrouble.value = ''));
/** What a wish does at once, in words. */
const quickly = computed(() => {
  const does = held.value?.does ?? b.quick.value;
  if (!does) return '';
  const hours = (minutes: number) => `${minutes > 0 ? '+' : '−'}${figure(Math.abs(minutes) / 60, 1)} h`;
  const changes = Object.entries(does.minutes).map(([id, minutes]) => `${names.value.get(id)} ${hours(minutes)}`);
  const worth = `the whole is worth ${figure(Math.abs(does.worth), 1)} ${does.worth < 0 ? 'less' : 'more'}`;
  return `${held.value ? 'Here' : 'At once'}: ${[...changes, worth].join(', ')}.${held.value ? '' : ' The search may find better.'}`;
});
</script>

<template>
  <EmptyState v-if="club.records.length === 0" title="No rig yet" lacks="rig">
    Who has which hours follows from rigs, their places and what projects still want.
  </EmptyState>
  <EmptyState v-else-if="club.projects.length === 0" title="No project yet">
    The coming nights are given to projects: start one first.
    <template #actions><RouterLink to="/season">Projects</RouterLink></template>
  </EmptyState>
  <template v-else>
    <VerdictLine v-if="verdict" :verdict="verdict" />
    <section class="panel stack no-print">
      <h2>By these rules</h2>
      <div class="settings">
        <PickOne
          v-model:value="settings.nights"
          label="Nights"
          shown
          :options="[7, 14, 30, 60].map((n) => ({ value: n, label: String(n) }))"
        />
        <PickOne
          v-model:value="settings.slotMinutes"
          label="Slots of about"
          shown
          :options="[30, 60, 90, 120].map((n) => ({ value: n, label: `${n} min` }))"
        />
        <PickOne
          v-model:value="settings.minimumBlockSlots"
          label="Shortest run"
          shown
          :options="[1, 2, 3].map((n) => ({ value: n, label: n === 1 ? '1 slot' : `${n} slots` }))"
        />
        <QuantityInput
          v-model="settings.switchPenalty"
          dimension="number"
          unit="min"
          label="A change of object costs"
          :decimals="0"
          :min="0"
          :max="500"
        />
        <QuantityInput
          v-model="clearPercent"
          dimension="number"
          unit="%"
          label="Nights that are clear"
          :decimals="0"
          :min="5"
          :max="100"
        />
        <template v-if="!session.alone">
          <label class="row small fair"><Switch v-model:checked="fair" size="small" /> by the club’s rule</label>
        </template>
      </div>
      <WhenThere :of="[spells]">
        <p v-if="learntPercent !== null && learntPercent !== clearPercent" class="small muted">
          Your own nights were clear for {{ learntPercent }} % of the time.
          <button type="button" class="by-name" @click="clearPercent = learntPercent">Take that</button>
        </p>
        <p v-else-if="learntPercent === null" class="small muted">
          How many nights are clear is a guess until nights of this place were brought in.
        </p>
      </WhenThere>
      <p v-if="!session.alone" class="small muted">
        {{
          fair
            ? 'By the club’s rule of shares, which stands in the'
            : 'Without the club’s rule, to see what it costs. It stands in the'
        }}
        <RouterLink to="/season/ledger">Ledger</RouterLink>.
      </p>
      <p class="small muted">
        Hours that are booked, promised or planned are left to whom they are, and count as given.
        <label v-if="session.isSteward && promisedBefore" class="row small"
          ><Switch v-model:checked="b.movesPromises.value" size="small" /> what the rules gave before and nobody planned
          is open again</label
        >
      </p>
      <div class="row">
        <Button type="primary" :disabled="busy" @click="b.work()">{{
          board ? 'Work it out anew' : 'Work out the coming nights'
        }}</Button>
        <JobProgress v-if="job" :job="job" @cancel="b.cancel()" />
        <label v-if="board" class="row small"
          ><Switch v-model:checked="greedy" size="small" /> as if the best piece were taken first</label
        >
      </div>
      <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
      <p v-if="dropTrouble" class="level-bad" role="alert">{{ dropTrouble }}</p>
      <p v-if="quickly" class="small" role="status" data-test="at-once">{{ quickly }}</p>
      <p v-if="cost && !quickly" class="row" role="status" data-test="cost">
        <span>
          {{ cost.worth === null ? 'Now' : 'With this wish' }} {{ cost.moved }}
          {{ cost.moved === 1 ? 'slot goes' : 'slots go' }} to somebody else<template v-if="cost.worth === null"
            >.</template
          ><template v-else
            >; the whole is worth {{ figure(Math.abs(cost.worth), 1) }}
            {{ cost.worth < 0 ? 'less' : 'more' }}.</template
          >
        </span>
        <Button size="small" :disabled="busy" @click="b.undo()">As it was before</Button>
        <Button v-if="board!.locked.length" size="small" :disabled="busy" @click="b.openAll()"
          >Let everything else move</Button
        >
      </p>
    </section>
    <StillComing v-if="!looked && !board" what="The board worked out last" :failed="lookTrouble" @again="b.look()" />
    <p v-else-if="!board && !busy" class="muted">Nothing was worked out yet.</p>
    <div v-if="board && board.slots.length" class="beside">
      <section class="panel">
        <BoardPicture
          :board="board"
          :zones="zones"
          :names="names"
          :rig-names="rigNames"
          :slot-id="slot"
          :project="project"
          :greedy="greedy"
          :quick="held?.does ?? b.quick.value"
          :draggable="session.mayEdit && !busy && !greedy"
          @choose="slot = $event"
          @over="hold"
          @drop="drop"
        />
        <p class="small muted">
          A line under a slot: the Moon is up, the brighter the fuller. Dashed: as somebody wished. Slanted: beyond a
          share. Thin and framed: booked, promised or planned before.
        </p>
      </section>
      <BoardSlot
        v-if="slot"
        :board="board"
        :slot-id="slot"
        :zones="zones"
        :names="names"
        :members="members"
        :rig-names="rigNames"
        :busy="busy"
        :may="session.mayEdit"
        @give="b.give(slot, $event)"
        @release="b.release(slot)"
        @show="project = $event"
      />
      <section v-else class="panel stack">
        <h2>Why</h2>
        <p>
          Choose a slot to see who has it, what it is worth to the others, and what it would cost to give it to one.
        </p>
      </section>
    </div>
    <BoardPromise v-if="board && session.isSteward" :board="board" :by="b" />
    <section v-if="board" class="panel stack">
      <ListTable
        :rows="board.projects"
        :columns="columns"
        name="board"
        :row-key="(p) => p.projectId"
        sort-by="object"
        empty="No project wants anything any more."
      >
        <template #object="{ row }">
          <button
            type="button"
            class="by-name"
            :class="{ here: row.projectId === project }"
            @click="project = row.projectId === project ? '' : row.projectId"
          >
            {{ names.get(row.projectId) }}
          </button>
        </template>
        <template #weight="{ row }">
          <QuantityInput
            :model-value="row.weight"
            dimension="number"
            :label="`Weight of ${names.get(row.projectId)}`"
            hide-label
            :decimals="1"
            :min="0.1"
            :max="100"
            width="72px"
            :disabled="busy || !mayWeigh(row)"
            @update:model-value="$event !== null && $event !== row.weight && weigh(row.projectId, $event)"
          />
        </template>
      </ListTable>
    </section>
    <BoardShares v-if="board" :board="board" :before="before" :members="members" />
  </template>
</template>

<style scoped>
.settings {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(132px, 1fr));
  gap: 10px 16px;
  align-items: end;
}
.fair {
  min-height: 32px;
}
.beside {
  display: grid;
  gap: 16px;
  align-items: start;
}
.beside > * {
  min-width: 0;
}
@media (min-width: 1100px) {
  .beside {
    grid-template-columns: minmax(0, 1fr) 372px;
  }
  .beside > :last-child {
    position: sticky;
    top: 12px;
  }
}
</style>
