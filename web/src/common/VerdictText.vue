<script setup lang="ts">
import { CheckCircleFilled, ExclamationCircleFilled, WarningFilled } from '@ant-design/icons-vue';
import type { Verdict } from '@keen/core/calculation';
import { computed } from 'vue';
import { useUnits } from '../stores/units.ts';

/** A verdict as one small line, in the reader's units: for places where several stand together. */
const props = defineProps<{ verdict: Verdict }>();
const units = useUnits();
const icon = computed(
  () => ({ good: CheckCircleFilled, caution: ExclamationCircleFilled, bad: WarningFilled })[props.verdict.level],
);
</script>

<template>
  <p :class="`level-${verdict.level}`"><component :is="icon" aria-hidden="true" /> {{ units.verdict(verdict) }}</p>
</template>
