<script setup lang="ts" generic="T extends string">
/** One of a few things, each with its name and what it means: radio buttons large enough for a thumb. */
defineProps<{ label: string; options: readonly { value: T; label: string; more?: string }[]; disabled?: boolean }>();
const chosen = defineModel<T | ''>({ required: true });
const name = `c${Math.random().toString(36).slice(2, 9)}`;
</script>

<template>
  <fieldset class="choices">
    <legend class="small muted">{{ label }}</legend>
    <label v-for="o in options" :key="o.value" class="card" :class="{ on: chosen === o.value }">
      <input v-model="chosen" type="radio" :name="name" :value="o.value" :disabled="disabled" />
      <span><span class="name">{{ o.label }}</span><span v-if="o.more" class="muted small">{{ o.more }}</span></span>
    </label>
  </fieldset>
</template>

<style scoped>
.choices {
  border: 0;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(180px, 1fr));
  gap: 6px;
}
legend {
  padding: 0 0 4px;
}
.card {
  display: flex;
  gap: 8px;
  align-items: baseline;
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  padding: 8px 10px;
  min-height: 40px;
  cursor: pointer;
  background: var(--surface);
}
.card > span {
  display: grid;
  min-width: 0;
}
.name {
  font-weight: 600;
}
.on {
  border-color: var(--accent);
  box-shadow: inset 3px 0 0 var(--accent);
}
.card:focus-within {
  outline: 2px solid var(--accent);
  outline-offset: 1px;
}
/* drawn by hand: the browser’s own empty one is white, which at night is a lamp */
input {
  appearance: none;
  flex: none;
  width: 14px;
  height: 14px;
  margin: 0;
  border: 1px solid var(--line-strong);
  border-radius: 50%;
  transform: translateY(2px);
}
input:checked {
  border-color: var(--accent);
  background: radial-gradient(var(--accent) 0 4px, transparent 4.5px);
}
</style>
