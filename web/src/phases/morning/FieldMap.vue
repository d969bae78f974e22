<script setup lang="ts">
import type { FrameMeasures, ListedStar } from '@keen/core/frames';
import { figure } from '@keen/core/quantities';
import { computed } from 'vue';

/**
 * The field from above: how wide stars are in nine cells, by tint and number, and how they are drawn out, as whiskers
 * along their long axis. A whisker is as long as a star is longer than wide.
 */
const props = defineProps<{ look: FrameMeasures; stars: readonly ListedStar[] }>();
const W = 300;
const h = computed(() => (W * props.look.heightPx) / props.look.widthPx);
const scale = computed(() => W / props.look.widthPx);
/** Whiskers begin where roundness is beyond what noise makes of a round star. */
const ROUND = 0.3;
const LONG = 26;
interface Mark {
  x: number;
  y: number;
  eccentricity: number;
  angleDeg: number;
}
const whisker = ({ x, y, eccentricity, angleDeg }: Mark, most: number) => {
  const a = (angleDeg * Math.PI) / 180;
  const half = (most / 2) * Math.max(0, (eccentricity - ROUND) / (1 - ROUND));
  // y runs upward in the field and downward on the screen
  return {
    x1: x - half * Math.cos(a),
    y1: y + half * Math.sin(a),
    x2: x + half * Math.cos(a),
    y2: y - half * Math.sin(a),
  };
};
const cells = computed(() => {
  const widths = props.look.grid.flatMap((c) => c.hfdPx ?? []);
  const best = Math.min(...widths);
  return props.look.grid.map((c) => {
    const [w, height] = [W / 3, h.value / 3];
    const [x, y] = [c.col * w, (2 - c.row) * height];
    // half again as wide as the best cell is as dark as it gets
    const share = c.hfdPx === null ? 0 : Math.min(1, (c.hfdPx / best - 1) / 0.5);
    const mark =
      c.eccentricity === null || c.angleDeg === null
        ? null
        : whisker({ x: x + w / 2, y: y + height / 2, eccentricity: c.eccentricity, angleDeg: c.angleDeg }, w * 0.8);
    return {
      key: `${c.row}${c.col}`,
      x,
      y,
      w,
      height,
      share,
      mark,
      text: c.hfdPx === null ? '–' : figure(c.hfdPx, 1),
      used: c.used,
    };
  });
});
const marks = computed(() =>
  props.stars.flatMap((s) =>
    s.eccentricity === null || s.angleDeg === null
      ? []
      : [
          whisker(
            {
              x: s.x * scale.value,
              y: h.value - s.y * scale.value,
              eccentricity: s.eccentricity,
              angleDeg: s.angleDeg,
            },
            LONG,
          ),
        ],
  ),
);
const caption = computed(
  () =>
    `Width of stars in nine cells, bottom row first: ${props.look.grid.map((c) => (c.hfdPx === null ? 'unknown' : figure(c.hfdPx, 1))).join(', ')} px`,
);
</script>

<template>
  <svg :viewBox="`0 0 ${W} ${h}`" role="img" :aria-label="caption" data-test="field-map">
    <rect x="0" y="0" :width="W" :height="h" fill="var(--surface)" />
    <g v-for="c in cells" :key="c.key">
      <rect
        :x="c.x"
        :y="c.y"
        :width="c.w"
        :height="c.height"
        fill="var(--bad)"
        :fill-opacity="0.5 * c.share"
        stroke="var(--line)"
      />
      <line
        v-if="c.mark && !stars.length"
        v-bind="c.mark"
        stroke="var(--ink)"
        stroke-width="3"
        stroke-linecap="round"
      />
      <text :x="c.x + 5" :y="c.y + 14" font-size="11.5" fill="var(--ink)" class="mono">{{ c.text }}</text>
    </g>
    <line v-for="(m, i) in marks" :key="i" v-bind="m" stroke="var(--ink)" stroke-width="1.2" />
    <rect x="0.5" y="0.5" :width="W - 1" :height="h - 1" fill="none" stroke="var(--line-strong)" />
  </svg>
</template>

<style scoped>
svg {
  width: 100%;
  height: auto;
  display: block;
}
</style>
