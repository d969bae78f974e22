<script setup lang="ts">
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import { questions } from '../api/questions.ts';
import { useClub } from '../stores/club.ts';
import { useAnswer } from './answer.ts';
import StillComing from './StillComing.vue';
import { dueWords } from './upkeepWords.ts';

/** What is due on the rig that is looked at; nothing where nothing is. */
const club = useClub();
const upkeep = useAnswer('What is due on this rig', questions.upkeep);
const due = computed(() =>
  (upkeep.value.value ?? []).filter((u) => u.rigId === club.rig?.id && u.due.state !== 'later'),
);
</script>

<template>
  <StillComing
    v-if="upkeep.trouble.value"
    what="What is due on this rig"
    :failed="upkeep.trouble.value"
    @again="upkeep.load()"
  />
  <p v-for="u in due" :key="u.id" :class="u.due.state === 'over' ? 'level-caution' : 'muted'" data-test="upkeep-due">
    {{ u.what }}: {{ dueWords(u) }}. <RouterLink to="/club/upkeep">Upkeep</RouterLink>
  </p>
</template>

<style scoped>
p {
  margin: 0;
}
</style>
