<script setup lang="ts">
import { loadLevel } from '@keen/core/balance';
import { questions } from '../../api/questions.ts';
import { type PartRecord, type RevisionInfo } from '@keen/contract';
import { stretchOf, trainDistance } from '@keen/core/train';
import { useAnswer } from '../../common/answer.ts';
import WhenThere from '../../common/WhenThere.vue';
import { makeVerdict, phrase, words } from '@keen/core/phrases';
import { countedMm } from '@keen/core/rig';
import { Button, Input, SelectOption, Tabs, TabPane } from 'ant-design-vue';
import dayjs from 'dayjs';
import { computed, ref } from 'vue';
import EmptyState from '../../common/EmptyState.vue';
import { valueOrNull } from '../../common/outcome.ts';
import { plainCopy } from '../../workers/index.ts';
import { useShortcut } from '../../common/shortcuts.ts';
import VerdictLine from '../../common/VerdictLine.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { useUnits } from '../../stores/units.ts';
import PickOne from '../../common/PickOne.vue';
import NewRig from './NewRig.vue';
import RigMount from './RigMount.vue';
import RigOptics from './RigOptics.vue';
import RigParts from './RigParts.vue';
import RigSaveBar from '../../common/RigSaveBar.vue';
import RigSystems from './RigSystems.vue';
import { useRigDraft } from '../../common/useRigDraft.ts';

const club = useClub();
const session = useSession();
const units = useUnits();
const edit = useRigDraft();
const setup = computed(() => edit.draft.value?.setup ?? null);
const off = computed(() => !session.mayEdit);

const revisions = useAnswer('The history of this rig', () =>
  club.rig ? questions.revisions(club.rig.id, club.rig.version) : null,
);
const history = computed<RevisionInfo[]>(() => revisions.value.value ?? []);
const drawer = useAnswer('The drawer', questions.parts);
const parts = computed<PartRecord[]>(() => drawer.value.value ?? []);

const mass = computed(() => setup.value?.placed.reduce((s, p) => s + p.massKg, 0) ?? 0);
const verdict = computed(() => {
  const s = setup.value;
  if (!s) return makeVerdict('caution', phrase('balance.even'));
  const share = mass.value / s.mount.ratedLoadKg;
  const level = loadLevel(share);
  const much = ({ good: 'balance.rig-load', caution: 'balance.rig-load-much', bad: 'balance.rig-load-over' } as const)[
    level
  ];
  // good here is good of the whole rig: a train that stands wrong is no small print
  const distance = valueOrNull(() => trainDistance(plainCopy(s)));
  const train =
    distance?.verdict ??
    makeVerdict(
      'good',
      phrase('balance.rig-path', { pathMm: stretchOf(s.train).counted.reduce((sum, p) => sum + countedMm(p), 0) }),
    );
  return makeVerdict(
    [level, train.level].includes('bad') ? 'bad' : [level, train.level].includes('caution') ? 'caution' : 'good',
    phrase(much, { massKg: mass.value, ratedKg: s.mount.ratedLoadKg, loadPercent: Math.round(share * 100) }),
    ...train.phrases.slice(0, 1),
  );
});

const building = ref(false);
useShortcut('n', () => session.isSteward && (building.value = true));
</script>

<template>
  <VerdictLine v-if="club.rig" :verdict="verdict">
    Train state <strong>{{ club.rig.words }}</strong>, revision {{ club.rig.revision }}. What a change makes worthless
    is said before it is saved.
  </VerdictLine>
  <div v-if="setup && club.rig">
    <section class="panel stack">
      <div class="row spread">
        <div class="row">
          <Input
            v-model:value="edit.draft.value!.name"
            class="name"
            aria-label="Name of the rig"
            :disabled="!session.isSteward"
          />
          <PickOne v-model:value="edit.draft.value!.siteId" class="site" label="Site" :disabled="!session.isSteward">
            <SelectOption v-for="s in club.sites" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
          </PickOne>
        </div>
        <Button v-if="session.isSteward" title="n" @click="building = true">New rig</Button>
      </div>
      <RigSaveBar :edit="edit" />
      <Tabs>
        <TabPane key="parts" tab="Parts on the tube side">
          <WhenThere :of="[drawer]" />
          <RigParts :setup="setup" :parts="parts" :off="off" />
        </TabPane>
        <TabPane key="optics" tab="Optics, camera, filters">
          <RigOptics :setup="setup" :off="off" />
        </TabPane>
        <TabPane key="mount" tab="Mount and times">
          <RigMount :setup="setup" :off="off" />
        </TabPane>
        <TabPane key="systems" :tab="`Imaging systems (${club.rig.systems.length})`">
          <RigSystems :edit="edit" :off="off" />
        </TabPane>
        <TabPane key="history" :tab="revisions.there.value ? `History (${history.length})` : 'History'">
          <WhenThere :of="[revisions]" />
          <ol class="history" data-test="history">
            <li v-for="r in history" :key="r.id">
              <div class="row spread">
                <strong>Revision {{ r.number }}</strong>
                <span class="muted small">{{ dayjs(r.at).format('D MMM HH:mm') }}, {{ r.by }}</span>
              </div>
              <div class="small">{{ words(r.changes, units.system, '; ') }}</div>
              <div class="small muted">train state {{ r.words.join(', ') }}</div>
            </li>
          </ol>
        </TabPane>
      </Tabs>
    </section>
  </div>
  <EmptyState v-else title="No rig yet" lacks="rig">
    A rig is a mount and what rides on it: tube, camera, filters, guider. Balance, field, focus and plans follow from
    it.
  </EmptyState>
  <NewRig v-model:open="building" />
</template>

<style scoped>
.name {
  width: 230px;
  font-weight: 650;
}
.site {
  width: 170px;
}
.history {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 10px;
  max-height: 560px;
  overflow: auto;
}
.history li {
  border-left: 3px solid var(--line);
  padding-left: 10px;
}
</style>
