<script setup lang="ts">
import { questions } from '../../api/questions.ts';
import { api } from '@keen/contract';
import { Button, message } from 'ant-design-vue';
import dayjs from 'dayjs';
import { computed } from 'vue';
import { call } from '../../api/client.ts';
import { useAnswer } from '../../common/answer.ts';
import WhenThere from '../../common/WhenThere.vue';
import { problemText } from '../../common/outcome.ts';

/** Where one is signed in; each of the others can be ended from here. */
const answer = useAnswer('Your sessions', questions.ownSessions);
const sessions = computed(() => answer.value.value ?? []);
const others = computed(() => sessions.value.filter((s) => !s.here).length);
async function end(id: string) {
  const got = await call(api.endSession, { params: { id } });
  if (!got.ok) void message.error(problemText(got.problem));
  await answer.load();
}
const DEVICES = { phone: 'A phone', computer: 'A computer', unknown: 'Some device' } as const;
const day = (at: string | null) => (at ? dayjs(at).format('D MMM, HH:mm') : 'before dates were kept');
</script>

<template>
  <section class="panel stack">
    <div class="row spread">
      <h2>Where you are signed in</h2>
      <Button v-if="others > 1" size="small" @click="end('others')">Sign out all others</Button>
    </div>
    <WhenThere :of="[answer]">
      <table class="figures">
        <thead>
          <tr>
            <th scope="col">Device</th>
            <th scope="col">From</th>
            <th scope="col">Since</th>
            <th scope="col">Used, to the hour</th>
            <th scope="col"><span class="visually-hidden">Sign out</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="s in sessions" :key="s.id">
            <td>{{ DEVICES[s.device] }}</td>
            <td class="mono">{{ s.address || '–' }}</td>
            <td>{{ day(s.begunAt) }}</td>
            <td>{{ day(s.seenAt) }}</td>
            <td class="act">
              <strong v-if="s.here" class="small">this one</strong>
              <Button v-else size="small" @click="end(s.id)">Sign out</Button>
            </td>
          </tr>
        </tbody>
      </table>
    </WhenThere>
    <p class="small muted">A session ends by itself after a fortnight unused, and after thirty days in any case.</p>
  </section>
</template>

<style scoped>
.act {
  text-align: right;
}
</style>
