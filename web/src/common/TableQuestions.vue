<script setup lang="ts">
import type { TableAnswers, TableAsk } from '@keen/core/exchange';
import { Button } from 'ant-design-vue';
import { computed, reactive, watch } from 'vue';
import PickOne from './PickOne.vue';

/** What a table leaves open, with its first rows: asked before a row is read, and kept for the next file with these headings. */
const props = defineProps<{
  asks: readonly TableAsk[];
  columns: readonly string[];
  sample: readonly (readonly string[])[];
  /** What a field is called in a question. */
  words: Readonly<Record<string, string>>;
  /** The site’s own zone, for times that are local. */
  timeZone: string;
}>();
const emit = defineEmits<{ answer: [columns: Record<string, string>, answers: TableAnswers] }>();
const given = reactive<{ columns: Record<string, string>; how: TableAnswers }>({ columns: {}, how: {} });
watch(
  () => props.asks,
  () => Object.assign(given, { columns: {}, how: {} }),
);
const digits = (sample: string) => sample.trim().slice(0, 24);
const options = (a: TableAsk) => {
  switch (a.what) {
    case 'column':
      return [
        ...a.columns.map((c) => ({ value: c, label: c })),
        ...props.columns.filter((c) => !a.columns.includes(c)).map((c) => ({ value: c, label: c })),
        { value: '', label: 'none of them' },
      ];
    case 'decimal':
      return [
        { value: '.', label: `the point: ${digits(a.sample)} is ${digits(a.sample).replaceAll(',', '')}` },
        {
          value: ',',
          label: `the comma: ${digits(a.sample)} is ${digits(a.sample).replaceAll('.', '').replace(',', '.')}`,
        },
      ];
    case 'dayOrder':
      return [
        { value: 'dmy', label: 'the day comes first' },
        { value: 'mdy', label: 'the month comes first' },
      ];
    case 'zone':
      return [
        { value: props.timeZone, label: `local time of the site, ${props.timeZone}` },
        { value: 'UTC', label: 'UTC after all' },
      ];
  }
};
const question = (a: TableAsk) => {
  const field = (props.words[a.field] ?? a.field).toLowerCase();
  if (a.what === 'column') return `Which column is the ${field}?`;
  if (a.what === 'decimal') return `The decimal sign of “${a.columns[0]}”?`;
  return a.what === 'dayOrder'
    ? `“${digits(a.sample)}”: which comes first?`
    : `“${a.columns[0]}” says that it is local: where?`;
};
function choose(a: TableAsk, value: unknown) {
  const v = String(value);
  if (a.what === 'column') given.columns = { ...given.columns, [a.field]: v };
  else given.how = { ...given.how, [a.what]: v };
}
const chosen = (a: TableAsk) => (a.what === 'column' ? given.columns[a.field] : given.how[a.what as 'zone']);
const ready = computed(() => props.asks.every((a) => chosen(a) !== undefined));
</script>

<template>
  <section class="stack questions" role="group" aria-label="What the table leaves open" data-test="table-questions">
    <p class="level-caution small">Before anything is read: this table could be understood in more than one way.</p>
    <div class="rows">
      <table class="figures small">
        <thead>
          <tr>
            <th v-for="c in columns" :key="c">{{ c }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(r, i) in sample" :key="i">
            <td v-for="(c, k) in columns" :key="c" class="mono">{{ r[k] }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <PickOne
      v-for="a in asks"
      :key="a.what + a.field"
      shown
      :label="question(a)"
      :value="chosen(a)"
      :options="options(a)"
      :dropdown-match-select-width="false"
      @update:value="choose(a, $event)"
    />
    <div>
      <Button type="primary" :disabled="!ready" @click="emit('answer', given.columns, given.how)">Read it so</Button>
    </div>
  </section>
</template>

<style scoped>
.questions {
  max-width: 760px;
}
.rows {
  overflow-x: auto;
}
</style>
