<script setup lang="ts">
import { COMPUTER, type CableSheet } from '@keen/core/cables';
import { Button, Input } from 'ant-design-vue';
import PickOne from '../../common/PickOne.vue';
import AmountCell from './AmountCell.vue';

/** Hubs and devices, what they hang on and what they ask for. The sheet is the draft itself. */
const props = defineProps<{ sheet: CableSheet; off: boolean }>();
const BUSES = [
  { value: 'usb2', label: 'USB 2' },
  { value: 'usb3', label: 'USB 3' },
];
const FEEDS = [
  { value: 'supply', label: 'the supply' },
  { value: 'usb', label: 'data cable' },
  { value: 'own', label: 'its own' },
];
const HEADS = [
  'Name',
  'Hangs on',
  'Bus',
  'Data',
  'Data cable',
  'Power from',
  'Mean',
  'Most',
  'Power cable',
  'Copper',
  '',
];
const places = (own = '') => [
  { value: COMPUTER, label: 'Computer' },
  ...props.sheet.hubs.filter((h) => h.key !== own).map((h) => ({ value: h.key, label: h.name })),
];
const freeKey = (word: string) => {
  const taken = new Set([...props.sheet.hubs, ...props.sheet.devices].map((x) => x.key));
  let n = 1;
  while (taken.has(`${word}-${n}`)) n++;
  return `${word}-${n}`;
};
const addHub = () =>
  props.sheet.hubs.push({
    key: freeKey('hub'),
    name: 'Another hub',
    at: COMPUTER,
    bus: 'usb3',
    ports: 4,
    givesA: 2,
    lengthM: 1,
  });
const addDevice = () =>
  props.sheet.devices.push({
    key: freeKey('device'),
    name: 'Another device',
    at: props.sheet.hubs[0]?.key ?? COMPUTER,
    bus: 'usb2',
    megabytesPerS: 0.1,
    lengthM: 1,
    feed: 'supply',
    meanW: 1,
    peakW: 5,
    dcLengthM: 1,
    dcMm2: 1,
  });
/** What hung on a hub that goes hangs on the one above. */
function dropHub(key: string) {
  const { sheet } = props;
  const above = sheet.hubs.find((h) => h.key === key)?.at ?? COMPUTER;
  sheet.hubs.splice(
    sheet.hubs.findIndex((h) => h.key === key),
    1,
  );
  for (const one of [...sheet.hubs, ...sheet.devices]) if (one.at === key) one.at = above;
}
const dropDevice = (key: string) =>
  props.sheet.devices.splice(
    props.sheet.devices.findIndex((d) => d.key === key),
    1,
  );
</script>

<template>
  <div class="scroll acts" tabindex="0" role="region" aria-label="Hubs and devices">
    <table class="figures" data-test="cables">
      <thead>
        <tr>
          <th v-for="(h, i) in HEADS" :key="h" :class="{ num: [3, 4, 6, 7, 8, 9].includes(i) }">{{ h }}</th>
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
              v-model:value="h.at"
              :label="`${h.name} hangs on`"
              size="small"
              :options="places(h.key)"
              :disabled="off"
            />
          </td>
          <td>
            <PickOne v-model:value="h.bus" :label="`Bus of ${h.name}`" size="small" :options="BUSES" :disabled="off" />
          </td>
          <AmountCell
            v-model="h.ports"
            :label="`Ports of ${h.name}`"
            unit="ports"
            :decimals="0"
            :min="1"
            :max="64"
            width="86px"
            :off="off"
          />
          <AmountCell v-model="h.lengthM" :label="`Cable of ${h.name}`" unit="m" :max="100" :off="off" />
          <td colspan="2" class="small muted">gives at 5 V</td>
          <AmountCell v-model="h.givesA" :label="`Current of ${h.name}`" unit="A" :max="40" :off="off" />
          <td colspan="2" />
          <td>
            <Button size="small" type="text" :disabled="off" :aria-label="`Take ${h.name} out`" @click="dropHub(h.key)"
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
              :options="[...places(), { value: '', label: 'no data' }]"
              :disabled="off"
              @update:value="d.at = String($event) || null"
            />
          </td>
          <td>
            <PickOne
              v-model:value="d.bus"
              :label="`Bus of ${d.name}`"
              size="small"
              :options="BUSES"
              :disabled="off || d.at === null"
            />
          </td>
          <AmountCell
            v-model="d.megabytesPerS"
            :label="`${d.name}, data rate`"
            unit="MB/s"
            :max="5000"
            width="100px"
            :off="off || d.at === null"
          />
          <AmountCell
            v-model="d.lengthM"
            :label="`${d.name}, data cable`"
            unit="m"
            :max="100"
            :off="off || d.at === null"
          />
          <td>
            <PickOne
              v-model:value="d.feed"
              :label="`Power of ${d.name}`"
              size="small"
              :options="FEEDS"
              :disabled="off"
            />
          </td>
          <AmountCell v-model="d.meanW" :label="`${d.name}, mean power`" unit="W" :max="2000" :off="off" />
          <AmountCell v-model="d.peakW" :label="`${d.name}, most power`" unit="W" :max="2000" :off="off" />
          <AmountCell
            v-model="d.dcLengthM"
            :label="`${d.name}, power cable`"
            unit="m"
            :max="100"
            :off="off || d.feed !== 'supply'"
          />
          <AmountCell
            v-model="d.dcMm2"
            :label="`${d.name}, copper`"
            unit="mm²"
            :decimals="2"
            :min="0.05"
            :max="50"
            :off="off || d.feed !== 'supply'"
          />
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
</template>

<style scoped>
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
</style>
