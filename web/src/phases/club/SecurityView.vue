<script setup lang="ts">
import { api, type SecurityEvent } from '@keen/contract';
import { Button } from 'ant-design-vue';
import dayjs from 'dayjs';
import { ref, shallowRef } from 'vue';
import { call } from '../../api/client.ts';
import { useAnswer, ownQuestion } from '../../common/answer.ts';
import WhenThere from '../../common/WhenThere.vue';
import ListTable, { type Column } from '../../common/ListTable.vue';
import { securityWords, wantsAttention } from './securityWords.ts';

/** Sign-ins that failed, refusals and changes of people; for stewards. */
const events = shallowRef<SecurityEvent[]>([]);
const more = ref(false);
/** The next page, behind those that are there. */
const page = useAnswer(
  'The record',
  ownQuestion(async () => {
    const before = events.value.at(-1)?.at;
    const got = await call(api.securityLog, { query: before ? { before } : {} });
    if (got.ok) [events.value, more.value] = [[...events.value, ...got.value.events], got.value.more];
    return got;
  }),
);
const columns: Column<SecurityEvent>[] = [
  { key: 'at', title: 'When', value: (e) => dayjs(e.at).format('YYYY-MM-DD HH:mm') },
  { key: 'person', title: 'Whom', value: (e) => e.person },
  { key: 'what', title: 'What', value: securityWords },
  { key: 'count', title: 'Times', value: (e) => e.count, numeric: true },
  { key: 'address', title: 'From', value: (e) => e.address },
];
</script>

<template>
  <section class="panel stack">
    <h2>Sign-ins, refusals, people</h2>
    <p class="muted small">
      The same again within a quarter of an hour is counted. What somebody typed is never kept. After 180 days entries
      go.
    </p>
    <WhenThere :of="[page]">
      <ListTable
        :rows="events"
        :columns="columns"
        name="security"
        :row-key="(e) => e.id"
        empty="Nothing has happened yet."
      >
        <template #what="{ row }">
          <span :class="{ 'level-caution': wantsAttention(row) }">{{ securityWords(row) }}</span>
        </template>
      </ListTable>
      <div v-if="more"><Button @click="page.load">Older ones</Button></div>
    </WhenThere>
  </section>
</template>
