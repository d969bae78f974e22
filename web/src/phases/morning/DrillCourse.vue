<script setup lang="ts">
import type { Exhibit } from '@keen/core/drills';
import type { ChartOptions } from 'chart.js';
import { computed } from 'vue';
import { Scatter } from 'vue-chartjs';
import { axisOf, noteLook, useChartLook } from '../../common/charts.ts';
import { useUnits } from '../../stores/units.ts';

/** How something went over a night, one line a thing. */
const props = defineProps<{ exhibit: Extract<Exhibit, { kind: 'course' }> }>();
const look = useChartLook();
const units = useUnits();
const SHAPES = ['circle', 'rect', 'triangle', 'star'] as const;
const warm = computed(() => props.exhibit.up === '°C');
const data = computed(() => {
  const colours = [look.value.accent, look.value.violet, look.value.good, look.value.bad];
  return {
    datasets: props.exhibit.series.map((s, i) => ({
      label: s.name,
      data: s.points.map(([x, y]) => ({ x, y: warm.value ? units.bare('tubeC', y) : y })),
      pointStyle: SHAPES[i % SHAPES.length],
      radius: 3.5,
      borderColor: colours[i % colours.length],
      backgroundColor: i % 2 ? 'transparent' : colours[i % colours.length],
      showLine: true,
      borderWidth: 1,
      borderDash: [[], [6, 3], [2, 2], [8, 2, 2, 2]][i % 4],
    })),
  };
});
const options = computed<ChartOptions<'scatter'>>(() => ({
  responsive: true,
  maintainAspectRatio: false,
  scales: {
    x: axisOf(look.value, props.exhibit.along),
    y: axisOf(look.value, warm.value ? units.unitOf('tubeC') : props.exhibit.up),
  },
  plugins: {
    legend: { display: props.exhibit.series.length > 1, labels: { color: look.value.ink, usePointStyle: true } },
    tooltip: noteLook(look.value),
  },
}));
</script>

<template>
  <div class="course">
    <Scatter
      :data="data"
      :options="options"
      role="img"
      :aria-label="`${exhibit.title}: ${exhibit.up} against ${exhibit.along}`"
    />
  </div>
</template>

<style scoped>
.course {
  height: 170px;
}
</style>
