<script setup lang="ts">
import type { ProjectRecord } from '@keen/contract';
import { figure } from '@keen/core/quantities';
import FilterTile from '../../common/FilterTile.vue';
import ProgressBar from '../../common/ProgressBar.vue';

/** A mosaic panel by panel: how far each is, so that the one that lags is seen. */
const props = defineProps<{ project: ProjectRecord }>();
/** The length of a goal, where its filter is wanted at several. */
const lengthOf = (g: ProjectRecord['goals'][number]) =>
  props.project.goals.some((o) => o !== g && o.filter === g.filter) ? `${figure(g.exposureS, 0)} s` : '';
</script>

<template>
  <table class="figures" data-test="panels-done">
    <thead>
      <tr>
        <th>Panel</th>
        <th v-for="(g, i) in project.goals" :key="i"><FilterTile :name="g.filter" /> {{ lengthOf(g) }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(done, k) in project.byPanel" :key="k">
        <td>{{ k + 1 }}</td>
        <td v-for="(g, i) in project.goals" :key="i">
          <ProgressBar :done="done[i] ?? 0" :goal="g.quota" />
          <span class="mono small">{{ done[i] ?? 0 }}/{{ g.quota }}</span>
        </td>
      </tr>
    </tbody>
  </table>
</template>
