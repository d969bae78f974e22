<script setup lang="ts">
import { MOUNTS, type MountKit } from '@keen/core/rig';
import { computed } from 'vue';
import ChoiceCards from '../../common/ChoiceCards.vue';
import FieldGrid from '../../common/FieldGrid.vue';
import { useUnits } from '../../stores/units.ts';
import type { useFirstEvening } from './useFirstEvening.ts';

/** The mount by its kind; typical numbers come with it and can be corrected. */
const props = defineProps<{ evening: ReturnType<typeof useFirstEvening> }>();
const units = useUnits();
const draft = computed(() => props.evening.draft.value);
const options = computed(() =>
  MOUNTS.map((m) => ({
    value: m.key,
    label: m.label,
    more: m.weightsKg.length ? `weights ${m.weightsKg.map((kg) => units.mass(kg, 1)).join(' and ')}` : 'no weights',
  })),
);
function choose(key: string) {
  const kit = MOUNTS.find((m) => m.key === key);
  if (kit) draft.value.mount = structuredClone(kit) as MountKit;
}
const LOAD = [
  { key: 'ratedLoadKg', label: 'Rated load', dimension: 'mass', decimals: 1, min: 0.5, max: 500 },
  { key: 'shaftKg', label: 'Bare shaft', dimension: 'mass', decimals: 1, min: 0, max: 50 },
  { key: 'saddleMm', label: 'Saddle from the polar axis', dimension: 'length', decimals: 0, min: 10, max: 600 },
] as const;
const SHAFT = [
  { key: 'min', label: 'Weights from', dimension: 'length', decimals: 0, min: 0, max: 1500 },
  { key: 'max', label: 'to', dimension: 'length', decimals: 0, min: 10, max: 1500 },
] as const;
const weights = computed({
  get: () => draft.value.mount?.weightsKg.join(', ') ?? '',
  set: (text: string) => {
    const kg = text
      .split(/[;,\s]+/)
      .map((t) => Number(t.replace(/kg$/i, '')))
      .filter((n) => Number.isFinite(n) && n > 0 && n <= 100);
    if (draft.value.mount) draft.value.mount.weightsKg = kg.slice(0, 12);
  },
});
</script>

<template>
  <ChoiceCards
    :model-value="draft.mount?.key ?? ''"
    label="By drive and rated load; take the nearest, the numbers can be changed"
    :options="options"
    @update:model-value="choose"
  />
  <template v-if="draft.mount">
    <FieldGrid :record="draft.mount" :fields="LOAD" />
    <FieldGrid :record="draft.mount.shaftMm" :fields="SHAFT">
      <label class="field"
        >Weights you own, kg<input v-model.lazy="weights" class="plain mono" aria-label="Weights you own, kg"
      /></label>
    </FieldGrid>
  </template>
  <p class="muted small">
    Weights go on before the tube, the end-stop back on the shaft at once; lift with two where one is not sure.
  </p>
</template>

<style scoped>
.field {
  display: grid;
  gap: 2px;
  font-size: 13px;
  color: var(--ink-2);
}
.plain {
  min-height: 32px;
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  background: var(--surface);
  color: var(--ink);
  padding: 0 8px;
}
</style>
