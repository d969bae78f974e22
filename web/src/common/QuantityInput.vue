<script setup lang="ts">
import { figure, parseQuantity, STORED_UNIT, type Dimension } from '@keen/core/quantities';
import { computed, ref, watch } from 'vue';
import { useUnits } from '../stores/units.ts';

/**
 * A field that takes what people type and keeps the stored unit. Arrow keys step; Shift ten times, Alt a tenth.
 * Nothing typed is thrown away: a text that cannot be read stays, with the reason under it.
 */
const props = withDefaults(
  defineProps<{
    modelValue: number | null;
    dimension: Dimension;
    label: string;
    step?: number;
    decimals?: number;
    min?: number;
    max?: number;
    optional?: boolean;
    disabled?: boolean;
    hideLabel?: boolean;
    width?: string;
    unit?: string;
    /** For a rate: the time it is by, written after the unit. */
    per?: string;
  }>(),
  { step: 1, decimals: 2, min: undefined, max: undefined, width: '100%', unit: undefined, per: undefined },
);
const emit = defineEmits<{ 'update:modelValue': [value: number | null]; invalid: [message: string] }>();

/** The unit shown by the person's choice; what is stored never changes. */
const IMPERIAL: Partial<
  Record<Dimension, { unit: string; bare: string; factor: number; shift: number; more: number }>
> = {
  mass: { unit: 'lb', bare: 'lb', factor: 1 / 0.45359237, shift: 0, more: 0 },
  length: { unit: 'in', bare: 'in', factor: 1 / 25.4, shift: 0, more: 2 },
  distance: { unit: 'ft', bare: 'ft', factor: 1 / 0.3048, shift: 0, more: 0 },
  temperature: { unit: '°F', bare: 'f', factor: 1.8, shift: 32, more: 0 },
  speed: { unit: 'mph', bare: 'mph', factor: 1 / 0.44704, shift: 0, more: 0 },
  degrees: { unit: '°F', bare: 'f', factor: 1.8, shift: 0, more: 0 },
};
const units = useUnits();
const other = computed(() => (units.system === 'imperial' && !props.unit ? IMPERIAL[props.dimension] : undefined));
const asShown = (v: number) => (other.value ? v * other.value.factor + other.value.shift : v);
const trimmed = (v: number, decimals: number) =>
  figure(asShown(v), decimals + (other.value?.more ?? 0))
    .replace(/(\.\d*?)0+$/, '$1')
    .replace(/\.$/, '');
const shown = (v: number | null) => (v === null ? '' : trimmed(v, props.decimals));
/** A plain number may be typed with the unit that stands beside it. */
const plain = (typed: string) => {
  const shownUnit = props.unit ?? '';
  const text = typed.trimEnd();
  return props.dimension === 'number' && shownUnit !== '' && text.endsWith(shownUnit)
    ? text.slice(0, -shownUnit.length)
    : typed;
};
const parse = (typed: string) => parseQuantity(plain(typed), props.dimension, other.value?.bare);
const text = ref(shown(props.modelValue));
const trouble = ref('');
const unit = computed(
  () => (props.unit ?? other.value?.unit ?? STORED_UNIT[props.dimension]) + (props.per ? `/${props.per}` : ''),
);
const id = `q${Math.random().toString(36).slice(2, 9)}`;
watch(other, () => {
  text.value = shown(props.modelValue);
  trouble.value = '';
});
watch(
  () => props.modelValue,
  (v) => {
    const typed = parse(text.value);
    if (!trouble.value && !(typed.ok && v !== null && Math.abs(typed.value - v) < 1e-9)) text.value = shown(v);
  },
);

function judge(value: number): string {
  if (props.min !== undefined && value < props.min) return `At least ${trimmed(props.min, 2)} ${unit.value}`;
  if (props.max !== undefined && value > props.max) return `At most ${trimmed(props.max, 2)} ${unit.value}`;
  return '';
}
function read(tidy: boolean) {
  if (text.value.trim() === '' && props.optional) {
    trouble.value = '';
    emit('update:modelValue', null);
    return;
  }
  // the shown text is rounded: read again it must not round what is stored
  if (props.modelValue !== null && text.value === shown(props.modelValue) && judge(props.modelValue) === '') {
    trouble.value = '';
    return;
  }
  const got = parse(text.value);
  trouble.value = got.ok ? judge(got.value) : got.message;
  if (trouble.value || !got.ok) {
    emit('invalid', trouble.value);
    return;
  }
  if (tidy) text.value = shown(got.value);
  emit('update:modelValue', got.value);
}
function stepBy(e: KeyboardEvent, sign: number) {
  e.preventDefault();
  const size = props.step * (e.shiftKey ? 10 : e.altKey ? 0.1 : 1);
  const next = Math.round(((props.modelValue ?? 0) + sign * size) * 1e6) / 1e6;
  const bounded = Math.min(props.max ?? Infinity, Math.max(props.min ?? -Infinity, next));
  trouble.value = '';
  text.value = shown(bounded);
  emit('update:modelValue', bounded);
}
</script>

<template>
  <span class="quantity" :style="{ width }">
    <label :for="id" :class="{ 'visually-hidden': hideLabel }">{{ label }}</label>
    <span class="box" :class="{ wrong: trouble, off: disabled }">
      <input
        :id="id"
        v-model="text"
        class="mono"
        :style="{ minWidth: `${shown(modelValue).length}ch` }"
        autocomplete="off"
        inputmode="text"
        :disabled="disabled"
        :aria-invalid="trouble !== ''"
        :aria-describedby="trouble ? `${id}e` : undefined"
        @input="read(false)"
        @change="read(true)"
        @keydown.up="stepBy($event, 1)"
        @keydown.down="stepBy($event, -1)"
      />
      <span v-if="unit" class="unit">{{ unit }}</span>
    </span>
    <span v-if="trouble" :id="`${id}e`" class="trouble" role="alert"
      >{{ trouble
      }}<template v-if="modelValue !== null"
        >. {{ shown(modelValue) }}{{ unit ? ` ${unit}` : '' }} still counts</template
      ></span
    >
  </span>
</template>

<style scoped>
.quantity {
  display: inline-grid;
  gap: 2px;
  /* never narrower than its number: −262 cut to −26 is another number */
  min-width: min-content;
}
label {
  font-size: 13px;
  color: var(--ink-2);
}
.box {
  display: flex;
  align-items: baseline;
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  background: var(--surface);
  padding: 0 8px;
  min-height: 32px;
}
.box:focus-within {
  outline: 2px solid var(--accent);
  outline-offset: -1px;
}
.wrong {
  border-color: var(--bad);
}
.off {
  background: var(--sunk);
  border-color: var(--line);
}
input {
  all: unset;
  flex: 1;
  min-width: 0;
  width: 100%;
  text-align: right;
  color: var(--ink);
  font-size: 14px;
  font-family: var(--mono-font);
  line-height: 30px;
}
.unit {
  color: var(--ink-2);
  font-size: 13px;
  padding-left: 5px;
}
.trouble {
  color: var(--bad);
  font-size: 12.5px;
  line-height: 1.3;
}
</style>
