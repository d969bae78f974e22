<script setup lang="ts">
import { questions } from '../../api/questions.ts';
import { type NightFigures } from '@keen/contract';
import { figure } from '@keen/core/quantities';
import type { ChartOptions } from 'chart.js';
import { computed, shallowRef } from 'vue';
import { Bar } from 'vue-chartjs';
import { axisOf, noteLook, useChartLook } from '../../common/charts.ts';
import { darkHours } from '../../common/darkHours.ts';
import { useAnswer } from '../../common/answer.ts';
import ListTable, { type Column } from '../../common/ListTable.vue';
import WhenThere from '../../common/WhenThere.vue';
import PickOne from '../../common/PickOne.vue';
import { dayName } from '../../common/times.ts';
import { useUnits } from '../../stores/units.ts';
import { useClub } from '../../stores/club.ts';

/** Night after night: how much of the dark was used, how wide stars were, how well it guided. */
const club = useClub();
const units = useUnits();
const look = useChartLook();
const answer = useAnswer('The figures of these nights', () =>
  club.rig ? questions.nightFigures(club.rig.id, club.rig.system.key) : null,
);
const got = computed<NightFigures[]>(() => answer.value.value ?? []);
interface Row extends NightFigures {
  darkS: number | null;
}
const rows = computed<Row[]>(() =>
  got.value.map((n) => {
    const dark = club.site ? darkHours(club.site, n.night) : null;
    return { ...n, darkS: dark ? (dark.toMs - dark.fromMs) / 1000 : null };
  }),
);
const usedOf = (r: Row) => (r.darkS ? Math.min(100, (100 * r.countedS) / r.darkS) : null);
/** From the first shutter to the last: how much of it was open for frames that count. */
const dutyOf = (r: Row) =>
  r.first && r.last
    ? Math.min(100, (100 * r.countedS) / Math.max(1, (Date.parse(r.last) - Date.parse(r.first)) / 1000))
    : null;
const MEASURES = {
  counted: { label: 'hours that count', of: (r: Row) => r.countedS / 3600, decimals: 1, unit: 'h' },
  used: { label: 'share of the dark that counts', of: usedOf, decimals: 0, unit: '%' },
  duty: { label: 'share of the session that counts', of: dutyOf, decimals: 0, unit: '%' },
  hfd: { label: 'half flux diameter', of: (r: Row) => r.hfdPx, decimals: 2, unit: 'px' },
  slope: {
    label: 'focus for a degree',
    of: (r: Row) => (r.focusStepsPerC === null ? null : units.bare('slopeStepsPerC', r.focusStepsPerC)),
    decimals: 1,
    get unit() {
      return units.unitOf('slopeStepsPerC');
    },
  },
  guiding: { label: 'guiding', of: (r: Row) => r.guidingArcsec, decimals: 2, unit: '″' },
} as const;
const measure = shallowRef<keyof typeof MEASURES>('counted');
const m = computed(() => MEASURES[measure.value]);
const inOrder = computed(() => [...rows.value].reverse().slice(-60));
const data = computed(() => ({
  labels: inOrder.value.map((r) => dayName(r.night)),
  datasets: [
    {
      label: m.value.label,
      data: inOrder.value.map((r) => m.value.of(r)),
      backgroundColor: look.value.lane,
      borderColor: look.value.edge,
      borderWidth: 1,
      maxBarThickness: 60,
    },
  ],
}));
const options = computed<ChartOptions<'bar'>>(() => ({
  responsive: true,
  maintainAspectRatio: false,
  scales: {
    x: { ...axisOf(look.value, ''), type: 'category' },
    y: axisOf(look.value, `${m.value.label}, ${m.value.unit}`, measure.value === 'slope' ? {} : { min: 0 }),
  },
  plugins: {
    legend: { display: false },
    tooltip: {
      ...noteLook(look.value),
      callbacks: { label: (c) => `${figure(Number(c.parsed.y), m.value.decimals)} ${m.value.unit}` },
    },
  },
}));
const sums = computed(() => {
  const of = (key: 'countedS' | 'refusedS' | 'cloudS') => rows.value.reduce((s, r) => s + r[key], 0) / 3600;
  const dark = rows.value.reduce((s, r) => s + (r.darkS ?? 0), 0) / 3600;
  return { nights: rows.value.length, counted: of('countedS'), refused: of('refusedS'), cloud: of('cloudS'), dark };
});
const columns = computed<Column<Row>[]>(() => [
  { key: 'night', title: 'Night', value: (r) => r.night },
  { key: 'counted', title: 'Counts, h', value: (r) => r.countedS / 3600, decimals: 2, numeric: true },
  { key: 'refused', title: 'Refused, h', value: (r) => r.refusedS / 3600, decimals: 2, numeric: true },
  { key: 'cloud', title: 'of it cloud, h', value: (r) => r.cloudS / 3600, decimals: 2, numeric: true },
  {
    key: 'dark',
    title: 'Dark, h',
    value: (r) => (r.darkS === null ? null : r.darkS / 3600),
    decimals: 1,
    numeric: true,
  },
  { key: 'used', title: 'Used, %', value: usedOf, decimals: 0, numeric: true },
  { key: 'duty', title: 'Session, %', value: dutyOf, decimals: 0, numeric: true },
  { key: 'hfd', title: 'HFD, px', value: (r) => r.hfdPx, decimals: 2, numeric: true },
  { key: 'guiding', title: 'Guiding, ″', value: (r) => r.guidingArcsec, decimals: 2, numeric: true },
  {
    key: 'slope',
    title: `Focus, ${units.unitOf('slopeStepsPerC')}`,
    value: MEASURES.slope.of,
    decimals: 1,
    numeric: true,
  },
  { key: 'focus', title: 'Focus runs', value: (r) => r.focusRuns, decimals: 0, numeric: true },
]);
</script>

<template>
  <WhenThere :of="[answer]" />
  <section v-if="rows.length" class="panel stack no-print" data-test="nights-over">
    <div class="row spread">
      <h2>Night after night</h2>
      <PickOne
        :value="measure"
        label="Show"
        shown
        :options="Object.entries(MEASURES).map(([value, x]) => ({ value, label: x.label }))"
        :dropdown-match-select-width="false"
        @update:value="measure = $event as typeof measure"
      />
    </div>
    <p>
      {{ sums.nights }} {{ sums.nights === 1 ? 'night' : 'nights' }}: {{ figure(sums.counted, 1) }} h of
      {{ figure(sums.dark, 1) }} h of dark count<template v-if="sums.refused > 0"
        >; {{ figure(sums.refused, 1) }} h were refused, {{ figure(sums.cloud, 1) }} h of them for the sky</template
      >. Nights nobody came out count for nothing here.
    </p>
    <div class="chart">
      <Bar :data="data" :options="options" role="img" :aria-label="`${m.label}, night after night`" />
    </div>
    <ListTable :rows="rows" :columns="columns" name="nights" :row-key="(r) => r.night" :page-size="10">
      <template #night="{ row }"><span class="nowrap">{{ dayName(row.night) }}</span></template>
    </ListTable>
  </section>
</template>

<style scoped>
.chart {
  height: 170px;
}
.nowrap {
  white-space: nowrap;
}
</style>
