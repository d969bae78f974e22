<script setup lang="ts">
import { computed } from 'vue';
import FilterMark from '../../common/FilterMark.vue';

/** Exposures as lettered tiles, everything else as gaps by kind. Drawn inside an svg. */
const props = defineProps<{
  events: readonly { kind: string; start: string; end: string; filter?: string; frame?: number; text?: string }[];
  x: (ms: number) => number;
  y: number;
  height: number;
  /** Draw focus, slew, flip and waiting too, with their own marks. */
  detailed?: boolean;
}>();
const GAP: Record<string, string> = {
  focus: 'var(--accent)',
  flip: 'var(--bad)',
  slew: 'var(--ink-2)',
  cloud: 'var(--ghost)',
  opening: 'var(--lane)',
  closing: 'var(--lane)',
};
const tiles = computed(() =>
  props.events
    .filter((e) => e.kind === 'expose')
    .map((e) => {
      const [a, b] = [props.x(Date.parse(e.start)), props.x(Date.parse(e.end))];
      return {
        x: a,
        w: Math.max(0.8, b - a - (b - a > 6 ? 1 : 0.2)),
        filter: e.filter ?? '',
        frame: e.frame,
      };
    }),
);
const gaps = computed(() =>
  props.detailed
    ? props.events
        .filter((e) => e.kind in GAP || (e.kind === 'wait' && Date.parse(e.end) - Date.parse(e.start) > 240_000))
        .map((e) => ({
          x: props.x(Date.parse(e.start)),
          w: Math.max(1.2, props.x(Date.parse(e.end)) - props.x(Date.parse(e.start))),
          kind: e.kind,
          filter: e.filter,
        }))
    : [],
);
const fits = (w: number, text: string) => w > 5 + 7 * text.length;
</script>

<template>
  <g>
    <g v-for="(g, i) in gaps" :key="`g${i}`">
      <rect
        :x="g.x"
        :y="y"
        :width="g.w"
        :height="height"
        :fill="GAP[g.kind] ?? 'none'"
        :fill-opacity="g.kind === 'cloud' ? 0.35 : 0.85"
        :stroke="g.kind === 'wait' ? 'var(--ghost)' : 'none'"
        stroke-dasharray="3 3"
      >
        <title>{{ g.kind }}{{ g.filter ? ` ${g.filter}` : '' }}</title>
      </rect>
      <text
        v-if="g.kind === 'cloud' && g.w > 40"
        :x="g.x + g.w / 2"
        :y="y + height / 2 + 4"
        text-anchor="middle"
        font-size="11.5"
        fill="var(--ink)"
        >cloud</text
      >
      <text
        v-if="g.kind === 'wait' && g.w > 40"
        :x="g.x + g.w / 2"
        :y="y + height / 2 + 4"
        text-anchor="middle"
        font-size="11.5"
        fill="var(--ink-2)"
        >idle</text
      >
    </g>
    <FilterMark
      v-for="(t, i) in tiles"
      :key="i"
      :name="t.filter"
      :x="t.x"
      :y="y"
      :width="t.w"
      :height="height"
      :letters="fits(t.w, t.filter)"
    >
      <title>{{ t.filter }} {{ t.frame }}</title>
    </FilterMark>
  </g>
</template>
