<script setup lang="ts">
import type { GuidePathOutput } from '@keen/core/train';
import { scaleLinear } from 'd3-scale';
import { computed } from 'vue';
import { useUnits } from '../../stores/units.ts';

const units = useUnits();

/** What the guide side reaches, and what is wanted, on one line of millimetres. */
const props = defineProps<{ path: GuidePathOutput }>();
const EDGE_MM = 3;
const x = computed(() => {
  const { guideRangeMm: range, guideTargetMm: target } = props.path;
  return scaleLinear([Math.min(range.min, target) - EDGE_MM, Math.max(range.max, target) + EDGE_MM], [10, 310]);
});
/** Which side of the stroke has room for its words. */
const right = computed(() => x.value(props.path.guideTargetMm) < 230);
const words = computed(() => {
  const { guideRangeMm: range, guideTargetMm: target } = props.path;
  return `Guide side reaches ${units.length(range.min, 1)} to ${units.length(range.max, 1)}, wanted ${units.length(target, 1)}`;
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
    <text
      :x="x(path.guideTargetMm) + (right ? 6 : -6)"
      y="44"
      :text-anchor="right ? 'start' : 'end'"
      font-size="11"
      fill="var(--ink-2)"
    >
      wanted {{ units.length(path.guideTargetMm, 1) }}
    </text>
  </svg>
</template>
