<script setup lang="ts">
import { Button, Modal } from 'ant-design-vue';
import { computed } from 'vue';

/** Two people saved the same record: both sides, field by field, and a choice. */
const props = defineProps<{ open: boolean; detail: string; mine: unknown; theirs: unknown }>();
const emit = defineEmits<{ mine: []; theirs: []; close: [] }>();

const flat = (v: unknown, path = '', out: Record<string, string> = {}): Record<string, string> => {
  if (v !== null && typeof v === 'object')
    for (const [k, w] of Object.entries(v))
      flat(w, path ? `${path} · ${Array.isArray(v) ? Number(k) + 1 : k}` : k, out);
  else out[path] = String(v ?? '');
  return out;
};
const rows = computed(() => {
  const [a, b] = [flat(props.mine), flat(props.theirs)];
  return [...new Set([...Object.keys(a), ...Object.keys(b)])]
    .filter((k) => a[k] !== b[k] && k in a)
    .map((k) => ({ field: k, mine: a[k] ?? 'removed', theirs: b[k] ?? 'removed' }))
    .slice(0, 60);
});
</script>

<template>
  <Modal :open="open" title="Somebody saved a newer version" width="720px" :footer="null" @cancel="emit('close')">
    <p>{{ detail }} Nothing of yours is lost. These fields differ:</p>
    <div class="scroll">
      <table class="figures" data-test="conflict">
        <thead>
          <tr>
            <th>Field</th>
            <th>Yours</th>
            <th>Theirs, saved</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.field">
            <td class="muted">{{ r.field }}</td>
            <td class="mono">{{ r.mine }}</td>
            <td class="mono">{{ r.theirs }}</td>
          </tr>
          <tr v-if="rows.length === 0">
            <td colspan="3">Both hold the same; taking theirs changes nothing.</td>
          </tr>
        </tbody>
      </table>
    </div>
    <div class="row actions">
      <Button type="primary" @click="emit('mine')">Keep mine and save over it</Button>
      <Button @click="emit('theirs')">Take theirs</Button>
      <Button type="text" @click="emit('close')">Go on editing</Button>
    </div>
  </Modal>
</template>

<style scoped>
.scroll {
  max-height: 46vh;
  overflow: auto;
  margin: 10px 0;
}
</style>
