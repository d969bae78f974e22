<script setup lang="ts">
import { api } from '@keen/contract';
import { Button, Input, InputPassword, message } from 'ant-design-vue';
import { encode } from 'uqr';
import { computed, ref, shallowRef } from 'vue';
import { call } from '../../api/client.ts';
import { problemText, type Outcome } from '../../common/outcome.ts';
import { useLight } from '../../stores/light.ts';
import { useSession } from '../../stores/session.ts';

/** A code from a device beside the password: key as a square to scan, first code, recovery codes told once. */
const session = useSession();
/** Scanners want it dark on light; in the dark the light is red. */
const light = useLight();
const password = ref('');
const code = ref('');
const prepared = shallowRef<{ key: string; uri: string } | null>(null);
const recovery = shallowRef<string[] | null>(null);
const trouble = ref('');
const busy = ref(false);

/** The dark squares of the code as one path, a unit each. */
const square = computed(() => {
  if (!prepared.value) return null;
  const { data, size } = encode(prepared.value.uri, { border: 2 });
  const path = data.flatMap((row, y) => row.flatMap((dark, x) => (dark ? [`M${x} ${y}h1v1h-1z`] : []))).join('');
  return { path, size };
});
async function ask<T>(work: Promise<Outcome<T>>): Promise<T | null> {
  busy.value = true;
  const got = await work;
  busy.value = false;
  trouble.value = got.ok ? '' : problemText(got.problem);
  return got.ok ? got.value : null;
}
async function prepare() {
  prepared.value = await ask(call(api.prepareSecondFactor, { body: { password: password.value } }));
  if (prepared.value) password.value = '';
}
async function confirm() {
  const got = await ask(call(api.confirmSecondFactor, { body: { code: code.value } }));
  code.value = '';
  if (!got) return;
  [recovery.value, prepared.value] = [got.recoveryCodes, null];
  await session.load();
}
async function drop() {
  if (
    !(await ask(
      call(api.dropSecondFactor, {
        body: { password: password.value, ...(code.value.trim() ? { code: code.value.trim() } : {}) },
      }),
    ))
  )
    return;
  [password.value, code.value, recovery.value] = ['', '', null];
  void message.success('You sign in by password alone again.');
  await session.load();
}
</script>

<template>
  <section class="panel stack labels">
    <h2>Second factor</h2>
    <template v-if="recovery">
      <p>
        <strong>On.</strong> Keep these eight recovery codes where the device is not; each opens once, and they are
        shown now only.
      </p>
      <ul class="codes mono">
        <li v-for="c in recovery" :key="c">{{ c }}</li>
      </ul>
      <div><Button @click="recovery = null">I have written them down</Button></div>
    </template>
    <form v-else-if="session.member?.secondFactor" class="stack" @submit.prevent="drop">
      <p class="small"><strong>On:</strong> signing in asks for a code from your device after the password.</p>
      <div class="pair">
        <label
          >Present password<InputPassword v-model:value="password" autocomplete="current-password" required
        /></label>
        <label
          >Code of your device<Input v-model:value="code" inputmode="numeric" autocomplete="one-time-code" required
        /></label>
        <Button html-type="submit" danger :loading="busy">Turn it off</Button>
      </div>
    </form>
    <form v-else-if="prepared && square" class="scan" @submit.prevent="confirm">
      <svg
        :viewBox="`0 0 ${square.size} ${square.size}`"
        class="square"
        role="img"
        aria-label="Key of the second factor, to scan"
      >
        <rect
          :width="square.size"
          :height="square.size"
          :fill="light.light === 'dark-adapted' ? 'var(--ink)' : '#fff'"
        />
        <path :d="square.path" fill="#000" />
      </svg>
      <div class="stack">
        <p class="small">Scan it with an authenticator, or type its key:</p>
        <p class="mono key">{{ prepared.key.replace(/(....)/g, '$1 ') }}</p>
        <div class="pair">
          <label
            >The code it shows<Input
              v-model:value="code"
              inputmode="numeric"
              autocomplete="one-time-code"
              required
              :maxlength="10"
          /></label>
          <Button type="primary" html-type="submit" :loading="busy">Turn it on</Button>
        </div>
        <div><Button size="small" @click="prepared = null">Not now</Button></div>
      </div>
    </form>
    <form v-else class="stack" @submit.prevent="prepare">
      <p class="small muted">
        You keep the keys of everybody here: a code that changes every half minute, from an authenticator on your phone,
        keeps a stolen password from opening the door.
      </p>
      <div class="pair">
        <label
          >Present password<InputPassword v-model:value="password" autocomplete="current-password" required
        /></label>
        <Button html-type="submit" :loading="busy">Set it up</Button>
      </div>
    </form>
    <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
  </section>
</template>

<style scoped>
.pair {
  display: grid;
  grid-template-columns: minmax(0, 300px);
  grid-auto-flow: column;
  grid-auto-columns: auto;
  justify-content: start;
  gap: 10px;
  align-items: end;
}
.scan {
  display: flex;
  gap: 18px;
  flex-wrap: wrap;
}
.square {
  width: 190px;
  height: 190px;
  border-radius: 4px;
}
.codes {
  columns: 2;
  max-width: 420px;
  margin: 0;
}
.key {
  overflow-wrap: anywhere;
}
</style>
