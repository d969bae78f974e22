<script setup lang="ts">
import type { ProjectRecord } from '@keen/contract';
import { figure, formatDec, formatRa } from '@keen/core/quantities';
import type { LegSchedule, Leg, PlanField, Twilight } from '@keen/core/sequence';
import type { Panel } from '@keen/core/sky';
import { Checkbox, RadioButton, RadioGroup } from 'ant-design-vue';
import { computed } from 'vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import BoundInput from './BoundInput.vue';
import { ROLE_WORDS } from './nightWords.ts';

/** When a leg works, whose turn it is, and how the mount follows it. */
const props = defineProps<{
  leg: Leg;
  project: ProjectRecord;
  /** Of the project’s mosaic; empty where it is one field. */
  panels: readonly Panel[];
  schedule: LegSchedule | null;
  timeZone: string;
  night: string;
  off: boolean;
  /** Fields closed to this person: they are not shown here. */
  closed: ReadonlySet<PlanField>;
}>();
const at = computed(() => (props.leg.panel === null ? null : (props.panels[props.leg.panel] ?? null)));
/** Left out, the leg’s own ends decide; it never works with the Sun up, nor with the object low or hidden. */
const DARKNESS = [
  { value: '', label: 'as its ends say, else astronomically' },
  { value: 'astronomical', label: 'from astronomical twilight (Sun at −18°)' },
  { value: 'nautical', label: 'from nautical twilight (−12°)' },
  { value: 'civil', label: 'from civil twilight (−6°)' },
  { value: 'sunset', label: 'as soon as the Sun is down' },
];
function setDarkness(value: unknown) {
  const leg = props.leg;
  if (value) leg.darkness = value as Twilight;
  else delete leg.darkness;
}
const ROLES = Object.entries(ROLE_WORDS) as [Leg['role'], (typeof ROLE_WORDS)['main']][];
</script>

<template>
  <div class="stack" data-test="leg">
    <BoundInput
      v-if="!closed.has('hours')"
      v-model="leg.from"
      side="from"
      :comes-ms="schedule?.startMs ?? null"
      :time-zone="timeZone"
      :night="night"
      :disabled="off"
    />
    <BoundInput
      v-if="!closed.has('hours')"
      v-model="leg.until"
      side="until"
      :comes-ms="schedule?.endMs ?? null"
      :time-zone="timeZone"
      :night="night"
      :disabled="off"
    />
    <PickOne
      v-if="!closed.has('hours')"
      :value="leg.darkness ?? ''"
      shown
      class="dark-pick"
      label="Dark enough"
      :options="DARKNESS"
      :disabled="off"
      :dropdown-match-select-width="false"
      @update:value="setDarkness"
    />
    <div v-if="!closed.has('targets') && project.panels > 1" class="row">
      <PickOne
        v-model:value="leg.panel"
        class="panel-pick"
        label="Panel"
        :options="[
          { value: null, label: 'Middle of the framing' },
          ...panels.map((_, k) => ({ value: k, label: `Panel ${k + 1} of ${project.panels}` })),
        ]"
        :disabled="off"
      />
      <span v-if="at" class="mono small"
        >{{ formatRa(at.raDeg) }} {{ formatDec(at.decDeg) }}, camera {{ figure(at.angleDeg, 1) }}°</span
      >
    </div>
    <div v-if="!closed.has('targets')">
      <RadioGroup v-model:value="leg.role" button-style="solid" size="small" :disabled="off" aria-label="Its turn">
        <RadioButton v-for="[key, { label }] in ROLES" :key="key" :value="key">{{ label }}</RadioButton>
      </RadioGroup>
      <p class="muted small">{{ ROLE_WORDS[leg.role].help }}</p>
      <div v-if="leg.role === 'main'" class="row turns">
        <Checkbox :checked="leg.turnMin !== null" :disabled="off" @update:checked="leg.turnMin = $event ? 30 : null"
          >In turns with its neighbours</Checkbox
        >
        <QuantityInput
          v-if="leg.turnMin !== null"
          v-model="leg.turnMin"
          dimension="number"
          unit="min"
          label="Length of a turn"
          hide-label
          :decimals="0"
          :min="10"
          :max="240"
          :step="5"
          width="96px"
          :disabled="off"
        />
      </div>
    </div>
    <div v-if="!closed.has('following')" class="row">
      <Checkbox v-model:checked="leg.guiding" :disabled="off">Guided</Checkbox>
      <Checkbox
        :checked="leg.meridian === 'flip'"
        :disabled="off"
        @update:checked="leg.meridian = $event ? 'flip' : 'stop'"
        >Flip at the meridian</Checkbox
      >
      <QuantityInput
        v-model="leg.centreWithinArcmin"
        dimension="number"
        unit="′"
        label="Centred within"
        :decimals="1"
        :min="0.05"
        :max="30"
        :step="0.1"
        width="110px"
        :disabled="off"
      />
    </div>
    <p v-if="!leg.guiding" class="level-caution small">
      Unguided: nothing is dithered, and long frames trail by what the mount drifts.
    </p>
    <p v-if="leg.meridian === 'stop'" class="muted small">The leg ends where the object crosses the meridian.</p>
  </div>
</template>

<style scoped>
.dark-pick {
  width: 100%;
  max-width: 320px;
}
.panel-pick {
  width: 200px;
}
.turns {
  margin-top: 6px;
}
p {
  margin-top: 4px;
}
</style>
