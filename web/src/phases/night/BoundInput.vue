<script setup lang="ts">
import type { Bound, Twilight } from '@keen/core/sequence';
import { computed } from 'vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import TimeInput from '../../common/TimeInput.vue';
import { clock } from '../../common/times.ts';

/** One end of a leg’s window: a clock, or something the sky does, with the time it comes to this night. */
const props = defineProps<{
  modelValue: Bound;
  side: 'from' | 'until';
  /** When it comes to pass this night [ms]; null where it does not. */
  comesMs: number | null;
  timeZone: string;
  night: string;
  disabled?: boolean;
}>();
const emit = defineEmits<{ 'update:modelValue': [bound: Bound] }>();
const from = computed(() => props.side === 'from');
const TWILIGHTS: Twilight[] = ['sunset', 'civil', 'nautical', 'astronomical'];
const options = computed(() => [
  { value: 'clock', label: 'at a time' },
  {
    value: 'free',
    label: from.value ? 'when it stands free' : 'while it stands free',
  },
  { value: 'sunset', label: from.value ? 'at sunset' : 'at sunrise' },
  ...(['civil', 'nautical', 'astronomical'] as const).map((value) => ({
    value,
    label: `at ${value} ${from.value ? 'dusk' : 'dawn'}`,
  })),
  { value: 'altitude', label: from.value ? 'when it has risen to' : 'when it has sunk to' },
  { value: 'moon', label: from.value ? 'at moonset' : 'at moonrise' },
]);
const chosen = computed(() => (props.modelValue.by === 'darkness' ? props.modelValue.which : props.modelValue.by));
function choose(key: unknown) {
  const was = props.modelValue;
  const offsetMin = was.by === 'clock' ? 0 : was.offsetMin;
  const which = TWILIGHTS.find((t) => t === key);
  if (which) emit('update:modelValue', { by: 'darkness', which, offsetMin });
  else if (key === 'altitude') emit('update:modelValue', { by: 'altitude', deg: 30, offsetMin });
  else if (key === 'clock') {
    const ms = props.comesMs ?? Date.parse(`${props.night}T21:00:00Z`);
    emit('update:modelValue', { by: 'clock', at: new Date(Math.round(ms / 60_000) * 60_000).toISOString() });
  } else emit('update:modelValue', { by: key as 'free' | 'moon', offsetMin });
}
/** A change to one field of a bound by the sky. */
const change = (more: { offsetMin?: number; deg?: number }) =>
  emit('update:modelValue', { ...props.modelValue, ...more } as Bound);
</script>

<template>
  <div class="row bound">
    <PickOne
      :value="chosen"
      shown
      class="by"
      :label="from ? 'Begins' : 'Ends'"
      :options="options"
      :disabled="disabled"
      :dropdown-match-select-width="false"
      @update:value="choose"
    />
    <TimeInput
      v-if="modelValue.by === 'clock'"
      :model-value="modelValue.at"
      :label="from ? 'Start' : 'End'"
      :time-zone="timeZone"
      :night="night"
      :disabled="disabled"
      @update:model-value="emit('update:modelValue', { by: 'clock', at: $event })"
    />
    <template v-else>
      <QuantityInput
        v-if="modelValue.by === 'altitude'"
        :model-value="modelValue.deg"
        dimension="angle"
        unit="°"
        :label="from ? 'Above' : 'Down to'"
        :decimals="0"
        :min="0"
        :max="89"
        width="74px"
        :disabled="disabled"
        @update:model-value="change({ deg: $event ?? 30 })"
      />
      <QuantityInput
        :model-value="modelValue.offsetMin"
        dimension="number"
        unit="min"
        label="later by"
        :decimals="0"
        :min="-360"
        :max="360"
        :step="5"
        width="84px"
        :disabled="disabled"
        @update:model-value="change({ offsetMin: $event ?? 0 })"
      />
      <span class="comes mono" :class="{ 'level-bad': comesMs === null }">{{
        comesMs === null ? 'not this night' : clock(comesMs, timeZone)
      }}</span>
    </template>
  </div>
</template>

<style scoped>
.bound {
  align-items: end;
  gap: 8px;
  flex-wrap: wrap;
}
.by {
  width: 176px;
}
.by :deep(.ant-select) {
  max-width: 176px;
}
.comes {
  padding-bottom: 6px;
}
</style>
