<script setup lang="ts">
import { Button, Input, InputPassword } from 'ant-design-vue';
import { computed, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { useSession } from '../../stores/session.ts';

/** Sign in; or, while the database holds nobody, found the club. */
const session = useSession();
const route = useRoute();
const router = useRouter();
const name = ref('');
const password = ref('');
const club = ref('');
const person = ref('');
const busy = ref(false);
const founding = computed(() => session.info?.needsSetup === true);

async function enter() {
  busy.value = true;
  const body = { signIn: name.value.trim().toLowerCase(), password: password.value };
  const ok = founding.value
    ? await session.setup({ ...body, club: club.value, name: person.value })
    : await session.signIn(body);
  busy.value = false;
  if (!ok) return;
  const to = typeof route.query.to === 'string' && /^\/(?!\/)/.test(route.query.to) ? route.query.to : '/';
  await router.replace(to);
}
</script>

<template>
  <div class="page" role="main">
    <svg class="sky" viewBox="0 0 600 520" aria-hidden="true">
      <path d="M40 430H560" stroke="var(--line-strong)" stroke-width="2" />
      <path d="M60 430A240 240 0 0 1 540 430" fill="none" stroke="var(--line)" stroke-width="2" />
      <path
        d="M110 430A190 150 0 0 1 490 430"
        fill="none"
        stroke="var(--line)"
        stroke-width="2"
        stroke-dasharray="5 7"
      />
      <path d="M300 120V430" stroke="var(--accent)" stroke-width="2" />
      <path d="M300 190l-7-13h14z" fill="var(--accent)" />
      <circle cx="168" cy="230" r="6" fill="none" stroke="var(--ink-2)" stroke-width="2" />
      <circle cx="412" cy="268" r="6" fill="none" stroke="var(--ink-2)" stroke-width="2" />
      <g transform="translate(300 430)">
        <path d="M-26 0L-5-64H5L26 0" fill="var(--part)" stroke="var(--ink-2)" stroke-width="2" />
        <g transform="translate(0-72) rotate(-38)">
          <rect x="-64" y="-15" width="128" height="30" fill="var(--surface)" stroke="var(--ink)" stroke-width="2" />
          <rect x="64" y="-20" width="16" height="40" fill="var(--surface)" stroke="var(--ink)" stroke-width="2" />
          <rect x="-84" y="-10" width="20" height="20" fill="var(--surface)" stroke="var(--ink)" stroke-width="2" />
        </g>
      </g>
      <text x="300" y="108" text-anchor="middle" fill="var(--ink-2)" font-size="14">meridian</text>
      <text x="60" y="456" text-anchor="middle" fill="var(--ink-2)" font-size="14">E</text>
      <text x="540" y="456" text-anchor="middle" fill="var(--ink-2)" font-size="14">W</text>
    </svg>
    <section class="form">
      <h1>Keen Meridian</h1>
      <p class="muted">
        {{
          founding
            ? 'Nobody is here yet. Found the club; you will be its first steward.'
            : 'Balance the rig, read the focus, plan the night.'
        }}
      </p>
      <form class="stack" @submit.prevent="enter">
        <template v-if="founding">
          <label>Club<Input v-model:value="club" required /></label>
          <label>Your name<Input v-model:value="person" autocomplete="name" required /></label>
        </template>
        <label>Sign-in name<Input v-model:value="name" autocomplete="username" autofocus required /></label>
        <label>
          Password
          <InputPassword
            v-model:value="password"
            :autocomplete="founding ? 'new-password' : 'current-password'"
            :minlength="founding ? 8 : undefined"
            required
          />
        </label>
        <p v-if="session.trouble" class="level-bad" role="alert">{{ session.trouble }}</p>
        <Button type="primary" html-type="submit" size="large" :loading="busy">{{
          founding ? 'Found the club' : 'Sign in'
        }}</Button>
      </form>
      <section v-if="session.info?.demo" class="demo" aria-label="Demo accounts">
        <h2>Demo club</h2>
        <p class="muted small">
          Everybody here is invented. All five share the password <span class="mono">larkmoor-nights</span>.
        </p>
        <button
          v-for="d in session.info.demo"
          :key="d.signIn"
          type="button"
          @click="((name = d.signIn), (password = 'larkmoor-nights'))"
        >
          <strong>{{ d.name }}</strong> <span class="muted">{{ d.role }}</span>
        </button>
      </section>
    </section>
  </div>
</template>

<style scoped>
.page {
  min-height: 100vh;
  display: grid;
  grid-template-columns: minmax(0, 1.2fr) minmax(340px, 1fr);
  align-items: center;
  gap: 40px;
  padding: 32px clamp(16px, 6vw, 96px);
}
.sky {
  width: 100%;
  max-width: 600px;
  justify-self: center;
}
.form {
  max-width: 380px;
  display: grid;
  gap: 14px;
}
h1 {
  font-size: 30px;
}
label {
  display: grid;
  gap: 3px;
  font-size: 14px;
  color: var(--ink-2);
}
.demo {
  border-top: 1px solid var(--line);
  padding-top: 14px;
  display: grid;
  gap: 6px;
}
.demo button {
  all: unset;
  cursor: pointer;
  padding: 5px 8px;
  border-radius: 4px;
}
.demo button:hover {
  background: var(--sunk);
}
.demo button:focus-visible {
  outline: 2px solid var(--accent);
}
@media (max-width: 820px) {
  .page {
    grid-template-columns: minmax(0, 1fr);
  }
  .sky {
    display: none;
  }
  .form {
    max-width: none;
  }
}
</style>
