<script setup lang="ts">
import { makeVerdict, phrase } from '@keen/core/phrases';
import type { ProjectRecord } from '@keen/contract';
import type { HeaderFraming } from '@keen/core/exchange';
import { guideStarsOf, nearestAngle, StarsInput } from '@keen/core/guiding';
import { figure, formatDec, formatRa, scaleArcsecPerPx } from '@keen/core/quantities';
import { holds } from '@keen/core/rig';
import { turn, separationDeg } from '@keen/core/sky';
import { parseInput } from '@keen/core/calculation';
import { Button } from 'ant-design-vue';
import { computed, watch } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import ConflictDialog from '../../common/ConflictDialog.vue';
import EmptyState from '../../common/EmptyState.vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import { useShortcut } from '../../common/shortcuts.ts';
import VerdictLine from '../../common/VerdictLine.vue';
import WorkingFold from '../../common/WorkingFold.vue';
import { dayName } from '../../common/times.ts';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import GuideStarPanel from './GuideStarPanel.vue';
import MosaicPanel from './MosaicPanel.vue';
import SkyChart from './SkyChart.vue';
import SkyLegend from './SkyLegend.vue';
import { useFraming } from './useFraming.ts';
import UndoButtons from '../../common/UndoButtons.vue';

const club = useClub();
const session = useSession();
const route = useRoute();
const router = useRouter();
const project = computed<ProjectRecord | null>(
  () => club.rigProjects.find((p) => p.id === route.query.project) ?? club.rigProjects[0] ?? null,
);
const choose = (id: unknown) => void router.replace({ query: { project: String(id) } });
const used = useFraming(project);
const {
  draft,
  dirty,
  undo,
  undoable,
  redo,
  redoable,
  discard,
  saving,
  setup,
  view,
  criteria,
  mode,
  panels,
  judged,
  ring,
  candidates,
} = used;
const { busy, trouble: saveTrouble, conflict } = saving;
const mine = computed(() => session.isSteward || (session.mayEdit && project.value?.ownerId === session.member?.id));
const offAxis = computed(() => (view.value?.kind === 'off-axis' ? view.value : null));
watch(offAxis, (v) => v && !v.turnsAlone && mode.value === 'guider' && (mode.value = 'camera'));

function turnTo(deg: number) {
  if (!draft.value) return;
  if (mode.value === 'camera') draft.value.angleDeg = deg;
  else draft.value.guiderDeg = deg;
}
function move(raDeg: number, decDeg: number) {
  draft.value!.raDeg = raDeg;
  draft.value!.decDeg = decDeg;
}
const centre = () => move(project.value!.raDeg, project.value!.decDeg);
const nearest = computed(() =>
  ring.value.length
    ? nearestAngle(ring.value, mode.value === 'camera' ? draft.value!.angleDeg : turn(draft.value!.guiderDeg))
    : null,
);
function take(f: HeaderFraming) {
  move(f.raDeg, f.decDeg);
  if (f.angleDeg !== null) draft.value!.angleDeg = Math.round(f.angleDeg * 10) / 10;
}
const scale = computed(() =>
  setup.value ? scaleArcsecPerPx(setup.value.camera.pixelUm, setup.value.focalLengthMm) : 1,
);
const shift = computed(() => {
  const [p, d] = [project.value, draft.value];
  return p && d ? 60 * separationDeg(p, d) : 0;
});
/** Tycho-2 is 90 % complete to V ≈ 11.5 (Høg et al. 2000); as shipped, not in the Milky Way. */
const CATALOGUE_THINS = 11.5;
const thins = computed(() => {
  if (used.crowded.value) return [phrase('target.crowded')];
  return (used.framed.value?.faintestMag ?? 0) > CATALOGUE_THINS
    ? [phrase('target.thins-out', { thinsMag: CATALOGUE_THINS })]
    : [];
});
const lit = computed(() => ring.value.filter((s) => s.lit).length);
const stale = computed(
  () =>
    project.value?.framing &&
    club.rig &&
    !holds({ framing: project.value.framing.aspect }, club.rig.system.aspects, 'framing'),
);
const notes = computed(() => {
  const v = view.value;
  if (!v || !used.framed.value) return [];
  const { brightestMag: brightest, faintestMag: faintest } = used.framed.value;
  const count = phrase('target.stars-count', { brightest, faintest, exposureS: criteria.value.exposureS });
  if (v.kind !== 'off-axis') return [count];
  return [phrase('target.angles', { lit: lit.value, lightPercent: 100 * v.lightFraction }), count, ...thins.value];
});
/** Good is good of the whole night: a star that the flip loses is said where the verdict stands. */
const shown = computed(() => {
  const [now, then] = [judged.value?.verdict, used.flipped.value?.verdict];
  if (!now || now.level !== 'good' || !then || then.level === 'good' || !used.flipAt.value) return now ?? null;
  return makeVerdict(then.level, ...(now.phrases ?? []), ...(then.phrases ?? []));
});
/** The registered calculation on the same stars, for its working. */
const working = computed(() => {
  const [v, d, s] = [offAxis.value, draft.value, used.stars.value];
  if (!v || !d || !s || !used.framed.value) return [];
  try {
    const input = parseInput(StarsInput, {
      raDeg: d.raDeg,
      decDeg: d.decDeg,
      ...v.window,
      faintestMag: Math.round(used.framed.value.faintestMag * 100) / 100,
    });
    return guideStarsOf(input, () => s).working;
  } catch {
    return [];
  }
});
useShortcut('s', () => mine.value && draft.value && used.ready.value && void used.pin());
</script>

<template>
  <EmptyState v-if="!club.rig || !setup" title="No rig yet" lacks="rig"
    >The field follows from a rig’s camera and focal length.</EmptyState
  >
  <EmptyState v-else-if="!project || !draft" title="No project for this rig yet">
    A framing belongs to a project, so that later nights can repeat it. Start one from the list under Tonight.
    <template #actions>
      <RouterLink v-if="session.mayEdit" to="/season"><Button type="primary">Start a project</Button></RouterLink>
    </template>
  </EmptyState>
  <template v-else>
    <VerdictLine v-if="shown" :verdict="shown" :notes="notes" />
    <p v-else-if="!view" class="muted">
      This rig has neither an off-axis guider nor a guide scope.
      <RouterLink to="/bench/off-axis">Put one in</RouterLink> to see its stars; the framing can be pinned without.
    </p>
    <p v-else-if="!used.trouble.value" class="muted">Fetching the stars about {{ project.object }} …</p>
    <p v-if="used.trouble.value" class="level-bad" role="alert">{{ used.trouble.value }}</p>
    <p v-if="stale" class="level-caution">
      Pinned on {{ project.framing!.words }}; the train is {{ club.rig.words }} now. Look at the window again before the
      night.
    </p>
    <div class="split board">
      <section class="panel sky-panel">
        <SkyChart
          :centre="draft"
          :radius-deg="used.radiusDeg.value"
          :stars="used.stars.value"
          :panels="panels"
          :chosen-panel="used.chosenPanel.value"
          :sensor-mm="used.sensorMm.value"
          :focal-length-mm="setup.focalLengthMm"
          :view="view"
          :ring="ring"
          :mode="mode"
          :angle-deg="draft.angleDeg"
          :guider-deg="draft.guiderDeg"
          :window-pa-deg="used.windowPaDeg.value"
          :flips="used.flipAt.value !== null"
          :candidates="candidates"
          :object="{
            name: project.object,
            raDeg: project.raDeg,
            decDeg: project.decDeg,
            sizeArcmin: project.sizeArcmin,
          }"
          :nearby="used.nearby.value"
          :off="!session.mayEdit"
          @turn="turnTo"
          @move="move"
          @panel="used.chosenPanel.value = $event"
        />
        <SkyLegend :ring="ring.length > 0" :mode="mode" :flips="offAxis !== null && used.flipAt.value !== null" />
      </section>
      <div class="stack">
        <section class="panel stack">
          <div class="row spread">
            <PickOne
              label="Project"
              class="project"
              :value="project.id"
              :options="club.rigProjects.map((p) => ({ value: p.id, label: p.name }))"
              @change="choose"
            />
            <span class="row">
              <UndoButtons
                v-if="undoable || redoable"
                :undoable="undoable"
                :redoable="redoable"
                @undo="undo"
                @redo="redo"
              />
              <Button v-if="dirty" size="small" @click="discard">Discard</Button>
              <Button
                v-if="mine"
                type="primary"
                title="s"
                :loading="busy"
                :disabled="!used.ready.value"
                @click="used.pin()"
                >Pin the framing</Button
              >
            </span>
          </div>
          <p v-if="saveTrouble" class="level-bad" role="alert">{{ saveTrouble }}</p>
          <p v-if="!mine" class="muted small">
            {{
              session.mayEdit
                ? `${project.owner}’s project: try angles as you like; only the owner or a steward pins its framing.`
                : 'Guests may look, not change.'
            }}
          </p>
          <p v-if="project.framing" class="small" data-test="pinned">
            Pinned at {{ figure(project.framing.angleDeg, 1) }}°{{
              project.framing.star ? `, guide star of magnitude ${figure(project.framing.star.mag, 1)}` : ''
            }}, by {{ project.framing.by }} on {{ dayName(project.framing.at.slice(0, 10)) }}.
            <button v-if="mine" type="button" class="link" @click="used.unpin()">Let it go</button>
          </p>
          <p v-else class="muted small">Not pinned yet: nights would follow the project’s own place and angle.</p>
          <RouterLink class="small" :to="{ path: '/night/plan', query: { project: project.id } }"
            >Plan a night of it</RouterLink
          >
          <div class="grid">
            <QuantityInput
              v-model="draft.angleDeg"
              dimension="angle"
              label="Camera angle (top of the picture)"
              :decimals="1"
              :min="0"
              :max="360"
              :disabled="!session.mayEdit"
            />
            <QuantityInput
              v-if="offAxis"
              v-model="draft.guiderDeg"
              dimension="angle"
              label="Guider against the camera"
              :decimals="1"
              :min="0"
              :max="360"
              :disabled="!session.mayEdit || !offAxis.turnsAlone"
            />
          </div>
          <div v-if="offAxis" class="row">
            <span class="toggle" role="group" aria-label="What turns">
              <button type="button" :aria-pressed="mode === 'camera'" @click="mode = 'camera'">turn the camera</button>
              <button
                type="button"
                :aria-pressed="mode === 'guider'"
                :disabled="!offAxis.turnsAlone"
                :title="offAxis.turnsAlone ? '' : 'This guider is bolted to the camera; say otherwise under Off-axis'"
                @click="mode = 'guider'"
              >
                keep the framing, turn the guider
              </button>
            </span>
            <Button
              v-if="nearest && Math.abs(nearest.offDeg) > 0.6 && session.mayEdit && !candidates[0]?.usable"
              size="small"
              data-test="nearest"
              @click="turnTo(nearest.angleDeg)"
              >Turn to {{ figure(nearest.angleDeg, 0) }}°</Button
            >
          </div>
          <p class="mono small">
            {{ formatRa(draft.raDeg) }} {{ formatDec(draft.decDeg) }}
            <span v-if="shift > 0.05" class="muted"
              >{{ figure(shift, 1) }}′ off {{ project.object }}
              <button type="button" class="link" @click="centre">centre it</button></span
            >
          </p>
        </section>
        <GuideStarPanel
          v-model:criteria="criteria"
          :candidates="candidates"
          :known="used.stars.value !== null"
          :view="view"
          :window-pa-deg="used.windowPaDeg.value"
          :depth-mag="used.depthMag.value"
          :crowded="used.crowded.value"
          :several="panels.length > 1"
          :panel="used.chosenPanel.value"
          :flipped="used.flipped.value"
          :flip-at="used.flipAt.value"
          :may-turn="session.mayEdit"
          @turn="turnTo"
        />
        <MosaicPanel
          :draft="draft"
          :panels="panels"
          :scale-arcsec-per-px="scale"
          :off="!session.mayEdit"
          @panel="used.chosenPanel.value = $event"
          @take="take"
        />
      </div>
    </div>
    <WorkingFold :steps="working" />
    <ConflictDialog
      :saving="saving"
      :mine="{ angle: draft.angleDeg }"
      :theirs="conflict ? { angle: conflict.theirs.framing?.angleDeg ?? conflict.theirs.angleDeg } : null"
    />
  </template>
</template>

<style scoped>
.board {
  grid-template-columns: minmax(0, 1.25fr) minmax(390px, 1fr);
}
.sky-panel {
  padding: 6px 10px 8px;
}
.project {
  min-width: 190px;
}
.grid {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 8px 12px;
}
@media (max-width: 1060px) {
  .board {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
