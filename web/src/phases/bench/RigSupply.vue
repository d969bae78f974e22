<script setup lang="ts">
import type { RigSetup } from '@keen/core/rig';
import { Checkbox } from 'ant-design-vue';
import FieldGrid from '../../common/FieldGrid.vue';
import QuantityInput from '../../common/QuantityInput.vue';

/** What everything runs on: whether it is switched, when it is too low, and how long a battery lasts. */
defineProps<{ setup: RigSetup; off: boolean }>();
const BATTERY = [
  { key: 'capacityWh', label: 'It holds', dimension: 'number', unit: 'Wh', decimals: 0, min: 1, max: 100000, step: 10 },
  { key: 'drawW', label: 'All together take', dimension: 'number', unit: 'W', decimals: 0, min: 1, max: 10000 },
] as const;
</script>

<template>
  <div class="stack" data-test="supply">
    <Checkbox
      :checked="setup.supply !== undefined"
      :disabled="off"
      @update:checked="setup.supply = $event ? { switched: false, closesBelowV: null, battery: null } : undefined"
      >A power supply that tells its voltage</Checkbox
    >
    <template v-if="setup.supply">
      <div class="row fields">
        <QuantityInput
          v-model="setup.supply.closesBelowV"
          dimension="number"
          unit="V"
          label="Close the night below"
          optional
          :decimals="1"
          :min="1"
          :max="60"
          :step="0.1"
          width="130px"
          :disabled="off"
        />
        <Checkbox v-model:checked="setup.supply.switched" :disabled="off"
          >Switched on before everything is connected, and off after</Checkbox
        >
        <Checkbox
          :checked="setup.supply.battery !== null"
          :disabled="off"
          @update:checked="setup.supply.battery = $event ? { capacityWh: 500, drawW: 45 } : null"
          >A battery</Checkbox
        >
      </div>
      <template v-if="setup.supply.battery">
        <FieldGrid :record="setup.supply.battery" :fields="BATTERY" :off="off" />
        <p class="muted small">
          Lasts {{ (setup.supply.battery.capacityWh / setup.supply.battery.drawW).toFixed(1) }} h if all of it can be
          taken; many batteries are harmed below half. A rehearsal lets it run down.
        </p>
      </template>
      <p class="muted small">
        Empty: it is only shown. Set it so that enough is left to park, to close the roof and to warm the camera.
      </p>
    </template>
  </div>
</template>

<style scoped>
.fields {
  align-items: end;
  flex-wrap: wrap;
}
</style>
