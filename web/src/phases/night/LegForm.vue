<script setup lang="ts">
import type { LaidLeg, Leg, PlanField } from '@keen/core/sequence';
import { Checkbox, RadioButton, RadioGroup } from 'ant-design-vue';
import BoundInput from './BoundInput.vue';
import { ROLE_WORDS } from './nightWords.ts';

/** When a leg works, whose turn it is, and how the mount follows it. */
defineProps<{
  leg: Leg;
  laid: LaidLeg | null;
  timeZone: string;
  night: string;
  off: boolean;
  /** Fields closed to this person: they are not shown here. */
  closed: ReadonlySet<PlanField>;
}>();
const ROLES = Object.entries(ROLE_WORDS) as [Leg['role'], (typeof ROLE_WORDS)['main']][];
</script>

<template>
  <div class="stack" data-test="leg">
    <BoundInput
      v-if="!closed.has('hours')"
      v-model="leg.from"
      side="from"
      :comes-ms="laid?.startMs ?? null"
      :time-zone="timeZone"
      :night="night"
      :disabled="off"
    />
    <BoundInput
      v-if="!closed.has('hours')"
      v-model="leg.until"
      side="until"
      :comes-ms="laid?.endMs ?? null"
      :time-zone="timeZone"
      :night="night"
      :disabled="off"
    />
    <div v-if="!closed.has('targets')">
      <RadioGroup v-model:value="leg.role" button-style="solid" size="small" :disabled="off" aria-label="Its turn">
        <RadioButton v-for="[key, { label }] in ROLES" :key="key" :value="key">{{ label }}</RadioButton>
      </RadioGroup>
      <p class="muted small">{{ ROLE_WORDS[leg.role].help }}</p>
    </div>
    <div v-if="!closed.has('following')" class="row">
      <Checkbox v-model:checked="leg.guiding" :disabled="off">Guided</Checkbox>
      <Checkbox
        :checked="leg.meridian === 'flip'"
        :disabled="off"
        @update:checked="leg.meridian = $event ? 'flip' : 'stop'"
        >Flip at the meridian</Checkbox
      >
    </div>
    <p v-if="!leg.guiding" class="level-caution small">
      Unguided: nothing is dithered, and long frames trail by what the mount drifts.
    </p>
    <p v-if="leg.meridian === 'stop'" class="muted small">The leg ends where the object crosses the meridian.</p>
  </div>
</template>

<style scoped>
p {
  margin-top: 4px;
}
</style>
