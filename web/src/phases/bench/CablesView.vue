<script setup lang="ts">
import { makeVerdict, phrase } from '@keen/core/phrases';
import { figure } from '@keen/core/quantities';
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import EmptyState from '../../common/EmptyState.vue';
import FieldGrid from '../../common/FieldGrid.vue';
import KeptBar from '../../common/KeptBar.vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import { useRigDraft } from '../../common/useRigDraft.ts';
import VerdictLine from '../../common/VerdictLine.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { useUnits } from '../../stores/units.ts';
import CablesTable from './CablesTable.vue';
import CableLoads from './CableLoads.vue';
import { useCables } from './useCables.ts';

/** The rig’s cables: what hangs on what, whether data, currents and the battery hold, and whether they are long enough. */
const club = useClub();
const session = useSession();
const units = useUnits();
const { record, trouble, kept, saving, nightHours, outcome } = useCables();
const edit = useRigDraft();
const sheet = kept.draft;
const off = computed(() => !session.mayEdit);
const found = computed(() => (outcome.value?.ok ? outcome.value.value : null));
const verdict = computed(() => {
  const o = outcome.value;
  if (!o) return null;
  if (!o.ok) return { level: 'bad' as const, text: o.text };
  const [first, ...rest] = o.value.findings;
  const more = rest.filter((f) => f.level !== 'good').length;
  return makeVerdict(first!.level, first!.phrase, ...(more ? [phrase('cables.more', { more })] : []));
});
const notes = computed(() => (record.value?.kept ? [] : [phrase('cables.usual')]));
const SUPPLY = [
  { key: 'volts', label: 'Voltage', dimension: 'number', unit: 'V', decimals: 1, min: 3, max: 60 },
  { key: 'amps', label: 'It gives', dimension: 'number', unit: 'A', decimals: 1, min: 0, max: 200 },
  { key: 'fuseA', label: 'Its fuse', dimension: 'number', unit: 'A', decimals: 1, min: 0, max: 200 },
] as const;
const BUNDLE = [
  { key: 'xMm', label: 'Leaves the tube at x', dimension: 'length', decimals: 0, min: -5000, max: 5000 },
  { key: 'yMm', label: 'y', dimension: 'length', decimals: 0, min: -5000, max: 5000 },
  { key: 'zMm', label: 'z', dimension: 'length', decimals: 0, min: -5000, max: 5000 },
  { key: 'belowMm', label: 'Held below the head by', dimension: 'length', decimals: 0, min: 0, max: 5000 },
  { key: 'freeMm', label: 'Length between', dimension: 'length', decimals: 0, min: 0, max: 20_000 },
  { key: 'gramsPerM', label: 'Mass of the bundle', dimension: 'number', unit: 'g/m', decimals: 0, min: 0, max: 5000 },
] as const;
/** The cables as a part of the tube, so that the balance knows them. */
const PART = 'cables';
const inBalance = computed(() => edit.draft.value?.setup.placed.find((p) => p.name === PART) ?? null);
function intoBalance() {
  const s = sheet.value;
  const placed = edit.draft.value?.setup.placed;
  if (!s || !placed || !found.value) return;
  const massKg = Math.round(found.value.onTubeKg * 1000) / 1000;
  const { xMm, yMm, zMm } = s.bundle;
  if (inBalance.value) Object.assign(inBalance.value, { massKg, xMm, yMm, zMm });
  else placed.push({ name: PART, kind: 'accessory', massKg, xMm, yMm, zMm, lengthMm: 60, widthMm: 40 });
}
</script>

<template>
  <EmptyState v-if="!club.rig" title="No rig yet" lacks="rig">Cables belong to a rig.</EmptyState>
  <template v-else>
    <VerdictLine v-if="verdict" :verdict="verdict" :notes="notes" />
    <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
    <template v-if="sheet">
      <KeptBar
        :kept="kept"
        :saving="saving"
        :fields-of="(r) => r.sheet"
        :record="record?.kept ? record : null"
        :locked="off ? 'As a guest you may try figures here; they are not kept for others.' : undefined"
      />
      <section class="panel stack">
        <h2>What hangs on what</h2>
        <CablesTable :sheet="sheet" :off="off" />
      </section>
      <div class="split two">
        <div class="stack">
          <section v-if="found" class="panel stack" data-test="cable-findings">
            <h2>What holds, and what does not</h2>
            <p v-for="f in found.findings" :key="units.say(f.phrase)" :class="`level-${f.level}`">
              {{ units.say(f.phrase) }}
            </p>
          </section>
          <section class="panel stack">
            <h2>Supply</h2>
            <FieldGrid :record="sheet.supply" :fields="SUPPLY" :off="off" width="120px">
              <QuantityInput
                v-model="sheet.supply.batteryWh"
                dimension="number"
                unit="Wh"
                label="Battery, if any"
                optional
                :decimals="0"
                :min="1"
                :max="100000"
                :disabled="off"
              />
              <PickOne
                v-if="sheet.supply.batteryWh !== null"
                v-model:value="sheet.supply.chemistry"
                label="of"
                shown
                :options="[
                  { value: 'lithium', label: 'lithium' },
                  { value: 'lead', label: 'lead' },
                ]"
                :disabled="off"
              />
              <QuantityInput
                :model-value="sheet.airC"
                dimension="temperature"
                label="Coldest air"
                :decimals="0"
                :min="-50"
                :max="50"
                :disabled="off"
                @update:model-value="sheet.airC = $event ?? sheet.airC"
              />
            </FieldGrid>
            <p v-if="found" class="small">
              {{ figure(found.meanW, 0) }} W in the mean over {{ figure(nightHours, 1) }} h of this night, set-up in it:
              {{ figure(found.needWh, 0) }} Wh<template v-if="found.haveWh !== null"
                >; the battery gives {{ figure(found.haveWh, 0) }} Wh in this cold<template v-if="found.lastsH !== null"
                  >, for {{ figure(found.lastsH, 1) }} h</template
                ></template
              >.
            </p>
            <p class="muted small">
              Mains outdoors belong behind residual-current protection, low voltage behind a fuse near the battery; the
              local code decides, and fixed wiring is an electrician’s. Lithium cells are not charged below freezing.
            </p>
          </section>
        </div>
        <div class="stack">
          <CableLoads v-if="found" :found="found" :supply="sheet.supply" />
          <section class="panel stack" data-test="bundle">
            <h2>The bundle, through the flip</h2>
            <FieldGrid :record="sheet.bundle" :fields="BUNDLE" :off="off" width="150px" />
            <p v-if="found" class="small">
              The farthest pointing asks for {{ units.length(found.farthestMm) }}, with slack
              {{ units.length(found.wantedMm) }}. The tube carries {{ units.mass(found.onTubeKg) }} of it: half of what
              hangs.
            </p>
            <div class="row">
              <Button size="small" :disabled="off" @click="intoBalance">{{
                inBalance ? 'Bring them up to date in the balance' : 'Put them into the balance'
              }}</Button>
              <span v-if="inBalance" class="muted small"
                >“cables” is a part of the rig with {{ units.mass(inBalance.massKg) }}; it is saved with the rig, on
                Balance or Rigs.</span
              >
            </div>
          </section>
        </div>
      </div>
    </template>
  </template>
</template>

<style scoped>
.two {
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
}
@media (max-width: 1100px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
