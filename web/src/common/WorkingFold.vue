<script setup lang="ts">
import type { WorkingStep } from '@keen/core/calculation';
import { figure } from '@keen/core/quantities';
import { useShortcut } from './shortcuts.ts';
import { computed, ref } from 'vue';
import { useUnits } from '../stores/units.ts';

/** How a result came about: formula, value, source. Opens with the key w. */
const props = defineProps<{ steps: readonly WorkingStep[] }>();
const units = useUnits();
const open = ref(false);
useShortcut('w', () => (open.value = !open.value));
const write = (v: number) => figure(v, Math.abs(v) >= 1000 ? 0 : Math.abs(v) >= 10 ? 1 : 3);
const rows = computed(() =>
  props.steps.map((s) => {
    if (typeof s.value !== 'number') return { ...s, shown: s.value ?? '–' };
    const { value, unit } = units.figure(s.value, s.unit);
    return { ...s, unit, shown: write(value) };
  }),
);
const metricFormulas = computed(() => rows.value.some((r, i) => r.unit !== props.steps[i]!.unit));
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
          <tr v-for="s in rows" :key="s.label">
            <td>{{ s.label }}</td>
            <td class="mono small">{{ s.formula }}</td>
            <td class="num">{{ s.shown }}</td>
            <td class="muted">{{ s.unit }}</td>
            <td class="muted small">{{ s.source ?? '' }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="metricFormulas" class="muted small">The formulas want millimetres, kilograms and newtons.</p>
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
