<script setup lang="ts">
import { api, type FocusRunRecord } from '@keen/contract';
import { zoneStepsOf } from '@keen/core/observatory';
import type { DriftModel, OffsetsOutput } from '@keen/core/focus';
import { figure, signed } from '@keen/core/quantities';
import { filtersOf } from '@keen/core/rig';
import { Button, Switch, message } from 'ant-design-vue';
import dayjs from 'dayjs';
import { computed, ref, shallowRef, watch } from 'vue';
import { call, said } from '../../api/client.ts';
import EmptyState from '../../common/EmptyState.vue';
import FilterTile from '../../common/FilterTile.vue';
import ListTable, { type Column } from '../../common/ListTable.vue';
import { useShortcut } from '../../common/shortcuts.ts';
import VerdictLine from '../../common/VerdictLine.vue';
import WorkingFold from '../../common/WorkingFold.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { core } from '../../workers/index.ts';
import CurveChart from './CurveChart.vue';
import DriftChart from './DriftChart.vue';
import FocusImport from './FocusImport.vue';
import OffsetsPicture from './OffsetsPicture.vue';
import PickOne from '../../common/PickOne.vue';

const club = useClub();
const session = useSession();
const runs = shallowRef<FocusRunRecord[]>([]);
const loaded = ref(false);
const trouble = ref('');
let turn = 0;
async function load() {
  const mine = ++turn;
  const state = club.rig?.trainStateId;
  if (!state) return;
  const got = await call(api.focusRuns, { query: { trainStateId: state } });
  if (mine !== turn) return;
  if (got.ok) runs.value = got.value;
  else trouble.value = said(got.problem);
  loaded.value = true;
}
watch(
  () => club.rig?.trainStateId,
  () => {
    runs.value = [];
    loaded.value = false;
    void load();
  },
  { immediate: true },
);

const used = computed(() => runs.value.filter((r) => r.usable && !r.excluded));
const filters = computed(() => (club.rig ? filtersOf(club.rig.setup) : []));
const seen = computed(() => [...new Set(used.value.map((r) => r.filter))]);
const reference = ref('');
watch(
  [seen, () => club.offsets],
  () => {
    if (!seen.value.includes(reference.value))
      reference.value =
        [club.offsets?.reference, ...filters.value].find((f) => f !== undefined && seen.value.includes(f)) ??
        seen.value[0] ??
        '';
  },
  { immediate: true },
);
const model = ref<DriftModel>('temperature');
const zoneSteps = computed(() => (club.rig ? zoneStepsOf(club.rig.setup) : null));
const found = shallowRef<OffsetsOutput | null>(null);
const why = ref('');
let asked = 0;
watch(
  [used, reference, model, zoneSteps],
  async () => {
    found.value = null;
    why.value = '';
    if (!used.value.length || !reference.value) return;
    const mine = ++asked;
    const got = await core().offsets({
      runs: used.value.map((r) => ({
        filter: r.filter,
        position: r.position,
        ...(r.temperatureC === null ? {} : { temperatureC: r.temperatureC }),
        ...(r.time === null ? {} : { time: r.time }),
      })),
      reference: reference.value,
      model: model.value,
      ...(zoneSteps.value ? { criticalZoneSteps: zoneSteps.value } : {}),
    });
    if (mine !== asked) return;
    if (got.ok) found.value = got.value;
    else why.value = got.message;
  },
  { immediate: true },
);
const verdict = computed(() => {
  if (!loaded.value) return null;
  if (!runs.value.length)
    return {
      level: 'caution' as const,
      text: `No focus run is on record for ${club.rig?.words ?? 'this train state'}.`,
    };
  if (why.value) return { level: 'caution' as const, text: `No offsets from these runs: ${why.value}` };
  return found.value?.verdict ?? null;
});
const standing = computed(() => {
  const a = club.offsets;
  if (!a) return `Nothing is adopted for ${club.rig?.words}: plans focus on every filter change until it is.`;
  const news = used.value.length - a.runCount;
  return `Adopted ${dayjs(a.adoptedAt).format('D MMM')} by ${a.by} from ${a.runCount} runs${news > 0 ? `; ${news} newer since` : ''}.`;
});
const adopting = ref(false);
async function adopt() {
  const f = found.value;
  if (!f || !club.rig) return;
  adopting.value = true;
  const got = await call(api.adoptOffsets, {
    body: {
      trainStateId: club.rig.trainStateId,
      reference: reference.value,
      model: model.value,
      offsets: f.offsets,
      temperatureStepsPerC: f.temperatureStepsPerC ?? null,
      zoneSteps: zoneSteps.value,
      runCount: used.value.length,
    },
  });
  adopting.value = false;
  if (!got.ok) {
    void message.error(said(got.problem));
    return;
  }
  await club.loadOffsets();
  void message.success(`Adopted for ${club.rig.words}. Plans made for this train state use them.`);
}

const chosenId = ref('');
const newest = computed(() => [...runs.value].reverse());
const chosen = computed(() => runs.value.find((r) => r.id === chosenId.value) ?? newest.value[0] ?? null);
function step(by: number) {
  const i = newest.value.findIndex((r) => r.id === chosen.value?.id);
  chosenId.value = newest.value[Math.min(newest.value.length - 1, Math.max(0, i + by))]?.id ?? '';
}
useShortcut('j', () => step(1));
useShortcut('k', () => step(-1));
const outlying = computed(() => new Set(found.value?.outliers.map((i) => used.value[i]?.id)));
async function toggle(r: FocusRunRecord) {
  const got = await call(api.excludeFocusRun, { params: { id: r.id }, body: { excluded: !r.excluded } });
  if (got.ok) runs.value = runs.value.map((o) => (o.id === r.id ? { ...o, excluded: !o.excluded } : o));
  else void message.error(said(got.problem));
}
useShortcut('x', () => chosen.value && session.mayEdit && void toggle(chosen.value));
const columns: Column<FocusRunRecord>[] = [
  { key: 'time', title: 'When, UTC', value: (r) => r.time?.slice(0, 16).replace('T', ' ') ?? null },
  { key: 'filter', title: 'Filter', value: (r) => r.filter },
  { key: 'position', title: 'Position', value: (r) => r.position, numeric: true },
  { key: 'error', title: '± 1σ', value: (r) => r.error, decimals: 1, numeric: true },
  { key: 'temp', title: '°C', value: (r) => r.temperatureC, decimals: 1, numeric: true },
  {
    key: 'state',
    title: 'Remark',
    value: (r) => (r.excluded ? 'left out' : !r.usable ? 'not usable' : outlying.value.has(r.id) ? 'outlier' : ''),
  },
];
const MODELS: { value: DriftModel; label: string }[] = [
  { value: 'temperature', label: 'temperature' },
  { value: 'time', label: 'time' },
  { value: 'both', label: 'temperature and time' },
  { value: 'none', label: 'nothing (plain, robust)' },
];
</script>

<template>
  <EmptyState v-if="!club.rig" title="No rig yet">Focus runs belong to a rig’s train state.</EmptyState>
  <template v-else>
    <VerdictLine v-if="verdict" :verdict="verdict" :detail="standing" />
    <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
    <div v-if="found" class="split board">
      <section class="panel stack">
        <div class="row spread">
          <h2>Offsets for {{ club.rig.words }}</h2>
          <span class="row small">
            <span class="row"
              >against
              <PickOne
                v-model:value="reference"
                size="small"
                class="ref"
                label="Reference filter"
                :options="seen.map((f) => ({ value: f, label: f }))"
            /></span>
            <span class="row"
              >allowing for
              <PickOne v-model:value="model" size="small" class="model" label="Drift model" :options="MODELS"
            /></span>
          </span>
        </div>
        <OffsetsPicture
          :found="found"
          :reference="reference"
          :zone-steps="zoneSteps"
          :adopted="club.offsets?.offsets ?? null"
        />
        <p class="muted small">
          Dots with 2σ bars are the fit; hollow rings are plain averages, which mix filter and temperature<template
            v-if="club.offsets"
            >; the brass stroke is what is adopted</template
          >. The shaded band is the focus zone, {{ figure(zoneSteps ?? 0, 0) }} steps.
        </p>
        <div class="row spread">
          <span>
            <template v-if="found.parfocal?.length"
              >Parfocal within the zone:
              <strong>{{ found.parfocal.map((g) => g.join(' = ')).join('; ') }}</strong>.</template
            >
            <template v-else>No two filters are parfocal within the zone.</template>
          </span>
          <Button v-if="session.mayEdit" type="primary" :loading="adopting" @click="adopt"
            >Adopt for {{ club.rig.words }}</Button
          >
        </div>
      </section>
      <section class="panel stack">
        <h2>The tube’s own drift</h2>
        <DriftChart :runs="used" :found="found" />
        <table class="figures">
          <tbody>
            <tr v-if="found.temperatureStepsPerC !== undefined">
              <td>With temperature</td>
              <td class="num">
                {{ signed(found.temperatureStepsPerC, 1) }} ± {{ figure(found.temperatureError ?? 0, 1) }} steps/°C
              </td>
            </tr>
            <tr v-if="found.driftStepsPerHour !== undefined">
              <td>With time</td>
              <td class="num">
                {{ signed(found.driftStepsPerHour, 1) }} ± {{ figure(found.driftError ?? 0, 1) }} steps/h
              </td>
            </tr>
            <tr v-if="found.refocusEveryC">
              <td>Refocus after</td>
              <td class="num">{{ figure(found.refocusEveryC, 1) }} °C</td>
            </tr>
            <tr>
              <td>Scatter of the runs</td>
              <td class="num">{{ figure(found.residualSteps, 1) }} steps</td>
            </tr>
          </tbody>
        </table>
      </section>
    </div>
    <section v-else-if="why" class="panel stack">
      <p>{{ why }}</p>
      <span class="row small">
        <span class="row"
          >against
          <PickOne
            v-model:value="reference"
            size="small"
            class="ref"
            label="Reference filter"
            :options="seen.map((f) => ({ value: f, label: f }))"
        /></span>
        <span class="row"
          >allowing for <PickOne v-model:value="model" size="small" class="model" label="Drift model" :options="MODELS"
        /></span>
      </span>
    </section>
    <section v-if="session.mayEdit" class="panel">
      <FocusImport :train-state-id="club.rig.trainStateId" :words="club.rig.words" :filters="filters" @stored="load" />
    </section>
    <div v-if="runs.length" class="split board">
      <section class="panel">
        <ListTable
          :rows="newest"
          :columns="columns"
          name="focus-runs"
          :row-key="(r) => r.id"
          :page-size="12"
          @choose="chosenId = $event.id"
        >
          <template #filter="{ row }"><FilterTile :name="row.filter" /></template>
          <template #acts="{ row }">
            <Button type="text" size="small" :class="{ here: row.id === chosen?.id }" @click="chosenId = row.id"
              >Curve</Button
            >
            <Switch
              v-if="session.mayEdit"
              :checked="!row.excluded"
              size="small"
              :aria-label="`Use the run of ${row.filter}`"
              @update:checked="toggle(row)"
            />
          </template>
        </ListTable>
      </section>
      <section v-if="chosen" class="panel stack">
        <h2>
          <FilterTile :name="chosen.filter" />
          {{ chosen.time ? dayjs(chosen.time).format('D MMM HH:mm') : 'without a time' }}
        </h2>
        <CurveChart :run="chosen" />
        <p v-if="chosen.reason" class="small level-caution">{{ chosen.reason }}</p>
      </section>
    </div>
    <WorkingFold v-if="found" :steps="found.working" />
  </template>
</template>

<style scoped>
.board {
  grid-template-columns: minmax(0, 1.35fr) minmax(0, 1fr);
}
.ref {
  width: 84px;
}
.model {
  width: 170px;
}
.here {
  color: var(--accent);
  font-weight: 700;
}
@media (max-width: 1000px) {
  .board {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
