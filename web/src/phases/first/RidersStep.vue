<script setup lang="ts">
import { SENSORS, type SensorKit } from '@keen/core/rig';
import { Checkbox } from 'ant-design-vue';
import { computed } from 'vue';
import ChoiceCards from '../../common/ChoiceCards.vue';
import FieldGrid from '../../common/FieldGrid.vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import { usualFilters, type FirstEvening, type useFirstEvening } from './useFirstEvening.ts';

/** Camera, guider, and what holds the filters. */
const props = defineProps<{ evening: ReturnType<typeof useFirstEvening> }>();
const draft = computed(() => props.evening.draft.value);
function choose(key: string) {
  const kit = SENSORS.find((s) => s.key === key);
  if (kit) draft.value.sensor = structuredClone(kit) as SensorKit;
}
const colour = computed(() => draft.value.bayer !== 'mono' && draft.value.bayer !== '');
const kindOf = computed<'colour' | 'mono' | ''>(() =>
  draft.value.bayer === '' ? '' : colour.value ? 'colour' : 'mono',
);
function takeKind(k: string) {
  draft.value.bayer = k === 'colour' ? 'RGGB' : 'mono';
  if (!draft.value.holder) takeHolder(k === 'colour' ? 'none' : 'wheel');
  else takeHolder(draft.value.holder);
}
function takeHolder(h: string) {
  draft.value.holder = h as FirstEvening['holder'];
  draft.value.filters = usualFilters(draft.value.holder, colour.value);
}
const SENSOR = [
  { key: 'pixelUm', label: 'Pixel', dimension: 'number', unit: 'µm', min: 0.5, max: 50, step: 0.01 },
  { key: 'widthPx', label: 'Width', dimension: 'number', unit: 'px', decimals: 0, min: 10, max: 100000 },
  { key: 'heightPx', label: 'Height', dimension: 'number', unit: 'px', decimals: 0, min: 10, max: 100000 },
  { key: 'massKg', label: 'Mass', dimension: 'mass', min: 0, max: 20 },
] as const;
</script>

<template>
  <ChoiceCards
    :model-value="draft.sensor?.key ?? ''"
    label="Camera, by its sensor"
    :options="SENSORS.map((s) => ({ value: s.key, label: s.label }))"
    @update:model-value="choose"
  />
  <FieldGrid v-if="draft.sensor" :record="draft.sensor" :fields="SENSOR" width="110px" />
  <ChoiceCards
    :model-value="kindOf"
    label="Its sensor sees"
    :options="[
      { value: 'colour', label: 'Colour', more: 'one shot, cells of three colours' },
      { value: 'mono', label: 'Monochrome', more: 'colours through filters' },
    ]"
    @update:model-value="takeKind"
  />
  <PickOne
    v-if="colour"
    v-model:value="draft.bayer"
    label="Order of its cells"
    shown
    :options="['RGGB', 'BGGR', 'GRBG', 'GBRG'].map((v) => ({ value: v, label: v }))"
  />
  <ChoiceCards
    :model-value="draft.guider"
    label="Guiding"
    :options="[
      { value: 'none', label: 'None yet' },
      { value: 'guide-scope', label: 'Guide scope', more: 'a small second tube' },
      { value: 'off-axis', label: 'Off axis', more: 'a prism beside the sensor' },
    ]"
    @update:model-value="draft.guider = $event as FirstEvening['guider']"
  />
  <ChoiceCards
    :model-value="draft.holder"
    label="Filters sit in"
    :options="[
      { value: 'none', label: 'Nothing', more: 'no filter to change' },
      { value: 'drawer', label: 'A drawer', more: 'changed by hand' },
      { value: 'wheel', label: 'A wheel' },
    ]"
    @update:model-value="takeHolder"
  />
  <div class="row">
    <Checkbox v-model:checked="draft.dewHeater">Dew heater</Checkbox>
    <QuantityInput
      v-model="draft.cablesKg"
      dimension="mass"
      label="Cables, hub and the like"
      :min="0"
      :max="10"
      :step="0.1"
      width="170px"
    />
  </div>
</template>
