<script setup lang="ts">
import type { PlanRecord } from '@keen/contract';
import { LockOutlined } from '@ant-design/icons-vue';
import { FIELD_WORDS } from './planLocks.ts';

/** What a steward closed, calm and readable: value, who, why. */
defineProps<{ locks: PlanRecord['locks']; value: (field: PlanRecord['locks'][number]['field']) => string }>();
</script>

<template>
  <section class="closed" data-test="closed">
    <h3><LockOutlined /> Kept by {{ [...new Set(locks.map((l) => l.by))].join(', ') }}</h3>
    <dl>
      <template v-for="l in locks" :key="l.field">
        <dt>{{ FIELD_WORDS[l.field].label }}</dt>
        <dd>
          {{ value(l.field) }}
          <span v-if="l.reason" class="muted small">{{ l.reason }}</span>
        </dd>
      </template>
    </dl>
  </section>
</template>

<style scoped>
.closed {
  border-top: 1px solid var(--line);
  padding-top: 8px;
}
dl {
  display: grid;
  grid-template-columns: 120px 1fr;
  gap: 3px 8px;
  margin: 4px 0 0;
}
dt {
  color: var(--ink-2);
}
dd {
  margin: 0;
}
dd span {
  display: block;
}
</style>
