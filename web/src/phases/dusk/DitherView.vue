<script setup lang="ts">
import type { Verdict } from '@keen/core/calculation';
import WhenThere from '../../common/WhenThere.vue';
import { ENOUGH_POSITIONS, PATTERNS } from '@keen/core/dither';
import { figure, scaleArcsecPerPx } from '@keen/core/quantities';
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import EmptyState from '../../common/EmptyState.vue';
import FilterTile from '../../common/FilterTile.vue';
import PickOne from '../../common/PickOne.vue';
import FieldGrid from '../../common/FieldGrid.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import VerdictLine from '../../common/VerdictLine.vue';
import WorkingFold from '../../common/WorkingFold.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import PatternPicture from './PatternPicture.vue';
import DuskSaveBar from './DuskSaveBar.vue';
import TwoCameras from './TwoCameras.vue';
import { useDuskSettings } from './useDuskSettings.ts';
import { useDither } from './useDither.ts';
import { useDitherTime } from './useDitherTime.ts';
import { makeVerdict, phrase } from '@keen/core/phrases';

const club = useClub();
const session = useSession();
const dusk = useDuskSettings();
const {
  criteria,
  setup,
  guide,
  cameras,
  plan,
  project,
  byFilter,
  places,
  movesS,
  takesS,
  coverage,
  shared,
  filtersARound,
} = useDither();
const { reckoned, adopt, busy, trouble } = useDitherTime();
const WORDS = { spiral: 'spiral', random: 'random', 'low-discrepancy': 'evenly spread' } as const;

const few = computed(() => byFilter.value.filter((f) => f.positions < Math.min(ENOUGH_POSITIONS, f.frames)));
const verdict = computed<Verdict | null>(() => {
  if (!plan.value) return null;
  if (plan.value.verdict.level !== 'good') return plan.value.verdict;
  if (few.value.length)
    return makeVerdict(
      'caution',
      ...plan.value.verdict.phrases,
      phrase('dither.few-places', { filters: few.value.map((f) => f.filter), places: few.value[0]!.positions }),
    );
  const { verdict } = plan.value;
  const [phrases] = verdict.phrases;
  return phrases?.code === 'dither.good'
    ? makeVerdict('good', phrase('dither.good', { ...phrases.values, totalS: Math.round(takesS.value) }))
    : verdict;
});
/** The camera with the smallest pixel on the sky: its grid stays readable however large the dither. */
const finest = computed(
  () =>
    [...cameras.value].sort(
      (a, b) => scaleArcsecPerPx(a.pixelUm, a.focalLengthMm) - scaleArcsecPerPx(b.pixelUm, b.focalLengthMm),
    )[0],
);
const differs = computed(() => plan.value && reckoned.value !== null && Math.abs(takesS.value - reckoned.value) >= 2);

const SIZE = [
  { key: 'ditherPx', label: 'Dither by', dimension: 'number', unit: 'px', decimals: 1, min: 0.5, max: 200, step: 0.5 },
  { key: 'settleTimeS', label: 'Settled for', dimension: 'duration', decimals: 0, min: 0, max: 120 },
  {
    key: 'settlePx',
    label: 'within',
    dimension: 'number',
    unit: 'guide px',
    decimals: 1,
    min: 0.1,
    max: 10,
    step: 0.1,
  },
] as const;
</script>

<template>
  <EmptyState v-if="!club.rig || !setup || !plan" title="No rig yet" lacks="rig"
    >A dither is reckoned in the pixels of a rig’s cameras.</EmptyState
  >
  <template v-else>
    <WhenThere :of="[dusk.answer]">
      <VerdictLine
        v-if="verdict"
        :verdict="verdict"
        :notes="[
          guide
            ? phrase('dither.moves', { guidePx: plan.guidePx, movesS, settleS: takesS - movesS })
            : phrase('dither.no-guide-camera'),
        ]"
      />
    </WhenThere>
    <div class="split board">
      <section class="panel stack">
        <h2>Size</h2>
        <FieldGrid :record="criteria" :fields="SIZE" width="140px">
          <QuantityInput
            v-model="dusk.settings.guider.guideRate"
            dimension="number"
            unit="× sidereal"
            label="Guide rate"
            :min="0.05"
            :max="2"
            :step="0.05"
          />
          <PickOne
            v-model:value="criteria.reference"
            shown
            label="in pixels of the"
            :options="[
              { value: 'finest', label: 'finest camera' },
              { value: 'coarsest', label: 'coarsest camera' },
            ]"
          />
        </FieldGrid>
        <table class="figures" data-test="per-camera">
          <thead>
            <tr>
              <th>Camera</th>
              <th class="num">″/px</th>
              <th class="num">moves, px</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(c, i) in plan.perCamera" :key="c.name">
              <td>{{ c.name }}</td>
              <td class="num">{{ figure(scaleArcsecPerPx(cameras[i]!.pixelUm, cameras[i]!.focalLengthMm), 2) }}</td>
              <td class="num">{{ figure(c.px, 1) }}</td>
            </tr>
          </tbody>
        </table>
        <p v-if="differs" class="small">
          Plans on this rig reckon {{ figure(reckoned!, 0) }} s a dither; this one takes {{ figure(takesS, 0) }} s.
          <Button v-if="session.mayEdit" size="small" :loading="busy" @click="adopt(takesS)"
            >Reckon plans with {{ figure(takesS, 0) }} s</Button
          >
        </p>
        <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
      </section>
      <section class="panel stack">
        <div class="row spread">
          <h2>Pattern</h2>
          <span class="toggle" role="group" aria-label="Pattern">
            <button
              v-for="p in PATTERNS"
              :key="p"
              type="button"
              :aria-pressed="criteria.pattern === p"
              @click="criteria.pattern = p"
            >
              {{ WORDS[p] }}
            </button>
          </span>
        </div>
        <div class="pattern">
          <PatternPicture
            v-if="finest"
            :places="places"
            :scale-arcsec="scaleArcsecPerPx(finest.pixelUm, finest.focalLengthMm)"
            :pixel-of="finest.name"
          />
          <div class="stack">
            <table class="figures" data-test="coverage">
              <thead>
                <tr>
                  <th>{{ places.length }} places</th>
                  <th class="num">apart</th>
                  <th class="num" title="sixteenths of a pixel some frame falls into">sub-pixel</th>
                  <th class="num">edge, px</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="c in coverage" :key="c.name">
                  <td>{{ c.name }}</td>
                  <td class="num">{{ c.apart }}</td>
                  <td class="num">{{ figure(100 * c.subPixel, 0) }} %</td>
                  <td class="num">{{ figure(c.extentPx, 0) }}</td>
                </tr>
              </tbody>
            </table>
            <p class="muted small">
              <strong>Apart</strong>: more than a pixel from every earlier place, so that a hot pixel never meets
              itself. <strong>Sub-pixel</strong>: parts of a pixel reached, for stacking on a finer grid.
              <strong>Edge</strong>: what the stack loses.
            </p>
            <p class="muted small">
              {{
                criteria.pattern === 'spiral'
                  ? 'A square spiral never repeats a place and every move is equally short; it walks away from the centre all night, and whole steps of whole pixels leave sub-pixels out.'
                  : criteria.pattern === 'random'
                    ? 'Random places average well and need no memory of last night; some fall together.'
                    : 'An even spread fills the same circle with fewer gaps and fewer repeats than chance.'
              }}
            </p>
          </div>
        </div>
      </section>
    </div>
    <section class="panel stack">
      <div class="row spread">
        <h2>
          Different places by filter
          <span v-if="project" class="muted small">what {{ project.object }} still wants</span>
        </h2>
        <span class="row">
          <span class="toggle" role="group" aria-label="Order">
            <button type="button" :aria-pressed="criteria.order === 'rolling'" @click="criteria.order = 'rolling'">
              rolling
            </button>
            <button type="button" :aria-pressed="criteria.order === 'block'" @click="criteria.order = 'block'">
              block
            </button>
          </span>
          <QuantityInput
            v-model="criteria.everyFrames"
            dimension="number"
            :label="`Frames between dithers (0: once a round of ${filtersARound})`"
            :min="0"
            :max="99"
            :decimals="0"
            width="270px"
          />
        </span>
      </div>
      <div class="filters" data-test="by-filter">
        <div v-for="f in byFilter" :key="f.filter" class="row">
          <FilterTile :name="f.filter" />
          <span><strong class="mono">{{ f.positions }}</strong> places for {{ f.frames }} frames</span>
          <span v-if="f.positions < Math.min(ENOUGH_POSITIONS, f.frames)" class="level-caution small">! too few</span>
        </div>
      </div>
      <p class="muted small">
        Ten different places let the stack reject fixed pattern and satellite trails (common practice, no source). In
        block order “once a round” means every frame of the filter.
      </p>
    </section>
    <TwoCameras :shared="shared" />
    <DuskSaveBar />
    <p class="muted small">How often a plan dithers is set under <RouterLink to="/night/plan">Plan</RouterLink>.</p>
    <WorkingFold :steps="[...plan.working, ...(shared?.found.working ?? [])]" />
  </template>
</template>

<style scoped>
.board {
  grid-template-columns: minmax(300px, 1fr) minmax(0, 1.7fr);
}
.pattern {
  display: grid;
  grid-template-columns: 260px minmax(0, 1fr);
  gap: 18px;
}
.filters {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(270px, 1fr));
  gap: 8px;
}
@media (max-width: 960px) {
  .board,
  .pattern {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
