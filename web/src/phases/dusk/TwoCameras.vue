<script setup lang="ts">
import { figure } from '@keen/core/quantities';
import { Button, Input } from 'ant-design-vue';
import { computed } from 'vue';
import FieldGrid from '../../common/FieldGrid.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import CyclePicture from './CyclePicture.vue';
import type { SharedCycle } from './useDither.ts';
import { useOtherSystem } from './otherSystem.ts';
import VerdictText from '../../common/VerdictText.vue';
import { useDuskSettings } from './useDuskSettings.ts';

/** Two cameras that must hold still together: their shared cycle, what waits, and exposures that waste less. */
defineProps<{ shared: SharedCycle | null }>();
const dusk = useDuskSettings();
const { other, tubeOf, differs } = useOtherSystem();
const second = computed(() => dusk.settings.second);
const seconds = { dimension: 'duration', min: 1, max: 3600, decimals: 0, step: 10 } as const;
const OPTICS = [
  { key: 'focalLengthMm', label: 'Focal length', dimension: 'length', min: 10, max: 5000, decimals: 0 },
  { key: 'pixelUm', label: 'Pixel', dimension: 'number', unit: 'µm', min: 1, max: 30, step: 0.1 },
  { key: 'exposureS', label: 'Its exposure', ...seconds },
  { key: 'downloadS', label: 'Its read-out', dimension: 'duration', min: 0, max: 120, decimals: 1 },
  { key: 'weight', label: 'Worth beside the main one', dimension: 'number', min: 0, max: 20, step: 0.1 },
] as const;
</script>

<template>
  <section class="panel stack" data-test="two-cameras">
    <div class="row spread">
      <h2>Two cameras on the mount</h2>
      <Button v-if="!second" size="small" @click="dusk.settings.second = tubeOf(null)">{{
        other ? `Take “${other.name}” of this rig` : 'Add a second camera'
      }}</Button>
      <Button v-else size="small" @click="dusk.settings.second = null">Take it off</Button>
    </div>
    <p v-if="!second" class="muted">
      Both must hold still while one dithers. With a second camera entered, the exposures that waste least are worked
      out, and what unsynchronised dithering would spoil.
    </p>
    <template v-else>
      <p v-if="other && differs(second)" class="level-caution small">
        This is not the rig’s other system.
        <Button size="small" @click="dusk.settings.second = tubeOf(second)">Take “{{ other.name }}”</Button>
      </p>
      <FieldGrid :record="second" :fields="OPTICS" width="128px">
        <label class="small muted named">Its name<Input v-model:value="second.name" :maxlength="40" /></label>
        <QuantityInput v-model="dusk.settings.dither.leadExposureS" label="Main exposure" v-bind="seconds" />
      </FieldGrid>
      <template v-if="shared">
        <VerdictText :verdict="shared.found.verdict" data-test="sync-verdict" />
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
.named {
  display: grid;
  gap: 2px;
}
</style>
