<script setup lang="ts">
import type { Verdict } from '@keen/core';
import { ENOUGH_POSITIONS, PATTERNS } from '@keen/core/dither';
import { figure, scaleArcsecPerPx } from '@keen/core/quantities';
import { Button, Input } from 'ant-design-vue';
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import EmptyState from '../../common/EmptyState.vue';
import FilterTile from '../../common/FilterTile.vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import VerdictLine from '../../common/VerdictLine.vue';
import WorkingFold from '../../common/WorkingFold.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import CyclePicture from './CyclePicture.vue';
import PatternPicture from './PatternPicture.vue';
import { useDither } from './useDither.ts';
import { useDitherTime } from './useDitherTime.ts';

const club = useClub();
const session = useSession();
const { wish, setup, guide, cameras, plan, project, byFilter, places, coverage, shared, filtersARound } = useDither();
const { reckoned, adopt, busy, trouble } = useDitherTime();
const WORDS = { spiral: 'spiral', random: 'random', 'low-discrepancy': 'evenly spread' } as const;

const addCamera = () =>
  (wish.value.second = {
    name: 'wide camera',
    focalLengthMm: 135,
    pixelUm: 3.76,
    exposureS: 120,
    downloadS: 4,
    weight: 1,
  });
const few = computed(() => byFilter.value.filter((f) => f.positions < Math.min(ENOUGH_POSITIONS, f.frames)));
const verdict = computed<Verdict | null>(() => {
  if (!plan.value) return null;
  if (plan.value.verdict.level !== 'good') return plan.value.verdict;
  if (few.value.length)
    return {
      level: 'caution',
      text: `${plan.value.verdict.text} ${few.value.map((f) => f.filter).join(', ')} would get only ${few.value[0]!.positions} different places: dither more often.`,
    };
  return plan.value.verdict;
});
/** The camera with the smallest pixel on the sky: its grid stays readable however large the dither. */
const finest = computed(
  () =>
    [...cameras.value].sort(
      (a, b) => scaleArcsecPerPx(a.pixelUm, a.focalLengthMm) - scaleArcsecPerPx(b.pixelUm, b.focalLengthMm),
    )[0],
);
const differs = computed(
  () => plan.value && reckoned.value !== null && Math.abs(plan.value.totalS - reckoned.value) >= 2,
);
</script>

<template>
  <EmptyState v-if="!club.rig || !setup || !plan" title="No rig yet"
    >A dither is reckoned in the pixels of a rig’s cameras.</EmptyState
  >
  <template v-else>
    <VerdictLine
      v-if="verdict"
      :verdict="verdict"
      :detail="
        guide
          ? `${figure(plan.guidePx, 1)} px in the guide camera; ${figure(plan.moveS, 1)} s of moving, ${figure(plan.totalS - plan.moveS, 0)} s to settle.`
          : 'This rig has no guide camera; the mount itself would move.'
      "
    />
    <div class="split board">
      <section class="panel stack">
        <h2>Size</h2>
        <div class="grid">
          <QuantityInput
            v-model="wish.ditherPx"
            dimension="number"
            unit="px"
            label="Dither by"
            :min="0.5"
            :max="200"
            :step="0.5"
            :decimals="1"
          />
          <PickOne
            v-model:value="wish.reference"
            shown
            label="in pixels of the"
            :options="[
              { value: 'finest', label: 'finest camera' },
              { value: 'coarsest', label: 'coarsest camera' },
            ]"
          />
          <QuantityInput
            v-model="wish.guideRate"
            dimension="number"
            unit="× sidereal"
            label="Guide rate"
            :min="0.05"
            :max="2"
            :step="0.05"
          />
          <QuantityInput
            v-model="wish.settleTimeS"
            dimension="duration"
            label="Settled for"
            :min="0"
            :max="120"
            :decimals="0"
          />
          <QuantityInput
            v-model="wish.settlePx"
            dimension="number"
            unit="guide px"
            label="within"
            :min="0.1"
            :max="10"
            :step="0.1"
            :decimals="1"
          />
        </div>
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
          Plans on this rig reckon {{ figure(reckoned!, 0) }} s a dither; this one takes {{ figure(plan.totalS, 0) }} s.
          <Button v-if="session.mayEdit" size="small" :loading="busy" @click="adopt(plan.totalS)"
            >Reckon plans with {{ figure(plan.totalS, 0) }} s</Button
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
              :aria-pressed="wish.pattern === p"
              @click="wish.pattern = p"
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
                wish.pattern === 'spiral'
                  ? 'A square spiral never repeats a place and every move is equally short; it walks away from the centre all night, and whole steps of whole pixels leave sub-pixels out.'
                  : wish.pattern === 'random'
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
            <button type="button" :aria-pressed="wish.order === 'rolling'" @click="wish.order = 'rolling'">
              rolling
            </button>
            <button type="button" :aria-pressed="wish.order === 'block'" @click="wish.order = 'block'">block</button>
          </span>
          <QuantityInput
            v-model="wish.everyFrames"
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
          <span
            ><strong class="mono">{{ f.positions }}</strong> places for {{ f.frames }} frames</span
          >
          <span v-if="f.positions < Math.min(ENOUGH_POSITIONS, f.frames)" class="level-caution small">! too few</span>
        </div>
      </div>
      <p class="muted small">
        Ten different places let the stack reject fixed pattern and satellite trails (common practice, no source). In
        block order “once a round” means every frame of the filter.
      </p>
    </section>
    <section class="panel stack" data-test="two-cameras">
      <div class="row spread">
        <h2>Two cameras on the mount</h2>
        <Button v-if="!wish.second" size="small" @click="addCamera">Add a second camera</Button>
        <Button v-else size="small" @click="wish.second = null">Take it off</Button>
      </div>
      <p v-if="!wish.second" class="muted">
        Both must hold still while one dithers. With a second camera entered, the exposures that waste least are worked
        out, and what unsynchronised dithering would spoil.
      </p>
      <template v-else>
        <div class="grid wide">
          <label class="small muted named">Its name<Input v-model:value="wish.second.name" :maxlength="40" /></label>
          <QuantityInput
            v-model="wish.second.focalLengthMm"
            dimension="length"
            label="Focal length"
            :min="10"
            :max="5000"
            :decimals="0"
          />
          <QuantityInput
            v-model="wish.second.pixelUm"
            dimension="number"
            unit="µm"
            label="Pixel"
            :min="1"
            :max="30"
            :step="0.1"
          />
          <QuantityInput
            v-model="wish.leadExposureS"
            dimension="duration"
            label="Main exposure"
            :min="1"
            :max="3600"
            :decimals="0"
            :step="10"
          />
          <QuantityInput
            v-model="wish.second.exposureS"
            dimension="duration"
            label="Its exposure"
            :min="1"
            :max="3600"
            :decimals="0"
            :step="10"
          />
          <QuantityInput
            v-model="wish.second.downloadS"
            dimension="duration"
            label="Its read-out"
            :min="0"
            :max="120"
            :decimals="1"
          />
          <QuantityInput
            v-model="wish.second.weight"
            dimension="number"
            label="Worth beside the main one"
            :min="0.05"
            :max="20"
            :step="0.1"
            :decimals="2"
          />
        </div>
        <template v-if="shared">
          <p :class="`level-${shared.found.verdict.level}`" data-test="sync-verdict">{{ shared.found.verdict.text }}</p>
          <CyclePicture :cycle="shared.cycle" :second="wish.second.name" />
          <div class="row">
            <span class="small muted"
              >Cycle {{ figure(shared.found.cycleS, 0) }} s; the main camera waits
              {{ figure(shared.found.leadIdleS, 0) }} s, the other {{ figure(shared.found.followerIdleS, 0) }} s.
              Dithering without waiting would spoil
              <strong class="mono">{{ figure(100 * shared.spoiled, 0) }} %</strong> of the second camera’s frames.</span
            >
          </div>
          <div v-if="shared.found.suggestions.length" class="row" data-test="suggestions">
            <span class="small">Wastes less:</span>
            <Button
              v-for="s in shared.found.suggestions"
              :key="s.followerExposureS"
              size="small"
              @click="wish.second!.exposureS = Math.floor(s.followerExposureS * 10) / 10"
              >{{ s.followerFrames }} × {{ figure(s.followerExposureS, 0) }} s, {{ figure(100 * s.followerDuty, 0) }} %
              open</Button
            >
          </div>
        </template>
      </template>
    </section>
    <p class="muted small">
      How often a plan dithers is set under <RouterLink to="/night/plan">Plan</RouterLink>. What you enter here stays on
      this device.
    </p>
    <WorkingFold :steps="[...plan.working, ...(shared?.found.working ?? [])]" />
  </template>
</template>

<style scoped>
.board {
  grid-template-columns: minmax(300px, 1fr) minmax(0, 1.7fr);
}
.grid {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 8px 12px;
  align-items: end;
}
.wide {
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
}
.named {
  display: grid;
  gap: 2px;
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
