<script setup lang="ts" generic="T extends object">
import { toCsv } from '@keen/core/exchange';
import { Button, Input } from 'ant-design-vue';
import { computed, ref } from 'vue';
import { download } from './times.ts';

/** A list that filters, sorts by any column and exports CSV. Cells are text unless a slot named for the column draws them. */
export interface Column<R> {
  key: string;
  title: string;
  value: (row: R) => string | number | null;
  decimals?: number;
  numeric?: boolean;
}
const props = defineProps<{
  rows: readonly T[];
  columns: Column<T>[];
  name: string;
  rowKey: (row: T) => string;
  empty?: string;
  sortBy?: string;
  pageSize?: number;
}>();
defineSlots<Record<string, (p: { row: T }) => unknown>>();
const emit = defineEmits<{ choose: [row: T] }>();

const typed = ref('');
const sortKey = ref(props.sortBy ?? '');
const down = ref(false);
const shownCount = ref(props.pageSize ?? 100);
const column = computed(() => props.columns.find((c) => c.key === sortKey.value));
const found = computed(() => {
  const q = typed.value.trim().toLowerCase();
  const kept = q
    ? props.rows.filter((r) =>
        props.columns.some((c) =>
          String(c.value(r) ?? '')
            .toLowerCase()
            .includes(q),
        ),
      )
    : [...props.rows];
  const c = column.value;
  if (!c) return kept;
  const sign = down.value ? -1 : 1;
  return kept.sort((a, b) => {
    const [x, y] = [c.value(a), c.value(b)];
    if (x === null || y === null) return x === y ? 0 : x === null ? 1 : -1;
    return sign * (typeof x === 'number' && typeof y === 'number' ? x - y : String(x).localeCompare(String(y)));
  });
});
function sort(key: string) {
  if (sortKey.value === key) down.value = !down.value;
  else [sortKey.value, down.value] = [key, false];
}
const shown = (c: Column<T>, r: T) => {
  const v = c.value(r);
  if (v === null || v === '') return '–';
  return typeof v === 'number' ? v.toFixed(c.decimals ?? 0).replace('-', '−') : v;
};
const exportCsv = () =>
  download(
    `${props.name}.csv`,
    toCsv(found.value.map((r) => Object.fromEntries(props.columns.map((c) => [c.title, c.value(r)])))),
  );
</script>

<template>
  <div class="stack">
    <div class="row spread no-print">
      <Input v-model:value="typed" class="filter" allow-clear placeholder="Filter" :aria-label="`Filter ${name}`" />
      <span class="row">
        <span class="muted small">{{
          found.length === rows.length ? rows.length : `${found.length} of ${rows.length}`
        }}</span>
        <Button size="small" :disabled="found.length === 0" @click="exportCsv">CSV</Button>
      </span>
    </div>
    <div class="scroll">
      <table class="figures">
        <thead>
          <tr>
            <th
              v-for="c in columns"
              :key="c.key"
              :class="{ num: c.numeric }"
              :aria-sort="sortKey === c.key ? (down ? 'descending' : 'ascending') : undefined"
            >
              <button type="button" class="head" @click="sort(c.key)">
                {{ c.title }}<span v-if="sortKey === c.key" aria-hidden="true">{{ down ? ' ↓' : ' ↑' }}</span>
              </button>
            </th>
            <th v-if="$slots.acts"><span class="visually-hidden">Acts</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in found.slice(0, shownCount)" :key="rowKey(r)" @dblclick="emit('choose', r)">
            <td v-for="c in columns" :key="c.key" :class="{ num: c.numeric }">
              <slot :name="c.key" :row="r">{{ shown(c, r) }}</slot>
            </td>
            <td v-if="$slots.acts" class="acts"><slot name="acts" :row="r" /></td>
          </tr>
          <tr v-if="found.length === 0">
            <td :colspan="columns.length + 1" class="muted">
              {{ rows.length ? 'Nothing matches the filter.' : (empty ?? 'Nothing yet.') }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <Button v-if="found.length > shownCount" size="small" class="more" @click="shownCount += 100">Show more</Button>
  </div>
</template>

<style scoped>
.filter {
  width: 220px;
}
.scroll {
  overflow-x: auto;
}
.head {
  all: unset;
  cursor: pointer;
}
.head:focus-visible {
  outline: 2px solid var(--accent);
}
.acts {
  text-align: right;
  white-space: nowrap;
}
.more {
  justify-self: start;
}
tbody tr:hover {
  background: color-mix(in srgb, var(--sunk) 55%, transparent);
}
</style>
