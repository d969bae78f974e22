<script setup lang="ts">
import { makeVerdict, phrase } from '@keen/core/phrases';
import { openShutterThere, wantedMinutes } from '@keen/core/record';
import type { ProjectRecord } from '@keen/contract';
import { Button, Switch, message } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import EmptyState from '../../common/EmptyState.vue';
import ListTable, { type Column } from '../../common/ListTable.vue';
import ProgressBar from '../../common/ProgressBar.vue';
import { useShortcut } from '../../common/shortcuts.ts';
import VerdictLine from '../../common/VerdictLine.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import NewProject from './NewProject.vue';
import ProjectPanel from './ProjectPanel.vue';

const club = useClub();
const session = useSession();
const route = useRoute();
const router = useRouter();
const onlyRig = ref(false);
const archived = ref(false);
const shown = computed(() =>
  club.projects.filter((p) => p.archived === archived.value && (!onlyRig.value || p.rigId === club.rig?.id)),
);
const chosenId = ref(String(route.query.project ?? ''));
watch(
  () => route.query.project,
  (id) => id && (chosenId.value = String(id)),
);
const project = computed(
  () =>
    club.projects.find((p) => p.id === chosenId.value) ??
    shown.value.find((p) => p.rigId === club.rig?.id) ??
    shown.value[0] ??
    null,
);
const making = ref(false);
const wanted = computed(() => (typeof route.query.object === 'string' ? route.query.object : undefined));
watch(wanted, (o) => o && session.mayEdit && (making.value = true), { immediate: true });
useShortcut('n', () => session.mayEdit && (making.value = true));
function made(p: ProjectRecord) {
  club.putProject(p);
  club.selectRig(p.rigId);
  chosenId.value = p.id;
  void router.replace({ query: { project: p.id } });
  void message.success(`${p.object} is a project now. Plan its first night when you like.`);
}

const share = (p: ProjectRecord) => {
  const { thereS, askedS } = openShutterThere(p);
  return askedS ? thereS / askedS : 0;
};
const verdict = computed(() => {
  const open = shown.value.filter((p) => share(p) < 1);
  const need = open.reduce((s, p) => s + wantedMinutes(p), 0);
  const near = [...open].sort((a, b) => share(b) - share(a))[0];
  if (!shown.value.length) return null;
  if (!open.length) return makeVerdict('good', phrase('projects.all-reached'));
  const nearest =
    near && share(near) > 0
      ? [phrase('projects.nearest', { object: near.object, therePercent: Math.round(100 * share(near)) })]
      : [];
  return makeVerdict('good', phrase('projects.open', { n: open.length, wantedHours: need / 60 }), ...nearest);
});
const rigName = (id: string) => club.rigs.find((r) => r.id === id)?.name ?? '';
const columns: Column<ProjectRecord>[] = [
  { key: 'object', title: 'Object', value: (p) => p.object },
  { key: 'rig', title: 'Rig', value: (p) => rigName(p.rigId) },
  { key: 'owner', title: 'Whose', value: (p) => p.owner },
  { key: 'share', title: 'There, %', value: (p) => 100 * share(p), numeric: true },
  { key: 'need', title: 'Wanted, h', value: (p) => wantedMinutes(p) / 60, decimals: 1, numeric: true },
];
</script>

<template>
  <VerdictLine v-if="verdict" :verdict="verdict" />
  <EmptyState v-if="club.projects.length === 0 && club.records.length === 0" title="No rig yet" lacks="rig">
    A project is an object, a rig, and how many frames each filter should get: it wants a rig first.
  </EmptyState>
  <EmptyState v-else-if="club.projects.length === 0" title="No project yet">
    A project is an object, a rig, and how many frames each filter should get. Plans draw on what is still wanted, night
    after night.
    <template #actions
      ><Button v-if="session.mayEdit" type="primary" @click="making = true">Start a project</Button></template
    >
  </EmptyState>
  <div v-else class="split board">
    <section class="panel stack">
      <div class="row spread">
        <span class="row small">
          <label class="row"><Switch v-model:checked="onlyRig" size="small" /> only {{ club.rig?.name }}</label>
          <label class="row"><Switch v-model:checked="archived" size="small" /> put away</label>
        </span>
        <Button v-if="session.mayEdit" type="primary" title="n" @click="making = true">Start a project</Button>
      </div>
      <ListTable
        :rows="shown"
        :columns="columns"
        name="projects"
        :row-key="(p) => p.id"
        sort-by="object"
        empty="None here."
      >
        <template #object="{ row }">
          <button type="button" class="by-name" :class="{ here: row.id === project?.id }" @click="chosenId = row.id">
            {{ row.object }}
          </button>
        </template>
        <template #share="{ row }">
          <span class="share"
            ><ProgressBar :done="openShutterThere(row).thereS" :goal="openShutterThere(row).askedS" />
            {{ Math.round(100 * share(row)) }}</span
          >
        </template>
      </ListTable>
    </section>
    <ProjectPanel v-if="project" :project="project" />
  </div>
  <NewProject v-model:open="making" :object="wanted" @made="made" />
</template>

<style scoped>
.board {
  grid-template-columns: minmax(0, 1.1fr) minmax(0, 1fr);
}
.share {
  display: grid;
  grid-template-columns: minmax(60px, 1fr) 30px;
  gap: 8px;
  align-items: center;
}
@media (max-width: 1060px) {
  .board {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
