<script setup lang="ts">
import { InvalidInput, parseInput } from '@keen/core';
import { figure, signed } from '@keen/core/quantities';
import {
  guidePath,
  GuidePathInput,
  guidePathInputOf,
  PrismInput,
  prismInputOf,
  type PrismOutput,
} from '@keen/core/train';
import { Button } from 'ant-design-vue';
import { computed, ref, shallowRef, watch } from 'vue';
import EmptyState from '../../common/EmptyState.vue';
import FieldGrid from '../../common/FieldGrid.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import VerdictLine from '../../common/VerdictLine.vue';
import WorkingFold from '../../common/WorkingFold.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { core, plainCopy } from '../../workers/index.ts';
import GuideCameras from './GuideCameras.vue';
import GuidingBudget from './GuidingBudget.vue';
import PrismPicture from './PrismPicture.vue';
import RigSaveBar from './RigSaveBar.vue';
import { useRigDraft } from './useRigDraft.ts';

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
const guider = computed(() => setup.value?.offAxis ?? null);
const off = computed(() => !session.mayEdit);
/** Where the exit pupil is taken to be: far away, or at the objective itself. */
const pupil = ref<'far' | 'objective'>('objective');

const path = computed(() => {
  const input = setup.value ? guidePathInputOf(plainCopy(setup.value)) : null;
  try {
    return input ? guidePath(parseInput(GuidePathInput, input)) : null;
  } catch (e) {
    if (e instanceof InvalidInput) return null;
    throw e;
  }
});
const prismInput = computed(() => {
  const input = setup.value ? prismInputOf(plainCopy(setup.value), pupil.value) : null;
  try {
    return input ? parseInput(PrismInput, input) : null;
  } catch (e) {
    if (e instanceof InvalidInput) return null;
    throw e;
  }
});
const found = shallowRef<PrismOutput | null>(null);
let turn = 0;
watch(
  prismInput,
  async (input) => {
    const mine = ++turn;
    if (!input) {
      found.value = null;
      return;
    }
    const got = await core().prism(plainCopy(input));
    if (mine === turn) found.value = got.ok ? got.value : null;
  },
  { immediate: true },
);
function begin() {
  const s = setup.value!;
  if (!s.train.some((p) => p.guider)) {
    const at = Math.max(0, s.train.length - 2);
    s.train.splice(at, 0, { name: 'off-axis guider body', lengthMm: 20, guider: true });
  }
  s.offAxis = {
    prism: { widthMm: 8, depthMm: 8, angleDeg: 90, innerEdgeMm: 12, glassMm: 0 },
    behindPrismMm: 10,
    holderMm: 22,
    spacersMm: 0,
    focuserMinMm: 0,
    focuserMaxMm: 6,
    cameraDepthMm: 12.5,
    camera: { pixelUm: 2.9, widthPx: 1936, heightPx: 1096 },
  };
}
function place(innerEdgeMm: number, angleDeg: number) {
  guider.value!.prism.innerEdgeMm = innerEdgeMm;
  guider.value!.prism.angleDeg = angleDeg;
}
const moveOut = () =>
  found.value && place(Math.ceil(found.value.clearInnerEdgeMm * 10 + 0.5) / 10, guider.value!.prism.angleDeg);
function fillGuideSide() {
  const g = guider.value!;
  if (path.value) g.spacersMm = Math.max(0, Math.round((g.spacersMm + path.value.shortfallMm) * 10) / 10);
}
const verdict = computed(() => {
  if (!path.value || !found.value) return null;
  const [p, f] = [path.value.verdict, found.value.verdict];
  const rank = { good: 0, caution: 1, bad: 2 };
  const worse = rank[f.level] >= rank[p.level] ? f : p;
  return worse.level === 'good' ? { level: 'good' as const, text: `${f.text} ${p.text}` } : worse;
});
const other = computed(() => {
  if (!path.value || !found.value || !verdict.value) return '';
  return verdict.value.text === found.value.verdict.text
    ? path.value.verdict.text
    : verdict.value.text === path.value.verdict.text
      ? found.value.verdict.text
      : '';
});

/** Filters of unlike thickness move the main focus only: what the guide camera would need to follow. */
const otherGlassMm = ref<number | null>(1);
const filterShift = computed(() => {
  const s = setup.value;
  if (!s || otherGlassMm.value === null) return null;
  const at = s.train.findIndex((p) => p.guider);
  const now = s.train.slice(at + 1).reduce((sum, p) => sum + (p.glassMm ?? 0) * (1 - 1 / (p.glassIndex ?? 1.52)), 0);
  return otherGlassMm.value * (1 - 1 / 1.52) - now;
});

const symptoms = computed(() => {
  const [f, p] = [found.value, path.value];
  const g = guider.value;
  if (!f || !p || !g) return [];
  const out = f.clearInnerEdgeMm - g.prism.innerEdgeMm;
  return [
    {
      sign: 'Dark band or bite at one edge of every frame',
      cause: 'The prism stands in the light of that edge.',
      cure:
        f.maxShading > 0.01
          ? `Here it does: move it ${figure(out, 1)} mm outward, to ${figure(f.clearInnerEdgeMm, 1)} mm.`
          : `Not this prism: it is ${figure(-out, 1)} mm clear. Look for the wheel’s rim, or frost.`,
      on: f.maxShading > 0.01,
    },
    {
      sign: 'Guide camera half lit, or dark',
      cause: 'The window lies outside the image circle, or the prism is small for the cone.',
      cure: !f.insideImageCircle
        ? `Here the window’s centre is ${figure(f.guideCentreRadiusMm, 1)} mm off axis, beyond the circle: bring the prism inward.`
        : `Here it sees ${figure(100 * f.guideLightFraction, 0)} % of the light inside the circle: look for a prism face turned away from the sky.`,
      on: !f.insideImageCircle || f.guideLightFraction < 0.7,
    },
    {
      sign: 'Guide camera will not focus, all the way in or out',
      cause: 'The two sensors are at unequal distances from the prism.',
      cure: p.reachable
        ? `Here it can: helical focuser at ${figure(p.focuserMm ?? 0, 1)} mm. Focus the main camera first, then the guider.`
        : p.shortfallMm > 0
          ? `Here ${figure(p.shortfallMm, 1)} mm are missing on the guide side: add a spacer of that length.`
          : `Here the guide side is ${figure(-p.shortfallMm, 1)} mm too long: take a spacer out, or put one between guider and main camera.`,
      on: !p.reachable,
    },
    {
      sign: 'Main camera a few millimetres out of focus range',
      cause: 'The stack in front of the sensor is longer or shorter than the focuser allows for.',
      cure: 'See Focuser travel: rings out gains in-focus, rings in gains out-focus.',
      on: false,
    },
  ];
});
</script>

<template>
  <EmptyState v-if="!club.rig || !setup" title="No rig yet">An off-axis guider is part of a rig’s train.</EmptyState>
  <template v-else>
    <VerdictLine v-if="verdict" :verdict="verdict" :detail="other" />
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
          <li v-for="a in found.advice" :key="a">{{ a }}</li>
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
              <tr>
                <td>Light lost, at worst</td>
                <td class="num">{{ figure(100 * found.maxShading, 0) }} %</td>
              </tr>
              <tr>
                <td>Sensor shaded</td>
                <td class="num">{{ figure(100 * found.shadedAreaFraction, 1) }} %</td>
              </tr>
              <tr>
                <td>Clear from</td>
                <td class="num">{{ figure(found.clearInnerEdgeMm, 1) }} mm</td>
              </tr>
              <tr>
                <td>Light for the guider</td>
                <td class="num">{{ figure(100 * found.guideLightFraction, 0) }} %</td>
              </tr>
              <tr>
                <td>Guide window</td>
                <td class="num">
                  {{ figure(60 * found.guideFieldDeg.tangential, 1) }}′ ×
                  {{ figure(60 * found.guideFieldDeg.radial, 1) }}′
                </td>
              </tr>
              <tr>
                <td>off the field’s centre by</td>
                <td class="num">{{ figure(60 * found.guideCentreOffsetDeg, 1) }}′</td>
              </tr>
            </tbody>
          </table>
        </section>
        <section v-if="path" class="panel stack">
          <h2>Guide focus, by arithmetic</h2>
          <FieldGrid :record="guider" :fields="PATHS" :off="off" />
          <svg
            viewBox="0 0 320 46"
            role="img"
            :aria-label="`Guide side reaches ${figure(path.guideRangeMm.min, 1)} to ${figure(path.guideRangeMm.max, 1)} mm, wanted ${figure(path.guideTargetMm, 1)} mm`"
          >
            <path d="M10 24H310" stroke="var(--line-strong)" />
            <template
              v-for="s in [
                {
                  low: Math.min(path.guideRangeMm.min, path.guideTargetMm) - 3,
                  high: Math.max(path.guideRangeMm.max, path.guideTargetMm) + 3,
                },
              ]"
              :key="s.low"
            >
              <rect
                :x="10 + (300 * (path.guideRangeMm.min - s.low)) / (s.high - s.low)"
                y="17"
                :width="Math.max(3, (300 * (path.guideRangeMm.max - path.guideRangeMm.min)) / (s.high - s.low))"
                height="14"
                fill="var(--lane)"
                stroke="var(--lane-edge)"
              />
              <path
                :d="`M${10 + (300 * (path.guideTargetMm - s.low)) / (s.high - s.low)} 8v32`"
                :stroke="path.reachable ? 'var(--good)' : 'var(--bad)'"
                stroke-width="2.4"
              />
              <text
                :x="Math.min(250, Math.max(4, 10 + (300 * (path.guideTargetMm - s.low)) / (s.high - s.low) - 30))"
                y="45"
                font-size="11"
                fill="var(--ink-2)"
              >
                wanted {{ figure(path.guideTargetMm, 1) }}
              </text>
            </template>
          </svg>
          <p :class="`level-${path.verdict.level}`">{{ path.verdict.text }}</p>
          <Button v-if="!off && !path.reachable" size="small" class="start" @click="fillGuideSide"
            >Change the guide-side spacers by {{ signed(path.shortfallMm, 1) }} mm</Button
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
              >moves the main focus by {{ signed(filterShift, 2) }} mm; the guide camera does not follow, so the guide
              star blurs by that much defocus at f/{{ figure(setup.focalLengthMm / setup.apertureMm, 0) }}.</span
            >
          </div>
        </section>
      </div>
    </div>
    <section v-if="symptoms.length" class="panel">
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
          <tr v-for="s in symptoms" :key="s.sign" :class="{ on: s.on }">
            <td>
              <strong>{{ s.sign }}</strong>
            </td>
            <td>{{ s.cause }}</td>
            <td :class="{ 'level-bad': s.on }">{{ s.cure }}</td>
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
