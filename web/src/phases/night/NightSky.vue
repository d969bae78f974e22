<script setup lang="ts">
import type { NightOutput } from '@keen/core/sky';
import { zoneOffsetMs } from '@keen/core/sky';
import { computed } from 'vue';
import { clock, hourTicks } from '../../common/times.ts';
import { hourStep } from './lanes.ts';

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
  return hourTicks(props.from, props.to, zoneOffsetMs(props.timeZone, props.from), hourStep(perHour));
});
/** A label may reach this far beyond the hours: half a label of "00:00", less the margin of the picture. */
const labelled = computed(() => ticks.value.filter((t) => props.x(t) + 18 <= props.x(props.to) + 6));
const DARK_AND_DAWN_PX = 156;
const marks = computed(() => {
  const { from, to, timeZone, x } = props;
  const inside = (t: string | null) => (t && Date.parse(t) > from && Date.parse(t) < to ? t : null);
  const [dark, dawn] = [inside(props.night.astronomicalDusk), inside(props.night.astronomicalDawn)];
  const at = (t: string) => x(Date.parse(t));
  if (dark && dawn && at(dawn) - at(dark) < DARK_AND_DAWN_PX) {
    const half = 60;
    const middle = Math.min(x(to) - half, Math.max(x(from) + half, (at(dark) + at(dawn)) / 2));
    return [{ x: middle, anchor: 'middle', label: `dark ${clock(dark, timeZone)}–${clock(dawn, timeZone)}` }];
  }
  return [
    ...(dark ? [{ x: at(dark), anchor: 'start', label: `dark ${clock(dark, timeZone)}` }] : []),
    ...(dawn ? [{ x: at(dawn), anchor: 'end', label: `dawn ${clock(dawn, timeZone)}` }] : []),
  ];
});
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
      v-for="t in labelled"
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
      v-for="m in marks"
      :key="m.label"
      :x="m.x"
      :y="top - 7"
      :text-anchor="m.anchor"
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
