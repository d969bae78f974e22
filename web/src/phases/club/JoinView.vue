<script setup lang="ts">
import { api, LEAST_PASSWORD } from '@keen/contract';
import { Button, Input, InputPassword } from 'ant-design-vue';
import dayjs from 'dayjs';
import type { z } from 'zod';
import { reactive, ref, shallowRef } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { call } from '../../api/client.ts';
import { problemText } from '../../common/outcome.ts';
import { useSession } from '../../stores/session.ts';

/** Where an invitation's link leads: who invites, then a name and a password of one's own. The token stays behind the #. */
const session = useSession();
const route = useRoute();
const router = useRouter();
const token = route.hash.slice(1);
const invitation = shallowRef<z.output<typeof api.lookAtInvitation.response> | null>(null);
const trouble = ref('');
const busy = ref(false);
const form = reactive({ name: '', signIn: '', password: '' });
void call(api.lookAtInvitation, { body: { token } }).then((got) => {
  if (got.ok) [invitation.value, form.name] = [got.value, got.value.name];
  else
    trouble.value =
      got.problem.code === 'invalid_input'
        ? 'That is not a whole invitation; copy all of the link.'
        : problemText(got.problem);
});
async function join() {
  busy.value = true;
  const ok = await session.join({ token, ...form });
  busy.value = false;
  if (ok) await router.replace('/');
}
</script>

<template>
  <div class="page" role="main">
    <form class="form panel stack labels" @submit.prevent="join">
      <template v-if="invitation">
        <h1>Join {{ invitation.club }}</h1>
        <p class="muted small">
          {{ invitation.by }} invites you as <strong>{{ invitation.role }}</strong>, until
          {{ dayjs(invitation.expiresAt).format('D MMMM, HH:mm') }}.
        </p>
        <label>Your name<Input v-model:value="form.name" autocomplete="name" required :maxlength="120" /></label>
        <label
          >Sign-in name<Input
            v-model:value="form.signIn"
            autocomplete="username"
            placeholder="letters, digits, dot and hyphen"
            required
            :maxlength="60"
        /></label>
        <label
          >Password, at least {{ LEAST_PASSWORD }} characters<InputPassword
            v-model:value="form.password"
            autocomplete="new-password"
            :minlength="LEAST_PASSWORD"
            required
        /></label>
        <p v-if="session.trouble" class="level-bad" role="alert">{{ session.trouble }}</p>
        <div class="row spread">
          <RouterLink to="/sign-in">I have an account</RouterLink>
          <Button type="primary" html-type="submit" size="large" :loading="busy">Join</Button>
        </div>
      </template>
      <template v-else>
        <h1>Invitation</h1>
        <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
        <p v-if="trouble" class="muted small">Each link works once and for a week. Ask for another one.</p>
        <RouterLink to="/sign-in">To the sign-in page</RouterLink>
      </template>
    </form>
  </div>
</template>

<style scoped>
.page {
  min-height: 100vh;
  display: grid;
  place-items: center;
  padding: 24px 16px;
}
.form {
  width: min(460px, 100%);
  padding: 22px 24px;
}
h1 {
  font-size: 24px;
}
</style>
