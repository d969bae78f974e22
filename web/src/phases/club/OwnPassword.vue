<script setup lang="ts">
import { api, LEAST_PASSWORD } from '@keen/contract';
import { Button, Input, InputPassword, message } from 'ant-design-vue';
import { reactive, ref } from 'vue';
import { call } from '../../api/client.ts';
import { problemText } from '../../common/outcome.ts';
import { useSession } from '../../stores/session.ts';

/** One's own password: the present one, the new one; every other browser signs in again. */
const session = useSession();
const typed = reactive({ current: '', next: '', code: '' });
const trouble = ref('');
const busy = ref(false);
const emit = defineEmits<{ changed: [] }>();
async function change() {
  if (typed.next.length < LEAST_PASSWORD) {
    trouble.value = `The new one needs at least ${LEAST_PASSWORD} characters.`;
    return;
  }
  busy.value = true;
  const { current, next, code } = typed;
  const got = await call(api.changePassword, {
    body: { current, next, ...(code.trim() ? { code: code.trim() } : {}) },
  });
  busy.value = false;
  trouble.value = got.ok ? '' : problemText(got.problem);
  if (!got.ok) return;
  Object.assign(typed, { current: '', next: '', code: '' });
  emit('changed');
  void message.success('Your password is changed; other browsers sign in again.');
}
</script>

<template>
  <form class="panel stack labels" @submit.prevent="change">
    <h2>Password</h2>
    <div class="pair">
      <label
        >Present password<InputPassword v-model:value="typed.current" autocomplete="current-password" required
      /></label>
      <label>New password<InputPassword v-model:value="typed.next" autocomplete="new-password" required /></label>
      <Button html-type="submit" :loading="busy">Change it</Button>
    </div>
    <label v-if="session.member?.secondFactor" class="code"
      >Code of your device<Input v-model:value="typed.code" inputmode="numeric" autocomplete="one-time-code"
    /></label>
    <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
    <p class="small muted">
      {{ LEAST_PASSWORD }} characters at least; a few words that do not belong together are best. Everywhere else you
      sign in again.
    </p>
  </form>
</template>

<style scoped>
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr auto;
  gap: 10px;
  align-items: end;
}
.code {
  max-width: 220px;
}
@media (max-width: 640px) {
  .pair {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
