<script setup lang="ts">
import { usualClosing, usualOpening, type ClosingStep, type OpeningStep, type Twilight } from '@keen/core/sequence';
import { Checkbox } from 'ant-design-vue';
import { computed } from 'vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import { STEP_HELP, STEP_WORDS } from './nightWords.ts';

/** The ordered steps before the first leg or after the last: which, how long, and what they wait for. */
const props = defineProps<{
  part: 'opening' | 'closing';
  steps: (OpeningStep | ClosingStep)[];
  autofocusS: number;
  /** Filters the night uses, for the flats. */
  filters: string[];
  off: boolean;
}>();
const emit = defineEmits<{ change: [steps: (OpeningStep | ClosingStep)[]] }>();
const usual = computed<(OpeningStep | ClosingStep)[]>(() =>
  props.part === 'opening'
    ? // a roof that is moved by the equipment: before anything moves under it, and after
      usualOpening(props.autofocusS).flatMap((s) =>
        s.step === 'home' ? [{ step: 'roof' as const, minutes: 2, notBefore: null, field: null }, s] : [s],
      )
    : [
        { step: 'flats', minutes: 4 * Math.max(1, props.filters.length), notBefore: 'civil', filters: props.filters },
        ...usualClosing().flatMap((s) =>
          s.step === 'park' ? [s, { step: 'roof' as const, minutes: 2, notBefore: null, filters: [] }] : [s],
        ),
      ],
);
const held = (step: string) => props.steps.find((s) => s.step === step);
/** In the order of the craft, whatever is switched on when. */
function toggle(step: string, on: boolean) {
  emit(
    'change',
    usual.value.flatMap((u) => {
      if (u.step === step) return on ? [u] : [];
      const there = held(u.step);
      return there ? [there] : [];
    }),
  );
}
const change = (step: string, more: object) =>
  emit(
    'change',
    props.steps.map((s) => (s.step === step ? { ...s, ...more } : s)),
  );
const side = computed(() => (props.part === 'opening' ? 'dusk' : 'dawn'));
const waits = computed(() => [
  { value: 'none', label: 'at once' },
  { value: 'sunset', label: props.part === 'opening' ? 'sunset' : 'sunrise' },
  ...(['civil', 'nautical', 'astronomical'] as Twilight[]).map((value) => ({ value, label: `${value} ${side.value}` })),
]);
const field = (s: OpeningStep | ClosingStep) => ('field' in s ? s.field : null);
</script>

<template>
  <div class="stack" :data-test="part">
    <div v-for="u in usual" :key="u.step" class="step">
      <Checkbox :checked="!!held(u.step)" :disabled="off" @update:checked="toggle(u.step, $event)">
        <strong>{{ STEP_WORDS[u.step] }}</strong>
      </Checkbox>
      <p class="muted small">{{ STEP_HELP[u.step] }}</p>
      <div v-if="held(u.step)" class="row fields">
        <QuantityInput
          :model-value="held(u.step)!.minutes"
          dimension="number"
          unit="min"
          :label="`${STEP_WORDS[u.step]} takes`"
          hide-label
          :decimals="0"
          :min="0"
          :max="240"
          width="84px"
          :disabled="off"
          @update:model-value="change(u.step, { minutes: $event ?? 0 })"
        />
        <PickOne
          :value="held(u.step)!.notBefore ?? 'none'"
          class="wait"
          :label="`${STEP_WORDS[u.step]}: not before`"
          :options="waits"
          :disabled="off"
          @update:value="change(u.step, { notBefore: $event === 'none' ? null : $event })"
        />
        <template v-if="field(held(u.step)!)">
          <QuantityInput
            v-for="key in ['altitudeDeg', 'azimuthDeg'] as const"
            :key="key"
            :model-value="field(held(u.step)!)![key]"
            dimension="angle"
            unit="°"
            :label="key === 'altitudeDeg' ? 'altitude' : 'azimuth'"
            :decimals="0"
            :min="key === 'altitudeDeg' ? 10 : 0"
            :max="key === 'altitudeDeg' ? 89 : 360"
            width="78px"
            :disabled="off"
            @update:model-value="change(u.step, { field: { ...field(held(u.step)!)!, [key]: $event ?? 0 } })"
          />
        </template>
      </div>
    </div>
  </div>
</template>

<style scoped>
.step p {
  margin: 0 0 2px 24px;
}
.fields {
  margin-left: 24px;
  align-items: end;
  flex-wrap: wrap;
}
.wait {
  width: 160px;
}
</style>
