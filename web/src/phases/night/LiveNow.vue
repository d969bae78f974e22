<script setup lang="ts">
import type { Coming, underWay } from '@keen/core/run';
import type { Phrase } from '@keen/core/phrases';
import { computed } from 'vue';
import FilterTile from '../../common/FilterTile.vue';
import { clock } from '../../common/times.ts';
import { useUnits } from '../../stores/units.ts';

/** What is under way, how long it still takes, and the next three things with their times. */
const props = defineProps<{
  coming: readonly Coming[];
  nowMs: number;
  timeZone: string;
  large?: boolean;
  /** What the second camera is at; null: nothing; left out: there is none. */
  beside?: ReturnType<typeof underWay>;
}>();
const units = useUnits();
const textOf = (c: Coming): string => (c.phrase ? units.say(c.phrase as Phrase) : c.text);
const sentence = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
const under = computed(() => props.coming[0] ?? null);
/** What comes between is not worth a line of its own. */
const BETWEEN: ReadonlySet<string> = new Set(['download', 'dither', 'filter', 'guide']);
const next = computed(() =>
  props.coming
    .slice(1)
    .filter((c) => !BETWEEN.has(c.kind))
    .slice(0, 3),
);
/** Minutes and seconds, as a clock that runs down. */
const left = computed(() => {
  if (!under.value) return '';
  const s = Math.max(0, Math.round((Date.parse(under.value.end) - props.nowMs) / 1000));
  const [h, m] = [Math.floor(s / 3600), Math.floor((s % 3600) / 60)];
  return h ? `${h} h ${String(m).padStart(2, '0')} min` : `${m}:${String(s % 60).padStart(2, '0')}`;
});
const share = computed(() => {
  if (!under.value) return 0;
  const [a, b] = [Date.parse(under.value.start), Date.parse(under.value.end)];
  return Math.max(0, Math.min(1, (props.nowMs - a) / Math.max(1, b - a)));
});
const AFTER = { sky: 'once the sky opens', pause: 'once it goes on' } as const;
</script>

<template>
  <section class="panel now" :class="{ large }" data-test="live-now">
    <h2>Now</h2>
    <template v-if="under">
      <p class="what">
        <FilterTile v-if="under.kind === 'expose' && under.filter" :name="under.filter" />
        <span>{{ sentence(textOf(under)) }}</span>
        <span class="mono left" aria-label="Time left">{{ left }}</span>
      </p>
      <div class="bar" aria-hidden="true"><i :style="{ width: `${100 * share}%` }" /></div>
      <p v-if="beside !== undefined" class="small" data-test="beside-now">
        <span class="muted">Second camera: </span>
        <template v-if="beside?.phrase"
          >{{ units.say(beside.phrase as Phrase) }}, since {{ clock(beside.startMs, timeZone) }}</template
        >
        <template v-else>waits until the mount stands</template>
      </p>
      <h2>Then, if nothing goes wrong</h2>
      <ol>
        <li v-for="(c, i) in next" :key="i">
          <span class="mono">{{ clock(c.start, timeZone) }}</span>
          <span>{{ sentence(textOf(c)) }}</span>
          <span v-if="c.after" class="muted small">{{ AFTER[c.after] }}</span>
        </li>
        <li v-if="next.length === 0" class="muted none">nothing: then it is over</li>
      </ol>
    </template>
    <p v-else class="muted">Nothing is under way.</p>
  </section>
</template>

<style scoped>
.now {
  display: grid;
  gap: 6px;
  align-content: start;
}
.what {
  display: flex;
  align-items: center;
  gap: 10px;
  font-size: 17px;
  font-weight: 650;
}
.left {
  margin-left: auto;
  font-size: 20px;
}
.bar {
  height: 6px;
  background: var(--sunk);
  border: 1px solid var(--line);
}
.bar i {
  display: block;
  height: 100%;
  background: var(--accent);
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 4px;
}
li {
  display: grid;
  grid-template-columns: 56px minmax(0, 1fr) auto;
  gap: 8px;
}
.none {
  display: block;
}
.large .what {
  font-size: 26px;
}
.large .left {
  font-size: 34px;
}
.large li {
  font-size: 18px;
  grid-template-columns: 72px minmax(0, 1fr) auto;
}
</style>
