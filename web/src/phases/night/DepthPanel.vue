<script setup lang="ts">
import { integration, surfaceMagOf } from '@keen/core/exposure';
import { figure } from '@keen/core/quantities';
import { useLocalStorage } from '@vueuse/core';
import { computed } from 'vue';
import FieldGrid from '../../common/FieldGrid.vue';
import FilterTile from '../../common/FilterTile.vue';
import { hours as hoursOf } from '../../common/times.ts';
import type { Row } from './useExposures.ts';

/** Frames and hours until a surface stands so far above its noise, through each filter. */
const props = defineProps<{ rows: readonly Row[]; skyMag: number }>();
const criteria = useLocalStorage('keen.depth', { mag: 23, snr: 10, binArea: 9 }, { mergeDefaults: true });
const FIELDS = [
  {
    key: 'mag',
    label: 'A surface as faint as',
    dimension: 'number',
    unit: 'mag/″²',
    decimals: 1,
    min: 10,
    max: 32,
    step: 0.5,
  },
  { key: 'snr', label: 'Signal to noise', dimension: 'number', decimals: 0, min: 1, max: 500 },
  { key: 'binArea', label: 'Pixels added up', dimension: 'number', decimals: 0, min: 1, max: 1000 },
] as const;
const found = computed(() =>
  props.rows.map(({ light, advice, goalS }) => {
    // a measured sky stands before the reckoned one
    const seen = surfaceMagOf(light.instrument, advice.skyEPerSPx);
    const subS = goalS ?? advice.recommendedS;
    const got = integration({
      ...light.instrument,
      targetMagArcsec2: criteria.value.mag,
      skyMagArcsec2: Math.min(40, Math.max(-5, seen)),
      readNoiseE: light.readNoiseE,
      subS,
      snr: criteria.value.snr,
      binArea: criteria.value.binArea,
    });
    return { filter: light.filter, subS, ...got };
  }),
);
</script>

<template>
  <section class="panel stack" data-test="depth">
    <h2>How long for how deep</h2>
    <FieldGrid :record="criteria" :fields="FIELDS" width="150px" />
    <table class="figures">
      <thead>
        <tr>
          <th>Filter</th>
          <th class="num">frames of</th>
          <th class="num">S/N of one</th>
          <th class="num">frames</th>
          <th class="num">open shutter</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="f in found" :key="f.filter">
          <td><FilterTile :name="f.filter" /></td>
          <td class="num">{{ figure(f.subS, 0) }} s</td>
          <td class="num">{{ figure(f.snrPerSub, f.snrPerSub < 1 ? 2 : 1) }}</td>
          <td class="num">{{ f.subs > 99_999 ? 'too many' : f.subs }}</td>
          <td class="num" :class="{ 'level-caution': f.hours > 60 }">
            {{ f.hours > 2000 ? 'years' : hoursOf(60 * f.hours) }}
          </td>
        </tr>
      </tbody>
    </table>
    <p class="muted small">
      The surface’s brightness is meant as it is within each filter’s band: a nebula in a line is far brighter there
      than in the light of all colours. Dark current and what calibration adds are left out.
    </p>
  </section>
</template>
