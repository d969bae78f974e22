<script setup lang="ts">
import { api, type RunRecord } from '@keen/contract';
import { figure } from '@keen/core/quantities';
import { Button, InputNumber, TabPane, Tabs, message } from 'ant-design-vue';
import { useElementSize } from '@vueuse/core';
import { computed, ref, shallowRef, watch } from 'vue';
import { RouterLink, useRoute } from 'vue-router';
import { call, said } from '../../api/client.ts';
import EmptyState from '../../common/EmptyState.vue';
import FilterTile from '../../common/FilterTile.vue';
import ListTable, { type Column } from '../../common/ListTable.vue';
import ProgressBar from '../../common/ProgressBar.vue';
import { clock, dayName } from '../../common/times.ts';
import VerdictLine from '../../common/VerdictLine.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { timeScale } from './lanes.ts';
import NightSky from './NightSky.vue';
import PlanStrip from './PlanStrip.vue';
import RunFrames from './RunFrames.vue';
import { coreSite } from './useNight.ts';
import { night as nightOf } from '@keen/core/sky';

const club = useClub();
const session = useSession();
const route = useRoute();
const plans = computed(() => club.plans.filter((p) => p.rigId === club.rig?.id).slice(0, 14));
const chosen = ref('');
watch(
  [plans, () => route.query.plan],
  () => {
    const asked = String(route.query.plan ?? '');
    const other = club.plans.find((p) => p.id === asked);
    if (other && other.rigId !== club.rig?.id) {
      club.rigId = other.rigId;
      return;
    }
    if (!plans.value.some((p) => p.id === chosen.value))
      chosen.value = (other ?? plans.value.find((p) => p.status === 'planned') ?? plans.value[0])?.id ?? '';
  },
  { immediate: true },
);
const plan = computed(() => plans.value.find((p) => p.id === chosen.value) ?? null);
const project = computed(() => club.projects.find((p) => p.id === plan.value?.projectId) ?? null);
const zone = computed(() => club.site?.timeZone ?? 'UTC');

const run = shallowRef<RunRecord | null>(null);
const trouble = ref('');
const busy = ref(false);
const seed = ref(1);
let turn = 0;
async function show(id: string | undefined) {
  const mine = ++turn;
  trouble.value = '';
  if (!id) {
    run.value = null;
    return;
  }
  const got = await call(api.run, { params: { id } });
  if (mine !== turn) return;
  if (got.ok) run.value = got.value;
  else trouble.value = said(got.problem);
}
watch(
  plan,
  (p, was) => {
    if (!p || (p.id === was?.id && run.value?.planId === p.id)) return;
    run.value = null;
    void show((p.runs.find((r) => r.state === 'accepted') ?? p.runs[0])?.id);
  },
  { immediate: true },
);
const mayAccept = computed(
  () =>
    session.isSteward ||
    plan.value?.ownerId === session.member?.id ||
    (run.value !== null && run.value.by === session.member?.name),
);

async function rehearse() {
  const p = plan.value;
  if (!p) return;
  busy.value = true;
  trouble.value = '';
  const got = await call(api.rehearse, { params: { id: p.id }, body: { seed: seed.value } });
  busy.value = false;
  if (!got.ok) {
    trouble.value = said(got.problem);
    return;
  }
  run.value = got.value;
  await club.loadPlans();
}
async function accept() {
  const r = run.value;
  if (!r) return;
  busy.value = true;
  const got = await call(api.acceptRun, { params: { id: r.id } });
  busy.value = false;
  if (!got.ok) {
    trouble.value = said(got.problem);
    return;
  }
  run.value = got.value;
  void message.success('Counted. The project’s progress and the focus runs are up to date.');
  await Promise.all([club.loadProjects(), club.loadPlans(), club.loadOffsets()]);
}

const box = ref<HTMLElement>();
const { width } = useElementSize(box);
const night = computed(() =>
  plan.value && club.site ? nightOf({ site: coreSite(club.site), date: plan.value.night }) : null,
);
const from = computed(() => Date.parse(plan.value?.start ?? '') - 600_000);
const to = computed(() => Date.parse(plan.value?.end ?? '') + 600_000);
const x = computed(() => timeScale(from.value, to.value, 22, Math.max(200, width.value - 22)));
const strip = computed(() => run.value?.result.events ?? []);
const lost = computed(() => Object.entries(run.value?.result.lostS ?? {}).sort((a, b) => b[1] - a[1]));
const LOST: Record<string, string> = {
  download: 'read-out',
  slew: 'slewing, centring',
  focus: 'focus runs',
  filter: 'filter changes',
  guide: 'guider starts',
  dither: 'dithering',
  flip: 'meridian flip',
  cloud: 'cloud',
  wait: 'idle',
};
type Event = RunRecord['result']['events'][number];
type Frame = RunRecord['result']['frames'][number];
const seconds = (e: Event) => (Date.parse(e.end) - Date.parse(e.start)) / 1000;
const eventColumns = computed<Column<Event>[]>(() => [
  { key: 'start', title: 'At', value: (e) => clock(e.start, zone.value) },
  { key: 'kind', title: 'What', value: (e) => e.kind },
  { key: 'text', title: 'Detail', value: (e) => e.text },
  { key: 's', title: 'Took, s', value: (e) => seconds(e), numeric: true },
]);
const frameColumns = computed<Column<Frame>[]>(() => [
  { key: 'start', title: 'At', value: (f) => clock(f.start, zone.value) },
  { key: 'filter', title: 'Filter', value: (f) => f.filter },
  { key: 'n', title: 'No.', value: (f) => f.frame, numeric: true },
  { key: 'hfd', title: 'HFD, px', value: (f) => f.hfdPx, decimals: 2, numeric: true },
  { key: 'ecc', title: 'eccentricity', value: (f) => f.eccentricity, decimals: 2, numeric: true },
  { key: 'stars', title: 'Stars', value: (f) => f.stars, numeric: true },
  { key: 'temp', title: '°C', value: (f) => f.temperatureC, decimals: 1, numeric: true },
  { key: 'pos', title: 'Focus', value: (f) => f.focusPosition, numeric: true },
  { key: 'why', title: 'Refused because', value: (f) => f.reason },
]);
const of = (filter: string) => {
  const frames = run.value?.result.frames.filter((f) => f.filter === filter) ?? [];
  return { good: frames.filter((f) => f.accepted).length, bad: frames.filter((f) => !f.accepted).length };
};
const before = (filter: string) =>
  (project.value?.done[filter] ?? 0) - (run.value?.state === 'accepted' ? of(filter).good : 0);
</script>

<template>
  <EmptyState v-if="plans.length === 0" title="No plan to run">
    A rehearsal plays a saved plan on simulated equipment that misbehaves: focus drifts, a cloud comes, a frame is
    spoilt. Save a plan first.
    <template #actions><RouterLink to="/night/plan">Plan</RouterLink></template>
  </EmptyState>
  <template v-else-if="plan">
    <VerdictLine
      v-if="run"
      :verdict="run.result.verdict"
      :detail="`${run.state === 'accepted' ? 'Counted.' : 'Rehearsed on stand-ins, nothing counted yet.'} Seed ${run.seed}, train state ${run.words}${run.offsetsUsed ? ', with adopted offsets' : ', no offsets adopted'}.`"
    />
    <VerdictLine
      v-else
      :verdict="{ level: 'caution', text: `${plan.object} on ${dayName(plan.night)}: not rehearsed yet.` }"
      detail="The stand-ins have hidden offsets, a cooling tube and one cloud. Same seed, same night."
    />
    <div class="split board">
      <nav class="panel list" aria-label="Plans of this rig">
        <button v-for="p in plans" :key="p.id" type="button" :class="{ here: p.id === chosen }" @click="chosen = p.id">
          <span class="row spread"
            ><strong>{{ p.object }}</strong
            ><span class="muted small">{{
              p.status === 'done' ? 'done' : p.runs.length ? 'rehearsed' : 'planned'
            }}</span></span
          >
          <span class="muted small"
            >{{ dayName(p.night) }}, {{ clock(p.start, zone) }}–{{ clock(p.end, zone) }}, {{ p.owner }}</span
          >
        </button>
      </nav>
      <div class="stack">
        <section class="panel stack">
          <div class="row spread">
            <span class="row">
              <h2>{{ plan.projectName }}</h2>
              <span class="muted small"
                >{{ plan.settings.order }}, {{ plan.settings.focus.policy.replaceAll('-', ' ') }}</span
              >
            </span>
            <span v-if="session.mayEdit && plan.status === 'planned'" class="row">
              <label class="row small"
                >Seed
                <InputNumber
                  v-model:value="seed"
                  :min="1"
                  :max="2147483647"
                  :precision="0"
                  size="small"
                  aria-label="Seed"
              /></label>
              <Button :type="run ? 'default' : 'primary'" :loading="busy" @click="rehearse">{{
                run ? 'Rehearse again' : 'Rehearse'
              }}</Button>
              <Button
                v-if="run && run.state === 'rehearsed' && mayAccept"
                type="primary"
                :loading="busy"
                @click="accept"
                >Accept: count its frames</Button
              >
            </span>
          </div>
          <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
          <p class="small muted">
            A real mount may move by itself: hands and cables clear, end-stop on, and its own interlocks always win.
            Here nothing moves.
          </p>
          <div v-if="night" ref="box">
            <svg v-if="width > 0" :width="width" height="110" role="img" aria-label="The run as a strip">
              <NightSky
                :night="night"
                :time-zone="zone"
                :x="x"
                :from="from"
                :to="to"
                :top="20"
                :bottom="72"
                :now="club.now"
              />
              <PlanStrip :events="strip" :x="x" :y="32" :height="28" detailed />
              <text v-if="!run" x="50%" y="51" text-anchor="middle" font-size="13" fill="var(--ink-2)">
                {{ clock(plan.start, zone) }} to {{ clock(plan.end, zone) }}
              </text>
            </svg>
          </div>
        </section>
        <template v-if="run">
          <div class="results">
            <section class="panel">
              <h2>What came of it</h2>
              <table class="figures" data-test="came">
                <thead>
                  <tr>
                    <th>Filter</th>
                    <th class="num">good</th>
                    <th class="num">refused</th>
                    <th>towards the goal</th>
                    <th class="num">wanted still</th>
                  </tr>
                </thead>
                <tbody>
                  <tr v-for="f in plan.settings.filters" :key="f.name">
                    <td><FilterTile :name="f.name" /></td>
                    <td class="num">{{ of(f.name).good }}</td>
                    <td class="num" :class="{ 'level-caution': of(f.name).bad > 0 }">{{ of(f.name).bad }}</td>
                    <td><ProgressBar :done="before(f.name)" :goal="f.quota" :adding="of(f.name).good" /></td>
                    <td class="num">{{ Math.max(0, f.quota - before(f.name) - of(f.name).good) }}</td>
                  </tr>
                </tbody>
              </table>
            </section>
            <section class="panel">
              <h2>Where the minutes went</h2>
              <table class="figures">
                <tbody>
                  <tr>
                    <td><strong>open shutter</strong></td>
                    <td class="num">{{ figure(run.result.openShutterS / 60, 0) }} min</td>
                  </tr>
                  <tr v-for="[k, s] in lost" :key="k">
                    <td>{{ LOST[k] ?? k }}</td>
                    <td class="num">{{ figure(s / 60, 0) }}</td>
                  </tr>
                </tbody>
              </table>
            </section>
          </div>
          <section class="panel">
            <Tabs>
              <TabPane key="frames" tab="Frames">
                <RunFrames :frames="run.result.frames" :time-zone="zone" />
                <ListTable
                  :rows="run.result.frames"
                  :columns="frameColumns"
                  name="frames"
                  :row-key="(f) => f.start"
                  :page-size="12"
                >
                  <template #filter="{ row }"><FilterTile :name="row.filter" /></template>
                </ListTable>
              </TabPane>
              <TabPane key="log" tab="Log">
                <ListTable
                  :rows="run.result.events"
                  :columns="eventColumns"
                  name="run"
                  :row-key="(e) => e.start + e.kind + e.text"
                  :page-size="30"
                />
              </TabPane>
            </Tabs>
          </section>
          <p v-if="run.state === 'accepted'" class="row">
            <RouterLink to="/morning/focus">Read its {{ run.result.focusRuns.length }} focus runs</RouterLink>
            <RouterLink :to="{ path: '/season', query: { project: run.projectId } }">See the project</RouterLink>
          </p>
        </template>
      </div>
    </div>
  </template>
</template>

<style scoped>
.board {
  grid-template-columns: 232px minmax(0, 1fr);
}
.list {
  display: grid;
  gap: 4px;
  padding: 8px;
}
.list button {
  all: unset;
  cursor: pointer;
  display: grid;
  padding: 6px 9px;
  border-left: 3px solid transparent;
}
.list button:focus-visible {
  outline: 2px solid var(--accent);
}
.list .here {
  background: var(--sunk);
  border-color: var(--accent);
}
.results {
  display: grid;
  grid-template-columns: 1.5fr 1fr;
  gap: 14px;
  align-items: start;
}
@media (max-width: 1000px) {
  .board,
  .results {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
