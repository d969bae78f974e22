<script setup lang="ts">
import { COLOUR_SETS, FILTER_SETS } from '@keen/core/rig';
import { Button, Input } from 'ant-design-vue';
import { computed } from 'vue';
import FilterTile from '../../common/FilterTile.vue';
import type { useFirstEvening } from './useFirstEvening.ts';

/** Filters by slot: written down before the wheel is closed. */
const props = defineProps<{ evening: ReturnType<typeof useFirstEvening> }>();
const draft = computed(() => props.evening.draft.value);
const sets = computed(() => (draft.value.bayer === 'mono' ? FILTER_SETS : COLOUR_SETS.filter((s) => s.filters.length)));
const twice = computed(() => {
  const names = draft.value.filters.map((f) => f.trim()).filter((f) => f && f !== 'blank');
  return names.find((f, i) => names.indexOf(f) !== i);
});
</script>

<template>
  <div class="row small">
    <span class="muted">Begin with</span>
    <Button v-for="s in sets" :key="s.key" size="small" @click="draft.filters = [...s.filters]">{{ s.label }}</Button>
  </div>
  <ol class="slots">
    <li v-for="(f, i) in draft.filters" :key="i" class="row">
      <span class="muted mono">{{ i + 1 }}</span>
      <Input
        v-model:value="draft.filters[i]"
        class="filter"
        :maxlength="40"
        :aria-label="`Slot ${i + 1}`"
        placeholder="blank"
      />
      <FilterTile v-if="f.trim()" :name="f" />
      <Button type="text" size="small" :aria-label="`Remove slot ${i + 1}`" @click="draft.filters.splice(i, 1)"
        >✕</Button
      >
    </li>
  </ol>
  <Button v-if="draft.filters.length < 12" size="small" class="add" @click="draft.filters.push('')">Add a slot</Button>
  <p v-if="twice" class="level-caution small">{{ twice }} stands in two slots: name the second one differently.</p>
  <p class="muted small">
    Write the order down before the {{ draft.holder }} is closed, and check it twice. A slot that holds nothing stays
    “blank”; it is good for darks.
  </p>
</template>

<style scoped>
.slots {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 6px;
}
.filter {
  width: 120px;
}
.add {
  justify-self: start;
}
</style>
