<script setup lang="ts">
import { api, type ChangeRecord } from '@keen/contract';
import dayjs from 'dayjs';
import { shallowRef } from 'vue';
import { call } from '../../api/client.ts';
import ListTable, { type Column } from '../../common/ListTable.vue';

const changes = shallowRef<ChangeRecord[]>([]);
void call(api.changes).then((got) => {
  if (got.ok) changes.value = got.value;
});
const columns: Column<ChangeRecord>[] = [
  { key: 'at', title: 'When', value: (c) => dayjs(c.at).format('YYYY-MM-DD HH:mm') },
  { key: 'by', title: 'Who', value: (c) => c.by },
  { key: 'subject', title: 'What', value: (c) => c.subject },
  { key: 'text', title: 'Change', value: (c) => c.text },
];
</script>

<template>
  <section class="panel stack">
    <h2>What changed, newest first</h2>
    <ListTable
      :rows="changes"
      :columns="columns"
      name="changes"
      :row-key="(c) => c.id"
      empty="Nobody has changed anything yet."
    />
  </section>
</template>
