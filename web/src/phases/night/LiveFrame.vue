<script setup lang="ts">
import type { RunFrame } from '@keen/core/observatory';
import { figure } from '@keen/core/quantities';
import { computed } from 'vue';
import FilterTile from '../../common/FilterTile.vue';
import { clock } from '../../common/times.ts';
import { useUnits } from '../../stores/units.ts';

/** The last frame: how wide and how long its stars are beside the best of the night, and whether it counts. */
const props = defineProps<{ frames: readonly RunFrame[]; timeZone: string; title?: string }>();
const units = useUnits();
const last = computed(() => props.frames.at(-1) ?? null);
const best = computed(() => {
  const same = props.frames.filter((f) => f.filter === last.value?.filter && f.accepted);
  return same.length ? Math.min(...same.map((f) => f.hfdPx)) : (last.value?.hfdPx ?? 1);
});
/** The picture shows four times the best star. */
const SIZE = 108;
const scale = computed(() => SIZE / (4 * best.value));
/** Half axes of a star of this width and eccentricity, its area as that of a round one. */
const axes = computed(() => {
  const f = last.value;
  if (!f) return { long: 0, short: 0 };
  const ratio = Math.sqrt(1 - f.eccentricity ** 2);
  const r = Math.min(SIZE / 2 - 3, (f.hfdPx * scale.value) / 2);
  return { long: r / Math.sqrt(ratio), short: r * Math.sqrt(ratio) };
});
</script>

<template>
  <section class="panel" data-test="live-frame">
    <h2>{{ title ?? 'Last frame' }}</h2>
    <div v-if="last" class="frame">
      <svg :width="SIZE" :height="SIZE" role="img" aria-label="Shape of its stars beside the best of the night">
        <title>Filled: the stars of this frame. Dashed: the best frame of this filter tonight.</title>
        <ellipse
          :cx="SIZE / 2"
          :cy="SIZE / 2"
          :rx="axes.long"
          :ry="axes.short"
          fill="var(--ink)"
          fill-opacity="0.75"
          :transform="`rotate(-30 ${SIZE / 2} ${SIZE / 2})`"
        />
        <circle
          :cx="SIZE / 2"
          :cy="SIZE / 2"
          :r="(best * scale) / 2"
          fill="none"
          stroke="var(--accent)"
          stroke-width="1.5"
          stroke-dasharray="4 3"
        />
      </svg>
      <div>
        <p class="row">
          <FilterTile :name="last.filter" />
          <span class="mono">{{ clock(last.start, timeZone) }}</span>
          <span>{{ figure(last.exposureS, 0) }} s</span>
        </p>
        <p :class="last.accepted ? 'level-good' : 'level-bad'" class="verdict">
          {{ last.accepted ? 'Counts' : 'Refused' }}
        </p>
        <p v-if="!last.accepted" class="small">
          {{ last.reasonPhrase ? units.say(last.reasonPhrase) : last.reason }}
        </p>
        <p class="small muted">
          HFD {{ figure(last.hfdPx, 2) }} px, best {{ figure(best, 2) }}; eccentricity
          {{ figure(last.eccentricity, 2) }}; {{ last.stars }} stars
        </p>
      </div>
    </div>
    <p v-else class="muted">None yet.</p>
  </section>
</template>

<style scoped>
.frame {
  display: flex;
  gap: 14px;
  align-items: center;
}
svg {
  flex: none;
  background: var(--sunk);
  border: 1px solid var(--line);
}
.verdict {
  font-weight: 650;
}
</style>
