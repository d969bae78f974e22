<script setup lang="ts">
import { COMPUTER, type CableSheet } from '@keen/core/cables';
import { figure } from '@keen/core/quantities';
import { Button, Input } from 'ant-design-vue';
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
  return { level: first!.level, text: units.say(first!.said) + (more ? ` And ${more} more below.` : '') };
});
const detail = computed(() => (record.value?.kept ? '' : 'As such rigs usually are, from memory: put it right and keep it.')); // prettier-ignore
const BUSES = [
  { value: 'usb2', label: 'USB 2' },
  { value: 'usb3', label: 'USB 3' },
];
const FEEDS = [
  { value: 'supply', label: 'the supply' },
  { value: 'usb', label: 'data cable' },
  { value: 'own', label: 'its own' },
];
const places = (own = '') => [{ value: COMPUTER, label: 'Computer' }, ...(sheet.value?.hubs ?? []).filter((h) => h.key !== own).map((h) => ({ value: h.key, label: h.name }))]; // prettier-ignore
const devicePlaces = computed(() => [...places(), { value: '', label: 'no data' }]);
const freeKey = (word: string) => {
  const taken = new Set([...(sheet.value?.hubs ?? []), ...(sheet.value?.devices ?? [])].map((x) => x.key));
  let n = 1;
  while (taken.has(`${word}-${n}`)) n++;
  return `${word}-${n}`;
};
const addHub = () => sheet.value?.hubs.push({ key: freeKey('hub'), name: 'Another hub', at: COMPUTER, bus: 'usb3', ports: 4, givesA: 2, lengthM: 1 }); // prettier-ignore
const addDevice = () => sheet.value?.devices.push({ key: freeKey('device'), name: 'Another device', at: sheet.value.hubs[0]?.key ?? COMPUTER, bus: 'usb2', megabytesPerS: 0.1, lengthM: 1, feed: 'supply', meanW: 1, peakW: 5, dcLengthM: 1, dcMm2: 0.75 }); // prettier-ignore
/** What hung on a hub that goes hangs on the one above. */
function dropHub(key: string) {
  const s = sheet.value;
  const hub = s?.hubs.find((h) => h.key === key);
  if (!s || !hub) return;
  s.hubs = s.hubs.filter((h) => h.key !== key).map((h) => (h.at === key ? { ...h, at: hub.at } : h));
  s.devices = s.devices.map((d) => (d.at === key ? { ...d, at: hub.at } : d));
}
const dropDevice = (key: string) => sheet.value && (sheet.value.devices = sheet.value.devices.filter((d) => d.key !== key)); // prettier-ignore
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
type Amount = { [K in keyof CableSheet['devices'][number]]: CableSheet['devices'][number][K] extends number ? K : never }[keyof CableSheet['devices'][number]]; // prettier-ignore
const DEVICE: readonly {
  key: Amount;
  label: string;
  unit: string;
  decimals: number;
  max: number;
  min?: number;
  width?: string;
}[] = [
  { key: 'megabytesPerS', label: 'data rate', unit: 'MB/s', decimals: 1, max: 5000, width: '100px' },
  { key: 'lengthM', label: 'data cable', unit: 'm', decimals: 1, max: 100 },
  { key: 'meanW', label: 'mean power', unit: 'W', decimals: 1, max: 2000 },
  { key: 'peakW', label: 'most power', unit: 'W', decimals: 1, max: 2000 },
  { key: 'dcLengthM', label: 'power cable', unit: 'm', decimals: 1, max: 100 },
  { key: 'dcMm2', label: 'copper', unit: 'mm²', decimals: 2, max: 50, min: 0.05 },
];
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
    <VerdictLine v-if="verdict" :verdict="verdict" :detail="detail" />
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
        <div class="scroll" tabindex="0" role="region" aria-label="Hubs and devices">
          <table class="figures" data-test="cables">
            <thead>
              <tr>
                <th>Name</th>
                <th>Hangs on</th>
                <th>Bus</th>
                <th class="num">Data</th>
                <th class="num">Data cable</th>
                <th>Power from</th>
                <th class="num">Mean</th>
                <th class="num">Most</th>
                <th class="num">Power cable</th>
                <th class="num">Copper</th>
                <th />
              </tr>
            </thead>
            <tbody>
              <tr v-for="h in sheet.hubs" :key="h.key" class="hub">
                <td>
                  <Input
                    v-model:value="h.name"
                    size="small"
                    :maxlength="80"
                    :aria-label="`Name of ${h.key}`"
                    :disabled="off"
                  />
                </td>
                <td>
                  <PickOne
                    :value="h.at"
                    :label="`${h.name} hangs on`"
                    size="small"
                    :options="places(h.key)"
                    :disabled="off"
                    @update:value="h.at = String($event)"
                  />
                </td>
                <td>
                  <PickOne
                    :value="h.bus"
                    :label="`Bus of ${h.name}`"
                    size="small"
                    :options="BUSES"
                    :disabled="off"
                    @update:value="h.bus = $event as typeof h.bus"
                  />
                </td>
                <td class="num">
                  <QuantityInput
                    v-model="h.ports"
                    dimension="number"
                    hide-label
                    :label="`Ports of ${h.name}`"
                    unit="ports"
                    :decimals="0"
                    :min="1"
                    :max="64"
                    width="86px"
                    :disabled="off"
                    @update:model-value="h.ports = $event ?? h.ports"
                  />
                </td>
                <td class="num">
                  <QuantityInput
                    :model-value="h.lengthM"
                    dimension="number"
                    hide-label
                    :label="`Cable of ${h.name}`"
                    unit="m"
                    :decimals="1"
                    :min="0"
                    :max="100"
                    width="76px"
                    :disabled="off"
                    @update:model-value="h.lengthM = $event ?? h.lengthM"
                  />
                </td>
                <td colspan="2" class="small muted">gives at 5 V</td>
                <td class="num">
                  <QuantityInput
                    :model-value="h.givesA"
                    dimension="number"
                    hide-label
                    :label="`Current of ${h.name}`"
                    unit="A"
                    :decimals="1"
                    :min="0"
                    :max="40"
                    width="76px"
                    :disabled="off"
                    @update:model-value="h.givesA = $event ?? h.givesA"
                  />
                </td>
                <td colspan="2" />
                <td>
                  <Button
                    size="small"
                    type="text"
                    :disabled="off"
                    :aria-label="`Take ${h.name} out`"
                    @click="dropHub(h.key)"
                    >✕</Button
                  >
                </td>
              </tr>
              <tr v-for="d in sheet.devices" :key="d.key">
                <td>
                  <Input
                    v-model:value="d.name"
                    size="small"
                    :maxlength="80"
                    :aria-label="`Name of ${d.key}`"
                    :disabled="off"
                  />
                </td>
                <td>
                  <PickOne
                    :value="d.at ?? ''"
                    :label="`${d.name} hangs on`"
                    size="small"
                    :options="devicePlaces"
                    :disabled="off"
                    @update:value="d.at = String($event) || null"
                  />
                </td>
                <td>
                  <PickOne
                    :value="d.bus"
                    :label="`Bus of ${d.name}`"
                    size="small"
                    :options="BUSES"
                    :disabled="off || d.at === null"
                    @update:value="d.bus = $event as typeof d.bus"
                  />
                </td>
                <template v-for="f in DEVICE" :key="f.key">
                  <td v-if="f.key === 'meanW'">
                    <PickOne
                      :value="d.feed"
                      :label="`Power of ${d.name}`"
                      size="small"
                      :options="FEEDS"
                      :disabled="off"
                      @update:value="d.feed = $event as typeof d.feed"
                    />
                  </td>
                  <td class="num">
                    <QuantityInput
                      :model-value="d[f.key]"
                      dimension="number"
                      hide-label
                      :label="`${d.name}, ${f.label}`"
                      :unit="f.unit"
                      :decimals="f.decimals"
                      :min="f.min ?? 0"
                      :max="f.max"
                      :width="f.width ?? '72px'"
                      :disabled="off || (f.key.startsWith('dc') && d.feed !== 'supply')"
                      @update:model-value="d[f.key] = $event ?? d[f.key]"
                    />
                  </td>
                </template>
                <td>
                  <Button
                    size="small"
                    type="text"
                    :disabled="off"
                    :aria-label="`Take ${d.name} out`"
                    @click="dropDevice(d.key)"
                    >✕</Button
                  >
                </td>
              </tr>
            </tbody>
          </table>
        </div>
        <div class="row">
          <Button size="small" :disabled="off" @click="addDevice">Add a device</Button>
          <Button size="small" :disabled="off" @click="addHub">Add a hub</Button>
        </div>
      </section>
      <div class="split two">
        <div class="stack">
          <section v-if="found" class="panel stack" data-test="cable-findings">
            <h2>What holds, and what does not</h2>
            <p v-for="f in found.findings" :key="units.say(f.said)" :class="`level-${f.level}`">
              {{ units.say(f.said) }}
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
.scroll {
  overflow-x: auto;
}
.hub {
  background: var(--sunk);
}
td {
  padding: 3px 4px;
}
td:first-child {
  min-width: 130px;
}
@media (max-width: 1100px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
