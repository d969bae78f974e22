<script setup lang="ts">
import { ASSUMED } from '@keen/core/guiding';
import type { RigSetup } from '@keen/core/rig';
import { Button, Switch } from 'ant-design-vue';
import { computed } from 'vue';
import FieldGrid from '../../common/FieldGrid.vue';

/** What the guide camera is and sees by; empty fields are taken at the common values shown beside them. */
const props = defineProps<{ setup: RigSetup; off: boolean }>();
const begin = () => {
  props.setup.guideScope = {
    focalLengthMm: 240,
    apertureMm: 60,
    pixelUm: 2.9,
    widthPx: 1936,
    heightPx: 1096,
    flexureArcsecPerMin: 0,
  };
};
const number = { dimension: 'number', optional: true } as const;
const SENSOR = [
  {
    key: 'quantumEfficiency',
    label: `Quantum efficiency (${ASSUMED.quantumEfficiency} if empty)`,
    ...number,
    min: 0.01,
    max: 1,
    step: 0.01,
  },
  {
    key: 'readNoiseE',
    label: `Read noise (${ASSUMED.readNoiseE} if empty)`,
    ...number,
    unit: 'e⁻',
    decimals: 1,
    min: 0,
    max: 50,
    step: 0.1,
  },
  {
    key: 'fullWellE',
    label: `Full well (${ASSUMED.fullWellE} if empty)`,
    ...number,
    unit: 'e⁻',
    decimals: 0,
    min: 500,
    max: 500_000,
    step: 500,
  },
] as const;
const SCOPE = [
  { key: 'focalLengthMm', label: 'Focal length', dimension: 'length', decimals: 0, min: 20, max: 3000 },
  {
    key: 'apertureMm',
    label: `Aperture (f/${ASSUMED.scopeFocalRatio} if empty)`,
    dimension: 'length',
    decimals: 0,
    min: 10,
    max: 400,
    optional: true,
  },
  { key: 'pixelUm', label: 'Pixel', dimension: 'number', unit: 'µm', min: 1, max: 30, step: 0.1 },
  {
    key: 'widthPx',
    label: `Sensor, width (${ASSUMED.widthPx} if empty)`,
    ...number,
    unit: 'px',
    decimals: 0,
    min: 100,
    max: 20_000,
  },
  {
    key: 'heightPx',
    label: `Sensor, height (${ASSUMED.heightPx} if empty)`,
    ...number,
    unit: 'px',
    decimals: 0,
    min: 100,
    max: 20_000,
  },
] as const;
const side = computed(
  () =>
    [
      {
        key: 'windowPaDeg',
        label: `Window’s side on the sky at camera angle 0 (${((props.setup.offAxis?.prism.angleDeg ?? 90) + 270) % 360}° by the drawing)`,
        dimension: 'angle',
        decimals: 0,
        min: 0,
        max: 360,
        optional: true,
      },
    ] as const,
);
</script>

<template>
  <section class="panel stack" data-test="guide-cameras">
    <h2>What guides</h2>
    <template v-if="setup.offAxis">
      <h3>Off-axis guide camera</h3>
      <FieldGrid :record="setup.offAxis.camera" :fields="SENSOR" :off="off" width="190px" />
      <FieldGrid :record="setup.offAxis" :fields="side" :off="off" width="360px">
        <label class="row">
          <Switch
            :checked="setup.offAxis.turnsAlone ?? false"
            size="small"
            :disabled="off"
            @update:checked="setup.offAxis!.turnsAlone = Boolean($event)"
          />
          turns without the camera
        </label>
      </FieldGrid>
    </template>
    <template v-if="setup.guideScope">
      <h3>Guide scope</h3>
      <FieldGrid :record="setup.guideScope" :fields="SCOPE" :off="off" width="190px" />
      <FieldGrid :record="setup.guideScope" :fields="SENSOR" :off="off" width="190px" />
      <Button v-if="!off" size="small" class="start" @click="delete setup.guideScope">Take the guide scope off</Button>
    </template>
    <Button v-else-if="!off" size="small" class="start" @click="begin">Put a guide scope on</Button>
  </section>
</template>

<style scoped>
.start {
  justify-self: start;
}
</style>
