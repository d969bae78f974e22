<script setup lang="ts">
import { api } from '@keen/contract';
import { Button } from 'ant-design-vue';
import { ref } from 'vue';
import { call } from '../../api/client.ts';
import { problemText } from '../../common/outcome.ts';

/** One’s own nights on all rigs, for a calendar that cannot sign in. */
const address = ref('');
const trouble = ref('');
async function ask() {
  const got = await call(api.ownFeed);
  trouble.value = got.ok ? '' : problemText(got.problem);
  if (got.ok) address.value = new URL(got.value.path, location.href).href;
}
async function drop() {
  const got = await call(api.dropOwnFeed);
  trouble.value = got.ok ? '' : problemText(got.problem);
  if (got.ok) address.value = '';
}
</script>

<template>
  <section class="panel stack no-print" data-test="own-feed">
    <h2>In your own calendar</h2>
    <p class="small muted">
      An address that any calendar reads: your hours on all rigs. Whoever has it can read them; take it back and it is
      gone. A rig’s own address stands under Night, Plan.
    </p>
    <p v-if="address"><code class="address">{{ address }}</code></p>
    <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
    <div class="row">
      <Button @click="ask">Show the address</Button>
      <Button v-if="address" @click="drop">Take it back</Button>
    </div>
  </section>
</template>

<style scoped>
.address {
  overflow-wrap: anywhere;
}
</style>
