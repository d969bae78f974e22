<script setup lang="ts">
import type { ProjectRecord } from '@keen/contract';
import FilterTile from '../../common/FilterTile.vue';
import ProgressBar from '../../common/ProgressBar.vue';

/** A mosaic panel by panel: how far each is, so that the one that lags is seen. */
defineProps<{ project: ProjectRecord }>();
</script>

<template>
  <table class="figures" data-test="panels-done">
    <thead>
      <tr>
        <th>Panel</th>
        <th v-for="g in project.goals" :key="g.filter"><FilterTile :name="g.filter" /></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(done, k) in project.byPanel" :key="k">
        <td>{{ k + 1 }}</td>
        <td v-for="g in project.goals" :key="g.filter">
          <ProgressBar :done="done[g.filter] ?? 0" :goal="g.quota" />
          <span class="mono small">{{ done[g.filter] ?? 0 }}/{{ g.quota }}</span>
        </td>
      </tr>
    </tbody>
  </table>
</template>
