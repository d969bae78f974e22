<script setup lang="ts">
import { useSession } from '../../stores/session.ts';
import ArchivePanel from './ArchivePanel.vue';
import OwnPassword from './OwnPassword.vue';
import OwnSessions from './OwnSessions.vue';
import SecondFactor from './SecondFactor.vue';

const session = useSession();
</script>

<template>
  <div class="stack narrow">
    <section class="panel">
      <h2>{{ session.member?.name }}</h2>
      <p class="small muted">
        Signs in as <span class="mono">{{ session.member?.signIn }}</span>; {{ session.member?.role }} of
        {{ session.member?.club }}.
      </p>
      <p v-if="session.member?.demo" class="small">The demo’s accounts are public and stay as they are.</p>
    </section>
    <template v-if="!session.member?.demo">
      <OwnPassword />
      <SecondFactor v-if="session.isSteward || session.member?.secondFactor" />
    </template>
    <OwnSessions />
    <ArchivePanel />
  </div>
</template>

<style scoped>
.narrow {
  max-width: 820px;
}
</style>
