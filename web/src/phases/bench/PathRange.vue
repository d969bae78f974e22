<script setup lang="ts">
import { figure } from '@keen/core/quantities';
import type { GuidePathOutput } from '@keen/core/train';
import { scaleLinear } from 'd3-scale';
import { computed } from 'vue';

/** What the guide side reaches, and what is wanted, on one line of millimetres. */
const props = defineProps<{ path: GuidePathOutput }>();
const EDGE_MM = 3;
const x = computed(() => {
  const { guideRangeMm: range, guideTargetMm: target } = props.path;
  return scaleLinear([Math.min(range.min, target) - EDGE_MM, Math.max(range.max, target) + EDGE_MM], [10, 310]);
});
const words = computed(() => {
  const { guideRangeMm: range, guideTargetMm: target } = props.path;
  return `Guide side reaches ${figure(range.min, 1)} to ${figure(range.max, 1)} mm, wanted ${figure(target, 1)} mm`;
});
</script>

<template>
  <svg viewBox="0 0 320 46" role="img" :aria-label="words">
    <path d="M10 24H310" stroke="var(--line-strong)" />
    <rect
      :x="x(path.guideRangeMm.min)"
      y="17"
      :width="Math.max(3, x(path.guideRangeMm.max) - x(path.guideRangeMm.min))"
      height="14"
      fill="var(--lane)"
      stroke="var(--lane-edge)"
    />
    <path
      :d="`M${x(path.guideTargetMm)} 8v32`"
      :stroke="path.reachable ? 'var(--good)' : 'var(--bad)'"
      stroke-width="2.4"
    />
    <text :x="Math.min(250, Math.max(4, x(path.guideTargetMm) - 30))" y="45" font-size="11" fill="var(--ink-2)">
      wanted {{ figure(path.guideTargetMm, 1) }}
    </text>
  </svg>
</template>
