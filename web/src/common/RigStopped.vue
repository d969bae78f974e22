<script setup lang="ts">
import { isStopped } from '@keen/core/record';
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import { questions } from '../api/questions.ts';
import { useClub } from '../stores/club.ts';
import { useAnswer } from './answer.ts';
import StillComing from './StillComing.vue';
import { stopWords } from './stopWords.ts';

/** What keeps the rig that is looked at from work in the night that is looked at: on every screen, until it is cured. */
const club = useClub();
const stops = useAnswer('What is out of order', questions.stops);
const here = computed(() =>
  (stops.value.value ?? []).filter(
    (s) => s.rigId === club.rig?.id && isStopped(s, { system: club.rig.system.key, night: club.night }),
  ),
);
</script>

<template>
  <StillComing
    v-if="stops.trouble.value"
    what="Whether this rig is in order"
    :failed="stops.trouble.value"
    @again="stops.load()"
  />
  <p v-for="s in here" :key="s.id" class="stopped" role="status" data-test="stopped">
    <strong>{{ club.rig!.name }} is {{ stopWords(s) }}:</strong> {{ s.problem }}
    <span class="muted">({{ s.by }})</span> <RouterLink to="/morning/log">To the log</RouterLink>
  </p>
</template>

<style scoped>
.stopped {
  margin: 0 0 12px;
  padding: 8px 12px;
  border-left: 4px solid var(--bad);
  background: var(--bad-wash);
}
</style>
