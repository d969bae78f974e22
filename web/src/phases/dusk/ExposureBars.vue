<script setup lang="ts">
import { GUIDE_EXPOSURES_S, signalOf, type GuideOptics } from '@keen/core/guiding';
import { figure } from '@keen/core/quantities';
import type { ChartOptions } from 'chart.js';
import { Bar } from 'vue-chartjs';
import { computed } from 'vue';
import { axisOf, noteLook, useChartLook } from '../../common/charts.ts';

/** Signal to noise of one star at every exposure a guider offers: what is enough, what fills the well, what to set. */
const props = defineProps<{ optics: GuideOptics; mag: number; wanted: number; roomE: number; chosen: number }>();
const emit = defineEmits<{ choose: [exposureS: number] }>();
const bars = computed(() =>
  GUIDE_EXPOSURES_S.map((exposureS) => {
    const s = signalOf(props.optics, props.mag, exposureS);
    return { exposureS, snr: s.snr, full: s.peakElectrons > props.roomE, enough: s.snr >= props.wanted };
  }),
);
const look = useChartLook();
const colour = (b: (typeof bars.value)[number]) =>
  b.exposureS === props.chosen ? look.value.accent : b.full || !b.enough ? 'transparent' : look.value.lane;
const why = (b: (typeof bars.value)[number]) => (b.full ? 'fills the well' : b.enough ? '' : 'too faint');
const data = computed(() => ({
  labels: bars.value.map((b) => [`${b.exposureS} s`, b.full ? 'full' : b.enough ? '' : 'faint']),
  datasets: [
    {
      label: 'signal to noise',
      data: bars.value.map((b) => b.snr),
      backgroundColor: bars.value.map(colour),
      borderColor: bars.value.map((b) =>
        b.exposureS === props.chosen ? look.value.accent : b.full || !b.enough ? look.value.ghost : look.value.edge,
      ),
      borderWidth: 1.4,
    },
  ],
}));
const options = computed<ChartOptions<'bar'>>(() => ({
  responsive: true,
  maintainAspectRatio: false,
  onClick: (_e, hit) => {
    const b = hit[0] && bars.value[hit[0].index];
    if (b) emit('choose', b.exposureS);
  },
  interaction: { mode: 'index', intersect: false },
  scales: {
    x: {
      ...axisOf(look.value, ''),
      type: 'category',
      grid: { display: false },
      ticks: { color: look.value.ink2, font: look.value.font, autoSkip: false },
    },
    y: axisOf(look.value, 'signal to noise', { min: 0, suggestedMax: props.wanted * 1.6 }),
  },
  plugins: {
    legend: { display: false },
    tooltip: {
      ...noteLook(look.value),
      callbacks: {
        title: (i) => `${bars.value[i[0]?.dataIndex ?? 0]?.exposureS ?? ''} s`,
        label: (i) => figure(i.parsed.y ?? 0, 0),
        afterLabel: (i) => why(bars.value[i.dataIndex]!),
      },
    },
    annotation: {
      annotations: {
        wanted: {
          type: 'line',
          yMin: props.wanted,
          yMax: props.wanted,
          borderColor: look.value.good,
          borderDash: [6, 4],
          borderWidth: 1.6,
          label: {
            display: true,
            content: 'wanted',
            position: 'end',
            backgroundColor: look.value.surface,
            color: look.value.ink2,
            font: look.value.font,
            padding: 2,
          },
        },
      },
    },
  },
}));
</script>

<template>
  <div>
    <div class="chart"><Bar :data="data" :options="options" aria-hidden="true" /></div>
    <fieldset class="choices">
      <legend class="visually-hidden">Signal to noise by exposure</legend>
      <label v-for="b in bars" :key="b.exposureS" :class="{ chosen: b.exposureS === chosen }">
        <input
          type="radio"
          name="guide-exposure"
          :checked="b.exposureS === chosen"
          :aria-label="`${b.exposureS} seconds: ${figure(b.snr, 0)}${why(b) ? `, ${why(b)}` : ''}`"
          @change="emit('choose', b.exposureS)"
        />
        <span class="mono">{{ figure(b.snr, 0) }}</span>
      </label>
    </fieldset>
  </div>
</template>

<style scoped>
.chart {
  height: 190px;
}
/* beneath the bars, at the axis' own inset */
.choices {
  border: 0;
  margin: 0;
  padding: 0 0 0 52px;
  display: grid;
  grid-auto-flow: column;
  grid-auto-columns: 1fr;
  justify-items: center;
}
input {
  accent-color: var(--accent);
}
label {
  display: grid;
  justify-items: center;
  font-size: 12px;
  color: var(--ink-2);
  cursor: pointer;
}
.chosen {
  color: var(--ink);
  font-weight: 700;
}
</style>
