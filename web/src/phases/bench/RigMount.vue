<script setup lang="ts">
import type { RigSetup } from '@keen/core/rig';
import { Input, SelectOption } from 'ant-design-vue';
import FieldGrid from '../../common/FieldGrid.vue';
import PickOne from '../../common/PickOne.vue';
import RigRotator from './RigRotator.vue';
import RigSupply from './RigSupply.vue';

/** The mount, how far weights and tube may travel, and what each act takes at night. */
defineProps<{ setup: RigSetup; off: boolean }>();
const MOUNT = [
  { key: 'ratedLoadKg', label: 'Rated load', dimension: 'mass', min: 0.1 },
  {
    key: 'pastMeridianDeg',
    label: 'Stops past the meridian',
    dimension: 'angle',
    unit: '°',
    decimals: 0,
    min: 0,
    max: 90,
    optional: true,
  },
  { key: 'wormPeriodS', label: 'Worm’s turn', dimension: 'duration', decimals: 0, min: 1, max: 3600, optional: true },
] as const;
const mm = { dimension: 'length', decimals: 0 } as const;
const SHAFT = [
  { key: 'massKg', label: 'Bare shaft', dimension: 'mass', min: 0 },
  { key: 'centreMm', label: 'its mass centre', ...mm, min: 0 },
  { key: 'minMm', label: 'Weights from', ...mm, min: 0 },
  { key: 'maxMm', label: 'to', ...mm, min: 0 },
] as const;
const SLIDE = [
  { key: 'minMm', label: 'Slide back to', ...mm },
  { key: 'maxMm', label: 'forward to', ...mm },
] as const;
const acts = { dimension: 'duration', decimals: 0, min: 0 } as const;
const ACTS = [
  { key: 'downloadS', label: 'Read-out', ...acts },
  { key: 'filterChangeS', label: 'Filter change', ...acts },
  { key: 'autofocusS', label: 'Focus run', ...acts },
  { key: 'ditherS', label: 'Dither, settle', ...acts },
  { key: 'slewCentreS', label: 'Slew, centre', ...acts },
  { key: 'flipS', label: 'Meridian flip', ...acts },
  { key: 'guideStartS', label: 'Guider start', ...acts },
] as const;
</script>

<template>
  <div class="stack">
    <FieldGrid :record="setup.mount" :fields="MOUNT" :off="off">
      <label>Mount<Input v-model:value="setup.mount.name" :disabled="off" /></label>
      <PickOne v-model:value="setup.mount.drive" label="Drive" shown :disabled="off">
        <SelectOption value="worm">worm</SelectOption>
        <SelectOption value="strain-wave">strain-wave</SelectOption>
        <SelectOption value="direct">direct</SelectOption>
      </PickOne>
    </FieldGrid>
    <FieldGrid :record="setup.shaft" :fields="SHAFT" :off="off" />
    <FieldGrid :record="setup.slide" :fields="SLIDE" :off="off" />
    <h3>What each act takes at night</h3>
    <FieldGrid :record="setup.overheads" :fields="ACTS" :off="off" />
    <h3>Rotator</h3>
    <RigRotator :setup="setup" :off="off" />
    <h3>Power</h3>
    <RigSupply :setup="setup" :off="off" />
  </div>
</template>

<style scoped>
label {
  display: grid;
  gap: 2px;
  font-size: 13px;
  color: var(--ink-2);
}
</style>
