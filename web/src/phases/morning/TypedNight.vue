<script setup lang="ts">
import type { ProjectRecord } from '@keen/contract';
import { Button, Input } from 'ant-design-vue';
import { ref, watch } from 'vue';
import PickOne from '../../common/PickOne.vue';

/** A night told in a line: "12 × 300 s Ha, 40 × 60 s L". */
const props = defineProps<{
  projects: readonly ProjectRecord[];
  filters: readonly string[];
  add: (text: string, projectId: string) => string;
}>();
const night = defineModel<string>('night', { required: true });
const text = ref('');
const projectId = ref(props.projects[0]?.id ?? '');
const trouble = ref('');
watch(
  () => props.projects,
  (list) => {
    if (!list.some((p) => p.id === projectId.value)) projectId.value = list[0]?.id ?? '';
  },
);
function put() {
  trouble.value = props.add(text.value, projectId.value);
  if (!trouble.value) text.value = '';
}
</script>

<template>
  <section class="panel stack">
    <h2>Or say what was taken</h2>
    <div class="row">
      <PickOne
        v-model:value="projectId"
        label="Project"
        shown
        class="project"
        :options="[...projects.map((p) => ({ value: p.id, label: p.name })), { value: '', label: 'no project' }]"
      />
      <label class="field">Night of (evening)<input v-model="night" type="date" class="plain" /></label>
    </div>
    <form class="row" @submit.prevent="put">
      <Input
        v-model:value="text"
        class="line"
        :placeholder="`12 × 300 s ${filters[0] ?? 'L'}`"
        aria-label="Frames taken"
        :status="trouble ? 'error' : undefined"
      />
      <Button html-type="submit" :disabled="!text.trim()">Add</Button>
    </form>
    <p v-if="trouble" class="level-bad small" role="alert">{{ trouble }}</p>
  </section>
</template>

<style scoped>
.project {
  min-width: 200px;
  flex: 1;
}
.line {
  flex: 1;
}
.field {
  display: grid;
  gap: 2px;
  font-size: 13px;
  color: var(--ink-2);
}
.plain {
  min-height: 32px;
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  background: var(--surface);
  color: var(--ink);
  padding: 0 8px;
  font: inherit;
}
form {
  flex-wrap: nowrap;
}
</style>
