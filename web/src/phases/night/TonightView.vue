<script setup lang="ts">
import { wantedMinutes, stillWanted, pointedAt } from '@keen/core/record';
import type { ProjectRecord } from '@keen/contract';
import type { Suggestion } from '@keen/core/sky';
import { OBJECT_TYPES } from '@keen/core/sky';
import { figure, formatDec, formatRa } from '@keen/core/quantities';
import { Button } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';
import { RouterLink, useRouter } from 'vue-router';
import EmptyState from '../../common/EmptyState.vue';
import { useFirstDrawn } from '../../common/firstDrawn.ts';
import HoursTonight from '../../common/HoursTonight.vue';
import FilterTile from '../../common/FilterTile.vue';
import ProgressBar from '../../common/ProgressBar.vue';
import ListTable, { type Column } from '../../common/ListTable.vue';
import { useShortcut } from '../../common/shortcuts.ts';
import { useForecast } from '../../common/useForecast.ts';
import { clock, hours } from '../../common/times.ts';
import RigHands from '../../common/RigHands.vue';
import SinceLastNight from '../../common/SinceLastNight.vue';
import UpkeepDue from '../../common/UpkeepDue.vue';
import StillComing from '../../common/StillComing.vue';
import VerdictLine from '../../common/VerdictLine.vue';
import WorkingFold from '../../common/WorkingFold.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import NightPassed from './NightPassed.vue';
import NightLanes, { type Lane } from './NightLanes.vue';
import { followerFacts, scheduleRecord } from './schedulePlan.ts';
import CandidateLanes from './CandidateLanes.vue';
import YearStrip from './YearStrip.vue';
import MoonAdvice from './MoonAdvice.vue';
import TonightFilters from './TonightFilters.vue';
import { useNight } from './useNight.ts';
import { useTonightScan } from './useTonightScan.ts';
import { tonightVerdict } from './wording.ts';

const club = useClub();
const session = useSession();
const router = useRouter();
const { night, targets, trouble, coming, plans, picks } = useNight();
const forecast = useForecast();
const zone = computed(() => club.site?.timeZone ?? 'UTC');

/** The plans of tonight, laid out. */
const schedule = computed(() => {
  const [n, rig] = [night.value, club.rig];
  if (!n || !rig) return [];
  const of = {
    night: n,
    targets: targets.value,
    projects: club.rigProjects,
    overheads: rig.setup.overheads,
    followerOf: followerFacts(club),
  };
  return plans.value.map((plan) => ({ plan, night: scheduleRecord(plan, of) }));
});
/** Workable ones first, in the order in which they set. */
const lanes = computed<Lane[]>(() =>
  club.rigProjects
    .flatMap((p) => {
      const target = targets.value.get(p.id);
      if (!target || !club.rig) return [];
      const strips = schedule.value.flatMap(({ plan: q, night: n }) =>
        q.legs.flatMap((l, i) =>
          l.projectId === p.id && l.start && l.end
            ? [{ id: `${q.id}.${l.id}`, start: l.start, end: l.end, events: n?.legs[i]?.schedule?.events ?? [] }]
            : [],
        ),
      );
      const need = wantedMinutes(p);
      return [
        {
          id: p.id,
          title: p.object,
          sub: need > 0 ? `still ${hours(need)}` : 'complete',
          target,
          minimumAltitudeDeg: p.minimumAltitudeDeg,
          strips,
        },
      ];
    })
    .sort((a, b) => end(a) - end(b)),
);
const end = (l: Lane) => Date.parse(l.target.windows.at(-1)?.end ?? '2999-01-01T00:00:00Z');

const chosen = ref('');
const project = computed(() => club.rigProjects.find((p) => p.id === chosen.value) ?? null);
const placeOf = (p: ProjectRecord) => ({ ...pointedAt(p, null, []), minimumAltitudeDeg: p.minimumAltitudeDeg });
const asLanes = ref(false);
const target = computed(() => targets.value.get(chosen.value) ?? null);
watch(
  [lanes, picks],
  () => {
    if (!lanes.value.some((l) => l.id === chosen.value))
      chosen.value = plans.value[0]?.legs[0]!.projectId ?? picks.value[0]?.id ?? lanes.value[0]?.id ?? '';
  },
  { immediate: true },
);
function step(by: number) {
  const i = lanes.value.findIndex((l) => l.id === chosen.value);
  chosen.value = lanes.value[Math.min(lanes.value.length - 1, Math.max(0, i + by))]?.id ?? '';
}
useShortcut('j', () => step(1));
useShortcut('k', () => step(-1));
const plan = (id: string) => void router.push({ path: '/night/plan', query: { project: id } });
useShortcut('n', () => chosen.value && plan(chosen.value));

const verdict = computed(() =>
  night.value && !coming.value && !trouble.value
    ? tonightVerdict(night.value, zone.value, club.rigProjects, plans.value, picks.value, club.nightNow)
    : null,
);

const drawn = useFirstDrawn(() => !coming.value);
const scan = useTonightScan(night, drawn);
const { field, criteria, guided, filters, found } = scan;
/** Of what was looked at, for the head of the list. */
const counted = computed(() => {
  const f = found.value;
  if (!f) return '';
  const shown = scan.objects.value.length;
  const more = f.matched > f.objects.length ? `, the best ${f.objects.length} looked at` : '';
  const stars = scan.looking.value
    ? ', looking for guide stars …'
    : guided.value && scan.view.value
      ? `, ${shown} with a guide star`
      : '';
  return `${f.scanned.toLocaleString('en')} objects gone through in ${Math.round(f.tookMs)} ms: ${f.matched} match${more}${stars}`;
});
const columns = computed<Column<Suggestion>[]>(() => [
  { key: 'id', title: 'Object', value: (o) => [o.id, o.name].filter(Boolean).join(', ') },
  { key: 'type', title: 'Kind', value: (o) => OBJECT_TYPES[o.type] ?? o.type },
  { key: 'size', title: 'Size, ′', value: (o) => o.majorArcmin, decimals: 0, numeric: true },
  { key: 'mag', title: 'mag', value: (o) => o.mag, decimals: 1, numeric: true },
  { key: 'surface', title: 'mag/″²', value: (o) => o.surfaceMag, decimals: 1, numeric: true },
  { key: 'best', title: 'Highest, °', value: (o) => o.bestAltitudeDeg, numeric: true },
  { key: 'hours', title: 'Hours', value: (o) => o.minutes / 60, decimals: 1, numeric: true },
  ...(moonUp.value && filters.value.broad.length
    ? [
        {
          key: 'broad',
          title: 'for broadband',
          value: (o: Suggestion) => o.broadMinutes / 60,
          decimals: 1,
          numeric: true,
        },
      ]
    : []),
  ...(moonUp.value && filters.value.narrow.length
    ? [{ key: 'line', title: 'for lines', value: (o: Suggestion) => o.lineMinutes / 60, decimals: 1, numeric: true }]
    : []),
  {
    key: 'moon',
    title: 'From Moon, °',
    value: (o) => (o.moonSeparationDeg >= 180 ? null : o.moonSeparationDeg),
    numeric: true,
  },
]);
/** Whether the Moon takes any of the dark hours: else all hours are the same. */
const moonUp = computed(() => (night.value ? night.value.darkHours - night.value.moon.darkMoonlessHours > 0.1 : false));
</script>

<template>
  <template v-if="club.site && club.rig && night">
    <NightPassed />
    <StillComing v-if="coming" what="The sky of this night" />
    <VerdictLine v-if="verdict" :verdict="verdict.verdict" :notes="verdict.notes" />
    <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
    <SinceLastNight />
    <RigHands quiet />
    <UpkeepDue />
    <HoursTonight />
    <EmptyState v-if="club.rigProjects.length === 0" title="No project for this rig yet">
      Lanes show when each project’s object stands free of twilight, roofs and the altitude limit. Start a project with
      an object from the list below, or choose another rig in the header.
      <template #actions>
        <RouterLink v-if="session.mayEdit" to="/season"><Button type="primary">Start a project</Button></RouterLink>
      </template>
    </EmptyState>
    <section v-else class="panel lanes">
      <NightLanes
        :night="night"
        :time-zone="zone"
        :lanes="lanes"
        :picks="picks"
        :chosen="chosen"
        :now="club.now"
        :forecast="forecast"
        @choose="chosen = $event"
        @open="plan"
      />
      <p class="muted small legend">
        A lane is as thick as the object is high; filled where it can be worked, dotted where twilight, the limit or the
        horizon forbids it. <span class="tri" aria-hidden="true">▼</span> meridian with its altitude. Dashed boxes are
        suggestions.
      </p>
    </section>
    <template v-if="drawn">
      <section v-if="project && target" class="panel object" data-test="object">
        <div class="stack">
          <div>
            <h2>{{ project.name }}</h2>
            <p class="muted small">
              {{ project.object }}, {{ project.objectType || 'object'
              }}<template v-if="project.sizeArcmin"
                >, {{ figure(project.sizeArcmin, project.sizeArcmin < 10 ? 1 : 0) }}′ long; the field is
                {{ figure(field!.w, 0) }}′ × {{ figure(field!.h, 0) }}′</template
              >
            </p>
            <p class="mono small">{{ formatRa(project.raDeg) }} {{ formatDec(project.decDeg) }}</p>
          </div>
          <div class="row">
            <Button type="primary" title="n" @click="plan(project.id)">{{
              session.mayEdit ? 'Plan this' : 'See its plan'
            }}</Button>
            <RouterLink :to="{ path: '/night/target', query: { project: project.id } }"
              >Framing and guide star</RouterLink
            >
            <RouterLink :to="{ path: '/season', query: { project: project.id } }">Project</RouterLink>
          </div>
        </div>
        <table class="figures">
          <tbody>
            <tr>
              <td>Workable</td>
              <td class="num">
                {{ target.windows.map((w) => `${clock(w.start, zone)}–${clock(w.end, zone)}`).join(', ') || 'never' }}
              </td>
            </tr>
            <tr>
              <td>Meridian</td>
              <td class="num">{{ clock(target.transit, zone) }}, {{ figure(target.transitAltitudeDeg, 0) }}°</td>
            </tr>
            <tr>
              <td>Limit</td>
              <td class="num">{{ figure(project.minimumAltitudeDeg, 0) }}° and the horizon</td>
            </tr>
            <tr>
              <td>From the Moon</td>
              <td class="num">{{ night.moon.up.length ? `${figure(target.moonSeparationDeg, 0)}°` : 'Moon down' }}</td>
            </tr>
          </tbody>
        </table>
        <table class="figures">
          <tbody>
            <tr v-for="(g, i) in stillWanted(project)" :key="i">
              <td><FilterTile :name="g.filter" /></td>
              <td class="bar"><ProgressBar :done="g.done" :goal="g.quota" /></td>
              <td class="num">{{ g.done }}/{{ g.quota }}</td>
              <td class="num muted">{{ g.left ? `${g.left} × ${g.exposureS} s` : 'done' }}</td>
            </tr>
          </tbody>
        </table>
      </section>
      <YearStrip
        v-if="project"
        :site="club.site"
        :object="project.object"
        :place="placeOf(project)"
        :night="club.night"
        @choose="club.goToNight"
      />
      <MoonAdvice
        :night="night"
        :sky-mag="club.site.skyMagArcsec2"
        :has-lines="filters.narrow.length > 0"
        :has-broad="filters.broad.length > 0"
        :chosen="criteria.light"
        :from-ms="club.nightNow"
        @light="criteria = { ...criteria, light: $event }"
      />
      <section class="panel stack">
        <div class="row spread">
          <h2>What else stands well for this field</h2>
          <span v-if="counted" class="muted small" data-test="scan">{{ counted }}</span>
        </div>
        <TonightFilters
          :criteria="criteria"
          :guided="scan.view.value ? guided : null"
          :has-lines="filters.narrow.length > 0"
          :has-broad="filters.broad.length > 0"
          :changed="scan.changed.value"
          @change="criteria = $event"
          @guided="guided = $event"
          @reset="scan.reset"
        />
        <p v-if="scan.trouble.value" class="level-bad" role="alert">{{ scan.trouble.value }}</p>
        <Button
          v-if="scan.objects.value.length"
          size="small"
          class="own-line"
          :aria-expanded="asLanes"
          @click="asLanes = !asLanes"
          >{{ asLanes ? 'Without lanes' : 'The first six as lanes' }}</Button
        >
        <CandidateLanes
          v-if="asLanes && scan.objects.value.length"
          :night="night"
          :site="club.site"
          :date="club.night"
          :objects="scan.objects.value"
          :now="club.now"
          :may-start="session.mayEdit"
          @night="club.goToNight"
        />
        <ListTable
          v-if="found"
          :rows="scan.objects.value"
          :columns="columns"
          name="tonight"
          :row-key="(o) => o.id"
          :page-size="15"
          :empty="
            guided && found.objects.length
              ? `None of the ${found.objects.length} that were looked at has a guide star for this rig: ask for other kinds or sizes, and others are looked at.`
              : scan.changed.value
                ? 'Nothing in the catalogue is all of that tonight: ask for less.'
                : 'Nothing that fits this field is workable for an hour tonight.'
          "
        >
          <template v-if="session.mayEdit" #acts="{ row }">
            <RouterLink :to="{ path: '/season', query: { object: row.id } }">Start a project</RouterLink>
          </template>
        </ListTable>
        <p v-else-if="!scan.trouble.value" class="muted">Going through the catalogue …</p>
      </section>
      <WorkingFold :steps="[...night.working, ...(target?.working ?? [])]" />
    </template>
  </template>
  <EmptyState v-else title="No site or rig yet" lacks="rig"
    >The night follows from a place and what stands there: dark hours, horizon, Moon, and what of the sky fits the
    field.</EmptyState
  >
</template>

<style scoped>
.lanes {
  padding: 10px 14px 8px;
}
.legend {
  margin-top: 2px;
}
.tri {
  color: var(--accent);
}
.object {
  display: grid;
  grid-template-columns: minmax(220px, 1fr) minmax(240px, 0.9fr) minmax(300px, 1.1fr);
  gap: 26px;
}
.bar {
  width: 40%;
}
.own-line {
  justify-self: start;
}
@media (max-width: 960px) {
  .object > * {
    min-width: 0;
    overflow-x: auto;
  }
  .object {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
