<script setup lang="ts">
import { parseInput } from '@keen/core/calculation';
import { readDrift } from '@keen/core/exchange';
import { budget, BudgetInput, type FlexureOutput } from '@keen/core/guiding';
import { figure, scaleArcsecPerPx } from '@keen/core/quantities';
import type { RigSetup } from '@keen/core/rig';
import { Button } from 'ant-design-vue';
import { computed, ref, shallowRef } from 'vue';
import QuantityInput from '../../common/QuantityInput.vue';
import { problemText } from '../../common/outcome.ts';
import { calculate } from '../../workers/index.ts';
import { useUnits } from '../../stores/units.ts';

const units = useUnits();

/** Guide scope or off axis: both reckoned for this rig, the schools beside them, and flexure measured from star places. */
const props = defineProps<{ setup: RigSetup; off: boolean }>();
const exposureS = ref<number | null>(300);
const seeing = ref<number | null>(2.2);
const rms = ref<number | null>(0.5);
const scope = computed(() => props.setup.guideScope ?? { focalLengthMm: 240, pixelUm: 2.9, flexureArcsecPerMin: 0.05 });
const both = computed(() => {
  const common = {
    imaging: { focalLengthMm: props.setup.focalLengthMm, pixelUm: props.setup.camera.pixelUm },
    exposureS: exposureS.value ?? 300,
    seeingArcsec: seeing.value ?? 2.2,
    ...(rms.value === null ? {} : { rmsArcsec: rms.value }),
    flexureArcsecPerMin: scope.value.flexureArcsecPerMin,
  };
  const offPixel = props.setup.offAxis?.camera.pixelUm ?? scope.value.pixelUm;
  const ask = (offAxis: boolean) =>
    budget(
      parseInput(BudgetInput, {
        ...common,
        offAxis,
        guide: offAxis
          ? { focalLengthMm: props.setup.focalLengthMm, pixelUm: offPixel }
          : { focalLengthMm: scope.value.focalLengthMm, pixelUm: scope.value.pixelUm },
      }),
    );
  return { offAxis: ask(true), scope: ask(false) };
});
const SCHOOLS = {
  'focal-length-limit': 'By focal length',
  'sub-pixel': 'By sub-pixel centring',
  budget: 'By the error budget',
} as const;
const WORDS = { 'off-axis': 'guide off axis', 'guide-scope': 'a guide scope will do', either: 'either' } as const;

const pasted = ref('');
const measured = shallowRef<FlexureOutput | null>(null);
const trouble = ref('');
async function measure() {
  measured.value = null;
  const read = readDrift(pasted.value);
  trouble.value = read.ok ? '' : units.say(read.trouble);
  if (!read.ok) return;
  const got = await calculate('guide.flexure', {
    frames: read.rows,
    scaleArcsecPerPx: scaleArcsecPerPx(props.setup.camera.pixelUm, props.setup.focalLengthMm),
  });
  trouble.value = got.ok ? '' : problemText(got.problem);
  if (got.ok) measured.value = got.value;
}
function adopt() {
  if (!measured.value) return;
  const s = props.setup;
  s.guideScope = { ...scope.value, flexureArcsecPerMin: Math.round(measured.value.rateArcsecPerMin * 1000) / 1000 };
}
</script>

<template>
  <section class="panel stack">
    <h2>Guide scope or off axis?</h2>
    <div class="row">
      <QuantityInput
        v-model="exposureS"
        dimension="duration"
        label="Exposure"
        :decimals="0"
        :min="1"
        :max="7200"
        :step="60"
        width="110px"
      />
      <QuantityInput
        v-model="seeing"
        dimension="number"
        unit="″"
        label="Seeing"
        :decimals="1"
        :min="0.2"
        :max="10"
        :step="0.1"
        width="100px"
      />
      <QuantityInput
        v-model="rms"
        dimension="number"
        unit="″"
        label="Guiding rms, one axis"
        optional
        :decimals="2"
        :min="0"
        :max="10"
        :step="0.1"
        width="150px"
      />
    </div>
    <table class="figures">
      <thead>
        <tr>
          <th />
          <th class="num">guide scope</th>
          <th class="num">off axis</th>
        </tr>
      </thead>
      <tbody>
        <tr>
          <td>Guide focal length</td>
          <td class="num">{{ units.length(scope.focalLengthMm, 0) }}</td>
          <td class="num">{{ units.length(setup.focalLengthMm, 0) }}</td>
        </tr>
        <tr>
          <td>Guide scale</td>
          <td class="num">{{ figure(both.scope.guideScale, 2) }}″/px</td>
          <td class="num">{{ figure(both.offAxis.guideScale, 2) }}″/px</td>
        </tr>
        <tr>
          <td>Centring, in the main image</td>
          <td class="num">{{ figure(both.scope.centroidErrorImagingPx, 2) }} px</td>
          <td class="num">{{ figure(both.offAxis.centroidErrorImagingPx, 2) }} px</td>
        </tr>
        <tr>
          <td>Trail by flexure</td>
          <td class="num">{{ figure(both.scope.trailPx, 2) }} px</td>
          <td class="num">none</td>
        </tr>
        <tr>
          <td>Longest exposure</td>
          <td class="num">
            {{ both.scope.longestExposureS === null ? 'no limit' : `${figure(both.scope.longestExposureS, 0)} s` }}
          </td>
          <td class="num">no limit</td>
        </tr>
        <tr>
          <td>Stars then</td>
          <td class="num">{{ both.scope.starFwhmArcsec ? `${figure(both.scope.starFwhmArcsec, 2)}″` : '–' }}</td>
          <td class="num">{{ both.offAxis.starFwhmArcsec ? `${figure(both.offAxis.starFwhmArcsec, 2)}″` : '–' }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="!setup.guideScope" class="level-caution small">
      This rig has no guide scope on record: that column assumes {{ units.length(scope.focalLengthMm, 0) }},
      {{ figure(scope.pixelUm, 1) }} µm pixels and {{ figure(scope.flexureArcsecPerMin, 2) }}″ of flexure a minute.
    </p>
    <ul class="schools">
      <li v-for="s in both.scope.schools" :key="s.id">
        <strong>{{ SCHOOLS[s.id] }}:</strong> {{ WORDS[s.advice] }}, because {{ units.say(s.phrases) }}.
      </li>
    </ul>
    <p class="muted small">
      A guide scope adds its mass to the tube side and turns every loose screw into guiding error; a prism adds almost
      nothing, but its stars are few and off the axis. Limits are common practice, no source.
    </p>
    <h3>Flexure from your own frames</h3>
    <p class="muted small">
      One star’s place over a guided run without dithering: a line each with time, x, y in pixels of the main camera.
    </p>
    <textarea
      v-model="pasted"
      rows="4"
      class="paste mono"
      aria-label="Star places"
      placeholder="2026-11-24T21:00:00Z, 1204.50, 873.36&#10;2026-11-24T21:05:00Z, 1204.95, 873.05"
    />
    <div class="row">
      <Button size="small" @click="measure">Measure</Button>
      <span v-if="measured" :class="`level-${measured.verdict.level}`" class="small">{{
        units.verdict(measured.verdict)
      }}</span>
      <Button v-if="measured && !off" size="small" @click="adopt">Use it for this rig</Button>
    </div>
    <p v-if="trouble" class="level-bad small" role="alert">{{ trouble }}</p>
  </section>
</template>

<style scoped>
.schools {
  margin: 0;
  padding-left: 18px;
}
.paste {
  width: 100%;
  background: var(--surface);
  color: var(--ink);
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  padding: 6px 8px;
  font-size: 13px;
}
</style>
