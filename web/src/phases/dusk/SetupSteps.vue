<script setup lang="ts">
import type { Fact } from '@keen/core/setup';
import { CheckOutlined, WarningOutlined } from '@ant-design/icons-vue';
import { computed } from 'vue';
import { clock } from '../../common/times.ts';
import type { SetupStep } from './useSetupList.ts';

/** The steps in their groups; a whole row is one large switch, for a thumb in a glove. */
const props = defineProps<{
  steps: readonly SetupStep[];
  facts: Partial<Record<Fact, string>>;
  /** Where a step's moment is past: when it comes at the usual pace, by key. */
  expected: Record<string, string>;
  nextKey: string | null;
  zone: string;
  off: boolean;
}>();
const emit = defineEmits<{ tick: [key: string, done: boolean] }>();
const groups = computed(() => {
  const list: { name: string; steps: SetupStep[] }[] = [];
  for (const s of props.steps) {
    const last = list.at(-1);
    if (last?.name === s.group) last.steps.push(s);
    else list.push({ name: s.group, steps: [s] });
  }
  return list;
});
</script>

<template>
  <section v-for="(g, n) in groups" :key="`${g.name} ${n}`" class="group">
    <h2>
      {{ g.name }}
      <span class="muted small">{{ g.steps.filter((s) => s.done).length }} of {{ g.steps.length }}</span>
    </h2>
    <button
      v-for="s in g.steps"
      :key="s.key"
      type="button"
      role="checkbox"
      :aria-checked="s.done"
      class="step"
      :class="{ done: s.done, next: s.key === nextKey }"
      :disabled="off"
      :data-test="`step-${s.key}`"
      @click="emit('tick', s.key, !s.done)"
    >
      <span class="box" aria-hidden="true"><CheckOutlined v-if="s.done" /></span>
      <span class="words">
        <span class="text">{{ s.text }}</span>
        <span v-if="s.fact && facts[s.fact]" class="fact">{{ facts[s.fact] }}</span>
        <span v-if="!s.done && expected[s.key]" class="fact">At this pace at {{ expected[s.key] }}.</span>
        <span v-if="s.caution && !s.done" class="caution level-caution"><WarningOutlined /> {{ s.caution }}</span>
        <span v-if="s.done" class="who small">{{
          s.pending ? 'waiting for the connection' : `${s.by}${s.at ? `, ${clock(s.at, zone)}` : ''}`
        }}</span>
      </span>
    </button>
  </section>
</template>

<style scoped>
.group {
  display: grid;
  gap: 6px;
}
.group h2 {
  margin: 6px 0 0;
}
.step {
  all: unset;
  box-sizing: border-box;
  display: grid;
  grid-template-columns: 34px minmax(0, 1fr);
  gap: 12px;
  align-items: start;
  min-height: 52px;
  padding: 10px 14px;
  background: var(--surface);
  border: 1px solid var(--line);
  border-radius: 4px;
  cursor: pointer;
}
.step:disabled {
  cursor: default;
}
.step:focus-visible {
  outline: 2px solid var(--accent);
  outline-offset: 2px;
}
.next {
  border-color: var(--accent);
  box-shadow: inset 4px 0 0 var(--accent);
}
.done {
  background: transparent;
}
.box {
  width: 30px;
  height: 30px;
  display: grid;
  place-items: center;
  border: 2px solid var(--line-strong);
  border-radius: 4px;
  font-size: 18px;
  color: var(--good);
}
.done .box {
  border-color: var(--good);
}
.words {
  display: grid;
  gap: 2px;
}
.text {
  font-weight: 600;
}
.done .text {
  font-weight: 400;
  color: var(--ink-2);
}
.fact {
  color: var(--accent);
  font-variant-numeric: tabular-nums;
}
.done .fact {
  display: none;
}
.caution {
  font-size: 14px;
}
.who {
  color: var(--ink-2);
}
</style>
