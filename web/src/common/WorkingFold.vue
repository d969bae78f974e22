<script setup lang="ts">
import type { WorkingStep } from '@keen/core';
import { figure } from '@keen/core/quantities';
import { useShortcut } from './shortcuts.ts';
import { ref } from 'vue';

/** How a result came about: formula, value, source. Opens with the key w. */
defineProps<{ steps: readonly WorkingStep[] }>();
const open = ref(false);
useShortcut('w', () => (open.value = !open.value));
const show = (v: WorkingStep['value']) =>
  typeof v === 'number' ? figure(v, Math.abs(v) >= 1000 ? 0 : Math.abs(v) >= 10 ? 1 : 3) : (v ?? '–');
</script>

<template>
  <details class="working" :open="open" @toggle="open = ($event.target as HTMLDetailsElement).open">
    <summary>Working <kbd>w</kbd></summary>
    <div class="scroll">
      <table class="figures">
        <thead>
          <tr>
            <th>Step</th>
            <th>Formula</th>
            <th class="num">Value</th>
            <th>Unit</th>
            <th>Source</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="s in steps" :key="s.label">
            <td>{{ s.label }}</td>
            <td class="mono small">{{ s.formula }}</td>
            <td class="num">{{ show(s.value) }}</td>
            <td class="muted">{{ s.unit }}</td>
            <td class="muted small">{{ s.source ?? '' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </details>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
summary {
  cursor: pointer;
  color: var(--accent);
  font-weight: 650;
  padding: 4px 0;
}
</style>
