<script setup lang="ts">
import { PlanField, type PlanLock } from '@keen/core/sequence';
import { Checkbox, Input } from 'ant-design-vue';
import { FIELD_WORDS } from './planLocks.ts';

/** For a steward: which fields members find closed, and why. */
const props = defineProps<{ locks: PlanLock[] }>();
const emit = defineEmits<{ change: [locks: PlanLock[]] }>();
const held = (field: PlanField) => props.locks.find((l) => l.field === field);
const toggle = (field: PlanField, on: boolean) =>
  emit('change', on ? [...props.locks, { field, reason: '' }] : props.locks.filter((l) => l.field !== field));
const explain = (field: PlanField, reason: string) =>
  emit(
    'change',
    props.locks.map((l) => (l.field === field ? { ...l, reason } : l)),
  );
</script>

<template>
  <details class="protect" :open="locks.length > 0" data-test="protect">
    <summary>
      Protect:
      {{
        locks.length
          ? `${locks.length} of ${PlanField.options.length} fields closed to members`
          : 'nothing is closed to members'
      }}
    </summary>
    <p class="muted small">
      Members may use a plan with closed fields on their own nights: they change what is open, and you see what they
      changed.
    </p>
    <div v-for="field in PlanField.options" :key="field" class="row">
      <Checkbox :checked="!!held(field)" :title="FIELD_WORDS[field].help" @update:checked="toggle(field, $event)">{{
        FIELD_WORDS[field].label
      }}</Checkbox>
      <Input
        v-if="held(field)"
        :value="held(field)!.reason"
        size="small"
        class="why"
        :maxlength="200"
        placeholder="why it is closed"
        :aria-label="`Why ${FIELD_WORDS[field].label} is closed`"
        @update:value="explain(field, $event)"
      />
    </div>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
}
details .row {
  margin-top: 4px;
}
.why {
  flex: 1;
  min-width: 120px;
}
</style>
