<script setup lang="ts">
import { MOUNTS, type MountKit } from '@keen/core/rig';
import { parseQuantity } from '@keen/core/quantities';
import { computed, ref } from 'vue';
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
/** A list of masses as people type it, in the chosen unit or any other: "5, 5", "11 lb; 7 lb". */
const typed = ref<string | null>(null);
const unread = ref('');
const weights = computed({
  get: () => typed.value ?? draft.value.mount?.weightsKg.map((kg) => units.mass(kg)).join(', ') ?? '',
  set: (text: string) => {
    const pieces = text.split(/[;,]+(?=\s|\D|$)|[;\n]+/).filter((t) => t.trim() !== '');
    const read = pieces.map((t) => parseQuantity(t, 'mass', units.system === 'imperial' ? 'lb' : 'kg'));
    const wrong = pieces.find((_, i) => !(read[i]!.ok && read[i]!.value > 0 && read[i]!.value <= 100));
    unread.value = wrong ? `“${wrong.trim()}” is no mass of a weight; type such as ${units.mass(5, 1)}` : '';
    typed.value = wrong ? text : null;
    if (!wrong && draft.value.mount)
      draft.value.mount.weightsKg = read.flatMap((r) => (r.ok ? [r.value] : [])).slice(0, 12);
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
        >Weights you own<input v-model.lazy="weights" class="plain mono" aria-label="Weights you own" />
        <span v-if="unread" class="level-bad small" role="alert">{{ unread }}</span></label
      >
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
