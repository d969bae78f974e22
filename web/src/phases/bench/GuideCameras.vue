<script setup lang="ts">
import type { RigSetup } from '@keen/core/rig';
import { ASSUMED } from '@keen/core/guiding';
import { Button, Switch } from 'ant-design-vue';
import QuantityInput from '../../common/QuantityInput.vue';

/** What the guide camera is and sees by; empty fields are taken at the common values shown beside them. */
const props = defineProps<{ setup: RigSetup; off: boolean }>();
type Optional =
  | 'quantumEfficiency'
  | 'readNoiseE'
  | 'fullWellE'
  | 'apertureMm'
  | 'widthPx'
  | 'heightPx'
  | 'windowPaDeg'
  | 'wormPeriodS';
/** An emptied field leaves the record, so that it is assumed again. */
function put(target: object, key: Optional, value: number | null) {
  const record = target as Record<string, number | undefined>;
  if (value === null) delete record[key];
  else record[key] = value;
}
const begin = () => {
  props.setup.guideScope = { focalLengthMm: 240, apertureMm: 60, pixelUm: 2.9, widthPx: 1936, heightPx: 1096, flexureArcsecPerMin: 0 }; // prettier-ignore
};
const sensors = [
  { key: 'quantumEfficiency', label: 'Quantum efficiency', unit: '', min: 0.01, max: 1, step: 0.01, decimals: 2 },
  { key: 'readNoiseE', label: 'Read noise', unit: 'e⁻', min: 0, max: 50, step: 0.1, decimals: 1 },
  { key: 'fullWellE', label: 'Full well', unit: 'e⁻', min: 500, max: 500_000, step: 500, decimals: 0 },
] as const;
</script>

<template>
  <section class="panel stack" data-test="guide-cameras">
    <div class="row spread">
      <h2>What guides</h2>
      <QuantityInput
        :model-value="setup.mount.wormPeriodS ?? null"
        dimension="duration"
        label="Worm’s turn, to mark in the guide spectrum"
        :min="1"
        :max="3600"
        :decimals="0"
        optional
        :disabled="off"
        width="270px"
        @update:model-value="put(setup.mount, 'wormPeriodS', $event)"
      />
    </div>
    <template v-if="setup.offAxis">
      <h3>Off-axis guide camera</h3>
      <div class="grid">
        <QuantityInput
          v-for="f in sensors"
          :key="f.key"
          :model-value="setup.offAxis.camera[f.key] ?? null"
          dimension="number"
          :label="`${f.label} (${ASSUMED[f.key]} if empty)`"
          :unit="f.unit"
          :min="f.min"
          :max="f.max"
          :step="f.step"
          :decimals="f.decimals"
          optional
          :disabled="off"
          @update:model-value="put(setup.offAxis!.camera, f.key, $event)"
        />
        <QuantityInput
          :model-value="setup.offAxis.windowPaDeg ?? null"
          dimension="angle"
          :label="`Window’s side on the sky at camera angle 0 (${(setup.offAxis.prism.angleDeg + 270) % 360}° by the drawing)`"
          :decimals="0"
          :min="0"
          :max="360"
          optional
          :disabled="off"
          @update:model-value="put(setup.offAxis!, 'windowPaDeg', $event)"
        />
        <label class="row">
          <Switch
            :checked="setup.offAxis.turnsAlone ?? false"
            size="small"
            :disabled="off"
            @update:checked="setup.offAxis!.turnsAlone = Boolean($event)"
          />
          turns without the camera
        </label>
      </div>
    </template>
    <template v-if="setup.guideScope">
      <h3>Guide scope</h3>
      <div class="grid">
        <QuantityInput
          v-model="setup.guideScope.focalLengthMm"
          dimension="length"
          label="Focal length"
          :min="20"
          :max="3000"
          :decimals="0"
          :disabled="off"
        />
        <QuantityInput
          :model-value="setup.guideScope.apertureMm ?? null"
          dimension="length"
          :label="`Aperture (f/${ASSUMED.scopeFocalRatio} if empty)`"
          :min="10"
          :max="400"
          :decimals="0"
          optional
          :disabled="off"
          @update:model-value="put(setup.guideScope!, 'apertureMm', $event)"
        />
        <QuantityInput
          v-model="setup.guideScope.pixelUm"
          dimension="number"
          unit="µm"
          label="Pixel"
          :min="1"
          :max="30"
          :step="0.1"
          :decimals="2"
          :disabled="off"
        />
        <QuantityInput
          v-for="k in ['widthPx', 'heightPx'] as const"
          :key="k"
          :model-value="setup.guideScope[k] ?? null"
          dimension="number"
          unit="px"
          :label="`Sensor, ${k === 'widthPx' ? 'width' : 'height'} (${ASSUMED[k]} if empty)`"
          :min="100"
          :max="20000"
          :decimals="0"
          optional
          :disabled="off"
          @update:model-value="put(setup.guideScope!, k, $event)"
        />
        <QuantityInput
          v-for="f in sensors"
          :key="f.key"
          :model-value="setup.guideScope[f.key] ?? null"
          dimension="number"
          :label="`${f.label} (${ASSUMED[f.key]} if empty)`"
          :unit="f.unit"
          :min="f.min"
          :max="f.max"
          :step="f.step"
          :decimals="f.decimals"
          optional
          :disabled="off"
          @update:model-value="put(setup.guideScope!, f.key, $event)"
        />
      </div>
      <Button v-if="!off" size="small" class="start" @click="delete setup.guideScope">Take the guide scope off</Button>
    </template>
    <Button v-else-if="!off" size="small" class="start" @click="begin">Put a guide scope on</Button>
  </section>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 8px 14px;
  align-items: end;
}
.start {
  justify-self: start;
}
</style>
