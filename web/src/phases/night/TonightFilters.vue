<script setup lang="ts">
import { KINDS, type Kind, type TonightCriteria } from '@keen/core/sky';
import { Button, Checkbox } from 'ant-design-vue';
import { computed } from 'vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import { KIND_LABELS } from './nightWords.ts';

/** What is looked for in the catalogue tonight; what is not asked for is left open. */
const props = defineProps<{
  criteria: TonightCriteria;
  /** A star to guide on is asked for; null where the rig has no guider. */
  guided: boolean | null;
  hasLines: boolean;
  hasBroad: boolean;
  changed: boolean;
}>();
const emit = defineEmits<{ change: [criteria: TonightCriteria]; guided: [wanted: boolean]; reset: [] }>();
const set = (more: Partial<TonightCriteria>) => emit('change', { ...props.criteria, ...more });
const kinds = Object.keys(KINDS) as Kind[];
const toggle = (k: Kind) =>
  set({
    kinds: props.criteria.kinds.includes(k)
      ? props.criteria.kinds.filter((x) => x !== k)
      : [...props.criteria.kinds, k],
  });
const lights = computed(() => [
  { value: 'any', label: 'all dark hours count' },
  ...(props.hasBroad ? [{ value: 'broad', label: 'hours that suit broadband' }] : []),
  ...(props.hasLines ? [{ value: 'line', label: 'hours that suit narrow lines' }] : []),
]);
const SIZES = [
  { value: 'any', label: 'any that suits the field' },
  { value: 'small', label: 'small in the field' },
  { value: 'fits', label: 'fits the field' },
  { value: 'mosaic', label: 'wants a mosaic' },
];
const FAINT = [
  { value: '', label: 'any' },
  { value: '0', label: 'as bright as the sky, or more' },
  { value: '2', label: 'up to 2 mag below the sky' },
  { value: '4', label: 'up to 4 mag below the sky' },
];
</script>

<template>
  <div class="filters" data-test="filters">
    <div class="kinds" role="group" aria-label="Kinds of objects">
      <button
        v-for="k in kinds"
        :key="k"
        type="button"
        class="kind"
        :aria-pressed="criteria.kinds.includes(k)"
        @click="toggle(k)"
      >
        {{ KIND_LABELS[k] }}
      </button>
    </div>
    <PickOne
      :value="criteria.size"
      label="Size"
      shown
      :options="SIZES"
      @update:value="set({ size: $event as TonightCriteria['size'] })"
    />
    <PickOne
      :value="criteria.light"
      label="Hours"
      shown
      :options="lights"
      :dropdown-match-select-width="false"
      @update:value="set({ light: $event as TonightCriteria['light'] })"
    />
    <PickOne
      :value="criteria.belowSkyMag === null ? '' : String(criteria.belowSkyMag)"
      label="Surface brightness"
      shown
      :options="FAINT"
      :dropdown-match-select-width="false"
      @update:value="set({ belowSkyMag: $event === '' ? null : Number($event) })"
    />
    <QuantityInput
      :model-value="criteria.leastHours"
      dimension="number"
      unit="h"
      label="At least"
      :decimals="1"
      :min="0"
      :max="20"
      :step="0.5"
      @update:model-value="$event !== null && set({ leastHours: $event })"
    />
    <QuantityInput
      :model-value="criteria.leastAltitudeDeg"
      dimension="angle"
      label="Reaching"
      :decimals="0"
      :min="0"
      :max="89"
      @update:model-value="$event !== null && set({ leastAltitudeDeg: $event })"
    />
    <QuantityInput
      :model-value="criteria.leastMoonDeg"
      dimension="angle"
      label="From the Moon"
      :decimals="0"
      :min="0"
      :max="180"
      @update:model-value="$event !== null && set({ leastMoonDeg: $event })"
    />
    <span class="row">
      <Checkbox v-if="guided !== null" class="guided" :checked="guided" @update:checked="emit('guided', $event)"
        >with a guide star</Checkbox
      >
      <Button v-if="changed" size="small" @click="emit('reset')">Ask for anything</Button>
    </span>
  </div>
</template>

<style scoped>
.filters {
  display: grid;
  grid-template-columns: 1.2fr 1.3fr 1.4fr repeat(3, 92px) minmax(150px, auto);
  gap: 8px 12px;
  align-items: end;
}
.kinds {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
/* the words stay on the line of the box */
.guided {
  white-space: nowrap;
}
.kind {
  font: inherit;
  font-size: 13px;
  padding: 3px 10px;
  min-height: 28px;
  border: 1px solid var(--line-strong);
  background: transparent;
  color: var(--ink);
  cursor: pointer;
}
.kind[aria-pressed='true'] {
  background: var(--accent);
  color: var(--on-accent);
  border-color: var(--accent);
}
@media (max-width: 1100px) {
  .filters {
    grid-template-columns: repeat(auto-fit, minmax(150px, 1fr));
  }
}
</style>
