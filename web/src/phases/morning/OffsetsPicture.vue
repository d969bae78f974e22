<script setup lang="ts">
import type { OffsetsOutput } from '@keen/core/focus';
import { figure, signed } from '@keen/core/quantities';
import { scaleLinear } from 'd3-scale';
import { useElementSize } from '@vueuse/core';
import { computed, ref } from 'vue';
import FilterTile from '../../common/FilterTile.vue';

/** Offsets with their 95 % bars against the focus zone; plain averages beside them as hollow marks. */
const props = defineProps<{
  found: OffsetsOutput;
  reference: string;
  zoneSteps: number | null;
  adopted: Record<string, { steps: number }> | null;
}>();
const box = ref<HTMLElement>();
const { width } = useElementSize(box);
const rows = computed(() =>
  Object.entries(props.found.offsets)
    .map(([filter, o]) => ({
      filter,
      ...o,
      naive: props.found.naiveOffsets[filter] ?? 0,
      before: props.adopted?.[filter]?.steps ?? null,
    }))
    .sort((a, b) => a.steps - b.steps),
);
const x = computed(() => {
  const half = (props.zoneSteps ?? 0) / 2;
  const lows = rows.value.flatMap((r) => [r.steps - r.interval95, r.naive, r.before ?? r.steps]);
  const highs = rows.value.flatMap((r) => [r.steps + r.interval95, r.naive, r.before ?? r.steps]);
  return scaleLinear([Math.min(-half, ...lows), Math.max(half, ...highs)], [14, Math.max(80, width.value - 14)]).nice();
});
const ROW = 34;
const height = computed(() => rows.value.length * ROW + 26);
</script>

<template>
  <div class="picture">
    <div class="names" :style="{ gridAutoRows: `${ROW}px` }">
      <span v-for="r in rows" :key="r.filter" class="row"><FilterTile :name="r.filter" /></span>
    </div>
    <div ref="box">
      <svg v-if="width > 0" :width="width" :height="height" role="img" aria-label="Offsets with error bars">
        <rect
          v-if="zoneSteps"
          :x="x(-zoneSteps / 2)"
          y="0"
          :width="x(zoneSteps / 2) - x(-zoneSteps / 2)"
          :height="rows.length * ROW"
          fill="var(--good-wash)"
        >
          <title>Critical focus zone about the reference: {{ figure(zoneSteps, 0) }} steps</title>
        </rect>
        <g v-for="t in x.ticks(5)" :key="t">
          <path :d="`M${x(t)} 0V${rows.length * ROW}`" stroke="var(--line)" stroke-width="0.7" />
          <text :x="x(t)" :y="height - 8" text-anchor="middle" font-size="12" fill="var(--ink-2)" class="mono">
            {{ signed(t, 0) }}
          </text>
        </g>
        <g v-for="(r, i) in rows" :key="r.filter" :transform="`translate(0 ${ROW * (i + 0.5)})`">
          <path
            :d="`M${x(r.steps - r.interval95)} 0H${x(r.steps + r.interval95)}M${x(r.steps - r.interval95)}-5v10M${x(r.steps + r.interval95)}-5v10`"
            stroke="var(--ink)"
            stroke-width="1.6"
          />
          <circle :cx="x(r.steps)" r="4.5" fill="var(--ink)" />
          <path v-if="r.before !== null" :d="`M${x(r.before)}-11v22`" stroke="var(--accent)" stroke-width="2">
            <title>adopted: {{ signed(r.before, 0) }}</title>
          </path>
          <circle
            v-if="r.filter !== reference"
            :cx="x(r.naive)"
            r="5"
            fill="none"
            stroke="var(--bad)"
            stroke-width="1.6"
          >
            <title>plain average: {{ signed(r.naive, 0) }}</title>
          </circle>
        </g>
      </svg>
    </div>
    <table class="figures">
      <tbody>
        <tr v-for="r in rows" :key="r.filter" :style="{ height: `${ROW}px` }">
          <td class="num">
            {{ r.filter === reference ? 'reference' : `${signed(r.steps, 0)} ± ${figure(r.interval95, 1)}` }}
          </td>
          <td class="num muted">{{ r.filter === reference ? '' : signed(r.naive, 0) }}</td>
          <td class="num muted">{{ r.runs }}</td>
        </tr>
        <tr class="heads">
          <td class="num">steps, ± at 95 %</td>
          <td class="num">plain</td>
          <td class="num">runs</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.picture {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: 12px;
}
.names {
  display: grid;
  align-content: start;
}
td {
  padding: 0 6px;
}
.heads td {
  color: var(--ink-2);
  font-size: 12px;
  font-family: inherit;
}
</style>
