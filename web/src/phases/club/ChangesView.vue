<script setup lang="ts">
import { api, MOST_A_PAGE, type ChangeRecord } from '@keen/contract';
import dayjs from 'dayjs';
import { ref, shallowRef } from 'vue';
import { Button } from 'ant-design-vue';
import { call } from '../../api/client.ts';
import { useAnswer, ownQuestion } from '../../common/answer.ts';
import WhenThere from '../../common/WhenThere.vue';
import ListTable, { type Column } from '../../common/ListTable.vue';

const changes = shallowRef<ChangeRecord[]>([]);
const more = ref(false);
/** The next page, behind those that are there. */
const page = useAnswer(
  'What changed',
  ownQuestion(async () => {
    const got = await call(api.changes, { query: { from: changes.value.length } });
    if (!got.ok) return got;
    more.value = got.value.length === MOST_A_PAGE;
    const known = new Set(changes.value.map((c) => c.id));
    changes.value = [...changes.value, ...got.value.filter((c) => !known.has(c.id))];
    return got;
  }),
);
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
    <WhenThere :of="[page]">
      <ListTable
        :rows="changes"
        :columns="columns"
        name="changes"
        :row-key="(c) => c.id"
        empty="Nobody has changed anything yet."
      />
      <div v-if="more"><Button @click="page.load">Older ones</Button></div>
    </WhenThere>
  </section>
</template>
