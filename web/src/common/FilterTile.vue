<script setup lang="ts">
import { computed } from 'vue';
import FilterMark from './FilterMark.vue';

const props = defineProps<{ name: string }>();
const width = computed(() => Math.max(24, 12 + 8 * props.name.length));
</script>

<template>
  <svg class="tile" :width="width" height="20" role="img" :aria-label="`filter ${name}`">
    <FilterMark :name="name" :x="0.5" :y="0.5" :width="width - 1" :height="19" :round="2" :size="12" letters />
  </svg>
</template>

<style scoped>
.tile {
  vertical-align: -5px;
  flex: none;
}
</style>
