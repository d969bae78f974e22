<script setup lang="ts">
import { figure } from '@keen/core/quantities';
import { Button, Input } from 'ant-design-vue';
import QuantityInput from '../../common/QuantityInput.vue';
import CyclePicture from './CyclePicture.vue';
import type { SecondCamera, SharedCycle } from './useDither.ts';

/** Two cameras that must hold still together: their shared cycle, what waits, and exposures that waste less. */
defineProps<{ shared: SharedCycle | null }>();
const second = defineModel<SecondCamera | null>('second', { required: true });
const leadExposureS = defineModel<number>('leadExposureS', { required: true });
const begin = (): SecondCamera => ({
  name: 'wide camera',
  focalLengthMm: 135,
  pixelUm: 3.76,
  exposureS: 120,
  downloadS: 4,
  weight: 1,
});
</script>

<template>
  <section class="panel stack" data-test="two-cameras">
    <div class="row spread">
      <h2>Two cameras on the mount</h2>
      <Button v-if="!second" size="small" @click="second = begin()">Add a second camera</Button>
      <Button v-else size="small" @click="second = null">Take it off</Button>
    </div>
    <p v-if="!second" class="muted">
      Both must hold still while one dithers. With a second camera entered, the exposures that waste least are worked
      out, and what unsynchronised dithering would spoil.
    </p>
    <template v-else>
      <div class="wide">
        <label class="small muted named">Its name<Input v-model:value="second.name" :maxlength="40" /></label>
        <QuantityInput
          v-model="second.focalLengthMm"
          dimension="length"
          label="Focal length"
          :min="10"
          :max="5000"
          :decimals="0"
        />
        <QuantityInput
          v-model="second.pixelUm"
          dimension="number"
          unit="µm"
          label="Pixel"
          :min="1"
          :max="30"
          :step="0.1"
        />
        <QuantityInput
          v-model="leadExposureS"
          dimension="duration"
          label="Main exposure"
          :min="1"
          :max="3600"
          :decimals="0"
          :step="10"
        />
        <QuantityInput
          v-model="second.exposureS"
          dimension="duration"
          label="Its exposure"
          :min="1"
          :max="3600"
          :decimals="0"
          :step="10"
        />
        <QuantityInput
          v-model="second.downloadS"
          dimension="duration"
          label="Its read-out"
          :min="0"
          :max="120"
          :decimals="1"
        />
        <QuantityInput
          v-model="second.weight"
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
        <CyclePicture :cycle="shared.cycle" :second="second.name" />
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
            @click="second!.exposureS = Math.floor(s.followerExposureS * 10) / 10"
            >{{ s.followerFrames }} × {{ figure(s.followerExposureS, 0) }} s, {{ figure(100 * s.followerDuty, 0) }} %
            open</Button
          >
        </div>
      </template>
    </template>
  </section>
</template>

<style scoped>
.wide {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 8px 12px;
  align-items: end;
}
.named {
  display: grid;
  gap: 2px;
}
</style>
