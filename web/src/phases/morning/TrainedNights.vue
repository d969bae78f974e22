<script setup lang="ts">
import { computed } from 'vue';
import { questions } from '../../api/questions.ts';
import { useAnswer } from '../../common/answer.ts';
import LiveDebrief from '../../common/LiveDebrief.vue';
import { dayName } from '../../common/times.ts';
import WhenThere from '../../common/WhenThere.vue';
import { useClub } from '../../stores/club.ts';

/** Nights on the stand-ins into which somebody put a fault: a drill at the telescope, so to speak. */
const club = useClub();
const runs = useAnswer('runs', questions.liveRuns);
const trained = computed(() => (runs.value.value ?? []).filter((r) => r.debrief !== null));
const zone = computed(() => club.site?.timeZone ?? 'UTC');
</script>

<template>
  <section class="stack" data-test="trained">
    <h2>Drills in a running night</h2>
    <WhenThere :of="[runs]">
      <p v-if="trained.length === 0" class="muted">
        None yet. Run a plan under Night, and have somebody at the side put something in: when it was seen, what was
        done and what it cost stands here afterwards.
      </p>
      <details v-for="r in trained" :key="r.id" class="panel">
        <summary>
          {{ dayName(r.night) }}, {{ r.objects }} with the {{ r.rig }}, run by {{ r.by }}:
          {{ r.debrief!.faults.length }} put in, {{ r.debrief!.accepted }} of {{ r.debrief!.quiet }} frames
        </summary>
        <LiveDebrief :debrief="r.debrief!" :time-zone="zone" />
      </details>
    </WhenThere>
  </section>
</template>

<style scoped>
summary {
  cursor: pointer;
}
</style>
