<script setup lang="ts">
import { framesThere, gatheredIn } from '@keen/core/record';
import type { PlanRecord, ProjectRecord, RunRecord } from '@keen/contract';
import { figure } from '@keen/core/quantities';
import { type PlanSettings } from '@keen/core/sequence';
import { TabPane, Tabs } from 'ant-design-vue';
import { computed } from 'vue';
import FilterTile from '../../common/FilterTile.vue';
import ListTable, { type Column } from '../../common/ListTable.vue';
import ProgressBar from '../../common/ProgressBar.vue';
import { clock } from '../../common/times.ts';
import { legName } from '@keen/core/sequence';
import RunPictures from './RunPictures.vue';
import RunFrames from './RunFrames.vue';
import { KIND_WORDS } from './usePlanWords.ts';
import { useUnits } from '../../stores/units.ts';

const units = useUnits();
/** What came of a run: frames by filter, where the minutes went, every frame and every event. */
const props = defineProps<{
  run: RunRecord;
  plan: PlanRecord;
  projects: ProjectRecord[];
  timeZone: string;
}>();
const lost = computed(() => Object.entries(props.run.result.lostS).sort((a, b) => b[1] - a[1]));
type Event = RunRecord['result']['events'][number];
type Frame = RunRecord['result']['frames'][number];
/** In the reader’s units; nights of long ago have only their text. */
const textOf = (e: Event) => (e.phrase ? units.say(e.phrase) : e.text);
const seconds = (e: Event) => (Date.parse(e.end) - Date.parse(e.start)) / 1000;
const eventColumns = computed<Column<Event>[]>(() => [
  { key: 'start', title: 'At', value: (e) => clock(e.start, props.timeZone) },
  { key: 'kind', title: 'What', value: (e) => e.kind },
  { key: 'text', title: 'Detail', value: (e) => textOf(e) },
  { key: 's', title: 'Took, s', value: (e) => seconds(e), numeric: true },
]);
const frameColumns = computed<Column<Frame>[]>(() => [
  { key: 'start', title: 'At', value: (f) => clock(f.start, props.timeZone) },
  { key: 'filter', title: 'Filter', value: (f) => f.filter },
  { key: 'n', title: 'No.', value: (f) => f.frame, numeric: true },
  { key: 'hfd', title: 'HFD, px', value: (f) => f.hfdPx, decimals: 2, numeric: true },
  { key: 'ecc', title: 'eccentricity', value: (f) => f.eccentricity, decimals: 2, numeric: true },
  { key: 'stars', title: 'Stars', value: (f) => f.stars, numeric: true },
  {
    key: 'temp',
    title: units.unitOf('airC'),
    value: (f) => units.bare('airC', f.temperatureC),
    decimals: 1,
    numeric: true,
  },
  { key: 'pos', title: 'Focus', value: (f) => f.focusPosition, numeric: true },
  { key: 'why', title: 'Refused because', value: (f) => (f.reasonPhrase ? units.say(f.reasonPhrase) : f.reason) },
]);
/** Every goal a leg worked for, with what came of it, and of a second camera beside it. */
const goals = computed(() =>
  props.plan.legs.flatMap((leg, legIndex) => {
    const name = legName(leg, props.projects);
    const own = rowsOf(`${legIndex}`, name, { ...leg, legIndex }, props.run.result.frames);
    const { follower } = leg;
    const beside = follower
      ? rowsOf(
          `${legIndex} 2nd`,
          `${name}, 2nd`,
          { ...follower, panel: null, legIndex },
          props.run.result.follower?.frames ?? [],
        )
      : [];
    return [...own, ...beside];
  }),
);
function rowsOf(
  key: string,
  object: string,
  of: { projectId: string; panel: number | null; settings: PlanSettings; legIndex: number },
  taken: readonly Frame[],
) {
  const project = props.projects.find((p) => p.id === of.projectId);
  return of.settings.filters.map((f, i) => {
    // nights from before there were legs have one
    const frames = taken.filter((x) => x.filter === f.name && (x.leg ?? 0) === of.legIndex);
    const good = frames.filter((x) => x.accepted).length;
    const done = project ? framesThere(gatheredIn(project, of.panel), f) : 0;
    const before = done - (props.run.state === 'accepted' ? good : 0);
    return {
      key: `${key} ${f.name}`,
      object,
      first: i === 0,
      name: f.name,
      quota: f.quota,
      good,
      bad: frames.length - good,
      before,
    };
  });
}
const several = computed(() => props.plan.legs.length > 1 || props.plan.legs.some((l) => l.follower));
</script>

<template>
  <div class="results">
    <section class="panel">
      <h2>What came of it</h2>
      <table class="figures" data-test="came">
        <thead>
          <tr>
            <th v-if="several">Leg</th>
            <th>Filter</th>
            <th class="num">good</th>
            <th class="num">refused</th>
            <th>towards the goal</th>
            <th class="num">wanted still</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="g in goals" :key="g.key">
            <td v-if="several">{{ g.first ? g.object : '' }}</td>
            <td><FilterTile :name="g.name" /></td>
            <td class="num">{{ g.good }}</td>
            <td class="num" :class="{ 'level-caution': g.bad > 0 }">{{ g.bad }}</td>
            <td><ProgressBar :done="g.before" :goal="g.quota" :adding="g.good" /></td>
            <td class="num">{{ Math.max(0, g.quota - g.before - g.good) }}</td>
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
            <td>{{ KIND_WORDS[k] ?? k }}</td>
            <td class="num">{{ figure(s / 60, 0) }}</td>
          </tr>
        </tbody>
      </table>
    </section>
  </div>
  <section class="panel">
    <Tabs>
      <TabPane key="frames" tab="Frames">
        <RunFrames :frames="run.result.frames" :time-zone="timeZone" />
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
      <TabPane key="pictures" tab="Pictures">
        <RunPictures :run="run" :plan="plan" :projects="projects" :time-zone="timeZone" />
      </TabPane>
      <TabPane v-if="run.result.follower" key="second" tab="Second camera">
        <RunFrames :frames="run.result.follower.frames" :time-zone="timeZone" />
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
</template>

<style scoped>
.results {
  display: grid;
  grid-template-columns: 1.5fr 1fr;
  gap: 14px;
  align-items: start;
}
@media (max-width: 1000px) {
  .results {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
