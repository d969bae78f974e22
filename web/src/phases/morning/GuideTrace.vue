<script setup lang="ts">
import type { GuideSample } from '@keen/core/exchange';
import { figure } from '@keen/core/quantities';
import type { Chart, ChartOptions, Plugin } from 'chart.js';
import { Line } from 'vue-chartjs';
import { computed } from 'vue';
import { axisOf, noteLook, ticksOf, useChartLook } from '../../common/charts.ts';

/** Guide errors over time: right ascension solid, declination dashed; dithers and lost spells marked. A drag chooses a span and looks closer. */
const props = defineProps<{ samples: GuideSample[]; span: [number, number] | null }>();
const emit = defineEmits<{ span: [span: [number, number] | null] }>();
const look = useChartLook();
const end = computed(() => props.samples.at(-1)?.timeS ?? 1);
/** A few wild samples do not flatten all others; they run out of the picture. */
const reach = computed(() => {
  const v = props.samples
    .filter((s) => s.state === 'guiding' || s.state === 'off')
    .flatMap((s) => [Math.abs(s.raArcsec), Math.abs(s.decArcsec)])
    .sort((a, b) => a - b);
  return Math.max(1, (v[Math.floor(0.995 * v.length)] ?? 1) * 1.15);
});
const axis = (of: 'raArcsec' | 'decArcsec') =>
  props.samples.map((s) => ({ x: s.timeS, y: s.state === 'lost' ? Number.NaN : s[of] }));
const series = computed(() => ({ ra: axis('raArcsec'), dec: axis('decArcsec') }));
const common = { pointRadius: 0, pointHitRadius: 6, spanGaps: false, parsing: false as const, normalized: true };
const data = computed(() => ({
  datasets: [
    {
      ...common,
      label: 'RA',
      data: series.value.ra,
      borderColor: look.value.red ? look.value.ink : look.value.caution,
      borderWidth: 1.3,
    },
    {
      ...common,
      label: 'Dec',
      data: series.value.dec,
      borderColor: look.value.violet,
      borderWidth: 1.3,
      borderDash: [5, 3],
    },
  ],
}));
const events = computed(() => props.samples.filter((s) => s.state === 'dithering' || s.state === 'lost'));
/** Strokes for dithers at the upper edge and for lost samples over the whole height. */
const marks: Plugin<'line'> = {
  id: 'marks',
  beforeDatasetsDraw({ ctx, chartArea, scales }) {
    ctx.save();
    for (const s of events.value) {
      const x = scales.x!.getPixelForValue(s.timeS);
      if (x < chartArea.left || x > chartArea.right) continue;
      const lost = s.state === 'lost';
      ctx.fillStyle = lost ? look.value.bad : look.value.ghost;
      ctx.fillRect(x - 1, chartArea.top, 2, lost ? chartArea.height : 8);
    }
    ctx.restore();
  },
};
function zoomed({ chart: c }: { chart: Chart }) {
  const { min, max } = c.scales.x!;
  emit('span', max - min >= end.value * 0.999 ? null : [Math.max(0, min), Math.min(end.value, max)]);
}
/** Whole steps of minutes that leave six or so on the axis. */
const STEPS_S = [10, 30, 60, 120, 300, 600, 900, 1800, 3600];
const shown = computed(() => props.span ?? ([0, end.value] as [number, number]));
const stepS = computed(() => STEPS_S.find((s) => (shown.value[1] - shown.value[0]) / s <= 8) ?? 7200);
const minutes = (s: number) => `${figure(s / 60, Math.abs(s / 60 - Math.round(s / 60)) < 0.01 ? 0 : 1)} min`;
const options = computed<ChartOptions<'line'>>(() => ({
  responsive: true,
  maintainAspectRatio: false,
  interaction: { mode: 'index', axis: 'x', intersect: false },
  scales: {
    x: axisOf(look.value, '', {
      min: shown.value[0],
      max: shown.value[1],
      // whole steps from the first one inside, whatever the span
      afterBuildTicks: (a: { ticks: { value: number }[] }) => {
        const first = Math.ceil(shown.value[0] / stepS.value);
        const count = Math.floor(shown.value[1] / stepS.value) - first + 1;
        a.ticks = Array.from({ length: count }, (_, k) => ({ value: (first + k) * stepS.value }));
      },
      ticks: { color: look.value.ink2, font: look.value.font, callback: (v: string | number) => minutes(Number(v)) },
    }),
    y: axisOf(look.value, '', { min: -reach.value, max: reach.value, ticks: ticksOf(look.value, '″') }),
  },
  plugins: {
    legend: { display: false },
    decimation: { enabled: true, algorithm: 'min-max' },
    tooltip: {
      ...noteLook(look.value),
      callbacks: {
        title: (items) => minutes(items[0]?.parsed.x ?? 0),
        label: (i) => `${i.dataset.label ?? ''} ${figure(i.parsed.y ?? 0, 2)}″`,
      },
    },
    zoom: {
      limits: { x: { min: 0, max: end.value, minRange: end.value / 200 } },
      zoom: {
        mode: 'x',
        drag: { enabled: true, backgroundColor: look.value.ghost, threshold: 6 },
        wheel: { enabled: true, modifierKey: 'ctrl' },
        pinch: { enabled: true },
        onZoomComplete: zoomed,
      },
      pan: { enabled: true, mode: 'x', modifierKey: 'shift', onPanComplete: zoomed },
    },
  },
}));
</script>

<template>
  <div class="trace" @dblclick="emit('span', null)">
    <Line :data="data" :options="options" :plugins="[marks]" aria-label="Guide errors over time" />
  </div>
</template>

<style scoped>
.trace {
  height: 260px;
}
</style>
