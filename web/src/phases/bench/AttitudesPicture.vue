<script setup lang="ts">
import { attitudeTorqueNm } from '@keen/core/balance';
import { computed } from 'vue';
import { useUnits } from '../../stores/units.ts';

const units = useUnits();

/** Level, halfway, upright: what the tube does when it is let go, by the moment it has now. */
const props = defineProps<{ moment: { x: number; y: number; z: number } }>();
const rows = computed(() =>
  (
    [
      [0, 'level'],
      [45, 'halfway'],
      [90, 'upright'],
    ] as const
  ).map(([deg, name]) => {
    const nm = attitudeTorqueNm(props.moment, deg);
    return { deg, name, nm, still: Math.abs(nm) < 0.05, down: nm > 0 };
  }),
);
</script>

<template>
  <div class="row three">
    <figure v-for="r in rows" :key="r.name">
      <svg
        viewBox="-70 -66 140 132"
        width="150"
        role="img"
        :aria-label="`${r.name}: ${r.still ? 'stays' : r.down ? 'front falls' : 'tail falls'}`"
      >
        <circle r="3" fill="var(--accent)" />
        <g :transform="`rotate(${-r.deg})`">
          <rect x="-40" y="-11" width="76" height="22" fill="var(--part)" stroke="var(--ink)" stroke-width="1.4" />
          <rect x="36" y="-14" width="10" height="28" fill="var(--part)" stroke="var(--ink)" stroke-width="1.4" />
          <rect x="-54" y="-8" width="14" height="16" fill="var(--part)" stroke="var(--ink)" stroke-width="1.4" />
          <path
            v-if="!r.still"
            :d="r.down ? 'M54 -14q14 14 0 30m-5 -8l5 8l8 -4' : 'M54 16q14 -16 0 -30m-5 8l5 -8l8 4'"
            fill="none"
            stroke="var(--bad)"
            stroke-width="2"
          />
        </g>
      </svg>
      <figcaption>
        <strong>{{ r.name }}</strong><br />
        <span :class="r.still ? 'level-good' : 'level-bad'"
          >{{ r.still ? 'stays' : r.down ? 'front sinks' : 'tail sinks' }}, {{ units.torque(Math.abs(r.nm), 2) }}</span
        >
      </figcaption>
    </figure>
  </div>
  <p class="muted small">
    Seen from the tube’s side, tube at the left of the mount, declination clutch open. Swinging only upright means that
    mass sits sideways: sliding will not cure it.
  </p>
</template>

<style scoped>
.three {
  gap: 40px;
}
figure {
  margin: 0;
  text-align: center;
}
</style>
