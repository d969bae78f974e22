<script setup lang="ts">
import type { FocusRunRecord, OffsetSetRecord } from '@keen/contract';
import { nightAgainst } from '@keen/core/focus';
import { figure, signed } from '@keen/core/quantities';
import { byNight } from '@keen/core/record';
import { computed } from 'vue';
import FilterTile from '../../common/FilterTile.vue';
import { dayName } from '../../common/times.ts';

/** Each night’s focus runs held against what is adopted: the night that disagrees is named, before its frames are. */
const props = defineProps<{
  runs: readonly FocusRunRecord[];
  adopted: OffsetSetRecord;
  scatterSteps: number;
  timeZone: string;
}>();
const SHOWN = 8;
const nights = computed(() => {
  const timed = props.runs.filter((r) => r.time !== null);
  return byNight(timed, (r) => r.time, props.timeZone, '')
    .reverse()
    .flatMap(([night, own]) => {
      const agreement = nightAgainst(props.adopted, own, props.scatterSteps);
      return agreement ? [{ night, ...agreement }] : [];
    })
    .slice(0, SHOWN);
});
const alarms = computed(() => nights.value.filter((n) => !n.agrees));
</script>

<template>
  <section v-if="nights.length" class="panel stack" data-test="against">
    <h2>Nights against what is adopted</h2>
    <p v-if="alarms.length" class="level-caution" data-test="alarm">
      {{ alarms.map((n) => dayName(n.night)).join(', ') }}
      {{ alarms.length === 1 ? 'disagrees' : 'disagree' }}: look whether something in the train slipped, or adopt anew.
    </p>
    <table class="figures">
      <thead>
        <tr>
          <th>Night</th>
          <th class="num">runs</th>
          <th class="num">left, steps</th>
          <th>farthest off</th>
          <th />
        </tr>
      </thead>
      <tbody>
        <tr v-for="n in nights" :key="n.night">
          <td>{{ dayName(n.night) }}</td>
          <td class="num">{{ n.runs }}</td>
          <td class="num">{{ figure(n.leftSteps, 1) }}</td>
          <td><FilterTile :name="n.worst.filter" /> {{ signed(n.worst.steps, 0) }}</td>
          <td :class="n.agrees ? 'muted' : 'level-caution'">{{ n.agrees ? 'agrees' : 'disagrees' }}</td>
        </tr>
      </tbody>
    </table>
    <p class="muted small">
      Where the focuser began is each night’s own; what filters and temperature do against each other is judged. One
      good night in a hundred is accused wrongly.
    </p>
  </section>
</template>
