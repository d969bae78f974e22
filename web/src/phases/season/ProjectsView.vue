<script setup lang="ts">
import { api, type ProjectRecord } from '@keen/contract';
import { figure } from '@keen/core/quantities';
import { filtersOf } from '@keen/core/rig';
import { Button, Input, Switch, Textarea, message } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { call } from '../../api/client.ts';
import { useDraft } from '../../common/draft.ts';
import EmptyState from '../../common/EmptyState.vue';
import FilterTile from '../../common/FilterTile.vue';
import ListTable, { type Column } from '../../common/ListTable.vue';
import ProgressBar from '../../common/ProgressBar.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import KeptBar from '../../common/KeptBar.vue';
import { useSaving } from '../../common/savedDraft.ts';
import { useShortcut } from '../../common/shortcuts.ts';
import { hours } from '../../common/times.ts';
import VerdictLine from '../../common/VerdictLine.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { plainCopy } from '../../workers/index.ts';
import { needMinutesOf, remainingOf } from '../night/useNight.ts';
import NewProject from './NewProject.vue';
import NightsChart from './NightsChart.vue';
import PickOne from '../../common/PickOne.vue';

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
  club.projects = [...club.projects, p];
  club.rigId = p.rigId;
  chosenId.value = p.id;
  void router.replace({ query: { project: p.id } });
  void message.success(`${p.object} is a project now. Plan its first night when you like.`);
}

const total = (p: ProjectRecord) => p.goals.reduce((s, g) => s + g.quota * g.exposureS, 0);
const gathered = (p: ProjectRecord) =>
  p.goals.reduce((s, g) => s + Math.min(g.quota, p.done[g.filter] ?? 0) * g.exposureS, 0);
const share = (p: ProjectRecord) => (total(p) ? gathered(p) / total(p) : 0);
const verdict = computed(() => {
  const open = shown.value.filter((p) => share(p) < 1);
  const need = open.reduce((s, p) => s + needMinutesOf(p), 0);
  const near = [...open].sort((a, b) => share(b) - share(a))[0];
  if (!shown.value.length) return null;
  return {
    level: 'good' as const,
    text: open.length
      ? `${open.length} project${open.length === 1 ? '' : 's'} under way, ${figure(need / 60, 0)} h of open shutter still wanted. ${near ? `${near.object} is nearest its end: ${Math.round(100 * share(near))} %.` : ''}`
      : 'Every goal is reached.',
  };
});
const rigName = (id: string) => club.rigs.find((r) => r.id === id)?.name ?? '';
const columns: Column<ProjectRecord>[] = [
  { key: 'object', title: 'Object', value: (p) => p.object },
  { key: 'rig', title: 'Rig', value: (p) => rigName(p.rigId) },
  { key: 'owner', title: 'Whose', value: (p) => p.owner },
  { key: 'share', title: 'There, %', value: (p) => 100 * share(p), numeric: true },
  { key: 'need', title: 'Wanted, h', value: (p) => needMinutesOf(p) / 60, decimals: 1, numeric: true },
];

type Fields = Omit<
  ProjectRecord,
  'id' | 'owner' | 'ownerId' | 'framing' | 'done' | 'nights' | 'version' | 'updatedAt' | 'updatedBy'
>;
const fieldsOf = ({
  id: _i,
  owner: _o,
  ownerId: _w,
  framing: _f,
  done: _d,
  nights: _n,
  version: _v,
  updatedAt: _a,
  updatedBy: _b,
  ...f
}: ProjectRecord): Fields => f;
const kept = useDraft<Fields>(
  () => `project.${project.value?.id ?? ''}`,
  () => (project.value ? { value: fieldsOf(project.value), version: project.value.version } : null),
);
const { draft } = kept;
const saving = useSaving<ProjectRecord>(
  kept,
  (version) =>
    call(api.changeProject, { params: { id: project.value!.id }, body: { ...plainCopy(draft.value!), version } }),
  (p) => (club.projects = club.projects.map((o) => (o.id === p.id ? p : o))),
  () => 'Project saved.',
);
const mine = computed(() => session.isSteward || (session.mayEdit && project.value?.ownerId === session.member?.id));
const free = computed(() => {
  const rig = club.rigs.find((r) => r.id === draft.value?.rigId);
  return (rig ? filtersOf(rig.setup) : []).filter((f) => !draft.value?.goals.some((g) => g.filter === f));
});
const addGoal = (f: unknown) =>
  draft.value?.goals.push({ filter: String(f), exposureS: draft.value.goals[0]?.exposureS ?? 180, quota: 40 });
</script>

<template>
  <VerdictLine v-if="verdict" :verdict="verdict" />
  <EmptyState v-if="club.projects.length === 0" title="No project yet">
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
          <button type="button" class="pick" :class="{ here: row.id === project?.id }" @click="chosenId = row.id">
            {{ row.object }}
          </button>
        </template>
        <template #share="{ row }">
          <span class="share"
            ><ProgressBar :done="gathered(row)" :goal="total(row)" /> {{ Math.round(100 * share(row)) }}</span
          >
        </template>
      </ListTable>
    </section>
    <section v-if="project && draft" class="panel stack" data-test="project">
      <KeptBar
        :kept="kept"
        :saving="saving"
        :fields-of="fieldsOf"
        :record="project"
        :locked="
          mine
            ? undefined
            : session.mayEdit
              ? `${project.owner}’s project; the owner or a steward may change it.`
              : 'Guests may look, not change.'
        "
      />
      <Input v-model:value="draft.name" class="name" aria-label="Name of the project" :disabled="!mine" />
      <p class="muted small">
        {{ draft.object }}, {{ draft.objectType }}, on the {{ rigName(draft.rigId) }};
        {{ hours(needMinutesOf(project)) }} of open shutter still wanted.
      </p>
      <table class="figures" data-test="goals">
        <thead>
          <tr>
            <th>Filter</th>
            <th class="num">Exposure</th>
            <th class="num">Goal</th>
            <th class="num">done</th>
            <th />
            <th class="num">left</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <tr v-for="(g, i) in draft.goals" :key="g.filter">
            <td><FilterTile :name="g.filter" /></td>
            <td class="num">
              <QuantityInput
                v-model="g.exposureS"
                dimension="duration"
                :label="`Exposure of ${g.filter}`"
                hide-label
                :decimals="0"
                :min="1"
                :max="7200"
                :step="30"
                width="92px"
                :disabled="!mine"
              />
            </td>
            <td class="num">
              <QuantityInput
                v-model="g.quota"
                dimension="number"
                :label="`Goal of ${g.filter}`"
                hide-label
                :decimals="0"
                :min="1"
                :max="9999"
                width="70px"
                :disabled="!mine"
              />
            </td>
            <td class="num" :data-done="g.filter">{{ project.done[g.filter] ?? 0 }}</td>
            <td class="meter"><ProgressBar :done="project.done[g.filter] ?? 0" :goal="g.quota" /></td>
            <td class="num">{{ remainingOf(project).find((r) => r.filter === g.filter)?.left ?? g.quota }}</td>
            <td>
              <Button
                v-if="mine && draft.goals.length > 1"
                type="text"
                size="small"
                :aria-label="`Remove ${g.filter}`"
                @click="draft.goals.splice(i, 1)"
                >✕</Button
              >
            </td>
          </tr>
        </tbody>
      </table>
      <div class="row spread">
        <PickOne
          v-if="mine && free.length"
          :value="undefined"
          size="small"
          placeholder="Add a filter"
          class="add"
          label="Add a filter"
          :options="free.map((f) => ({ value: f, label: f }))"
          @update:value="addGoal"
        />
        <span class="row">
          <RouterLink :to="{ path: '/night/plan', query: { project: project.id } }">Plan a night</RouterLink>
        </span>
      </div>
      <h3>Night by night</h3>
      <NightsChart :project="project" />
      <div class="grid">
        <QuantityInput
          v-model="draft.minimumAltitudeDeg"
          dimension="angle"
          label="Not below"
          :decimals="0"
          :min="0"
          :max="85"
          :disabled="!mine"
        />
        <QuantityInput
          v-model="draft.angleDeg"
          dimension="angle"
          label="Camera angle"
          :decimals="1"
          :min="0"
          :max="360"
          :disabled="!mine"
        />
        <label class="small muted archive"
          ><span><Switch v-model:checked="draft.archived" size="small" :disabled="!mine" /> put away</span></label
        >
      </div>
      <label class="small muted">Note<Textarea v-model:value="draft.note" :rows="2" :disabled="!mine" /></label>
    </section>
  </div>
  <NewProject v-model:open="making" :object="wanted" @made="made" />
</template>

<style scoped>
.board {
  grid-template-columns: minmax(0, 1.1fr) minmax(0, 1fr);
}
.pick {
  all: unset;
  cursor: pointer;
  font-weight: 650;
  color: var(--accent);
}
.pick:focus-visible {
  outline: 2px solid var(--accent);
}
.here {
  text-decoration: underline;
  text-underline-offset: 3px;
}
.share {
  display: grid;
  grid-template-columns: minmax(60px, 1fr) 30px;
  gap: 8px;
  align-items: center;
}
.name {
  font-weight: 650;
  font-size: 16px;
}
.meter {
  width: 26%;
}
.add {
  width: 140px;
}
.grid {
  display: grid;
  grid-template-columns: 130px 130px 1fr;
  gap: 12px;
  align-items: end;
}
.archive {
  text-align: right;
}
@media (max-width: 1060px) {
  .board {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
