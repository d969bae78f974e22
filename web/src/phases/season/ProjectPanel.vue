<script setup lang="ts">
import { goalFor, type Goal, gatheredAside, gatheredIn, stillWanted, wantedMinutes } from '@keen/core/record';
import { api, USUAL_SEASON, type ProjectRecord } from '@keen/contract';
import { filtersOf, viewOf } from '@keen/core/rig';
import { Button, Input, Switch, Textarea } from 'ant-design-vue';
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import { call } from '../../api/client.ts';
import { useDraft } from '../../common/draft.ts';
import FilterTile from '../../common/FilterTile.vue';
import KeptBar from '../../common/KeptBar.vue';
import PickOne from '../../common/PickOne.vue';
import ProgressBar from '../../common/ProgressBar.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import { useSaving } from '../../common/savedDraft.ts';
import { hours } from '../../common/times.ts';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { plainCopy } from '../../workers/index.ts';
import { projectFieldsOf } from '../../common/records.ts';
import FinishPanel from './FinishPanel.vue';
import NightsChart from './NightsChart.vue';
import PanelsDone from './PanelsDone.vue';
import ProjectSeason from './ProjectSeason.vue';

/** One project: its goals by filter, what each night added, and what every plan of it keeps to. */
const props = defineProps<{ project: ProjectRecord }>();
const club = useClub();
const session = useSession();
type Fields = ReturnType<typeof projectFieldsOf>;
const kept = useDraft<Fields>(
  () => `project.${props.project.id ?? ''}`,
  () => ({ value: projectFieldsOf(props.project), version: props.project.version }),
  // a draft from before projects had a season
  (d) => ({ ...d, season: { ...USUAL_SEASON, ...d.season, spells: d.season?.spells ?? [] } }),
);
const { draft } = kept;
const saving = useSaving<ProjectRecord>(
  kept,
  (version) =>
    call(api.changeProject, { params: { id: props.project.id }, body: { ...plainCopy(draft.value!), version } }),
  club.putProject,
  () => 'Project saved.',
);
const record = computed(() => club.records.find((r) => r.id === props.project.rigId) ?? null);
const siteOf = computed(() => club.sites.find((s) => s.id === record.value?.siteId) ?? null);
const rigName = computed(() => {
  const r = record.value;
  if (!r) return '';
  const system = r.systems.find((s) => s.key === props.project.system);
  return r.systems.length > 1 && system ? `${r.name} (${system.name})` : r.name;
});
const aside = computed(() => gatheredAside(props.project));
const there = computed(() => gatheredIn(props.project, null));
const doneOf = (g: Goal) => goalFor(there.value, g)?.done ?? 0;
const leftOf = (g: Goal) => stillWanted({ goals: [g], panels: props.project.panels, done: [doneOf(g)] })[0]!.left;
const mine = computed(() => session.isSteward || (session.mayEdit && props.project.ownerId === session.member?.id));
const held = computed(() => (record.value ? filtersOf(viewOf(record.value.setup, props.project.system)) : []));
/** A goal more: of a filter that has one already, at another length, as for a bright core. */
function addGoal(filter: string, exposureS?: number, quota = 40) {
  const goals = draft.value!.goals;
  const own = goals.filter((g) => g.filter === filter).map((g) => g.exposureS);
  const free = (s: number) => s > 0 && s <= 7200 && !goalFor(goals, { filter, exposureS: s });
  // a tenth for the core first, then what is not there yet: a press is never without effect
  const others = [Math.round(Math.min(...own) / 10), ...own.flatMap((s) => [2 * s, s / 2, 4 * s, s / 4])];
  const length = exposureS ?? (own.length ? others.find(free) : (goals[0]?.exposureS ?? 180));
  if (length !== undefined && free(length)) goals.push({ filter, exposureS: length, quota });
}
</script>

<template>
  <section v-if="draft" class="panel stack" data-test="project">
    <KeptBar
      :kept="kept"
      :saving="saving"
      :fields-of="projectFieldsOf"
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
      {{ draft.object }}, {{ draft.objectType }}, on the {{ rigName }}; {{ hours(wantedMinutes(project)) }} of open
      shutter still wanted.
    </p>
    <p v-for="a in aside" :key="`${a.filter} ${a.exposureS}`" class="row small level-caution" data-test="aside">
      Also taken, but no goal asks for it, so it counts for nothing: {{ a.done }} × {{ a.filter }} {{ a.exposureS }} s.
      <Button
        v-if="mine && !goalFor(draft.goals, a)"
        size="small"
        @click="addGoal(a.filter, a.exposureS, Math.max(1, a.done))"
        >Make it a goal</Button
      >
      <span v-else-if="mine">It counts once this is saved.</span>
    </p>
    <table class="figures" data-test="goals">
      <thead>
        <tr>
          <th>Filter</th>
          <th class="num">Exposure</th>
          <th class="num">{{ project.panels > 1 ? 'Goal a panel' : 'Goal' }}</th>
          <th class="num">done</th>
          <th />
          <th class="num">left</th>
          <th />
        </tr>
      </thead>
      <tbody>
        <tr v-for="(g, i) in draft.goals" :key="i">
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
          <td class="num" :data-done="`${g.filter} ${g.exposureS}`">{{ doneOf(g) }}</td>
          <td class="meter"><ProgressBar :done="doneOf(g)" :goal="g.quota * project.panels" /></td>
          <td class="num">{{ leftOf(g) }}</td>
          <td>
            <Button
              v-if="mine && draft.goals.length > 1"
              type="text"
              size="small"
              :aria-label="`Remove ${g.filter} ${g.exposureS} s`"
              @click="draft.goals.splice(i, 1)"
              >✕</Button
            >
          </td>
        </tr>
      </tbody>
    </table>
    <PanelsDone v-if="project.panels > 1" :project="project" />
    <div class="row spread">
      <PickOne
        v-if="mine && held.length"
        :value="undefined"
        size="small"
        placeholder="Add a goal"
        class="add"
        label="Add a goal"
        :options="
          held.map((f) => ({ value: f, label: draft!.goals.some((g) => g.filter === f) ? `${f}, another length` : f }))
        "
        @update:value="addGoal(String($event))"
      />
      <span class="row">
        <RouterLink :to="{ path: '/night/plan', query: { project: project.id } }">Plan a night</RouterLink>
      </span>
    </div>
    <FinishPanel :project="project" />
    <ProjectSeason
      :season="draft.season"
      :site="siteOf"
      :tonight="club.tonight"
      :pinned="project.framing !== null"
      :off="!mine"
    />
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
</template>

<style scoped>
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
</style>
