<script setup lang="ts">
import type { Place } from '@keen/core/dither';
import { computed } from 'vue';

/** Where successive dithers put the framing, to scale, against the pixels of the finest camera. */
const props = defineProps<{ places: readonly Place[]; scaleArcsec: number; pixelOf: string }>();
const SIDE = 260;
/** Beyond so many places the moves between them only blur the picture. */
const MOST_JOINED = 60;
const reach = computed(
  () => Math.max(props.scaleArcsec, ...props.places.map((p) => Math.max(Math.abs(p.x), Math.abs(p.y)))) * 1.12,
);
const k = computed(() => SIDE / 2 / reach.value);
/** The pixel grid where it can still be told apart, every so many pixels. */
const every = computed(() => [1, 2, 5, 10, 20, 50, 100].find((n) => n * props.scaleArcsec * k.value >= 8) ?? 200);
const lines = computed(() => {
  const step = every.value * props.scaleArcsec * k.value;
  const n = Math.floor(SIDE / 2 / step);
  return Array.from({ length: 2 * n + 1 }, (_, i) => SIDE / 2 + (i - n) * step);
});
const at = (p: Place): [number, number] => [SIDE / 2 + p.x * k.value, SIDE / 2 - p.y * k.value];
const path = computed(
  () =>
    `M${props.places
      .map((p) =>
        at(p)
          .map((v) => v.toFixed(1))
          .join(','),
      )
      .join('L')}`,
);
</script>

<template>
  <figure>
    <svg :viewBox="`0 0 ${SIDE} ${SIDE}`" role="img" :aria-label="`${places.length} dither positions`">
      <rect :width="SIDE" :height="SIDE" fill="var(--sunk)" />
      <g stroke="var(--line)" stroke-width="0.7">
        <path v-for="v in lines" :key="v" :d="`M${v} 0V${SIDE}M0 ${v}H${SIDE}`" />
      </g>
      <path v-if="places.length <= MOST_JOINED" :d="path" fill="none" stroke="var(--ghost)" stroke-width="0.8" />
      <circle
        v-for="(p, i) in places"
        :key="i"
        :cx="at(p)[0]"
        :cy="at(p)[1]"
        :r="(i === 0 ? 1.5 : 1) * (places.length > 120 ? 2 : places.length > 40 ? 2.4 : 3)"
        :fill="i === 0 ? 'var(--accent)' : 'var(--ink)'"
      />
    </svg>
    <figcaption class="muted small">
      A square is {{ every === 1 ? 'one pixel' : `${every} × ${every} pixels` }} of the {{ pixelOf }}; brass: the first
      place.
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
  width: 260px;
  max-width: 100%;
}
</style>
