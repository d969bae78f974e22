<script setup lang="ts">
import { api, LEAST_PASSWORD } from '@keen/contract';
import { InputPassword, Modal, message } from 'ant-design-vue';
import { reactive, ref, watch } from 'vue';
import { call, said } from '../api/client.ts';

/** One's own password: the present one, the new one; every other browser signs in again. */
const open = defineModel<boolean>('open', { required: true });
const typed = reactive({ current: '', next: '' });
const trouble = ref('');
const busy = ref(false);
watch(open, () => {
  Object.assign(typed, { current: '', next: '' });
  trouble.value = '';
});
async function change() {
  if (typed.next.length < LEAST_PASSWORD) {
    trouble.value = `The new one needs at least ${LEAST_PASSWORD} characters.`;
    return;
  }
  busy.value = true;
  const got = await call(api.changePassword, { body: { ...typed } });
  busy.value = false;
  if (!got.ok) {
    trouble.value = said(got.problem);
    return;
  }
  open.value = false;
  void message.success('Your password is changed; other browsers sign in again.');
}
</script>

<template>
  <Modal v-model:open="open" title="Change your password" ok-text="Change it" :confirm-loading="busy" @ok="change">
    <div class="stack">
      <label>Present password<InputPassword v-model:value="typed.current" autocomplete="current-password" /></label>
      <label>New password<InputPassword v-model:value="typed.next" autocomplete="new-password" /></label>
      <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
    </div>
  </Modal>
</template>

<style scoped>
label {
  display: grid;
  gap: 2px;
  font-size: 13px;
  color: var(--ink-2);
}
</style>
