<script setup lang="ts">
import {
  carryMeasured,
  carryOut as carriedOut,
  overhangCaution,
  slideTube,
  turnTube,
  type Moment,
} from '@keen/core/balance';
import type { Phrase } from '@keen/core/phrases';
import type { RigSetup } from '@keen/core/rig';
import dayjs from 'dayjs';
import { Button, Tabs, TabPane, message } from 'ant-design-vue';
import { useElementSize } from '@vueuse/core';
import { computed, ref } from 'vue';
import EmptyState from '../../common/EmptyState.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import VerdictLine from '../../common/VerdictLine.vue';
import WorkingFold from '../../common/WorkingFold.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { plainCopy } from '../../workers/index.ts';
import AttitudesPicture from './AttitudesPicture.vue';
import BalanceSchools from './BalanceSchools.vue';
import ElevationView from './ElevationView.vue';
import MayMove from './MayMove.vue';
import RigSaveBar from '../../common/RigSaveBar.vue';
import StatesTable from './StatesTable.vue';
import SpringScale from './SpringScale.vue';
import TorqueSky from './TorqueSky.vue';
import { useSpringScale } from './useSpringScale.ts';
import { useBalance } from './useBalance.ts';
import { useRigDraft } from '../../common/useRigDraft.ts';
import { useUnits } from '../../stores/units.ts';

const units = useUnits();

const club = useClub();
const session = useSession();
const edit = useRigDraft();
const setup = computed(() => edit.draft.value?.setup ?? null);
const latitudeDeg = computed(() => club.sites.find((s) => s.id === edit.draft.value?.siteId)?.latitudeDeg ?? 50);
const scale = useSpringScale(
  computed(() => club.rig?.id ?? ''),
  latitudeDeg,
);
const { assessed, solution, balanced, held, disagrees, verdict, notes, after, moments } = useBalance(
  setup,
  latitudeDeg,
  scale.found,
);

/** Writes the solver's moves into the draft, as if they had been carried out. */
function carryOut() {
  const s = solution.value;
  const d = edit.draft.value;
  if (!s || !d) return;
  d.setup = carriedOut(plainCopy(d.setup), s);
  void message.success('Taken over into the draft. Save it once the rig stands so.');
}

const off = computed(() => !session.mayEdit);
/** What is dragged in the pictures goes straight into the draft; the figures follow. */
function movePart(name: string, dx: number, dy: number, dz: number) {
  const p = setup.value?.placed.find((q) => q.name === name);
  if (!p) return;
  Object.assign(p, { xMm: p.xMm + dx, yMm: p.yMm + dy, zMm: p.zMm + dz });
  // dragged in a picture, it is nobody's measurement
  delete p.placeFrom;
  delete p.ruler;
}
function moveWeight(place: number, distanceMm: number) {
  const s = setup.value;
  const w = s?.counterweights[place];
  if (s && w) w.distanceMm = Math.min(s.shaft.maxMm, Math.max(s.shaft.minMm, distanceMm));
}
/** The spring scale knows the moments; the tube's mass centre, known least, takes the difference. */
function carry(measured: Partial<Moment>) {
  const d = edit.draft.value;
  if (!d || !assessed.value) return;
  const from = {
    kind: 'measured' as const,
    ...(session.member ? { by: session.member.name } : {}),
    at: dayjs(club.now).format('YYYY-MM-DD'),
  };
  const next = carryMeasured(plainCopy(d.setup), measured, assessed.value.momentKgMm, from);
  if (next) d.setup = next;
}
const slideBy = (dz: number) => setup.value && slideTube(setup.value, dz);
/** The rig as it was when the turning handle was taken: each drag turns that, so that nothing is rounded twice. */
let taken: RigSetup | null = null;
function turnBy(deg: number, begins: boolean) {
  const d = edit.draft.value;
  if (!d) return;
  if (begins || !taken) taken = plainCopy(d.setup);
  const next = plainCopy(taken);
  turnTube(next, deg);
  d.setup = next;
}
const overhang = computed(() => (setup.value ? overhangCaution(setup.value) : null));

const box = ref<HTMLElement>();
const { width } = useElementSize(box);
const sideWidth = computed(() => Math.max(280, Math.floor(width.value * 0.6) - 8));
const rearWidth = computed(() => Math.max(220, Math.floor(width.value * 0.4) - 8));
const HEIGHT = 440;
</script>

<template>
  <EmptyState v-if="!club.rig || !setup || !assessed" title="No rig yet" lacks="rig">
    A rig is a list of parts, each with its mass and its place; balance follows from it.
  </EmptyState>
  <template v-else>
    <VerdictLine :verdict="verdict" :notes="notes" />
    <div class="split board">
      <section class="panel">
        <div ref="box" class="views">
          <figure>
            <figcaption>From the side <span class="muted small">sky to the right</span></figcaption>
            <ElevationView
              v-if="width > 0"
              :setup="setup"
              view="side"
              :assessed="assessed"
              :solution="solution"
              :width="sideWidth"
              :height="HEIGHT"
              :sibling-width="rearWidth"
              :off="off"
              @part="movePart"
              @weight="moveWeight"
              @slide="slideBy"
            />
          </figure>
          <figure>
            <figcaption>From behind <span class="muted small">looking to the sky</span></figcaption>
            <ElevationView
              v-if="width > 0"
              :setup="setup"
              view="rear"
              :assessed="assessed"
              :solution="solution"
              :width="rearWidth"
              :height="HEIGHT"
              :sibling-width="sideWidth"
              :off="off"
              @part="movePart"
              @weight="moveWeight"
              @slide="slideBy"
              @turn="turnBy"
            />
          </figure>
        </div>
      </section>
      <section class="panel stack">
        <h2>Do this, in order</h2>
        <p v-if="disagrees" class="muted">Nothing before scale and parts agree: see Spring scale below.</p>
        <p v-else-if="held" class="muted" data-test="held">
          Nothing: friction holds it. What the parts still add up to is less than it takes to move an axis.
        </p>
        <ol v-else-if="solution && solution.steps.length && !balanced" class="steps" data-test="steps">
          <li v-for="s in solution.steps" :key="s.order">
            {{ s.phrases ? units.say(s.phrases as Phrase) : s.text }}
            <span v-if="s.action === 'slide'" class="muted">
              Mark {{ units.length(setup.slide.markMm) }} to
              <strong class="mono">{{ units.length(setup.slide.markMm + solution.slideMm) }}</strong>.
            </span>
          </li>
          <li v-if="solution.feasible">Level, upright, halfway: released, the tube stays.</li>
        </ol>
        <p v-else-if="balanced" class="muted">
          Nothing. Check it once more with caps off, focuser at focus and cables on.
        </p>
        <ul v-if="solution?.obstacles.length" class="level-bad plain">
          <li v-for="(o, i) in solution.obstaclePhrases" :key="i">{{ units.say(o as Phrase) }}</li>
        </ul>
        <p v-if="overhang" class="level-caution small">{{ units.say(overhang) }}</p>
        <p class="muted small">
          Weights before tube, end-stop back on at once; tube off before weights. Keep a hand on the tube while a clutch
          is open.
        </p>
        <div class="row">
          <Button
            v-if="solution && !balanced && !held && !disagrees && session.mayEdit"
            type="primary"
            :disabled="!solution.feasible"
            @click="carryOut"
          >
            Done: take these over
          </Button>
        </div>
        <table class="figures">
          <thead>
            <tr>
              <th>Moment</th>
              <th class="num">now</th>
              <th class="num">after</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="m in moments" :key="m.name">
              <td>{{ m.name }}</td>
              <td class="num">{{ units.moment(m.now, true) }}</td>
              <td class="num">{{ m.after === undefined ? '–' : units.moment(m.after, true) }}</td>
            </tr>
          </tbody>
        </table>
        <RigSaveBar :edit="edit" />
      </section>
    </div>
    <section class="panel">
      <Tabs>
        <TabPane key="masses" tab="Weights and slide">
          <div class="row fields">
            <template v-for="(w, i) in setup.counterweights" :key="i">
              <QuantityInput
                v-model="w.massKg"
                dimension="mass"
                :label="`Weight ${i + 1}`"
                :step="0.1"
                :min="0.01"
                :max="60"
                width="120px"
                :disabled="!session.mayEdit"
              />
              <QuantityInput
                v-model="w.distanceMm"
                dimension="length"
                label="at"
                :step="1"
                :decimals="0"
                :min="0"
                :max="setup.shaft.maxMm"
                width="110px"
                :disabled="!session.mayEdit"
              />
            </template>
            <QuantityInput
              v-model="setup.slide.markMm"
              dimension="length"
              label="Bar at mark"
              :decimals="0"
              width="120px"
              :disabled="!session.mayEdit"
            />
            <span class="muted small"
              >slide reaches {{ units.signedLength(setup.slide.minMm, 0) }} …
              {{ units.signedLength(setup.slide.maxMm, 0) }} from here</span
            >
          </div>
          <div v-if="solution?.alternatives.length" class="stack others">
            <h3>Other ways</h3>
            <table class="figures">
              <thead>
                <tr>
                  <th>Moves</th>
                  <th class="num">interventions</th>
                  <th class="num">mass added</th>
                  <th class="num">left</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="a in solution.alternatives" :key="a.text">
                  <td>{{ units.say(a.phrases as Phrase[]) }}</td>
                  <td class="num">{{ a.price.interventions }}</td>
                  <td class="num">{{ units.signedMass(a.price.addedKg, 2) }}</td>
                  <td class="num">{{ units.torque(a.decTorqueNm + a.raTorqueNm, 2) }}</td>
                </tr>
              </tbody>
            </table>
          </div>
        </TabPane>
        <TabPane key="may" tab="What may move">
          <MayMove :setup="setup" :off="off" />
        </TabPane>
        <TabPane key="states" tab="States compared">
          <StatesTable :setup="setup" :latitude-deg="latitudeDeg" />
        </TabPane>
        <TabPane key="attitudes" tab="Let go">
          <AttitudesPicture :moment="assessed.momentKgMm" />
        </TabPane>
        <TabPane key="torque" tab="Torque over the sky">
          <TorqueSky :before="assessed.momentKgMm" :after="after" :latitude-deg="latitudeDeg" />
        </TabPane>
        <TabPane key="scale" tab="Spring scale">
          <SpringScale
            :key="club.rig.id"
            :scale="scale"
            :computed-moment="assessed.momentKgMm"
            :off="off"
            @carry="carry"
          />
        </TabPane>
        <TabPane key="schools" tab="How exact?">
          <BalanceSchools :setup="setup" :assessed="assessed" :solution="solution" :off="off" />
        </TabPane>
      </Tabs>
      <WorkingFold :steps="[...assessed.working, ...(solution?.working ?? [])]" />
    </section>
  </template>
</template>

<style scoped>
.board {
  grid-template-columns: minmax(0, 1fr) 330px;
}
.views {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 8px;
}
figure {
  margin: 0;
  min-width: 0;
  overflow-x: auto;
}
figcaption {
  font-weight: 650;
}
.steps {
  margin: 0;
  padding-left: 20px;
  display: grid;
  gap: 6px;
}
.plain {
  margin: 0;
  padding-left: 18px;
}
.fields {
  align-items: end;
}
.others {
  margin-top: 14px;
}
@media (max-width: 1060px) {
  .board {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
