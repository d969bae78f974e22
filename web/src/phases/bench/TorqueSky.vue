<script setup lang="ts">
import { torqueAt, type Moment } from '@keen/core/balance';
import { figure } from '@keen/core/quantities';
import { computed, ref } from 'vue';
import { useUnits } from '../../stores/units.ts';

const units = useUnits();

/** Torque over the sky: hour angle across, declination up; tube on the side it is on before and after the flip. */
const props = defineProps<{ before: Moment; after: Moment | null; latitudeDeg: number }>();
const which = ref<'now' | 'after'>('now');
const axis = ref<'ra' | 'dec'>('ra');
const COLUMNS = 25;
const ROWS = 13;
const south = computed(() => props.latitudeDeg < 0);
const moment = computed(() => (which.value === 'after' && props.after ? props.after : props.before));

const cells = computed(() => {
  const list: { x: number; y: number; value: number; up: boolean; h: number; dec: number }[] = [];
  for (let c = 0; c < COLUMNS; c++)
    for (let r = 0; r < ROWS; r++) {
      const h = -90 + (180 * c) / (COLUMNS - 1);
      const dec = (south.value ? -1 : 1) * (90 - (130 * r) / (ROWS - 1));
      // looking west the tube stands east of the pier, and the other way round
      const t = torqueAt(moment.value, props.latitudeDeg, h, dec, h >= 0 ? 'east' : 'west');
      const rad = Math.PI / 180;
      const sin =
        Math.sin(dec * rad) * Math.sin(props.latitudeDeg * rad) +
        Math.cos(dec * rad) * Math.cos(props.latitudeDeg * rad) * Math.cos(h * rad);
      list.push({ x: c, y: r, value: axis.value === 'ra' ? t.raNm : t.decNm, up: sin > 0, h, dec });
    }
  return list;
});
const worst = computed(() => Math.max(...cells.value.filter((c) => c.up).map((c) => Math.abs(c.value)), 0));
/** Full ink at 2 N·m: the same in every picture, so that pictures can be compared. */
const ink = (v: number) => Math.min(1, Math.sqrt(Math.abs(v) / 2));
</script>

<template>
  <div class="sky">
    <div class="row small">
      <span class="toggle" role="group" aria-label="Axis">
        <button type="button" :aria-pressed="axis === 'ra'" @click="axis = 'ra'">right ascension</button>
        <button type="button" :aria-pressed="axis === 'dec'" @click="axis = 'dec'">declination</button>
      </span>
      <span v-if="after" class="toggle" role="group" aria-label="State">
        <button type="button" :aria-pressed="which === 'now'" @click="which = 'now'">now</button>
        <button type="button" :aria-pressed="which === 'after'" @click="which = 'after'">after the moves</button>
      </span>
    </div>
    <svg viewBox="0 0 300 172" role="img" :aria-label="`Torque over the sky, at most ${units.torque(worst)}`">
      <g v-for="c in cells" :key="`${c.x}/${c.y}`">
        <rect
          v-if="c.up"
          :x="30 + c.x * 10.6"
          :y="6 + c.y * 10.6"
          width="10.2"
          height="10.2"
          :fill="c.value >= 0 ? 'var(--accent)' : 'var(--bad)'"
          :fill-opacity="ink(c.value)"
          stroke="var(--line)"
          stroke-width="0.4"
        >
          <title>
            hour angle {{ figure(c.h / 15, 1) }} h, declination {{ figure(c.dec, 0) }}°: {{ units.torque(c.value, 2) }}
          </title>
        </rect>
      </g>
      <line :x1="30 + 12.5 * 10.6" :x2="30 + 12.5 * 10.6" y1="4" y2="146" stroke="var(--ink)" stroke-dasharray="2 3" />
      <text x="2" y="15">{{ south ? '−90°' : '90°' }}</text>
      <text x="8" :y="6 + 9 * 10.6 + 9">0°</text>
      <text x="30" y="158">6 h east</text>
      <text x="162" y="158" text-anchor="middle">meridian</text>
      <text x="295" y="158" text-anchor="end">6 h west</text>
    </svg>
    <p class="small muted">
      At most <strong class="mono">{{ units.torque(worst, 2) }}</strong>. Darker is more;
      {{ axis === 'ra' ? 'brass drives the tube east, brick west.' : 'brass turns +z to −y, brick the other way.' }}
    </p>
  </div>
</template>

<style scoped>
.sky {
  display: grid;
  gap: 6px;
}
svg {
  width: 100%;
  max-width: 420px;
}
svg text {
  font-size: 10.5px;
  fill: var(--ink-2);
}
</style>
