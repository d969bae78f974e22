<script setup lang="ts">
import { TUBES, type TubeKit } from '@keen/core/rig';
import { computed, ref } from 'vue';
import ChoiceCards from '../../common/ChoiceCards.vue';
import FieldGrid from '../../common/FieldGrid.vue';
import { useUnits } from '../../stores/units.ts';
import type { useFirstEvening } from './useFirstEvening.ts';

/** The tube by its kind and size; what is typical for it can be corrected now or later. */
const props = defineProps<{ evening: ReturnType<typeof useFirstEvening> }>();
const units = useUnits();
const draft = computed(() => props.evening.draft.value);
const KINDS = [
  { value: 'refractor', label: 'Refractor' },
  { value: 'newtonian', label: 'Newtonian' },
  { value: 'two-mirror', label: 'Two mirrors' },
  { value: 'lens', label: 'Camera lens' },
] as const;
const kind = ref<TubeKit['kind']>(draft.value.tube?.kind ?? 'refractor');
const options = computed(() =>
  TUBES.filter((t) => t.kind === kind.value).map((t) => ({
    value: t.key,
    label: t.label,
    more: `${units.length(t.focalLengthMm)}, ${units.mass(t.massKg, 1)}`,
  })),
);
function choose(key: string) {
  const kit = TUBES.find((t) => t.key === key);
  if (kit) draft.value.tube = structuredClone(kit) as TubeKit;
}
const OPTICS = [
  { key: 'focalLengthMm', label: 'Focal length', dimension: 'length', decimals: 0, min: 8, max: 20000 },
  { key: 'apertureMm', label: 'Aperture', dimension: 'length', decimals: 0, min: 5, max: 2000 },
  { key: 'massKg', label: 'Tube alone', dimension: 'mass', decimals: 1, min: 0.05, max: 200 },
  { key: 'lengthMm', label: 'Its length', dimension: 'length', decimals: 0, min: 20, max: 5000 },
  { key: 'centreMm', label: 'Balances before its middle by', dimension: 'length', decimals: 0, min: -2000, max: 2000 },
  { key: 'imageCircleMm', label: 'Good field, across', dimension: 'length', decimals: 0, min: 2, max: 200 },
] as const;
</script>

<template>
  <ChoiceCards v-model="kind" label="Kind" :options="KINDS" />
  <ChoiceCards
    :model-value="draft.tube?.key ?? ''"
    label="Size; take the nearest"
    :options="options"
    @update:model-value="choose"
  />
  <template v-if="draft.tube">
    <FieldGrid :record="draft.tube" :fields="OPTICS" />
    <p v-if="draft.tube.backFocusMm !== null" class="muted small">
      {{ draft.tube.kind === 'lens' ? 'Its flange stands' : 'A usual corrector wants' }}
      {{ units.length(draft.tube.backFocusMm) }} to the sensor; another distance goes in later, under Train.
    </p>
  </template>
</template>
