<script setup lang="ts">
import { phrase } from '@keen/core/phrases';
import { ASSUMED } from '@keen/core/guiding';
import { useDuskSettings } from './useDuskSettings.ts';
import WhenThere from '../../common/WhenThere.vue';
import { figure, formatDec, formatRa } from '@keen/core/quantities';
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import EmptyState from '../../common/EmptyState.vue';
import PickOne from '../../common/PickOne.vue';
import FieldGrid from '../../common/FieldGrid.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import { clock } from '../../common/times.ts';
import VerdictLine from '../../common/VerdictLine.vue';
import WorkingFold from '../../common/WorkingFold.vue';
import { useClub } from '../../stores/club.ts';
import DuskSaveBar from './DuskSaveBar.vue';
import ExposureBars from './ExposureBars.vue';
import { useGuider } from './useGuider.ts';
import VerdictText from '../../common/VerdictText.vue';
import { useUnits } from '../../stores/units.ts';

const units = useUnits();
const dusk = useDuskSettings();
const club = useClub();
const {
  criteria,
  side,
  zone,
  pinned,
  starId,
  pinnedStar,
  mag,
  view,
  best,
  exposureS,
  limits,
  now,
  place,
  steps,
  expected,
  shortWay,
  moved,
  testPulse,
  answer,
  verdict,
} = useGuider();
const typed = computed(() => [
  ...pinned.value.map((p) => ({ value: p.id, label: `${p.object}, magnitude ${figure(p.framing!.star!.mag, 1)}` })),
  { value: 'typed', label: 'a magnitude I enter' },
]);

const STAR = [
  { key: 'snr', label: 'Signal to noise wanted', dimension: 'number', decimals: 0, min: 3, max: 200 },
  {
    key: 'fwhmArcsec',
    label: 'Star’s width',
    dimension: 'number',
    unit: '″',
    decimals: 1,
    min: 0.5,
    max: 20,
    step: 0.5,
  },
] as const;
const CALIBRATE = [
  { key: 'guideRate', label: 'Guide rate', dimension: 'number', unit: '× sidereal', min: 0.05, max: 2, step: 0.05 },
  { key: 'binning', label: 'Binning', dimension: 'number', decimals: 0, min: 1, max: 8 },
  { key: 'angleErrorDeg', label: 'Angle within', dimension: 'angle', decimals: 1, min: 0.05, max: 10, step: 0.1 },
  { key: 'steps', label: 'Steps', dimension: 'number', decimals: 0, min: 2, max: 60 },
] as const;
const PICTURE = [
  { key: 'frameS', label: 'Main exposure', dimension: 'duration', decimals: 0, min: 1, max: 7200, step: 30 },
  { key: 'seeingArcsec', label: 'Seeing', dimension: 'number', unit: '″', decimals: 1, min: 0.3, max: 12, step: 0.1 },
  {
    key: 'rmsArcsec',
    label: 'Guiding, per axis',
    dimension: 'number',
    unit: '″',
    decimals: 2,
    min: 0,
    max: 5,
    step: 0.1,
  },
] as const;
</script>

<template>
  <EmptyState v-if="!club.rig || !club.site" title="No rig yet" lacks="rig"
    >The guider’s settings follow from a rig and its site.</EmptyState
  >
  <EmptyState v-else-if="!view" title="Nothing guides on this rig">
    Put an off-axis guider or a guide scope on it first; some mounts are trusted without, for transits, rather than risk
    a guider that follows a hot pixel.
    <template #actions><RouterLink to="/bench/off-axis">Off-axis and guide scope</RouterLink></template>
  </EmptyState>
  <template v-else>
    <WhenThere :of="[dusk.answer]">
      <VerdictLine
        v-if="verdict"
        :verdict="verdict"
        :notes="
          limits && expected
            ? [
                phrase(view.kind === 'off-axis' ? 'guider.reach-off-axis' : 'guider.reach-scope', {
                  mag: limits.limitingMag,
                  exposureS,
                  guideArcsec: expected.guideScale,
                }),
              ]
            : []
        "
      />
    </WhenThere>
    <div class="split board">
      <div class="stack">
        <section class="panel stack">
          <div class="row spread">
            <h2>Exposure</h2>
            <PickOne
              :value="pinnedStar?.id ?? 'typed'"
              label="Star"
              class="star"
              :options="typed"
              @update:value="starId = String($event)"
            />
          </div>
          <ExposureBars
            :optics="view.optics"
            :mag="mag"
            :wanted="criteria.snr"
            :room-e="0.8 * view.fullWellE"
            :chosen="exposureS"
            @choose="criteria.exposureS = $event"
          />
          <FieldGrid :record="criteria" :fields="STAR" width="140px">
            <QuantityInput
              v-if="!pinnedStar"
              v-model="criteria.mag"
              dimension="number"
              label="Magnitude"
              :min="-1"
              :max="18"
              :step="0.5"
              :decimals="1"
            />
          </FieldGrid>
          <p class="muted small">
            One to three seconds average the seeing; shorter chases it, longer lets a worm run away (common practice, no
            source).
            <button v-if="criteria.exposureS" type="button" class="link" @click="criteria.exposureS = 0">
              Back to the advised
            </button>
          </p>
          <p v-if="view.assumed.length" class="muted small">
            Not on the rig’s record, so taken as {{ units.say(view.assumed, ', ') }}.
            <RouterLink to="/bench/off-axis">Enter them</RouterLink>
          </p>
        </section>
        <section class="panel stack" data-test="answers">
          <h2>Does the star answer?</h2>
          <p class="small">
            When cloud hides the star a guider may settle on a hot pixel. It looks perfect, never moves, and every
            seeing wiggle of noise pushes the mount away. So: stop guiding, send one long pulse north, watch the spot,
            send it back.
          </p>
          <div class="grid">
            <QuantityInput
              v-model="testPulse"
              dimension="number"
              unit="ms"
              label="Pulse sent"
              :min="200"
              :max="20000"
              :step="500"
              :decimals="0"
            />
            <QuantityInput
              v-model="moved"
              dimension="number"
              unit="px"
              label="The spot moved"
              optional
              :min="0"
              :max="500"
              :decimals="1"
            />
          </div>
          <VerdictText v-if="answer" :verdict="answer.verdict" />
        </section>
      </div>
      <div class="stack">
        <section class="panel stack" data-test="calibration">
          <div class="row spread">
            <h2>Calibration</h2>
            <span class="toggle" role="group" aria-label="Side of the meridian">
              <button type="button" :aria-pressed="side === 'east'" @click="side = 'east'">east</button>
              <button type="button" :aria-pressed="side === 'west'" @click="side = 'west'">west</button>
            </span>
          </div>
          <table v-if="steps && place" class="figures">
            <tbody>
              <tr>
                <td>Point to, now {{ clock(now, zone) }}</td>
                <td class="num">{{ formatRa(place.raDeg) }} {{ formatDec(place.decDeg) }}</td>
              </tr>
              <tr>
                <td>Altitude there</td>
                <td class="num" :class="{ 'level-caution': !place.good }">{{ figure(place.altitudeDeg, 0) }}°</td>
              </tr>
              <tr>
                <td>Pulse</td>
                <td class="num">
                  <strong>{{ Math.round(steps.pulseMs / 10) * 10 }} ms</strong>
                </td>
              </tr>
              <tr>
                <td>{{ criteria.steps }} steps move the star</td>
                <td class="num">{{ figure(steps.travelPx, 0) }} px, {{ figure(steps.travelArcsec, 0) }}″</td>
              </tr>
            </tbody>
          </table>
          <p v-if="place && !place.good" class="level-caution small">
            The horizon or the latitude keeps the equator low here: this is the nearest clear place, and air will shake
            it.
          </p>
          <FieldGrid :record="criteria" :fields="CALIBRATE" width="150px" />
          <p v-if="shortWay" class="level-caution small">
            {{ figure(steps!.travelArcsec, 0) }}″ is little beside {{ figure(criteria.fwhmArcsec, 0) }}″ stars: the
            seeing would be calibrated with it.
            <button type="button" class="link" @click="criteria.travelPx = shortWay">Take {{ shortWay }} px</button>
          </p>
          <p v-if="criteria.travelPx !== null" class="small">
            A way of {{ figure(criteria.travelPx, 0) }} px is set.
            <button type="button" class="link" @click="criteria.travelPx = null">As the angle asks</button>
          </p>
          <p class="muted small">
            Calibrate on the side of the meridian where the night begins, slew first in the direction of the pulses so
            that slack is taken up, and again after anything on the guide side was turned.
          </p>
        </section>
        <section v-if="expected" class="panel stack">
          <h2>In the main picture</h2>
          <table class="figures">
            <tbody>
              <tr>
                <td>Centring error, at a fifth of a guide pixel</td>
                <td class="num">
                  {{ figure(expected.centroidErrorArcsec, 2) }}″ = {{ figure(expected.centroidErrorImagingPx, 2) }} px
                </td>
              </tr>
              <tr v-if="best">
                <td>Photon noise of this star</td>
                <td class="num">{{ figure(criteria.fwhmArcsec / 2.355 / best.snr, 3) }}″</td>
              </tr>
              <tr>
                <td>Stars, seeing and guiding together</td>
                <td class="num">{{ figure(expected.starFwhmArcsec ?? 0, 2) }}″ wide</td>
              </tr>
              <template v-if="view.kind !== 'off-axis'">
                <tr>
                  <td>Flexure in {{ figure(criteria.frameS, 0) }} s</td>
                  <td class="num">{{ figure(expected.trailArcsec, 2) }}″ = {{ figure(expected.trailPx, 2) }} px</td>
                </tr>
                <tr>
                  <td>Longest exposure before it trails a pixel</td>
                  <td class="num">
                    {{
                      expected.longestExposureS === null ? 'not measured' : `${figure(expected.longestExposureS, 0)} s`
                    }}
                  </td>
                </tr>
              </template>
            </tbody>
          </table>
          <FieldGrid :record="criteria" :fields="PICTURE" width="140px" />
          <p class="muted small">
            A quiet graph with long trails in the pictures is flexure, not guiding: measure it from star places under
            <RouterLink to="/bench/off-axis">Off-axis</RouterLink>. Read the night’s log under
            <RouterLink to="/morning/guiding">Guide log</RouterLink>. Assumed centring: {{ ASSUMED.fwhmArcsec }}″ stars
            unless entered.
          </p>
        </section>
      </div>
    </div>
    <DuskSaveBar />
    <WorkingFold :steps="[...(limits?.working ?? []), ...(steps?.working ?? []), ...(expected?.working ?? [])]" />
  </template>
</template>

<style scoped>
.board {
  grid-template-columns: minmax(0, 1.25fr) minmax(330px, 1fr);
}
.grid {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 8px 12px;
}
.star {
  min-width: 240px;
}
@media (max-width: 960px) {
  .board {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
