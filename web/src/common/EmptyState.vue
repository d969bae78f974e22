<script setup lang="ts">
import { api } from '@keen/contract';
import { computed, shallowRef, watch } from 'vue';
import { RouterLink } from 'vue-router';
import { call } from '../api/client.ts';
import { useClub } from '../stores/club.ts';
import { useSession } from '../stores/session.ts';

/**
 * What an empty place says: what would stand here, why it matters, and the button that gets it there. Where a site or rig
 * is lacking, whoever may add one is led to it; everybody else is told whom to ask.
 */
const props = defineProps<{ title: string; lacks?: 'site' | 'rig' }>();
const session = useSession();
const club = useClub();
const stewards = shallowRef<string[]>([]);
const ask = computed(() => props.lacks !== undefined && !session.isSteward);
watch(
  ask,
  async (yes) => {
    if (!yes) return;
    const got = await call(api.members);
    if (got.ok) stewards.value = got.value.filter((m) => m.role === 'steward').map((m) => m.name);
  },
  { immediate: true },
);
/** From nothing the first evening leads on; where a site stands already only the rig is missing. */
const fresh = computed(() => club.sites.length === 0 || club.records.length === 0);
</script>

<template>
  <div class="empty panel" data-test="empty">
    <h2>{{ title }}</h2>
    <p class="muted"><slot /></p>
    <p v-if="ask" class="small">
      {{ stewards.length ? `${stewards.join(' or ')} can add it: ask there.` : 'A steward can add it: ask there.' }}
    </p>
    <div class="row">
      <template v-if="lacks && session.isSteward">
        <RouterLink v-if="fresh" to="/first-evening" class="button">{{
          club.sites.length ? 'Set up the first rig' : 'Begin with the place'
        }}</RouterLink>
        <RouterLink v-else :to="lacks === 'site' ? '/club/sites' : '/bench/rigs'" class="button">{{
          lacks === 'site' ? 'Add a site' : 'Add a rig'
        }}</RouterLink>
      </template>
      <slot name="actions" />
    </div>
  </div>
</template>

<style scoped>
.empty {
  padding: 28px 32px;
  display: grid;
  gap: 8px;
  max-width: 46rem;
}
.button,
.empty :slotted(a.button) {
  display: inline-block;
  background: var(--accent);
  color: var(--on-accent);
  border-radius: 4px;
  padding: 6px 14px;
  text-decoration: none;
}
.button:focus-visible {
  outline: 2px solid var(--ink);
  outline-offset: 2px;
}
</style>
