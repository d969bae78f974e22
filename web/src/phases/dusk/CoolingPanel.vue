<script setup lang="ts">
import type { Cooling } from '@keen/core/setup';
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import FieldGrid from '../../common/FieldGrid.vue';
import { hourAt, useForecast } from '../../common/useForecast.ts';
import { clock } from '../../common/times.ts';
import { useUnits } from '../../stores/units.ts';
import { useDuskSettings } from './useDuskSettings.ts';
import VerdictText from '../../common/VerdictText.vue';

/** When to start the cooler, and the one set point that serves all year. */
const props = defineProps<{
  cool: Cooling | null;
  neededAt: string | null;
  zone: string;
  /** At this moment; null where there is nothing to cool for. */
  coolNow: { late: boolean; beginMs: number; coldMs: number } | null;
}>();
const dusk = useDuskSettings();
const units = useUnits();
const forecast = useForecast();
const foretold = computed(() =>
  forecast.value?.hours.length && props.neededAt ? hourAt(forecast.value, Date.parse(props.neededAt)) : null,
);
const air = { dimension: 'temperature', decimals: 0 } as const;
const FIELDS = [
  { key: 'ambientC', label: 'Air tonight', ...air, min: -50, max: 50 },
  { key: 'setPointC', label: 'Set point', ...air, min: -60, max: 30 },
  { key: 'warmestNightC', label: 'Warmest night', ...air, min: -30, max: 45 },
  {
    key: 'deepestBelowAmbientC',
    label: 'Cooler’s reach below air',
    dimension: 'degrees',
    decimals: 0,
    min: 5,
    max: 80,
  },
  { key: 'ratePerMinC', label: 'Rate', dimension: 'degrees', per: 'min', decimals: 1, min: 0.1, max: 10, step: 0.5 },
] as const;
</script>

<template>
  <section class="panel stack" data-test="cooling">
    <h2>Cooling</h2>
    <VerdictText v-if="cool" :verdict="cool.verdict" />
    <p v-if="cool && neededAt" class="row">
      <template v-if="coolNow?.late">
        <span>Start <strong class="at">now</strong></span>
        <span class="muted small"
          >cold at {{ clock(coolNow.coldMs, zone) }}; {{ clock(cool.startAt, zone) }} would have been in time</span
        >
      </template>
      <template v-else>
        <span>Start by <strong class="mono at">{{ clock(cool.startAt, zone) }}</strong></span>
        <span class="muted small">cold at {{ clock(neededAt, zone) }}, when focusing begins</span>
      </template>
    </p>
    <p v-if="foretold" class="row small" data-test="foretold">
      <span
        >Foretold for the start of the night ({{ forecast!.source }}): {{ units.temperature(foretold.airC, 0) }}, damp
        {{ Math.round(100 * foretold.humidity) }} %.</span
      >
      <Button
        v-if="Math.round(foretold.airC) !== dusk.settings.cooling.ambientC"
        size="small"
        @click="dusk.settings.cooling.ambientC = Math.round(foretold.airC)"
        >Take it</Button
      >
    </p>
    <FieldGrid :record="dusk.settings.cooling" :fields="FIELDS" width="150px" />
    <p v-if="cool" class="muted small">
      {{ units.temperature(cool.yearRoundC, 0) }} is the coldest five that every night can hold: one dark library for
      the year. Reach and rate are common values until you measure your own.
    </p>
  </section>
</template>

<style scoped>
.at {
  font-size: 18px;
}
</style>
