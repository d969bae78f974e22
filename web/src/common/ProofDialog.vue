<script setup lang="ts">
import { api } from '@keen/contract';
import { Input, InputPassword, Modal } from 'ant-design-vue';
import { onUnmounted, reactive, ref } from 'vue';
import { call, onProofNeeded } from '../api/client.ts';
import { useSession } from '../stores/session.ts';
import { problemText } from './outcome.ts';

/** Password, and the code of a second factor, once more before something that hands out rights: a session can be stolen. */
const session = useSession();
const open = ref(false);
const busy = ref(false);
const typed = reactive({ password: '', code: '' });
const trouble = ref('');
let answer: ((given: boolean) => void) | null = null;
function close(given: boolean) {
  open.value = false;
  Object.assign(typed, { password: '', code: '' });
  trouble.value = '';
  answer?.(given);
  answer = null;
}
onProofNeeded(() => {
  // a second question while the first stands waits for the same answer
  const before = answer;
  open.value = true;
  return new Promise<boolean>((done) => {
    answer = (given) => {
      before?.(given);
      done(given);
    };
  });
});
onUnmounted(() => onProofNeeded(null));
async function give() {
  busy.value = true;
  const code = typed.code.trim();
  const got = await call(api.prove, { body: { password: typed.password, ...(code ? { code } : {}) } });
  busy.value = false;
  if (got.ok) close(true);
  else trouble.value = problemText(got.problem);
}
</script>

<template>
  <Modal :open="open" title="Is it you?" ok-text="Go on" :confirm-loading="busy" @ok="give" @cancel="close(false)">
    <form class="stack labels" data-test="proof" @submit.prevent="give">
      <p class="small muted">This hands out or takes away rights, so it asks for your own password again.</p>
      <label
        >Your password<InputPassword v-model:value="typed.password" autocomplete="current-password" required
      /></label>
      <label v-if="session.member?.secondFactor"
        >Code of your device<Input v-model:value="typed.code" inputmode="numeric" autocomplete="one-time-code"
      /></label>
      <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
      <button type="submit" class="visually-hidden" tabindex="-1">Go on</button>
    </form>
  </Modal>
</template>
