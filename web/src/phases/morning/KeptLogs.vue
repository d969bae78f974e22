<script setup lang="ts">
import type { GuideLogRecord } from '@keen/contract';
import { figure } from '@keen/core/quantities';
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
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
  { key: 'found', title: 'Found', value: (l) => l.summary.findings.map((f) => f.code.replaceAll('-', ' ')).join(', ') },
  { key: 'words', title: 'Train', value: (l) => l.words },
  { key: 'note', title: 'Different that night', value: (l) => l.note },
];
const W = 1080;
const H = 116;
const points = computed(() => {
  const list = [...props.logs].sort((a, b) => (a.night + a.at < b.night + b.at ? -1 : 1)).slice(-40);
  const top = Math.max(1, ...list.map((l) => l.summary.rms.total)) * 1.1;
  return list.map((l, i) => ({
    log: l,
    x: 44 + (list.length === 1 ? 0.5 : i / (list.length - 1)) * (W - 90),
    y: H - 24 - (l.summary.rms.total / top) * (H - 40),
    changed: i > 0 && list[i - 1]!.words !== l.words,
    low: H - 24 - (0.8 / top) * (H - 40),
  }));
});
const mayDrop = (l: GuideLogRecord) => session.isSteward || l.by === session.member?.name;
</script>

<template>
  <section v-if="logs.length" class="panel stack" data-test="kept-logs">
    <h2>Kept nights <span class="muted small">scatter in all; a dashed stroke: the train was changed</span></h2>
    <svg :viewBox="`0 0 ${W} ${H}`" class="trend" role="img" aria-label="Scatter of the kept nights in order">
      <path :d="`M40 ${points[0]!.low}H${W - 10}`" stroke="var(--good)" stroke-dasharray="5 4" />
      <text x="2" :y="points[0]!.low + 4" class="mono">0.8″</text>
      <path
        v-if="points.length > 1"
        :d="`M${points.map((p) => `${p.x},${p.y}`).join('L')}`"
        fill="none"
        stroke="var(--lane-edge)"
        stroke-width="1.6"
      />
      <g v-for="p in points" :key="p.log.id">
        <path v-if="p.changed" :d="`M${p.x - 12} 8V${H - 22}`" stroke="var(--accent)" stroke-dasharray="3 3" />
        <circle
          :cx="p.x"
          :cy="p.y"
          r="5.5"
          :fill="p.log.id === comparedId ? 'var(--accent)' : 'var(--surface)'"
          stroke="var(--lane-edge)"
          stroke-width="2"
        >
          <title>{{ p.log.name }}, {{ figure(p.log.summary.rms.total, 2) }}″</title>
        </circle>
        <text v-if="points.length <= 14" :x="p.x" :y="H - 6" text-anchor="middle" class="mono">
          {{ dayName(p.log.night) }}
        </text>
      </g>
    </svg>
    <ListTable :rows="logs" :columns="columns" name="guide-logs" :row-key="(l) => l.id" :page-size="8" empty="None.">
      <template #night="{ row }"
        ><span class="acts">{{ dayName(row.night) }}</span></template
      >
      <template #words="{ row }"
        ><span class="acts">{{ row.words }}</span></template
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
  width: 100%;
  max-height: 150px;
}
.trend text {
  font-size: 12px;
  fill: var(--ink-2);
}
.acts {
  white-space: nowrap;
}
</style>
