<script setup lang="ts">
import { api, type ProjectRecord } from '@keen/contract';
import { Button } from 'ant-design-vue';
import { computed, ref } from 'vue';
import { call } from '../api/client.ts';
import { useClub } from '../stores/club.ts';
import { useSession } from '../stores/session.ts';
import { problemPlaces } from './outcome.ts';
import { projectFieldsOf } from './records.ts';

/** Frames that no goal of their project asks for: said, with the press that makes a goal of them. */
const props = defineProps<{ project: ProjectRecord; filter: string; exposureS: number; frames: number }>();
const club = useClub();
const session = useSession();
const mine = computed(() => session.isSteward || (session.mayEdit && props.project.ownerId === session.member?.id));
const busy = ref(false);
const trouble = ref('');
async function make() {
  const { project: p, filter, exposureS, frames } = props;
  busy.value = true;
  const goals = [...p.goals, { filter, exposureS, quota: Math.max(1, frames) }];
  const got = await call(api.changeProject, {
    params: { id: p.id },
    body: { ...projectFieldsOf(p), version: p.version, goals },
  });
  busy.value = false;
  trouble.value = got.ok ? '' : problemPlaces(got.problem);
  if (got.ok) club.putProject(got.value);
}
</script>

<template>
  <span class="small level-caution" data-test="no-goal">
    No goal of {{ project.object }} asks for {{ filter }} {{ exposureS }} s: it would count for nothing.
    <Button v-if="mine" size="small" :loading="busy" @click="make">Make it a goal</Button>
    <template v-else>Its owner, {{ project.owner }}, can make it one.</template>
    <span v-if="trouble" role="alert" class="level-bad">{{ trouble }}</span>
  </span>
</template>
