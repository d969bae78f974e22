<script setup lang="ts">
import type { Cooling } from '@keen/core/setup';
import QuantityInput from '../../common/QuantityInput.vue';
import { clock } from '../../common/times.ts';
import { useCoolingWish } from './useSetupFacts.ts';

/** When to start the cooler, and the one set point that serves all year. */
defineProps<{ cool: Cooling | null; neededAt: string | null; zone: string }>();
const wish = useCoolingWish();
</script>

<template>
  <section class="panel stack" data-test="cooling">
    <h2>Cooling</h2>
    <p v-if="cool" :class="`level-${cool.verdict.level}`">{{ cool.verdict.text }}</p>
    <p v-if="cool && neededAt" class="row">
      <span
        >Start by <strong class="mono at">{{ clock(cool.startAt, zone) }}</strong></span
      >
      <span class="muted small">cold at {{ clock(neededAt, zone) }}, when focusing begins</span>
    </p>
    <div class="grid">
      <QuantityInput
        v-model="wish.ambientC"
        dimension="temperature"
        label="Air tonight"
        :min="-50"
        :max="50"
        :decimals="0"
      />
      <QuantityInput
        v-model="wish.setPointC"
        dimension="temperature"
        label="Set point"
        :min="-60"
        :max="30"
        :decimals="0"
      />
      <QuantityInput
        v-model="wish.warmestNightC"
        dimension="temperature"
        label="Warmest night"
        :min="-30"
        :max="45"
        :decimals="0"
      />
      <QuantityInput
        v-model="wish.deepestBelowAmbientC"
        dimension="number"
        unit="°C"
        label="Cooler’s reach below air"
        :min="5"
        :max="80"
        :decimals="0"
      />
      <QuantityInput
        v-model="wish.ratePerMinC"
        dimension="number"
        unit="°C/min"
        label="Rate"
        :min="0.1"
        :max="10"
        :step="0.5"
        :decimals="1"
      />
    </div>
    <p v-if="cool" class="muted small">
      {{ cool.yearRoundC.toFixed(0).replace('-', '−') }} °C is the coldest five that every night can hold: one dark
      library for the year. Reach and rate are common values until you measure your own.
    </p>
  </section>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 8px 12px;
}
.at {
  font-size: 18px;
}
</style>
