<script setup lang="ts">
import type { RigSetup, Rotator } from '@keen/core/rig';
import { Checkbox } from 'ant-design-vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';

/** A ring that turns the camera to the angle of a framing, and what is done past the meridian, where two schools differ. */
defineProps<{ setup: RigSetup; off: boolean }>();
const FLIP = [
  { value: 'leave', label: 'left upside down' },
  { value: 'turn', label: 'turned back by half a turn' },
];
</script>

<template>
  <div class="stack" data-test="rotator">
    <Checkbox
      :checked="setup.rotator !== undefined"
      :disabled="off"
      @update:checked="setup.rotator = $event ? { afterFlip: 'leave', reachDeg: 180 } : undefined"
      >A rotator turns the camera</Checkbox
    >
    <template v-if="setup.rotator">
      <div class="row fields">
        <PickOne
          :value="setup.rotator.afterFlip"
          label="Past the meridian it is"
          shown
          style="width: 220px"
          :options="FLIP"
          :disabled="off"
          @update:value="setup.rotator.afterFlip = $event as Rotator['afterFlip']"
        />
        <QuantityInput
          v-model="setup.rotator.reachDeg"
          dimension="angle"
          unit="°"
          label="Turns to either side"
          :decimals="0"
          :min="90"
          :max="360"
          width="130px"
          :disabled="off"
        />
      </div>
      <p class="muted small">
        <template v-if="setup.rotator.afterFlip === 'leave'"
          >Left: one set of flats serves both sides of the meridian and no cable is wound; frames are turned when they
          are stacked, and an off-axis guider sees another star.</template
        ><template v-else
          >Turned back: framing and guide star stay as they were; flats are needed at both angles of the rotator, and
          each flip takes as much longer as a turn.</template
        >
        At each pointing the picture’s top is turned to its project’s angle; “slew, centre” and “meridian flip” above
        count the turning in. Let it turn once by hand from end to end and watch the cables.
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
