<script setup lang="ts">
import type { RunFocus } from '@keen/core/observatory';
import type { Traces } from '@keen/core/run';
import { figure } from '@keen/core/quantities';
import type { ChartOptions } from 'chart.js';
import { Scatter } from 'vue-chartjs';
import { computed } from 'vue';
import { axisOf, clockAxis, useChartLook } from '../../common/charts.ts';
import { useUnits } from '../../stores/units.ts';

/** What is read through the night: guiding, focus, sensor, air; each with its last value in words. */
const props = defineProps<{
  traces: Traces;
  focusRuns: readonly RunFocus[];
  fromMs: number;
  untilMs: number;
  timeZone: string;
}>();
const look = useChartLook();
const units = useUnits();
interface Line {
  label: string;
  data: { x: number; y: number }[];
  colour: string;
  dash?: number[];
  points?: boolean;
}
const charts = computed(() => {
  const { guide, air } = props.traces;
  // a camera that is not cooled is as warm as the air
  const sensor = props.traces.sensor.some((x) => x.coolerPercent > 0) ? props.traces.sensor : [];
  const [g, s, a] = [guide.at(-1), sensor.at(-1), air.at(-1)];
  const l = look.value;
  const usable = props.focusRuns.filter((f) => f.usable);
  const f = usable.at(-1);
  const temp = (c: number) => units.bare('airC', c);
  return [
    {
      key: 'guiding',
      title: 'Guiding, scatter of a minute',
      unit: '″',
      last: g ? `RA ${figure(g.raArcsec, 2)}″, Dec ${figure(g.decArcsec, 2)}″` : 'not guiding',
      lines: [
        { label: 'RA', data: guide.map((x) => ({ x: x.atMs, y: x.raArcsec })), colour: l.caution },
        { label: 'Dec', data: guide.map((x) => ({ x: x.atMs, y: x.decArcsec })), colour: l.violet, dash: [5, 3] },
      ],
      min: 0,
    },
    {
      key: 'focus',
      title: 'Focus found',
      unit: 'steps',
      last: f ? `${figure(f.position, 0)}, ${f.filter}, ${figure(f.hfd, 2)} px` : 'no focus run yet',
      lines: [
        {
          label: 'focus',
          data: usable.map((x) => ({ x: Date.parse(x.time), y: x.position })),
          colour: l.accent,
          points: true,
        },
      ],
    },
    {
      key: 'temperature',
      title: s ? 'Tube and sensor' : 'Tube',
      unit: units.unitOf('airC'),
      last: a
        ? `tube ${figure(temp(a.temperatureC), 1)} ${units.unitOf('airC')}${s ? `, sensor ${figure(temp(s.sensorC), 1)}, cooler at ${s.coolerPercent} %` : ''}`
        : '–',
      lines: [
        { label: 'tube', data: air.map((x) => ({ x: x.atMs, y: temp(x.temperatureC) })), colour: l.accent },
        {
          label: 'sensor',
          data: sensor.map((x) => ({ x: x.atMs, y: temp(x.sensorC) })),
          colour: l.violet,
          dash: [5, 3],
        },
      ],
    },
    {
      key: 'air',
      title: 'Wind',
      unit: units.unitOf('windMS'),
      last: a
        ? `${figure(units.bare('windMS', a.windMS), 1)} ${units.unitOf('windMS')}, humidity ${figure(100 * a.humidity, 0)} %, ${a.clear ? 'clear' : 'cloud'}`
        : '–',
      lines: [
        { label: 'wind', data: air.map((x) => ({ x: x.atMs, y: units.bare('windMS', x.windMS) })), colour: l.accent },
      ],
      min: 0,
    },
  ] as { key: string; title: string; unit: string; last: string; lines: Line[]; min?: number }[];
});
/** Where nothing was read for so long a line is broken [ms]. */
const BROKEN_MS = 300_000;
const broken = (data: Line['data']): Line['data'] =>
  data.flatMap((p, i) => {
    const before = data[i - 1];
    return before && p.x - before.x > BROKEN_MS ? [{ x: before.x + 1, y: NaN }, p] : [p];
  });
const dataOf = (lines: readonly Line[]) => ({
  datasets: lines.map((l) => ({
    label: l.label,
    data: l.points ? l.data : broken(l.data),
    showLine: true,
    borderColor: l.colour,
    backgroundColor: l.colour,
    borderWidth: 1.6,
    borderDash: l.dash ?? [],
    pointRadius: l.points ? 3 : 0,
  })),
});
const optionsOf = (min?: number): ChartOptions<'scatter'> => ({
  responsive: true,
  maintainAspectRatio: false,
  animation: false,
  scales: {
    x: { ...clockAxis(look.value, props.timeZone), min: props.fromMs, max: props.untilMs },
    y: axisOf(look.value, '', min === undefined ? {} : { min }),
  },
  plugins: { tooltip: { enabled: false } },
});
</script>

<template>
  <div class="traces">
    <section v-for="c in charts" :key="c.key" class="panel trace" :data-test="`trace-${c.key}`">
      <p class="row spread small">
        <strong>{{ c.title }}, {{ c.unit }}</strong>
        <span class="mono">{{ c.last }}</span>
      </p>
      <div class="chart">
        <Scatter
          :data="dataOf(c.lines)"
          :options="optionsOf(c.min)"
          role="img"
          :aria-label="`${c.title} over the night: ${c.last}`"
        />
      </div>
    </section>
  </div>
</template>

<style scoped>
.traces {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(250px, 1fr));
  gap: 12px;
}
.trace {
  padding: 10px 12px;
}
.chart {
  height: 128px;
}
</style>
