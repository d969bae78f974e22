<script setup lang="ts">
import type { FocusRunRecord } from '@keen/contract';
import WhenThere from '../../common/WhenThere.vue';
import { figure, signed } from '@keen/core/quantities';
import { Button, Switch } from 'ant-design-vue';
import dayjs from 'dayjs';
import { computed, ref } from 'vue';
import EmptyState from '../../common/EmptyState.vue';
import FilterTile from '../../common/FilterTile.vue';
import ListTable, { type Column } from '../../common/ListTable.vue';
import { useShortcut } from '../../common/shortcuts.ts';
import VerdictLine from '../../common/VerdictLine.vue';
import WorkingFold from '../../common/WorkingFold.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import CurveChart from './CurveChart.vue';
import DriftChart from './DriftChart.vue';
import FocusImport from './FocusImport.vue';
import GuideFocus from './GuideFocus.vue';
import NightsAgainst from './NightsAgainst.vue';
import OffsetsChoice from './OffsetsChoice.vue';
import OffsetsPicture from './OffsetsPicture.vue';
import { useFocusOffsets } from './useFocusOffsets.ts';
import { useUnits } from '../../stores/units.ts';

const units = useUnits();

const club = useClub();
const session = useSession();
const focus = useFocusOffsets();
const { runs, trouble, filters, seen, reference, model, zoneSteps, found, why, verdict, standing, outlying } = focus;

const chosenId = ref('');
const newest = computed(() => [...runs.value].reverse());
const chosen = computed(() => runs.value.find((r) => r.id === chosenId.value) ?? newest.value[0] ?? null);
function step(by: number) {
  const i = newest.value.findIndex((r) => r.id === chosen.value?.id);
  chosenId.value = newest.value[Math.min(newest.value.length - 1, Math.max(0, i + by))]?.id ?? '';
}
useShortcut('j', () => step(1));
useShortcut('k', () => step(-1));
useShortcut('x', () => chosen.value && session.mayEdit && void focus.toggle(chosen.value));
const columns = computed<Column<FocusRunRecord>[]>(() => [
  { key: 'time', title: 'When, UTC', value: (r) => r.time?.slice(0, 16).replace('T', ' ') ?? null },
  { key: 'filter', title: 'Filter', value: (r) => r.filter },
  { key: 'position', title: 'Position', value: (r) => r.position, numeric: true },
  { key: 'error', title: '± 1σ', value: (r) => r.error, decimals: 1, numeric: true },
  {
    key: 'temp',
    title: units.unitOf('airC'),
    value: (r) => (r.temperatureC === null ? null : units.bare('airC', r.temperatureC)),
    decimals: 1,
    numeric: true,
  },
  {
    key: 'state',
    title: 'Remark',
    value: (r) => (r.excluded ? 'left out' : !r.usable ? 'not usable' : outlying.value.has(r.id) ? 'outlier' : ''),
  },
]);
</script>

<template>
  <EmptyState v-if="!club.rig" title="No rig yet" lacks="rig">Focus runs belong to a rig’s train state.</EmptyState>
  <template v-else>
    <WhenThere :of="[focus.answer, club.offsetsAnswer]">
      <VerdictLine v-if="verdict" :verdict="verdict" :notes="standing" />
    </WhenThere>
    <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
    <div v-if="found" class="split board">
      <section class="panel stack">
        <div class="row spread">
          <h2>Offsets for {{ club.rig.words }}</h2>
          <OffsetsChoice v-model:reference="reference" v-model:model="model" :seen="seen" />
        </div>
        <OffsetsPicture
          :found="found"
          :reference="reference"
          :zone-steps="zoneSteps"
          :adopted="club.offsets?.offsets ?? null"
        />
        <p class="muted small">
          Dots with 95 % bars are the fit; hollow rings are plain averages, which mix filter and temperature<template
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
          <Button
            v-if="session.mayEdit"
            type="primary"
            :loading="focus.adopting.value"
            :disabled="!focus.settled.value"
            @click="focus.adopt"
            >Adopt for {{ club.rig.words }}</Button
          >
        </div>
      </section>
      <section class="panel stack">
        <h2>The tube’s own drift</h2>
        <DriftChart :runs="focus.foundFrom.value" :found="found" />
        <table class="figures">
          <tbody>
            <tr v-if="found.temperatureStepsPerC !== undefined">
              <td>With temperature</td>
              <td class="num">
                {{ units.slope(found.temperatureStepsPerC) }} ± {{ units.slope(found.temperatureError ?? 0, 1, false) }}
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
              <td class="num">{{ units.degrees(found.refocusEveryC, 1) }}</td>
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
      <OffsetsChoice v-model:reference="reference" v-model:model="model" :seen="seen" />
    </section>
    <div v-if="found && club.offsets" class="split board">
      <NightsAgainst
        :runs="focus.foundFrom.value"
        :adopted="club.offsets"
        :scatter-steps="found.residualSteps"
        :time-zone="club.site?.timeZone ?? 'UTC'"
      />
      <GuideFocus v-if="club.rig.setup.offAxis" :setup="club.rig.setup" :adopted="club.offsets" />
    </div>
    <section v-if="session.mayEdit" class="panel">
      <FocusImport
        :train-state-id="club.rig.trainStateId"
        :words="club.rig.words"
        :filters="filters"
        @stored="focus.load"
      />
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
              @update:checked="focus.toggle(row)"
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
