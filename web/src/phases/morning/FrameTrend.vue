<script setup lang="ts">
import type { FrameGuiding } from '@keen/core/frames';
import { figure, longOverShort } from '@keen/core/quantities';
import { altitudesAt } from '@keen/core/sky';
import type { ChartOptions } from 'chart.js';
import { computed, ref } from 'vue';
import { Scatter } from 'vue-chartjs';
import { axisOf, clockAxis, noteLook, useChartLook } from '../../common/charts.ts';
import { filterLook } from '../../common/filters.ts';
import { coreSite } from '../../common/records.ts';
import { valueOrNull } from '../../common/outcome.ts';
import PickOne from '../../common/PickOne.vue';
import { clock } from '../../common/times.ts';
import { useClub } from '../../stores/club.ts';
import { useUnits } from '../../stores/units.ts';
import type { FrameRow } from './frameRow.ts';

/** How the frames of a night went: any of their measures against time, altitude or temperature. A point is a frame. */
const props = defineProps<{
  rows: readonly FrameRow[];
  guiding: ReadonlyMap<string, FrameGuiding>;
  chosen: string;
  night: string;
}>();
const emit = defineEmits<{ choose: [id: string] }>();
const club = useClub();
const units = useUnits();
const look = useChartLook();
const zone = computed(() => club.site?.timeZone ?? 'UTC');
const MEASURES = {
  hfd: { label: 'half flux diameter, px', of: (r: FrameRow) => r.look?.hfdPx ?? null, decimals: 2 },
  stars: { label: 'stars', of: (r: FrameRow) => r.look?.stars ?? null, decimals: 0 },
  sky: { label: 'sky', of: (r: FrameRow) => r.look?.background ?? null, decimals: 0 },
  round: {
    label: 'long over short',
    of: (r: FrameRow) => (typeof r.look?.eccentricity !== 'number' ? null : longOverShort(r.look.eccentricity)),
    decimals: 2,
  },
} as const;
const AGAINST = {
  time: 'time',
  altitude: 'altitude, °',
  temperature: 'temperature',
  focus: 'age of the focus, min',
  guiding: 'guiding, ″',
} as const;
const [measure, against] = [ref<keyof typeof MEASURES>('hfd'), ref<keyof typeof AGAINST>('time')];
const altitudes = computed(() => {
  const site = club.site;
  const seen = props.rows.filter((r) => r.place && r.startedAt);
  if (!site || against.value !== 'altitude' || seen.length === 0) return new Map<string, number>();
  const found = valueOrNull(() =>
    altitudesAt(
      coreSite(site),
      props.night,
      seen.map((r) => ({ ...r.place!, ms: Date.parse(r.startedAt!) })),
    ),
  );
  return new Map(seen.map((r, i) => [r.id, found?.[i] ?? NaN]));
});
const PLACES: Record<keyof typeof AGAINST, (r: FrameRow) => number | null> = {
  time: (r) => (r.startedAt === null ? null : Date.parse(r.startedAt)),
  altitude: (r) => altitudes.value.get(r.id) ?? null,
  temperature: (r) => (r.temperatureC === null ? null : units.bare('airC', r.temperatureC)),
  focus: (r) => r.focusAgeMin,
  guiding: (r) => props.guiding.get(r.id)?.rmsArcsec ?? null,
};
const at = (r: FrameRow) => PLACES[against.value](r);
const points = computed(() =>
  props.rows.flatMap((r) => {
    const [x, y] = [at(r), MEASURES[measure.value].of(r)];
    return x === null || y === null || Number.isNaN(x) ? [] : [{ x, y, row: r }];
  }),
);
const SHAPES = ['circle', 'rect', 'triangle', 'rectRot', 'star', 'crossRot', 'dash'] as const;
const filters = computed(() => [...new Set(points.value.map((p) => p.row.filter))]);
const data = computed(() => ({
  datasets: [
    ...filters.value.map((f, i) => ({
      label: f,
      data: points.value.filter((p) => p.row.filter === f),
      pointStyle: SHAPES[i % SHAPES.length],
      radius: 4,
      hitRadius: 8,
      backgroundColor: (c: { raw?: unknown }) =>
        (c.raw as { row: FrameRow } | undefined)?.row.accepted === false || look.value.red
          ? 'transparent'
          : filterLook(f).colour,
      // a deep red alone is lost on slate
      borderColor: look.value.red ? look.value.ink : look.value.ink2,
    })),
    {
      label: 'looked at',
      data: points.value.filter((p) => p.row.id === props.chosen),
      pointStyle: 'circle' as const,
      radius: 9,
      backgroundColor: 'transparent',
      borderColor: look.value.ink,
      borderWidth: 2,
    },
  ],
}));
const unit = computed(
  () => ({ time: '', altitude: '°', temperature: units.unitOf('airC'), focus: 'min', guiding: '″' })[against.value],
);
const shown = (x: number) =>
  against.value === 'time' ? clock(x, zone.value) : `${figure(x, against.value === 'guiding' ? 2 : 1)} ${unit.value}`;
const options = computed<ChartOptions<'scatter'>>(() => ({
  responsive: true,
  maintainAspectRatio: false,
  onClick: (_e, hit) => {
    const one =
      hit[0] && (data.value.datasets[hit[0].datasetIndex]!.data[hit[0].index] as { row: FrameRow } | undefined);
    if (one) emit('choose', one.row.id);
  },
  scales: {
    x:
      against.value === 'time'
        ? clockAxis(look.value, zone.value)
        : axisOf(
            look.value,
            against.value === 'temperature' ? `tube, ${units.unitOf('airC')}` : AGAINST[against.value],
            {
              ticks: {
                color: look.value.ink2,
                font: look.value.font,
                callback: (v: number | string) => figure(Number(v), against.value === 'guiding' ? 1 : 0),
                maxTicksLimit: 9,
              },
            },
          ),
    y: axisOf(look.value, MEASURES[measure.value].label),
  },
  plugins: {
    legend: { display: false },
    tooltip: {
      ...noteLook(look.value),
      callbacks: {
        label: (c) =>
          `${(c.raw as { row: FrameRow }).row.file || c.dataset.label}, ${shown(c.parsed.x ?? 0)}: ${figure(c.parsed.y ?? 0, MEASURES[measure.value].decimals)}`,
      },
    },
  },
}));
</script>

<template>
  <div class="stack">
    <div class="row">
      <PickOne
        :value="measure"
        label="Show"
        shown
        :options="Object.entries(MEASURES).map(([value, m]) => ({ value, label: m.label }))"
        :dropdown-match-select-width="false"
        @update:value="measure = $event as typeof measure"
      />
      <PickOne
        :value="against"
        label="against"
        shown
        :options="Object.entries(AGAINST).map(([value, label]) => ({ value, label }))"
        :dropdown-match-select-width="false"
        @update:value="against = $event as typeof against"
      />
      <span v-if="points.length < rows.length" class="muted small"
        >{{ rows.length - points.length }} of {{ rows.length }} frames have none</span
      >
    </div>
    <p v-if="points.length < 2" class="muted small" data-test="no-trend">
      {{ points.length ? 'One frame alone shows no course.' : 'No frame knows both: nothing to draw.' }}
    </p>
    <div v-else class="chart">
      <Scatter
        :data="data"
        :options="options"
        role="img"
        :aria-label="`${MEASURES[measure].label} against ${AGAINST[against]}`"
      />
    </div>
  </div>
</template>

<style scoped>
.chart {
  height: 170px;
}
</style>
