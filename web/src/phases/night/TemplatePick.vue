<script setup lang="ts">
import type { Template } from '@keen/core/sequence';
import { Button, Popover } from 'ant-design-vue';
import { ref } from 'vue';
import { useUnits } from '../../stores/units.ts';
import { TEMPLATE_WORDS } from './nightWords.ts';

/** Ways to begin a night anew; what stands there goes, and undo brings it back. */
defineProps<{ templates: Template[] }>();
const emit = defineEmits<{ take: [template: Template] }>();
const units = useUnits();
const open = ref(false);
function take(t: Template) {
  open.value = false;
  emit('take', t);
}
</script>

<template>
  <Popover v-model:open="open" trigger="click" placement="topLeft">
    <Button size="small">Begin anew with…</Button>
    <template #content>
      <ul data-test="templates">
        <li v-for="t in templates" :key="t.key">
          <Button size="small" :disabled="t.legs.length === 0" @click="take(t)">{{ TEMPLATE_WORDS[t.key] }}</Button>
          <p class="muted small">{{ units.say([t.says]) }}</p>
        </li>
      </ul>
    </template>
  </Popover>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  max-width: 330px;
  display: grid;
  gap: 8px;
}
p {
  margin: 2px 0 0;
}
</style>
