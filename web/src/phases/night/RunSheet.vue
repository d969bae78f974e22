<script setup lang="ts">
import { nameOf, words as say } from '@keen/core/phrases';
import { formatDec, formatRa } from '@keen/core/quantities';
import type { NightSchedule, NightPlan } from '@keen/core/sequence';
import type { NightOutput } from '@keen/core/sky';
import { moonWords } from '../../common/moonWords.ts';
import { clock, clockOr, dayName } from '../../common/times.ts';
import { useUnits } from '../../stores/units.ts';
import { STEP_WORDS, watchWords } from './nightWords.ts';

/** The night on one page of paper, for the box at the telescope. Shown in print alone. */
const props = defineProps<{
  plan: NightPlan;
  schedule: NightSchedule;
  night: NightOutput;
  names: readonly string[];
  /** Where each leg points. */
  pointings: readonly ({ raDeg: number; decDeg: number; angleDeg: number } | null)[];
  rig: string;
  words: string;
  site: string;
  date: string;
  timeZone: string;
}>();
const units = useUnits();
/** A leg in turns stands here several times; its frames once. */
const firstPiece = (legIndex: number) =>
  props.schedule.pieces.findIndex((p) => p.part === 'leg' && p.legIndex === legIndex);
const framesWords = (legIndex: number) => {
  const { settings, follower } = props.plan.legs[legIndex]!;
  const schedule = props.schedule.legs[legIndex]!;
  const words = (filters: typeof settings.filters, frames: Record<string, number> | undefined) =>
    filters.map((f) => `${f.name} ${frames?.[f.name] ?? 0} × ${f.exposureS} s`).join(', ');
  const own = words(settings.filters, schedule.schedule?.frames);
  return follower ? `${own}; second camera ${words(follower.settings.filters, schedule.follower?.frames)}` : own;
};
const focusWords = (f: NightPlan['legs'][number]['settings']['focus']) =>
  [say(nameOf(f.policy)), f.everyMin ? `at latest after ${f.everyMin} min` : '', f.everyC ? `or ${f.everyC} °C` : '']
    .filter(Boolean)
    .join(', ');
</script>

<template>
  <article class="sheet" data-test="sheet">
    <header>
      <h1>{{ rig }}, {{ words }}</h1>
      <p>
        {{ site }}, night of {{ dayName(date) }}. Sunset {{ clockOr(night.sunset, timeZone) }}, dark
        {{ clockOr(night.astronomicalDusk, timeZone) }}–{{ clockOr(night.astronomicalDawn, timeZone) }},
        {{ moonWords(night, timeZone) }}.
      </p>
    </header>
    <table>
      <tbody>
        <template v-for="(p, i) in schedule.pieces" :key="i">
          <tr v-if="p.part === 'opening' || p.part === 'closing'">
            <td class="mono">{{ clock(p.startMs, timeZone) }}</td>
            <td>☐ {{ STEP_WORDS[p.step] }}</td>
            <td></td>
          </tr>
          <tr v-else-if="p.part === 'wait'">
            <td class="mono">{{ clock(p.startMs, timeZone) }}</td>
            <td colspan="2">wait until {{ clock(p.endMs, timeZone) }}</td>
          </tr>
          <template v-else>
            <tr class="leg">
              <td class="mono">{{ clock(p.startMs, timeZone) }}–{{ clock(p.endMs, timeZone) }}</td>
              <td>
                <strong>☐ {{ names[p.legIndex] }}</strong>{{ ' ' }}
                <template v-if="pointings[p.legIndex]">
                  {{ formatRa(pointings[p.legIndex]!.raDeg) }} {{ formatDec(pointings[p.legIndex]!.decDeg) }}, camera at
                  {{ pointings[p.legIndex]!.angleDeg.toFixed(0) }}°
                </template>
                <br />
                {{ i === firstPiece(p.legIndex) ? framesWords(p.legIndex) : 'goes on' }}
              </td>
              <td>
                {{ plan.legs[p.legIndex]!.settings.order }}; focus
                {{ focusWords(plan.legs[p.legIndex]!.settings.focus) }};
                {{ plan.legs[p.legIndex]!.guiding ? 'guided' : 'unguided' }},
                {{ plan.legs[p.legIndex]!.meridian === 'flip' ? 'flips' : 'stops at the meridian' }}
              </td>
            </tr>
          </template>
        </template>
      </tbody>
    </table>
    <p>Watches: {{ watchWords(plan.watches, units) }}. The mount may move by itself: hands and cables clear.</p>
  </article>
</template>

<style scoped>
.sheet {
  display: none;
}
@media print {
  .sheet {
    display: block;
    color: #000;
    background: #fff;
    font-size: 12px;
  }
  h1 {
    font-size: 17px;
    color: #000;
  }
  table {
    width: 100%;
    border-collapse: collapse;
  }
  td {
    border-bottom: 0.5px solid #888;
    padding: 3px 6px;
    vertical-align: top;
  }
}
</style>
