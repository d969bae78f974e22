<script setup lang="ts">
import type { Board } from '@keen/contract';
import { Button, message } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';
import PickOne from '../../common/PickOne.vue';
import { dayName } from '../../common/times.ts';
import { useSession } from '../../stores/session.ts';
import type { useBoard } from './useBoard.ts';

/** The hours of a board promised up to a night: booked for whom it gave them to. */
const props = defineProps<{
  board: Board;
  by: Pick<ReturnType<typeof useBoard>, 'promise' | 'promising' | 'promiseTrouble' | 'busy'>;
}>();
const session = useSession();
const nights = computed(() => [...new Set(props.board.slots.filter((s) => s.projectId).map((s) => s.night))]);
/** A week is promised at a time, where nobody says otherwise. */
const WEEK = 7;
const until = ref('');
watch(
  nights,
  (list) => {
    if (!list.includes(until.value)) until.value = list[Math.min(WEEK, list.length) - 1] ?? '';
  },
  { immediate: true },
);
const { promising, promiseTrouble, busy } = props.by;
async function promise() {
  const made = await props.by.promise(until.value);
  if (made) void message.success(session.alone ? 'Kept.' : 'Promised.');
}
</script>

<template>
  <section v-if="nights.length" class="panel stack no-print" data-test="promise">
    <h2>{{ session.alone ? 'Keep it' : 'Promise it' }}</h2>
    <p class="small muted">
      {{
        session.alone
          ? 'Hours that are kept stay as they are when the nights are worked out again, and tonight’s become a plan at one press.'
          : 'Promised hours are booked for whom they were given to. They stay when the nights are worked out again, and become a plan at one press.'
      }}
    </p>
    <div class="row">
      <PickOne
        v-model:value="until"
        label="Up to"
        shown
        :options="nights.map((n) => ({ value: n, label: dayName(n) }))"
        style="min-width: 120px"
      />
      <Button type="primary" :disabled="busy || promising" @click="promise">{{
        session.alone ? 'Keep these hours' : 'Promise these hours'
      }}</Button>
    </div>
    <p v-if="promiseTrouble" class="level-bad" role="alert">{{ promiseTrouble }}</p>
  </section>
</template>
