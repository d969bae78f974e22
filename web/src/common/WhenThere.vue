<script setup lang="ts">
import { computed } from 'vue';
import type { Answer } from './answer.ts';
import StillComing from './StillComing.vue';

/**
 * Shows its content once everything it rests on is there; until then what is coming, or what failed with “Try again”.
 * Where something that is there could not be read anew, that is said above it.
 */
const props = defineProps<{ of: readonly Pick<Answer<unknown>, 'what' | 'trouble' | 'there' | 'load'>[] }>();
const failed = computed(() => props.of.filter((a) => a.trouble.value));
const coming = computed(() => props.of.find((a) => !a.there.value && !a.trouble.value));
const there = computed(() => props.of.every((a) => a.there.value));
</script>

<template>
  <StillComing v-for="a in failed" :key="a.what" :what="a.what" :failed="a.trouble.value" @again="a.load()" />
  <slot v-if="there" />
  <StillComing v-else-if="coming" :what="coming.what" />
</template>
