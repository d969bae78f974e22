<script setup lang="ts">
import type { NightOutput } from '@keen/core/sky';
import { zoneOffsetMs } from '@keen/core/sky';
import { computed } from 'vue';
import { clock } from '../../common/times.ts';
import { hourTicks } from './lanes.ts';

/** What lies behind every picture of a night: twilights, hours, and the moment it is now. Drawn inside an svg. */
const props = defineProps<{
  night: NightOutput;
  timeZone: string;
  x: (ms: number) => number;
  from: number;
  to: number;
  top: number;
  bottom: number;
  now?: number;
}>();
const bands = computed(() => {
  const n = props.night;
  const ms = (t: string | null, or: number) => (t ? Date.parse(t) : or);
  const { from, to } = props;
  const list: [number, number, string][] = [[from, to, 'var(--sky-civil)']];
  if (n.civilDusk || n.civilDawn) list.push([ms(n.civilDusk, from), ms(n.civilDawn, to), 'var(--sky-nautical)']);
  if (n.astronomicalDusk || n.astronomicalDawn)
    list.push([ms(n.astronomicalDusk, from), ms(n.astronomicalDawn, to), 'var(--sky-night)']);
  return list.map(([a, b, fill]) => ({
    x: props.x(Math.max(a, from)),
    w: props.x(Math.min(b, to)) - props.x(Math.max(a, from)),
    fill,
  }));
});
const ticks = computed(() => {
  const perHour = props.x(props.from + 3_600_000) - props.x(props.from);
  return hourTicks(props.from, props.to, zoneOffsetMs(props.timeZone, props.from), perHour < 46 ? 2 : 1);
});
const marks = computed(() =>
  [
    { at: props.night.astronomicalDusk, text: 'dark' },
    { at: props.night.astronomicalDawn, text: 'dawn' },
  ].flatMap((m) =>
    m.at && Date.parse(m.at) > props.from && Date.parse(m.at) < props.to
      ? [{ x: props.x(Date.parse(m.at)), label: `${m.text} ${clock(m.at, props.timeZone)}` }]
      : [],
  ),
);
const nowX = computed(() => (props.now && props.now > props.from && props.now < props.to ? props.x(props.now) : null));
</script>

<template>
  <g>
    <rect
      v-for="(b, i) in bands"
      :key="i"
      :x="b.x"
      :y="top"
      :width="Math.max(0, b.w)"
      :height="bottom - top"
      :fill="b.fill"
    />
    <path v-for="t in ticks" :key="t" :d="`M${x(t)} ${top}V${bottom}`" stroke="var(--line)" stroke-width="0.7" />
    <text
      v-for="t in ticks"
      :key="`h${t}`"
      :x="x(t)"
      :y="bottom + 17"
      text-anchor="middle"
      font-size="12"
      fill="var(--ink-2)"
      class="mono"
    >
      {{ clock(t, timeZone) }}
    </text>
    <text
      v-for="(m, i) in marks"
      :key="m.label"
      :x="m.x"
      :y="top - 7"
      :text-anchor="i === 0 ? 'start' : 'end'"
      font-size="12"
      fill="var(--ink-2)"
      class="mono"
    >
      {{ m.label }}
    </text>
    <g v-if="nowX !== null" class="now">
      <path :d="`M${nowX} ${top}V${bottom}`" stroke="var(--accent)" stroke-width="1.6" />
      <text :x="nowX" :y="bottom + 33" text-anchor="middle" font-size="12" fill="var(--accent)" class="mono"
        >now {{ clock(now!, timeZone) }}</text
      >
    </g>
  </g>
</template>
