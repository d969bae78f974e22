<script setup lang="ts">
import { computed } from 'vue';
import { useLight } from '../stores/light.ts';
import { filterLook, hatchId } from './filters.ts';

const props = defineProps<{ name: string }>();
const light = useLight();
const look = computed(() => filterLook(props.name));
const red = computed(() => light.light === 'dark-adapted');
const width = computed(() => Math.max(24, 12 + 8 * props.name.length));
</script>

<template>
  <svg class="tile" :width="width" height="20" role="img" :aria-label="`filter ${name}`">
    <rect
      x="0.5"
      y="0.5"
      :width="width - 1"
      height="19"
      rx="2"
      :fill="red ? 'var(--part)' : look.colour"
      :stroke="red ? 'var(--ink)' : 'none'"
    />
    <rect v-if="!red" x="0.5" y="0.5" :width="width - 1" height="19" rx="2" :fill="`url(#${hatchId(name)})`" />
    <text
      :x="width / 2"
      y="14.5"
      text-anchor="middle"
      font-size="12"
      font-weight="700"
      :fill="red ? 'var(--ink)' : look.ink"
    >
      {{ name }}
    </text>
  </svg>
</template>

<style scoped>
.tile {
  vertical-align: -5px;
  flex: none;
}
</style>
