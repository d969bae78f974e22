<script setup lang="ts">
import { GOOD_GUIDING_ARCSEC } from '@keen/core/guiding';
import { nameOf, words } from '@keen/core/phrases';
import type { GuideLogRecord } from '@keen/contract';
import { figure } from '@keen/core/quantities';
import { Button } from 'ant-design-vue';
import type { ChartOptions } from 'chart.js';
import { Line } from 'vue-chartjs';
import { computed } from 'vue';
import { axisOf, noteLook, ticksOf, useChartLook } from '../../common/charts.ts';
import ListTable, { type Column } from '../../common/ListTable.vue';
import { dayName } from '../../common/times.ts';
import { useSession } from '../../stores/session.ts';

/** Logs of earlier nights: their scatter in order of time, each a click away from being read or compared. */
const props = defineProps<{ logs: readonly GuideLogRecord[]; comparedId: string | null }>();
const emit = defineEmits<{
  open: [log: GuideLogRecord];
  compare: [log: GuideLogRecord];
  drop: [log: GuideLogRecord];
}>();
const session = useSession();
const columns: Column<GuideLogRecord>[] = [
  { key: 'night', title: 'Night', value: (l) => l.night },
  { key: 'name', title: 'Log', value: (l) => l.name },
  { key: 'rms', title: 'In all, ″', value: (l) => l.summary.rms.total, decimals: 2, numeric: true },
  { key: 'ra', title: 'RA, ″', value: (l) => l.summary.rms.ra, decimals: 2, numeric: true },
  { key: 'dec', title: 'Dec, ″', value: (l) => l.summary.rms.dec, decimals: 2, numeric: true },
  { key: 'found', title: 'Found', value: (l) => l.summary.findings.map((f) => words(nameOf(f.code))).join(', ') },
  { key: 'words', title: 'Train', value: (l) => (l.holds ? l.words : `${l.words}, another guider`) },
  { key: 'note', title: 'Different that night', value: (l) => l.note },
];
/** Newest logs that are drawn. */
const SHOWN = 40;
const look = useChartLook();
const inOrder = computed(() =>
  [...props.logs].sort((a, b) => (a.night + a.at < b.night + b.at ? -1 : 1)).slice(-SHOWN),
);
const data = computed(() => ({
  labels: inOrder.value.map((l) => dayName(l.night)),
  datasets: [
    {
      label: 'in all',
      data: inOrder.value.map((l) => l.summary.rms.total),
      borderColor: look.value.edge,
      borderWidth: 1.6,
      pointRadius: 5,
      pointHoverRadius: 7,
      pointBorderWidth: 2,
      pointBackgroundColor: inOrder.value.map((l) =>
        l.id === props.comparedId ? look.value.accent : look.value.surface,
      ),
    },
  ],
}));
const options = computed<ChartOptions<'line'>>(() => ({
  responsive: true,
  maintainAspectRatio: false,
  onClick: (_e, hit) => {
    const log = hit[0] && inOrder.value[hit[0].index];
    if (log) emit('open', log);
  },
  scales: {
    x: { ...axisOf(look.value, ''), type: 'category', offset: true },
    y: axisOf(look.value, '', { min: 0, suggestedMax: 1, ticks: ticksOf(look.value, '″') }),
  },
  plugins: {
    legend: { display: false },
    tooltip: {
      ...noteLook(look.value),
      callbacks: {
        title: (items) => inOrder.value[items[0]?.dataIndex ?? 0]?.name ?? '',
        label: (item) => {
          const { rms } = inOrder.value[item.dataIndex]!.summary;
          return `${figure(rms.total, 2)}″ in all, RA ${figure(rms.ra, 2)}″, Dec ${figure(rms.dec, 2)}″`;
        },
        afterLabel: (item) => inOrder.value[item.dataIndex]!.words,
      },
    },
    annotation: {
      annotations: {
        good: {
          type: 'line',
          yMin: GOOD_GUIDING_ARCSEC,
          yMax: GOOD_GUIDING_ARCSEC,
          borderColor: look.value.good,
          borderDash: [5, 4],
          borderWidth: 1,
        },
        ...Object.fromEntries(
          inOrder.value.flatMap((l, k) =>
            k > 0 && inOrder.value[k - 1]!.guider !== l.guider
              ? [
                  [
                    `changed${k}`,
                    {
                      type: 'line' as const,
                      xMin: k - 0.5,
                      xMax: k - 0.5,
                      borderColor: look.value.accent,
                      borderDash: [3, 3],
                      borderWidth: 1,
                    },
                  ],
                ]
              : [],
          ),
        ),
      },
    },
  },
}));
const mayDrop = (l: GuideLogRecord) => session.isSteward || l.by === session.member?.name;
</script>

<template>
  <section v-if="logs.length" class="panel stack" data-test="kept-logs">
    <h2>Kept nights <span class="muted small">scatter in all; a dashed stroke: the train was changed</span></h2>
    <div class="trend"><Line :data="data" :options="options" aria-label="Scatter of the kept nights in order" /></div>
    <ListTable :rows="logs" :columns="columns" name="guide-logs" :row-key="(l) => l.id" :page-size="8" empty="None.">
      <template #night="{ row }"><span class="acts">{{ dayName(row.night) }}</span></template>
      <template #words="{ row }"
        ><span class="acts">{{ row.words }}{{ row.holds ? '' : ', another guider' }}</span></template
      >
      <template #acts="{ row }">
        <span class="acts">
          <Button size="small" @click="emit('open', row)">Read</Button>
          <Button size="small" @click="emit('compare', row)">Compare</Button>
          <Button v-if="mayDrop(row)" size="small" type="text" @click="emit('drop', row)">Put away</Button>
        </span>
      </template>
    </ListTable>
  </section>
</template>

<style scoped>
.trend {
  height: 150px;
}
.acts {
  white-space: nowrap;
}
</style>
