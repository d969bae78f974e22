<script setup lang="ts">
import type { Candidate } from '@keen/core/guiding';
import { figure, formatDec, formatRa } from '@keen/core/quantities';

/** The window's stars, the best first, each with what speaks for or against it. */
defineProps<{
  candidates: readonly Candidate[];
  snr: number;
  /** Whether the catalogue is there at all. */ known: boolean;
}>();
const words = (c: Candidate, snr: number) =>
  c.saturated
    ? 'fills its well'
    : c.blendArcsec !== null
      ? `neighbour at ${figure(c.blendArcsec, 0)}″`
      : c.snr < snr
        ? 'too faint'
        : 'alone';
</script>

<template>
  <table class="figures" data-test="guide-stars">
    <caption class="visually-hidden">
      Stars in the guide window
    </caption>
    <thead>
      <tr>
        <th>Star</th>
        <th class="num">mag</th>
        <th class="num">S/N</th>
        <th class="num">Set, s</th>
        <th>It</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="c in candidates.slice(0, 6)" :key="`${c.raDeg} ${c.decDeg}`">
        <td class="mono place">{{ formatRa(c.raDeg) }} {{ formatDec(c.decDeg) }}</td>
        <td class="num">{{ figure(c.mag, 1) }}</td>
        <td class="num">{{ figure(c.snr, 0) }}</td>
        <td class="num">{{ c.exposureS }}</td>
        <td :class="c.usable ? 'level-good' : 'level-caution'">{{ words(c, snr) }}</td>
      </tr>
      <tr v-if="!candidates.length">
        <td colspan="5" class="muted">
          {{ known ? 'No catalogue star stands in the window here.' : 'The star catalogue is not there yet.' }}
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.place {
  font-size: 12.5px;
  white-space: nowrap;
}
td:last-child {
  white-space: nowrap;
}
</style>
