<script setup lang="ts">
import { figure } from '@keen/core/quantities';
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import EmptyState from '../../common/EmptyState.vue';
import FieldGrid from '../../common/FieldGrid.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import VerdictLine from '../../common/VerdictLine.vue';
import WorkingFold from '../../common/WorkingFold.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import GuideCameras from './GuideCameras.vue';
import GuidingBudget from './GuidingBudget.vue';
import PathRange from './PathRange.vue';
import PrismPicture from './PrismPicture.vue';
import RigSaveBar from '../../common/RigSaveBar.vue';
import { useOffAxis } from './useOffAxis.ts';
import { useRigDraft } from '../../common/useRigDraft.ts';
import { useUnits } from '../../stores/units.ts';
import VerdictText from '../../common/VerdictText.vue';

const units = useUnits();

const mm = { dimension: 'length', decimals: 1, max: 60, step: 0.5 } as const;
const PRISM = [
  { key: 'innerEdgeMm', label: 'Inner edge from the axis', ...mm, min: 0, max: 100, step: 0.1 },
  { key: 'angleDeg', label: 'Angle, from the long side', dimension: 'angle', decimals: 0, min: 0, max: 360 },
  { key: 'widthMm', label: 'Across', ...mm, min: 1 },
  { key: 'depthMm', label: 'Outward', ...mm, min: 1 },
  { key: 'glassMm', label: 'Solid glass (0: mirror)', ...mm, min: 0 },
] as const;
const path0 = { dimension: 'length', min: 0, step: 0.1 } as const;
const PATHS = [
  { key: 'behindPrismMm', label: 'Prism to body’s rear', ...path0 },
  { key: 'holderMm', label: 'Prism to guide focuser', ...path0 },
  { key: 'spacersMm', label: 'Spacers, guide side', ...path0, step: 0.5 },
  { key: 'focuserMaxMm', label: 'Helical focuser, up to', ...path0, step: 0.5 },
  { key: 'cameraDepthMm', label: 'Guide camera depth', ...path0 },
] as const;
const club = useClub();
const session = useSession();
const edit = useRigDraft();
const setup = computed(() => edit.draft.value?.setup ?? null);
const off = computed(() => !session.mayEdit);
const {
  pupil,
  guider,
  path,
  prismInput,
  found,
  told,
  signs,
  otherGlassMm,
  filterShift,
  begin,
  place,
  moveOut,
  guideSideMm,
  fillGuideSide,
} = useOffAxis(setup);
const prismFigures = computed<[string, string][]>(() => {
  const f = found.value;
  if (!f) return [];
  const arcmin = (deg: number) => `${figure(60 * deg, 1)}′`;
  return [
    ['Light lost, at worst', `${figure(100 * f.maxShading, 0)} %`],
    ['Sensor shaded', `${figure(100 * f.shadedAreaFraction, 1)} %`],
    ['Clear from', `${units.length(f.clearInnerEdgeMm, 1)}`],
    ['Light for the guider', `${figure(100 * f.guideLightFraction, 0)} %`],
    ['Guide window', `${arcmin(f.guideFieldDeg.tangential)} × ${arcmin(f.guideFieldDeg.radial)}`],
    ['off the field’s centre by', arcmin(f.guideCentreOffsetDeg)],
  ];
});
</script>

<template>
  <EmptyState v-if="!club.rig || !setup" title="No rig yet" lacks="rig"
    >An off-axis guider is part of a rig’s train.</EmptyState
  >
  <template v-else>
    <VerdictLine v-if="told" :verdict="told.verdict" :notes="told.notes" />
    <EmptyState
      v-if="!guider || !prismInput"
      :title="guider ? 'The guider is not in the train' : 'No off-axis guider on this rig'"
    >
      {{
        guider
          ? 'Mark one piece of the train as the guider’s body; the paths follow from it.'
          : 'A prism beside the main sensor guides through the same optics: no second tube, no flexure. Put one in to see its shadow, its light and its focus before anything is bolted.'
      }}
      <template #actions><Button v-if="!off" type="primary" @click="begin">Put one in</Button></template>
    </EmptyState>
    <div v-else class="split board">
      <section class="panel stack">
        <div class="row spread">
          <h2>Down the tube <span class="muted small">drag the prism; arrows too</span></h2>
          <span class="toggle" role="group" aria-label="Exit pupil">
            <button type="button" :aria-pressed="pupil === 'objective'" @click="pupil = 'objective'">
              pupil at the objective
            </button>
            <button type="button" :aria-pressed="pupil === 'far'" @click="pupil = 'far'">telecentric</button>
          </span>
        </div>
        <PrismPicture :input="prismInput" :off="off" :clear-mm="found?.clearInnerEdgeMm ?? null" @place="place" />
        <p class="muted small">
          The red layer is light lost. The green stroke: clear from there outward. The small brass frame is what the
          guide camera sees.
        </p>
        <ul v-if="found?.advice.length" class="plain">
          <li v-for="a in found.adviceSaid" :key="a.code">{{ units.say(a) }}</li>
        </ul>
        <Button v-if="!off && found && found.maxShading > 0.01" type="primary" class="start" @click="moveOut"
          >Move it out until it is clear</Button
        >
      </section>
      <div class="stack">
        <section class="panel stack">
          <RigSaveBar :edit="edit" />
          <h2>Prism</h2>
          <FieldGrid :record="guider.prism" :fields="PRISM" :off="off">
            <QuantityInput
              v-model="setup.camera.angleDeg"
              dimension="angle"
              label="Camera turned"
              :decimals="0"
              :disabled="off"
            />
          </FieldGrid>
          <table v-if="found" class="figures" data-test="prism">
            <tbody>
              <tr v-for="[what, value] in prismFigures" :key="what">
                <td>{{ what }}</td>
                <td class="num">{{ value }}</td>
              </tr>
            </tbody>
          </table>
        </section>
        <section v-if="path" class="panel stack">
          <h2>Guide focus, by arithmetic</h2>
          <FieldGrid :record="guider" :fields="PATHS" :off="off" />
          <PathRange :path="path" />
          <VerdictText :verdict="path.verdict" />
          <Button v-if="!off && !path.reachable && guideSideMm" size="small" class="start" @click="fillGuideSide"
            >Change the guide-side spacers by {{ units.signedLength(guideSideMm, 1) }}: the focuser then stands in
            mid-travel</Button
          >
          <div class="row small">
            <QuantityInput
              v-model="otherGlassMm"
              dimension="length"
              label="A filter of this thickness instead"
              :decimals="1"
              :min="0"
              :max="20"
              :step="0.5"
              width="190px"
            />
            <span v-if="filterShift !== null" class="muted"
              >moves the main focus by {{ units.signedLength(filterShift, 2) }}; the guide camera does not follow, so
              the guide star blurs by that much defocus at f/{{
                figure(setup.focalLengthMm / setup.apertureMm, 0)
              }}.</span
            >
          </div>
        </section>
      </div>
    </div>
    <section v-if="signs.length" class="panel">
      <h2>In the dark: what you see, and why</h2>
      <table class="figures" data-test="symptoms">
        <thead>
          <tr>
            <th>You see</th>
            <th>It is</th>
            <th>Here</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="s in signs" :key="s.sign" :class="{ on: s.on }">
            <td>
              <strong>{{ s.sign }}</strong>
            </td>
            <td>{{ s.cause }}</td>
            <td :class="{ 'level-bad': s.on }">{{ units.say(s.cure) }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <GuideCameras :setup="setup" :off="off" />
    <GuidingBudget :setup="setup" :off="off" />
    <WorkingFold :steps="[...(found?.working ?? []), ...(path?.working ?? [])]" />
  </template>
</template>

<style scoped>
.board {
  grid-template-columns: minmax(0, 1.35fr) minmax(320px, 1fr);
}
.plain {
  margin: 0;
  padding-left: 18px;
}
.start {
  justify-self: start;
}
@media (max-width: 1060px) {
  .board {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
