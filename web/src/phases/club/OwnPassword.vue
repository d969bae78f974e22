<script setup lang="ts">
import { api, LEAST_PASSWORD } from '@keen/contract';
import { Button, InputPassword, message } from 'ant-design-vue';
import { reactive, ref } from 'vue';
import { call } from '../../api/client.ts';
import { problemText } from '../../common/outcome.ts';

/** One's own password: the present one, the new one; every other browser signs in again. */
const typed = reactive({ current: '', next: '' });
const trouble = ref('');
const busy = ref(false);
const emit = defineEmits<{ changed: [] }>();
async function change() {
  if (typed.next.length < LEAST_PASSWORD) {
    trouble.value = `The new one needs at least ${LEAST_PASSWORD} characters.`;
    return;
  }
  busy.value = true;
  const got = await call(api.changePassword, { body: { ...typed } });
  busy.value = false;
  trouble.value = got.ok ? '' : problemText(got.problem);
  if (!got.ok) return;
  Object.assign(typed, { current: '', next: '' });
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
@media (max-width: 640px) {
  .pair {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
