<script setup lang="ts">
import { useRouter } from 'vue-router';
import { useClub } from '../stores/club.ts';
import { useLive } from '../stores/live.ts';
import { useUnits } from '../stores/units.ts';
import type { Notice } from '../stores/live.ts';

/** What others just did to the rigs of this club: said where one sits, until it was read. */
const live = useLive();
const club = useClub();
const units = useUnits();
const router = useRouter();
async function look(n: Notice) {
  if (n.rigId) club.selectRig(n.rigId);
  if (n.night) club.goToNight(n.night);
  live.dismiss(n.seq);
  await router.push(n.night ? '/night' : '/bench/balance');
}
</script>

<template>
  <div v-for="n in live.notices" :key="n.seq" class="notice row spread no-print" role="status" data-test="notice">
    <span>{{ units.say(n.text) }}</span>
    <span class="row">
      <button type="button" @click="look(n)">Look</button>
      <button type="button" aria-label="Put this away" @click="live.dismiss(n.seq)">✕</button>
    </span>
  </div>
</template>

<style scoped>
.notice {
  padding: 6px 12px;
  margin-bottom: 10px;
  border: 1px solid var(--line);
  border-left: 3px solid var(--accent);
  background: var(--surface);
}
.notice button {
  all: unset;
  cursor: pointer;
  color: var(--accent);
  font-weight: 600;
  padding: 2px 6px;
}
.notice button:focus-visible {
  outline: 2px solid var(--accent);
}
</style>
