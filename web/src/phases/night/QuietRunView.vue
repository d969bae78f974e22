<script setup lang="ts">
import { isLoud } from '@keen/core/run';
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import VerdictLine from '../../common/VerdictLine.vue';
import WhenThere from '../../common/WhenThere.vue';
import { clock } from '../../common/times.ts';
import { useClub } from '../../stores/club.ts';
import LiveFrame from './LiveFrame.vue';
import LiveNow from './LiveNow.vue';
import { useAlarm } from './useAlarm.ts';
import { useLiveRun } from './useLiveRun.ts';
import { useRunClock } from './useRunClock.ts';

/** A run on a second monitor: how it stands, what is under way, the last frame, the hour; nothing else. */
const props = defineProps<{ id: string }>();
const club = useClub();
const followed = useLiveRun(computed(() => props.id));
const { head, run, state, hearing, there, says, verdict, coming, byOthers } = followed;
const { nowMs } = useRunClock(followed);
useAlarm(computed(() => verdict.value !== null && isLoud(verdict.value)));
const zone = computed(() => {
  const rig = club.rigs.find((r) => r.id === run.value?.rigId);
  return club.sites.find((s) => s.id === rig?.siteId)?.timeZone ?? 'UTC';
});
const frames = computed(() => says.value.flatMap((s) => (s.said === 'frame' ? [s] : [])));
</script>

<template>
  <main class="quiet">
    <WhenThere :of="[head]">
      <p
        v-if="byOthers || run?.state === 'failed' || (there && !state && run?.state === 'ended')"
        class="level-caution"
      >
        It cannot be shown here: <RouterLink :to="`/night/live/${id}`">why</RouterLink>.
      </p>
      <p v-else-if="!verdict || !there" class="muted">Reading what has happened …</p>
      <template v-else-if="run && state">
        <p class="row spread">
          <span class="mono hour">{{ clock(nowMs, zone) }}</span>
          <RouterLink :to="`/night/live/${id}`" class="small">back</RouterLink>
        </p>
        <VerdictLine :verdict="verdict">{{ run.objects }} with the {{ run.rig }}</VerdictLine>
        <p v-if="hearing === 'deaf'" class="level-caution">No line to the server: what is shown is from before.</p>
        <LiveNow v-if="!state.finished" :coming="coming" :now-ms="nowMs" :time-zone="zone" large />
        <LiveFrame :frames="frames" :time-zone="zone" />
      </template>
    </WhenThere>
  </main>
</template>

<style scoped>
.quiet {
  min-height: 100vh;
  padding: 24px;
  display: grid;
  gap: 18px;
  align-content: start;
  max-width: 900px;
  margin: 0 auto;
}
.hour {
  font-size: 72px;
  line-height: 1;
}
</style>
