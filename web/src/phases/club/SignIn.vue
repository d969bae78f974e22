<script setup lang="ts">
import { Button, Input, InputPassword } from 'ant-design-vue';
import { computed, nextTick, ref } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { useSession } from '../../stores/session.ts';
import DoorPicture from './DoorPicture.vue';

/** Two doors, and the way back in for whoever has an account. */
const session = useSession();
const route = useRoute();
const router = useRouter();
const name = ref('');
const password = ref('');
const busy = ref(false);
const code = ref('');
/** The password was right and the account asks for a code too. */
const codeAsked = ref(false);
const demo = computed(() => session.info?.demo ?? null);
const to = () => {
  const wanted = route.query.to;
  return typeof wanted === 'string' && /^\/(?!\/)/.test(wanted) ? wanted : '/';
};
async function wait(work: () => Promise<boolean>) {
  busy.value = true;
  const ok = await work();
  busy.value = false;
  if (ok) await router.replace(to());
}
async function enter() {
  const signIn = name.value.trim().toLowerCase();
  await wait(() => session.signIn({ signIn, password: password.value, ...(code.value ? { code: code.value } : {}) }));
  if (session.refusal === 'code_needed') {
    codeAsked.value = true;
    await nextTick();
    document.getElementById('sign-in-code')?.focus();
  } else if (session.refusal === 'wrong_password') codeAsked.value = false;
  code.value = '';
}
const look = (signIn: string) => wait(() => session.enterDemo(signIn));
async function restore() {
  busy.value = true;
  await session.restoreDemo();
  busy.value = false;
}
</script>

<template>
  <div class="page" role="main">
    <DoorPicture class="sky" />
    <section class="doors">
      <div>
        <h1>Keen Meridian</h1>
        <p class="muted">Balance the rig, read the focus, plan the night.</p>
      </div>
      <div class="pair">
        <section v-if="demo" class="door" aria-labelledby="door-demo">
          <h2 id="door-demo">Look round the demo club</h2>
          <p class="muted small">
            Three rigs, twelve projects, a month of nights. Everybody and everything in it is invented.
          </p>
          <template v-if="session.info?.local">
            <Button type="primary" size="large" :loading="busy" @click="look(demo[0]!.signIn)">Look round</Button>
            <p class="small muted as">
              as {{ demo[0]!.name }}, {{ demo[0]!.role }}; or as
              <template v-for="(d, i) in demo.slice(1)" :key="d.signIn"
                ><button type="button" class="plain" :disabled="busy" @click="look(d.signIn)">
                  {{ d.name.split(' ')[0] }}</button
                >, {{ d.role }}{{ i < demo.length - 2 ? '; ' : '' }}</template
              >
            </p>
          </template>
          <p v-else class="small">
            Sign in as
            <button
              v-for="d in demo"
              :key="d.signIn"
              type="button"
              class="plain"
              @click="((name = d.signIn), (password = 'larkmoor-nights'))"
            >
              {{ d.signIn }}</button
            >, password <span class="mono">larkmoor-nights</span>.
          </p>
        </section>
        <section v-else-if="session.info?.mayRestoreDemo" class="door" aria-labelledby="door-back">
          <h2 id="door-back">The demo club is put away</h2>
          <p class="muted small">An invented club to look round in; it takes some seconds to bring back.</p>
          <Button :loading="busy" @click="restore">Bring it back</Button>
        </section>
        <section class="door" aria-labelledby="door-own">
          <h2 id="door-own">Begin with your own equipment</h2>
          <template v-if="session.info?.mayBegin">
            <p class="muted small">
              Ten minutes from the place to a plan for tonight. Numbers you do not know are assumed, and say so.
            </p>
            <RouterLink to="/begin" class="begin">Begin</RouterLink>
          </template>
          <p v-else class="muted small">
            Somebody keeps this installation already. Ask a steward there for an invitation, and open its link.
          </p>
        </section>
      </div>
      <form class="form" @submit.prevent="enter">
        <h2>You have an account</h2>
        <div class="fields">
          <label>Sign-in name<Input v-model:value="name" autocomplete="username" required /></label>
          <label>
            Password
            <InputPassword v-model:value="password" autocomplete="current-password" required />
          </label>
          <Button html-type="submit" :loading="busy">Sign in</Button>
        </div>
        <label v-if="codeAsked" class="code">
          Code from your device
          <Input
            id="sign-in-code"
            v-model:value="code"
            inputmode="numeric"
            autocomplete="one-time-code"
            :maxlength="40"
            required
          />
          <span class="muted small">Six digits; or one of the recovery codes, if the device is lost.</span>
        </label>
        <p v-if="session.trouble" class="level-bad" role="alert">{{ session.trouble }}</p>
      </form>
    </section>
  </div>
</template>

<style scoped>
.page {
  min-height: 100vh;
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.35fr);
  align-items: center;
  gap: 40px;
  padding: 32px clamp(16px, 4vw, 72px);
}
.sky {
  width: 100%;
  max-width: 520px;
  justify-self: center;
}
.doors {
  display: grid;
  gap: 20px;
  max-width: 720px;
}
h1 {
  font-size: 30px;
}
.pair {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 14px;
}
.door {
  border: 1px solid var(--line-strong);
  border-top: 4px solid var(--accent);
  border-radius: 4px;
  background: var(--surface);
  padding: 16px 18px;
  display: grid;
  gap: 10px;
  align-content: start;
  justify-items: start;
}
.door h2 {
  font-size: 17px;
}
.begin {
  display: inline-block;
  background: var(--accent);
  color: var(--on-accent);
  border-radius: 4px;
  padding: 8px 18px;
  text-decoration: none;
  font-size: 16px;
}
.begin:focus-visible {
  outline: 2px solid var(--ink);
  outline-offset: 2px;
}
.plain {
  all: unset;
  cursor: pointer;
  color: var(--accent);
  text-decoration: underline;
}
.plain:focus-visible {
  outline: 2px solid var(--accent);
}
.form {
  border-top: 1px solid var(--line);
  padding-top: 14px;
  display: grid;
  gap: 8px;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr auto;
  gap: 10px;
  align-items: end;
}
label {
  display: grid;
  gap: 3px;
  font-size: 14px;
  color: var(--ink-2);
}
.code {
  max-width: 300px;
}
@media (max-width: 900px) {
  .page {
    grid-template-columns: minmax(0, 1fr);
  }
  .sky {
    display: none;
  }
}
@media (max-width: 560px) {
  .pair,
  .fields {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
