<script setup lang="ts">
import { questions } from '../../api/questions.ts';
import { computed, ref } from 'vue';
import { RouterLink } from 'vue-router';
import EmptyState from '../../common/EmptyState.vue';
import { useAnswer } from '../../common/answer.ts';
import WhenThere from '../../common/WhenThere.vue';
import { useClub } from '../../stores/club.ts';
import CalibrationNeeds from './CalibrationNeeds.vue';
import CalibrationRecord from './CalibrationRecord.vue';
import FlatsBench from './FlatsBench.vue';
import FlatsTwilight from './FlatsTwilight.vue';
import MastersRecord from './MastersRecord.vue';

/** Everything that frames are cleaned with: what is missing, how flats are exposed, what is on record and what it holds for. */
const club = useClub();
const answer = useAnswer('The calibration frames on record', () =>
  club.rig ? questions.calibration(club.rig.id, club.rig.system.key) : null,
);
const groups = computed(() => answer.value.value ?? []);
/** Changes when what is on record does. */
const turn = ref(0);
</script>

<template>
  <EmptyState v-if="!club.rig || !club.site" title="No rig yet" lacks="rig"
    >Flats and darks belong to a rig: its camera, its train, its filters.</EmptyState
  >
  <template v-else>
    <CalibrationNeeds :nights="turn" lead />
    <FlatsTwilight />
    <FlatsBench />
    <WhenThere :of="[answer]">
      <MastersRecord :groups="groups" @changed="turn++" />
      <CalibrationRecord :groups="groups" />
      <p v-if="!groups.length" class="muted">
        No dark, flat or bias frame is on record for this rig:
        <RouterLink to="/morning/night">bring in a night’s folder</RouterLink> with them in it.
      </p>
    </WhenThere>
  </template>
</template>
