<script setup lang="ts">
import { HOUR_WORDS, type NightHours } from '@keen/core/frames';
import { computed } from 'vue';
import { clock, hours } from '../../common/times.ts';

/** Where the dark hours of a night went: a strip of the night to scale, and what each kind took. */
const props = defineProps<{ spent: NightHours; zone: string }>();
const W = 720;
const from = computed(() => props.spent.parts[0]?.fromMs ?? 0);
const span = computed(() => Math.max(1, (props.spent.parts.at(-1)?.toMs ?? 1) - from.value));
const x = (ms: number) => (W * (ms - from.value)) / span.value;
const strip = computed(() =>
  props.spent.parts.map((p) => ({ ...p, x: x(p.fromMs), width: Math.max(0.4, x(p.toMs) - x(p.fromMs)) })),
);
/** Told by place and height as by colour: frames fill the strip, cloud hangs from above, the rest stands below. */
const STAND: Record<NightHours['sums'][number]['kind'], { y: number; height: number }> = {
  counted: { y: 0, height: 24 },
  refused: { y: 0, height: 24 },
  cloud: { y: 0, height: 8 },
  focusing: { y: 12, height: 12 },
  between: { y: 17, height: 7 },
  idle: { y: 21, height: 3 },
  before: { y: 21, height: 3 },
  after: { y: 21, height: 3 },
};
/** Full hours, as the site's clock shows them. */
const marks = computed(() => {
  const first = Math.ceil(from.value / 3_600_000) * 3_600_000;
  return Array.from(
    { length: Math.floor((from.value + span.value - first) / 3_600_000) + 1 },
    (_, i) => first + i * 3_600_000,
  );
});
const words = (s: NightHours['sums'][number]) =>
  s.because ? `${HOUR_WORDS[s.kind]}: ${s.because}` : HOUR_WORDS[s.kind];
const share = (seconds: number) => Math.round((100 * seconds) / Math.max(1, props.spent.darkS));
</script>

<template>
  <section class="stack" data-test="hours">
    <h2>Where the {{ hours(spent.darkS / 60) }} of dark went</h2>
    <svg
      :viewBox="`0 0 ${W} 44`"
      role="img"
      aria-label="The night from dusk to dawn: frames that count, refused ones and pauses"
    >
      <rect x="0" y="2" :width="W" height="24" class="ground" />
      <g v-for="p in strip" :key="p.fromMs">
        <title>{{ clock(p.fromMs, zone) }} to {{ clock(p.toMs, zone) }}: {{ p.because || HOUR_WORDS[p.kind] }}</title>
        <rect :x="p.x" y="2" :width="p.width" height="24" class="reach" />
        <rect :x="p.x" :y="2 + STAND[p.kind].y" :width="p.width" :height="STAND[p.kind].height" :class="p.kind" />
        <line v-if="p.kind === 'refused'" :x1="p.x" :x2="p.x + p.width" y1="26" y2="2" class="struck" />
      </g>
      <template v-for="ms in marks" :key="ms">
        <line :x1="x(ms)" :x2="x(ms)" y1="26" y2="31" />
        <text :x="x(ms)" y="42" :text-anchor="x(ms) < 20 ? 'start' : x(ms) > W - 20 ? 'end' : 'middle'">
          {{ clock(ms, zone) }}
        </text>
      </template>
    </svg>
    <ul class="sums">
      <li v-for="s in spent.sums" :key="`${s.kind} ${s.because}`">
        <svg class="key" viewBox="0 0 12 24" preserveAspectRatio="none" aria-hidden="true">
          <rect x="0" y="0" width="12" height="24" class="ground" />
          <rect x="0" :y="STAND[s.kind].y" width="12" :height="STAND[s.kind].height" :class="s.kind" />
          <line v-if="s.kind === 'refused'" x1="0" y1="24" x2="12" y2="0" class="struck" />
        </svg>
        {{ words(s) }}
        <span class="took"
          ><strong>{{ hours(s.seconds / 60) }}</strong> <span class="muted small">{{ share(s.seconds) }} %</span></span
        >
      </li>
    </ul>
    <p class="muted small">
      A long pause beside frames lost to the sky is taken for cloud; the night was clear for
      {{ hours(spent.clearS / 60) }} as far as that tells, and {{ hours(spent.countedS / 60) }} of it count.
    </p>
  </section>
</template>

<style scoped>
svg {
  width: 100%;
}
svg text {
  font-size: 11px;
  fill: var(--ink-2);
}
line {
  stroke: var(--line-strong);
}
.ground {
  fill: var(--sunk);
}
.reach {
  fill: transparent;
}
.counted {
  fill: var(--good);
}
.refused {
  fill: var(--bad);
}
.struck {
  stroke: var(--surface);
}
.cloud {
  fill: var(--ink-2);
}
.focusing,
.between {
  fill: var(--caution);
}
.idle,
.before,
.after {
  fill: var(--line-strong);
}
.sums {
  list-style: none;
  margin: 0;
  padding: 0;
  columns: 280px;
}
.sums li {
  break-inside: avoid;
}
.took {
  white-space: nowrap;
}
.key {
  display: inline-block;
  width: 10px;
  height: 14px;
  margin-right: 4px;
  vertical-align: -2px;
}
@media print {
  rect {
    print-color-adjust: exact;
  }
}
</style>
