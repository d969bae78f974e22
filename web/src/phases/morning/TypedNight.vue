<script setup lang="ts">
import type { ProjectRecord } from '@keen/contract';
import { Button, Input } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';
import PickOne from '../../common/PickOne.vue';

/** A night told in a line: "12 × 300 s Ha, 40 × 60 s L". */
const props = defineProps<{
  projects: readonly ProjectRecord[];
  filters: readonly string[];
  add: (text: string, projectId: string, panel: number | null) => string;
}>();
const night = defineModel<string>('night', { required: true });
const text = ref('');
const projectId = ref(props.projects[0]?.id ?? '');
const panel = ref<number | null>(null);
/** Panels of the chosen project’s mosaic; one for a single field. */
const panels = computed(() => props.projects.find((p) => p.id === projectId.value)?.panels ?? 1);
watch(projectId, () => (panel.value = null));
const trouble = ref('');
watch(
  () => props.projects,
  (list) => {
    if (!list.some((p) => p.id === projectId.value)) projectId.value = list[0]?.id ?? '';
  },
);
function put() {
  trouble.value = props.add(text.value, projectId.value, panel.value);
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
      <PickOne
        v-if="panels > 1"
        v-model:value="panel"
        label="Panel"
        shown
        class="panel-pick"
        :options="[
          { value: null, label: 'not known' },
          ...Array.from({ length: panels }, (_, k) => ({ value: k, label: `Panel ${k + 1}` })),
        ]"
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
.panel-pick {
  width: 120px;
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
