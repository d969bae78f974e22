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
/** Full hours, as the site's clock shows them. */
const marks = computed(() => {
  const first = Math.ceil(from.value / 3_600_000) * 3_600_000;
  return Array.from({ length: Math.floor((from.value + span.value - first) / 3_600_000) + 1 }, (_, i) => first + i * 3_600_000); // prettier-ignore
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
      <rect v-for="p in strip" :key="p.fromMs" :x="p.x" y="2" :width="p.width" height="24" :class="p.kind">
        <title>{{ clock(p.fromMs, zone) }} to {{ clock(p.toMs, zone) }}: {{ p.because || HOUR_WORDS[p.kind] }}</title>
      </rect>
      <template v-for="ms in marks" :key="ms">
        <line :x1="x(ms)" :x2="x(ms)" y1="26" y2="31" />
        <text :x="x(ms)" y="42" :text-anchor="x(ms) < 20 ? 'start' : x(ms) > W - 20 ? 'end' : 'middle'">
          {{ clock(ms, zone) }}
        </text>
      </template>
    </svg>
    <ul class="sums">
      <li v-for="s in spent.sums" :key="`${s.kind} ${s.because}`">
        <span class="key" :class="s.kind" aria-hidden="true" />{{ words(s) }}
        <strong>{{ hours(s.seconds / 60) }}</strong> <span class="muted small">{{ share(s.seconds) }} %</span>
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
.counted {
  fill: var(--good);
  background: var(--good);
}
.refused {
  fill: var(--bad);
  background: var(--bad);
}
.cloud {
  fill: var(--ink-2);
  background: var(--ink-2);
}
.focusing,
.between {
  fill: var(--caution);
  background: var(--caution);
}
.idle,
.before,
.after {
  fill: var(--sunk);
  background: var(--sunk);
  stroke: var(--line);
}
.sums {
  list-style: none;
  margin: 0;
  padding: 0;
  columns: 260px;
}
.key {
  display: inline-block;
  width: 12px;
  height: 12px;
  margin-right: 6px;
  border: 1px solid var(--line);
}
@media print {
  .key,
  rect {
    print-color-adjust: exact;
  }
}
</style>
