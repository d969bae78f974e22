<script setup lang="ts">
import { LEAST_PASSWORD, type ClubKind } from '@keen/contract';
import { Button, Input, InputPassword } from 'ant-design-vue';
import { computed, reactive, ref } from 'vue';
import { RouterLink, useRouter } from 'vue-router';
import ChoiceCards from '../../common/ChoiceCards.vue';
import { useSession } from '../../stores/session.ts';

/** Who begins: a person alone, a club, a remote site; then the first evening leads on. */
const session = useSession();
const router = useRouter();
const kind = ref<ClubKind>('alone');
const form = reactive({ place: '', name: '', signIn: '', password: '' });
const busy = ref(false);
const proposed = computed(() =>
  form.name
    .trim()
    .toLowerCase()
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .replace(/[^a-z0-9]+/g, '.')
    .replace(/^\.|\.$/g, '')
    .slice(0, 60),
);
const tooShort = computed(() => form.password !== '' && form.password.length < LEAST_PASSWORD);
async function begin() {
  busy.value = true;
  const ok = await session.begin({
    kind: kind.value,
    place: kind.value === 'alone' ? '' : form.place,
    name: form.name,
    signIn: form.signIn || proposed.value,
    password: form.password,
  });
  busy.value = false;
  if (ok) await router.replace('/first-evening');
}
</script>

<template>
  <div class="page" role="main">
    <form class="form panel stack" @submit.prevent="begin">
      <h1>Begin with your own equipment</h1>
      <template v-if="session.info?.mayBegin">
        <ChoiceCards
          v-model="kind"
          label="Who observes?"
          :options="[
            { value: 'alone', label: 'Just me' },
            { value: 'club', label: 'A club', more: 'shared rigs, several people' },
            { value: 'remote', label: 'A remote site', more: 'nobody beside the mount' },
          ]"
        />
        <label v-if="kind !== 'alone'"
          >{{ kind === 'club' ? 'Name of the club' : 'Name of the site'
          }}<Input v-model:value="form.place" required :maxlength="120"
        /></label>
        <label>Your name<Input v-model:value="form.name" autocomplete="name" required :maxlength="100" /></label>
        <label
          >Sign-in name<Input
            v-model:value="form.signIn"
            autocomplete="username"
            :placeholder="proposed || 'letters, digits, dot and hyphen'"
            :required="proposed.length < 2"
        /></label>
        <label
          >Password<InputPassword
            v-model:value="form.password"
            autocomplete="new-password"
            :minlength="LEAST_PASSWORD"
            required
        /></label>
        <p v-if="tooShort" class="small level-caution">At least {{ LEAST_PASSWORD }} characters.</p>
        <p v-if="session.trouble" class="level-bad" role="alert">{{ session.trouble }}</p>
        <div class="row spread">
          <RouterLink to="/sign-in">Back</RouterLink>
          <Button type="primary" html-type="submit" size="large" :loading="busy">Begin</Button>
        </div>
      </template>
      <template v-else>
        <p>Somebody keeps this installation already. Ask a steward there for an account.</p>
        <RouterLink to="/sign-in">Sign in</RouterLink>
      </template>
    </form>
  </div>
</template>

<style scoped>
.page {
  min-height: 100vh;
  display: grid;
  place-items: center;
  padding: 20px 12px;
}
.form {
  width: min(560px, 100%);
  padding: 24px 28px;
}
h1 {
  font-size: 24px;
}
label {
  display: grid;
  gap: 3px;
  font-size: 14px;
  color: var(--ink-2);
}
</style>
