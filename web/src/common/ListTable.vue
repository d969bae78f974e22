<script setup lang="ts" generic="T extends object">
import { toCsv } from '@keen/core/exchange';
import { Button, Input, Table } from 'ant-design-vue';
import { computed, ref } from 'vue';
import { download } from './download.ts';

/**
 * A list that filters, sorts by any column, turns its pages and exports CSV. Cells are text unless a slot named for the
 * column draws them; a slot `acts` adds a column of buttons.
 */
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
const slots = defineSlots<Record<string, (p: { row: T }) => unknown>>();
const ACTS = 'acts';
const emit = defineEmits<{ choose: [row: T] }>();

const typed = ref('');
const sortKey = ref(props.sortBy ?? '');
const down = ref(false);
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
const heads = computed(() => [
  ...props.columns.map((c) => ({
    key: c.key,
    title: c.title,
    align: c.numeric ? ('right' as const) : ('left' as const),
    className: c.numeric ? 'num' : '',
    sorter: true,
    sortOrder: sortKey.value === c.key ? (down.value ? ('descend' as const) : ('ascend' as const)) : null,
  })),
  ...(slots.acts ? [{ key: ACTS, title: '', align: 'right' as const, className: 'acts' }] : []),
]);
/** The list is sorted here, so that what is exported stands in the order shown. */
function sorted(by: { columnKey?: unknown; order?: string | null } | unknown[]) {
  if (Array.isArray(by)) return;
  [sortKey.value, down.value] = [String(by.columnKey ?? ''), by.order === 'descend'];
}
function shown(key: unknown, r: T): string {
  const c = props.columns.find((one) => one.key === key);
  if (!c) return '';
  const v = c.value(r);
  if (v === null || v === '') return '–';
  return typeof v === 'number' ? v.toFixed(c.decimals ?? 0).replace('-', '−') : v;
}
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
      <Table
        size="small"
        :data-source="found"
        :columns="heads"
        :row-key="rowKey"
        :show-sorter-tooltip="false"
        :sort-directions="['ascend', 'descend', 'ascend']"
        :pagination="{ pageSize: pageSize ?? 50, hideOnSinglePage: true, showSizeChanger: false, size: 'small' }"
        :custom-row="(row: T) => ({ onDblclick: () => emit('choose', row) })"
        @change="(_page: unknown, _filters: unknown, by: {}) => sorted(by)"
      >
        <template #headerCell="{ column: head }">
          <span v-if="head.key === ACTS" class="visually-hidden">Acts</span>
          <template v-else>{{ head.title }}</template>
        </template>
        <template #bodyCell="{ column: head, record }">
          <slot :name="String(head.key)" :row="record as T">{{ shown(head.key, record as T) }}</slot>
        </template>
        <template #emptyText>
          <span class="muted">{{ rows.length ? 'Nothing matches the filter.' : (empty ?? 'Nothing yet.') }}</span>
        </template>
      </Table>
    </div>
  </div>
</template>

<style scoped>
.filter {
  width: 220px;
}
.scroll {
  overflow-x: auto;
}
.scroll :deep(.ant-table-thead > tr > th) {
  padding: 5px 8px;
  background: transparent;
  color: var(--ink-2);
  font-family: inherit;
  font-size: 13px;
  font-weight: 500;
  white-space: nowrap;
}
.scroll :deep(.ant-table-thead > tr > th)::before {
  display: none;
}
/* a heading ends where its figures end */
.scroll :deep(th.num .ant-table-column-sorters) {
  flex-direction: row-reverse;
  justify-content: flex-start;
}
.scroll :deep(th.num .ant-table-column-title) {
  flex: none;
}
/* the arrows come with the pointer or the keyboard; the sorted column keeps its own */
.scroll :deep(.ant-table-column-sorter) {
  opacity: 0;
}
.scroll :deep(th:hover .ant-table-column-sorter),
.scroll :deep(th:focus-visible .ant-table-column-sorter),
.scroll :deep(th[aria-sort] .ant-table-column-sorter) {
  opacity: 1;
}
.scroll :deep(.ant-table-tbody > tr > td) {
  padding: 5px 8px;
  background: transparent;
}
.scroll :deep(.ant-table-tbody > tr:hover > td) {
  background: color-mix(in srgb, var(--sunk) 55%, transparent);
}
.scroll :deep(td.num) {
  font-family: var(--mono-font);
  font-variant-numeric: tabular-nums;
}
.scroll :deep(td.acts) {
  white-space: nowrap;
}
</style>
