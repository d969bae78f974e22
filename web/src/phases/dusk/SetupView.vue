<script setup lang="ts">
import { makeVerdict, phrase } from '@keen/core/phrases';
import type { Verdict } from '@keen/core/calculation';
import WhenThere from '../../common/WhenThere.vue';
import { paced } from '@keen/core/setup';
import { Button } from 'ant-design-vue';
import { computed, ref } from 'vue';
import EmptyState from '../../common/EmptyState.vue';
import { clock } from '../../common/times.ts';
import VerdictLine from '../../common/VerdictLine.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import AlignmentPanel from './AlignmentPanel.vue';
import CoolingPanel from './CoolingPanel.vue';
import DuskSaveBar from './DuskSaveBar.vue';
import SetupEditor from './SetupEditor.vue';
import SetupSteps from './SetupSteps.vue';
import { useDuskSettings } from './useDuskSettings.ts';
import { useSetupFacts } from './useSetupFacts.ts';
import { useSetupList } from './useSetupList.ts';

/** The evening's steps, one under the other, with tonight's figures in them. */
const club = useClub();
const session = useSession();
const { answer, list, steps, trouble, tick } = useSetupList();
const dusk = useDuskSettings();
const { facts, due, notBefore, cool, coolNow, zone, neededAt, plan } = useSetupFacts();
const editing = ref(false);
const open = computed(() => steps.value.filter((s) => !s.done));
const next = computed(() => open.value[0] ?? null);
const tonight = computed(() => club.night === club.tonight);
/** A step this long past its moment was left out, not late: the night went on without it [min]. */
const GIVEN_UP_MIN = 240;
const ms = (iso: string | undefined) => (iso ? { at: Date.parse(iso) } : null);
/** The open steps at the usual pace from now, in the list's own order. */
const pace = computed(() =>
  tonight.value
    ? paced(
        steps.value.map((s) => {
          const [by, from] = [ms(s.fact && due.value[s.fact]), ms(s.fact && notBefore.value[s.fact])];
          return {
            key: s.key,
            done: s.done,
            ...(by ? { dueMs: by.at } : {}),
            ...(from ? { notBeforeMs: from.at } : {}),
          };
        }),
        club.now,
      )
    : [],
);
const shifted = computed(() => pace.value.filter((p) => p.lateMin >= 1 && p.lateMin < GIVEN_UP_MIN));
const expected = computed(() =>
  Object.fromEntries(shifted.value.map((p) => [p.key, clock(new Date(p.startMs).toISOString(), zone.value)])),
);
const firstExposure = () => {
  const p = plan.value;
  return p
    ? phrase('setup.first-exposure', {
        object: p.object,
        at: clock(p.start, zone.value),
        until: clock(p.end, zone.value),
      })
    : phrase('setup.no-plan');
};
const verdict = computed<Verdict | null>(() => {
  if (!list.value) return null;
  const all = steps.value.length;
  const done = all - open.value.length;
  if (!next.value) return makeVerdict('good', phrase('setup.all-ticked', { all }), firstExposure());
  const behind = shifted.value[0];
  const first = shifted.value.find((p) => p.key === 'begin');
  const when = next.value.fact ? due.value[next.value.fact] : undefined;
  const what = next.value.text.replace(/\.$/, '');
  if (behind?.key === next.value.key)
    return makeVerdict('bad', phrase('setup.was-due', { done, all, step: what, at: clock(when!, zone.value) }));
  const counted = { done, all, step: what };
  const late = first
    ? [phrase('setup.first-frame-late', { at: expected.value.begin!, lateMin: first.lateMin })]
    : behind
      ? [phrase('setup.shifted')]
      : [];
  return makeVerdict(
    'caution',
    when ? phrase('setup.next-by', { ...counted, at: clock(when, zone.value) }) : phrase('setup.next', counted),
    ...late,
  );
});
const notes = computed(() => {
  const waiting = steps.value.filter((s) => s.pending).length;
  if (waiting) return [phrase('setup.ticks-wait', { waiting })];
  const rig = club.rig?.name ?? '';
  return list.value?.own
    ? [phrase('setup.own-list', { rig, by: list.value.updatedBy ?? '' })]
    : [phrase('setup.list-of', { rig, site: club.site?.name ?? '' })];
});
</script>

<template>
  <EmptyState v-if="!club.rig || !club.site" title="No rig yet" lacks="rig"
    >The list follows from a rig and the place where it stands.</EmptyState
  >
  <template v-else>
    <WhenThere :of="[answer, dusk.answer]">
      <VerdictLine v-if="verdict" :verdict="verdict" :notes="notes" />
    </WhenThere>
    <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
    <div class="split board">
      <SetupEditor
        v-if="editing && list"
        :list="list"
        @saved="answer.put($event)"
        @close="((editing = false), answer.load())"
      />
      <div v-else class="stack steps" data-test="setup-list">
        <SetupSteps
          :steps="steps"
          :facts="facts"
          :expected="expected"
          :next-key="next?.key ?? null"
          :zone="zone"
          :off="!session.mayEdit"
          @tick="tick"
        />
        <Button v-if="session.isSteward && list" class="edit" @click="editing = true">Change this list</Button>
      </div>
      <div class="stack">
        <CoolingPanel :cool="cool" :needed-at="neededAt" :zone="zone" :cool-now="coolNow" />
        <AlignmentPanel />
        <DuskSaveBar />
      </div>
    </div>
    <div v-if="next && session.mayEdit && !editing" class="thumb no-print">
      <Button type="primary" size="large" block data-test="tick-next" @click="tick(next.key, true)"
        ><span class="whole">Done: {{ next.text }}</span></Button
      >
    </div>
  </template>
</template>

<style scoped>
.whole {
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.board {
  grid-template-columns: minmax(0, 1fr) 370px;
}
.steps {
  gap: 8px;
}
.edit {
  justify-self: start;
}
.thumb {
  display: none;
}
@media (max-width: 900px) {
  .board {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media (max-width: 560px) {
  /* the next step under the thumb, wherever the list is scrolled */
  .thumb {
    display: block;
    position: sticky;
    /* above the day's own bar */
    bottom: 52px;
    padding: 8px 0;
    background: var(--bg);
    z-index: 2;
  }
  .thumb :deep(button) {
    min-height: 56px;
    white-space: normal;
  }
}
</style>
