<script setup lang="ts">
import type { CalibrationGroup } from '@keen/contract';
import FilterTile from '../../common/FilterTile.vue';
import { KIND_WORDS } from '../../common/frameKinds.ts';
import { dayName } from '../../common/times.ts';
import { useUnits } from '../../stores/units.ts';

/** Darks, flats and bias frames on record, and whether the flats still hold. */
defineProps<{ groups: readonly CalibrationGroup[] }>();
const units = useUnits();
</script>

<template>
  <section v-if="groups.length" class="panel stack" data-test="calibration">
    <h2>Calibration frames on record</h2>
    <table class="figures">
      <thead>
        <tr>
          <th>Kind</th>
          <th>Filter</th>
          <th class="num">Exposure</th>
          <th class="num">Gain</th>
          <th class="num">Set point</th>
          <th class="num">Binning</th>
          <th class="num">Frames</th>
          <th>Newest</th>
          <th>Hold</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(g, i) in groups" :key="i">
          <td>{{ KIND_WORDS[g.kind] }}</td>
          <td><FilterTile v-if="g.filter" :name="g.filter" /></td>
          <td class="num">{{ g.exposureS }} s</td>
          <td class="num">{{ g.gain ?? '–' }}</td>
          <td class="num">{{ g.setPointC === null ? '–' : units.temperature(g.setPointC, 0) }}</td>
          <td class="num">{{ g.binning }}</td>
          <td class="num">{{ g.frames }}</td>
          <td>{{ dayName(g.newest) }}</td>
          <td>
            <span v-if="g.kind !== 'flat'" class="muted">any train</span>
            <span v-else-if="g.holds" class="level-good">still</span>
            <span v-else class="level-caution">no more: camera, train or filters changed</span>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>
