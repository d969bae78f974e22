<script setup lang="ts">
import { api, type CalibrationGroup } from '@keen/contract';
import { ref, shallowRef, watch } from 'vue';
import { RouterLink } from 'vue-router';
import { call } from '../../api/client.ts';
import EmptyState from '../../common/EmptyState.vue';
import { lateness } from '../../common/late.ts';
import { problemText } from '../../common/outcome.ts';
import { useClub } from '../../stores/club.ts';
import CalibrationNeeds from './CalibrationNeeds.vue';
import CalibrationRecord from './CalibrationRecord.vue';
import FlatsBench from './FlatsBench.vue';
import FlatsTwilight from './FlatsTwilight.vue';
import MastersRecord from './MastersRecord.vue';

/** Everything that frames are cleaned with: what is missing, how flats are exposed, what is on record and what it holds for. */
const club = useClub();
const groups = shallowRef<CalibrationGroup[]>([]);
const trouble = ref('');
/** Changes when what is on record does. */
const turn = ref(0);
const ask = lateness();
watch(
  () => [club.rig?.id, club.rig?.system.key] as const,
  async ([id, system]) => {
    const late = ask();
    groups.value = [];
    if (!id || !system) return;
    const got = await call(api.calibration, { params: { id }, query: { system } });
    if (late()) return;
    trouble.value = got.ok ? '' : problemText(got.problem);
    groups.value = got.ok ? got.value : [];
  },
  { immediate: true },
);
</script>

<template>
  <EmptyState v-if="!club.rig || !club.site" title="No rig yet" lacks="rig"
    >Flats and darks belong to a rig: its camera, its train, its filters.</EmptyState
  >
  <template v-else>
    <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
    <CalibrationNeeds :nights="turn" lead />
    <FlatsTwilight />
    <FlatsBench />
    <MastersRecord :groups="groups" @changed="turn++" />
    <CalibrationRecord :groups="groups" />
    <p v-if="!groups.length" class="muted">
      No dark, flat or bias frame is on record for this rig:
      <RouterLink to="/morning/night">bring in a night’s folder</RouterLink> with them in it.
    </p>
  </template>
</template>
