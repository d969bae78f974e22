<script setup lang="ts">
import type { ProjectRecord } from '@keen/contract';
import { useElementSize } from '@vueuse/core';
import { computed, ref } from 'vue';
import FilterMark from '../../common/FilterMark.vue';
import { dayName } from '../../common/times.ts';

/** Open-shutter minutes a night, stacked by filter: what each clear night added. */
const props = defineProps<{ project: ProjectRecord }>();
const box = ref<HTMLElement>();
const { width } = useElementSize(box);
const HEIGHT = 120;
const nights = computed(() => {
  const by = new Map<string, { filter: string; minutes: number; accepted: number }[]>();
  for (const n of props.project.nights)
    by.set(n.night, [
      ...(by.get(n.night) ?? []),
      { filter: n.filter, minutes: (n.accepted * n.exposureS) / 60, accepted: n.accepted },
    ]);
  const place = (f: string) => props.project.goals.findIndex((g) => g.filter === f);
  for (const list of by.values()) list.sort((a, b) => place(b.filter) - place(a.filter));
  return [...by].sort(([a], [b]) => (a < b ? -1 : 1)).slice(-14);
});
const most = computed(() => Math.max(60, ...nights.value.map(([, f]) => f.reduce((s, x) => s + x.minutes, 0))));
const bars = computed(() => {
  const step = Math.min(90, (width.value - 10) / Math.max(1, nights.value.length));
  return nights.value.map(([night, filters], i) => {
    let y = HEIGHT - 22;
    return {
      night,
      x: 4 + i * step,
      w: step - 8,
      total: filters.reduce((s, f) => s + f.minutes, 0),
      pieces: filters.map((f) => {
        const h = (f.minutes / most.value) * (HEIGHT - 44);
        y -= h;
        return { ...f, y, h };
      }),
      top: () => y,
    };
  });
});
</script>

<template>
  <div ref="box">
    <svg
      v-if="width > 0 && nights.length"
      :width="width"
      :height="HEIGHT"
      role="img"
      aria-label="Minutes gathered by night and filter"
    >
      <path :d="`M0 ${HEIGHT - 22}H${width}`" stroke="var(--line)" />
      <g v-for="b in bars" :key="b.night">
        <FilterMark
          v-for="p in b.pieces"
          :key="p.filter"
          :name="p.filter"
          :x="b.x"
          :y="p.y"
          :width="b.w"
          :height="Math.max(0, p.h - 0.8)"
          :letters="p.h > 13"
        >
          <title>{{ dayName(b.night) }} {{ p.filter }}: {{ p.accepted }} frames, {{ Math.round(p.minutes) }} min</title>
        </FilterMark>
        <text
          :x="b.x + b.w / 2"
          :y="b.top() - 5"
          text-anchor="middle"
          font-size="11.5"
          fill="var(--ink-2)"
          class="mono"
        >
          {{ (b.total / 60).toFixed(1) }} h
        </text>
        <text :x="b.x + b.w / 2" :y="HEIGHT - 6" text-anchor="middle" font-size="11.5" fill="var(--ink-2)">
          {{ dayName(b.night) }}
        </text>
      </g>
    </svg>
    <p v-if="!nights.length" class="muted small">
      No night yet. What a real night brings in under Morning stands here.
    </p>
  </div>
</template>
