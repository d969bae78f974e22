<script setup lang="ts" generic="F extends string">
import PickOne from './PickOne.vue';

/** Which column of a file means what; further choices of its reading go into the slot. */
defineProps<{
  fields: readonly F[];
  words: Record<F, string>;
  columns: readonly string[];
  mapping: Partial<Record<F, string>>;
}>();
const emit = defineEmits<{ map: [mapping: Partial<Record<F, string>>] }>();
function changed(mapping: Partial<Record<F, string>>, field: F, column: unknown) {
  const next = { ...mapping };
  if (typeof column === 'string' && column !== '') next[field] = column;
  else delete next[field];
  emit('map', next);
}
</script>

<template>
  <div class="mapping">
    <PickOne
      v-for="f in fields"
      :key="f"
      shown
      size="small"
      :label="words[f]"
      :value="mapping[f] ?? ''"
      :options="[{ value: '', label: '(none)' }, ...columns.map((c) => ({ value: c, label: c }))]"
      @update:value="changed(mapping, f, $event)"
    />
    <slot />
  </div>
</template>

<style scoped>
.mapping {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(140px, 1fr));
  gap: 8px 12px;
}
</style>
