<script setup lang="ts">
import type { Cycle, Segment } from '@keen/core/dither';
import { figure } from '@keen/core/quantities';
import { computed } from 'vue';

/** One shared cycle of two cameras: who exposes, reads out, waits, and when the mount moves. Two cycles are drawn. */
const props = defineProps<{ cycle: Cycle; second: string }>();
const WIDTH = 1000;
const LEFT = 118;
const ROW = 34;
const X = (s: number) => LEFT + (s / (2 * props.cycle.cycleS)) * (WIDTH - LEFT - 8);
const lanes = computed(() =>
  [
    { name: 'main camera', segments: props.cycle.lead },
    { name: props.second, segments: props.cycle.follower },
  ].map((lane, row) => ({
    ...lane,
    y: 10 + row * (ROW + 10),
    boxes: [0, props.cycle.cycleS].flatMap((from) =>
      lane.segments.map((s) => ({
        ...s,
        x: X(from + s.fromS),
        w: Math.max(0.6, X(from + s.toS) - X(from + s.fromS)),
      })),
    ),
  })),
);
const WORDS: Record<Segment['kind'], string> = {
  exposure: 'exposing',
  download: 'reading out',
  idle: 'waiting',
  dither: 'dither and settling',
};
const marks = computed(() => {
  const step = [10, 20, 30, 60, 120, 300, 600, 1200, 1800].find((s) => (2 * props.cycle.cycleS) / s <= 12) ?? 3600;
  return Array.from({ length: Math.floor((2 * props.cycle.cycleS) / step) + 1 }, (_, i) => i * step);
});
</script>

<template>
  <svg
    :viewBox="`0 0 ${WIDTH} 122`"
    class="cycle"
    role="img"
    :aria-label="`Cycle of ${figure(cycle.cycleS, 0)} seconds, drawn twice`"
  >
    <defs>
      <pattern id="waiting" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <path d="M0 0V7" stroke="var(--caution)" stroke-width="2" />
      </pattern>
    </defs>
    <g v-for="lane in lanes" :key="lane.name">
      <text x="0" :y="lane.y + ROW / 2 + 5" font-size="14" fill="var(--ink)">{{ lane.name.slice(0, 16) }}</text>
      <template v-for="(b, i) in lane.boxes" :key="i">
        <rect :x="b.x" :y="lane.y" :width="b.w" :height="ROW" :class="b.kind">
          <title>{{ WORDS[b.kind] }}, {{ figure(b.toS - b.fromS, 0) }} s</title>
        </rect>
        <text
          v-if="b.kind === 'exposure' && b.w > 34"
          :x="b.x + b.w / 2"
          :y="lane.y + ROW / 2 + 5"
          text-anchor="middle"
          class="mono seconds"
        >
          {{ figure(b.toS - b.fromS, 0) }}
        </text>
      </template>
    </g>
    <g v-for="m in marks" :key="m">
      <path :d="`M${X(m)} 96v6`" stroke="var(--line-strong)" />
      <text :x="X(m)" y="117" text-anchor="middle" font-size="12" fill="var(--ink-2)" class="mono">{{ m }}</text>
    </g>
    <text :x="0" y="117" font-size="12" fill="var(--ink-2)">seconds</text>
  </svg>
  <p class="legend small muted">
    <span class="key exposure-key" /> exposing <span class="key download-key" /> reading out
    <span class="key idle-key" /> waiting for the other <span class="key dither-key" /> dither and settling
  </p>
</template>

<style scoped>
.cycle {
  width: 100%;
}
.exposure {
  fill: var(--lane);
  stroke: var(--lane-edge);
}
.download {
  fill: var(--sunk);
  stroke: var(--line-strong);
}
.idle {
  fill: url('#waiting');
  stroke: var(--caution);
}
.dither {
  fill: var(--accent);
}
.seconds {
  font-size: 14px;
  fill: var(--ink);
}
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  align-items: center;
}
.key {
  display: inline-block;
  width: 20px;
  height: 12px;
  border: 1px solid var(--line-strong);
  margin-left: 8px;
}
.exposure-key {
  background: var(--lane);
  border-color: var(--lane-edge);
}
.download-key {
  background: var(--sunk);
}
.idle-key {
  border-color: var(--caution);
  background: repeating-linear-gradient(45deg, transparent 0 3px, var(--caution) 3px 5px);
}
.dither-key {
  background: var(--accent);
}
</style>
