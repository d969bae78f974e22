<script setup lang="ts">
import { phrase } from '@keen/core/phrases';
import type { FrameGuiding } from '@keen/core/frames';
import { figure } from '@keen/core/quantities';
import { computed } from 'vue';
import { useUnits } from '../../stores/units.ts';
import type { JoinedLog } from './useNightGuiding.ts';

/** How the mount was guided while one shutter was open: the piece of the log, its scatter, and what it did to the frame. */
const props = defineProps<{ guiding: FrameGuiding; log: JoinedLog | null; startedAt: string; exposureS: number }>();
const units = useUnits();
const by = computed(() => {
  const { log, covered } = props.guiding;
  return covered < 0.95
    ? phrase('guided.by-part', { log, coveredPercent: 100 * covered })
    : phrase('guided.by', { log });
});
const [W, H] = [320, 84];
const piece = computed(() => {
  const from = props.log ? (Date.parse(props.startedAt) - props.log.beganAtMs) / 1000 : 0;
  return (props.log?.samples ?? [])
    .filter((s) => s.timeS >= from && s.timeS <= from + props.exposureS)
    .map((s) => ({ ...s, at: s.timeS - from }));
});
/** Half the height of the picture [″]. */
const reach = computed(() => Math.max(1, ...piece.value.flatMap((s) => [Math.abs(s.raArcsec), Math.abs(s.decArcsec)])));
const x = (s: number) => (W * s) / props.exposureS;
const y = (arcsec: number) => H / 2 - ((H / 2 - 3) * arcsec) / reach.value;
const path = (of: 'raArcsec' | 'decArcsec') => {
  let [line, on] = ['', false];
  for (const s of piece.value) {
    const there = s.state !== 'lost';
    if (there) line += `${on ? 'L' : 'M'}${x(s.at).toFixed(1)} ${y(s[of]).toFixed(1)}`;
    on = there;
  }
  return line;
};
const unrest = computed(() =>
  piece.value.filter((s) => s.state === 'lost' || s.state === 'dithering' || s.state === 'settling'),
);
</script>

<template>
  <div class="stack during" data-test="guided">
    <p>
      <template v-if="guiding.rmsArcsec !== null"
        >Guided to <strong class="mono">{{ figure(guiding.rmsArcsec, 2) }}″</strong>, farthest
        {{ figure(guiding.peakArcsec!, 1) }}″<template v-if="guiding.explains !== null"
          >; leaves stars {{ figure(guiding.explains, 2) }} times as long as wide</template
        >. </template
      ><span class="muted small">{{ units.say(by) }}</span>
    </p>
    <p v-for="p in guiding.phrases" :key="p.code" class="level-caution">{{ units.say(p) }}</p>
    <svg
      v-if="piece.length > 1"
      :viewBox="`0 0 ${W} ${H}`"
      role="img"
      :aria-label="`Guide errors during this frame, ±${figure(reach, 1)}″: right ascension solid, declination dashed`"
    >
      <line :x1="0" :x2="W" :y1="H / 2" :y2="H / 2" class="zero" />
      <rect v-for="s in unrest" :key="s.at" :x="x(s.at) - 1" y="0" width="2" :height="H" class="unrest" />
      <path :d="path('raArcsec')" class="ra" />
      <path :d="path('decArcsec')" class="dec" />
      <text x="2" y="11">{{ figure(reach, 1) }}″</text>
    </svg>
  </div>
</template>

<style scoped>
.during p {
  margin: 0;
}
svg {
  width: 100%;
  border: 1px solid var(--line);
}
path {
  fill: none;
  stroke-width: 1.3;
}
.ra {
  stroke: var(--caution);
}
.dec {
  stroke: var(--violet, var(--ink-2));
  stroke-dasharray: 5 3;
}
.zero {
  stroke: var(--line-strong);
  stroke-width: 0.6;
}
.unrest {
  fill: var(--bad);
  opacity: 0.35;
}
text {
  font-size: 10px;
  fill: var(--ink-2);
}
</style>
