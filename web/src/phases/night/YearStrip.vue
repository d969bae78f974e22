<script setup lang="ts">
import type { SiteRecord } from '@keen/contract';
import { figure } from '@keen/core/quantities';
import type { YearOutput } from '@keen/core/sky';
import { Button } from 'ant-design-vue';
import type { ChartOptions } from 'chart.js';
import { computed, shallowRef, watch } from 'vue';
import { Bar } from 'vue-chartjs';
import { axisOf, noteLook, useChartLook } from '../../common/charts.ts';
import { latestOnly } from '../../common/latestOnly.ts';
import { coreSite } from '../../common/records.ts';
import { dayName } from '../../common/times.ts';
import { useUnits } from '../../stores/units.ts';
import { calculate, plainCopy } from '../../workers/index.ts';

/** One object through the year: hours a night, with and without the Moon, and the next good nights to choose. */
const props = defineProps<{
  site: SiteRecord;
  /** Its name. */
  object: string;
  place: { raDeg: number; decDeg: number; minimumAltitudeDeg: number };
  night: string;
}>();
const emit = defineEmits<{ choose: [night: string] }>();
const units = useUnits();
const year = shallowRef<YearOutput | null>(null);
const ask = latestOnly();
watch(
  () => [props.site, props.night, Object.values(props.place).join()] as const,
  async ([site, from]) => {
    const late = ask();
    const p = props.place;
    const got = await calculate(
      'sky.year',
      plainCopy({
        site: coreSite(site),
        from,
        nights: 365,
        raDeg: p.raDeg,
        decDeg: p.decDeg,
        minimumAltitudeDeg: p.minimumAltitudeDeg,
        darkness: 'astronomical' as const,
      }),
    );
    if (!late()) year.value = got.ok ? got.value : null;
  },
  { immediate: true },
);
const look = useChartLook();
const nights = computed(() => year.value?.nights ?? []);
const best = computed(() => nights.value.filter((n) => year.value!.best.includes(n.date)));
const data = computed(() => ({
  labels: nights.value.map((n) => n.date),
  datasets: [
    {
      label: 'Moon down',
      data: nights.value.map((n) => n.moonlessHours),
      backgroundColor: look.value.edge,
      barPercentage: 1,
      categoryPercentage: 1,
    },
    {
      label: 'Moon up',
      data: nights.value.map((n) => n.hours - n.moonlessHours),
      backgroundColor: look.value.lane,
      barPercentage: 1,
      categoryPercentage: 1,
    },
  ],
}));
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
/** The name of a month at its first night. */
const monthAt = (i: number) => {
  const date = nights.value[i]?.date ?? '';
  return date.endsWith('-01') ? MONTHS[Number(date.slice(5, 7)) - 1]! : null;
};
const options = computed<ChartOptions<'bar'>>(() => ({
  responsive: true,
  maintainAspectRatio: false,
  onClick: (_e, hit) => {
    const n = hit[0] && nights.value[hit[0].index];
    if (n) emit('choose', n.date);
  },
  interaction: { mode: 'index', intersect: false },
  scales: {
    x: {
      ...axisOf(look.value, ''),
      type: 'category',
      stacked: true,
      grid: { display: false },
      ticks: {
        color: look.value.ink2,
        font: look.value.font,
        autoSkip: false,
        maxRotation: 0,
        callback: (_v, i) => monthAt(i),
      },
    },
    y: axisOf(look.value, 'hours', {
      min: 0,
      stacked: true,
      ticks: { color: look.value.ink2, font: look.value.font, maxTicksLimit: 4 },
    }),
  },
  plugins: {
    legend: { display: false },
    tooltip: {
      ...noteLook(look.value),
      callbacks: {
        title: (i) => dayName(nights.value[i[0]?.dataIndex ?? 0]?.date ?? ''),
        label: (i) => `${i.dataset.label}: ${figure(i.parsed.y ?? 0, 1)} h`,
        footer: (i) => `Moon ${figure(100 * (nights.value[i[0]?.dataIndex ?? 0]?.illumination ?? 0), 0)} % lit`,
      },
    },
  },
}));
</script>

<template>
  <section v-if="year" class="panel stack" data-test="year">
    <h2>{{ object }} through the year</h2>
    <p class="small">{{ units.verdict(year.verdict) }}</p>
    <div class="chart">
      <Bar :data="data" :options="options" role="img" :aria-label="`Hours a night of ${object}`" />
    </div>
    <p class="row small">
      <span class="key down" aria-hidden="true" /> Moon down <span class="key up" aria-hidden="true" /> Moon up
      <span v-if="best.length" class="muted">Best within sixty nights:</span>
      <Button v-for="n in best" :key="n.date" size="small" @click="emit('choose', n.date)">
        {{ dayName(n.date) }}, {{ figure(n.moonlessHours, 1) }} h
      </Button>
    </p>
  </section>
</template>

<style scoped>
.chart {
  height: 130px;
}
.key {
  width: 12px;
  height: 12px;
  border: 1px solid var(--lane-edge);
}
.down {
  background: var(--lane-edge);
}
.up {
  background: var(--lane);
}
</style>
