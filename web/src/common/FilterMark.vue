<script setup lang="ts">
import { computed } from 'vue';
import { useLight } from '../stores/light.ts';
import { filterLook, hatchId } from './filters.ts';

/** A filter's tile inside a drawing: colour of its light, hatch, and its letters where they fit. The slot holds its title. */
const props = defineProps<{
  name: string;
  x: number;
  y: number;
  width: number;
  height: number;
  letters: boolean;
  round?: number;
  size?: number;
}>();
const light = useLight();
const look = computed(() => filterLook(props.name));
const red = computed(() => light.light === 'dark-adapted');
/** Narrower than this a hatch is noise. */
const HATCH_FROM = 4;
</script>

<template>
  <g>
    <rect
      :x="x"
      :y="y"
      :width="width"
      :height="height"
      :rx="round"
      :fill="red ? 'var(--part)' : look.colour"
      :stroke="red ? 'var(--ink-2)' : 'none'"
      stroke-width="0.8"
    >
      <slot />
    </rect>
    <rect
      v-if="!red && width > HATCH_FROM"
      :x="x"
      :y="y"
      :width="width"
      :height="height"
      :rx="round"
      :fill="`url(#${hatchId(name)})`"
      pointer-events="none"
    />
    <text
      v-if="letters"
      :x="x + width / 2"
      :y="y + height / 2 + (size ?? 11) * 0.36"
      text-anchor="middle"
      :font-size="size ?? 11"
      font-weight="700"
      :fill="red ? 'var(--ink)' : look.ink"
      pointer-events="none"
    >
      {{ name }}
    </text>
  </g>
</template>
