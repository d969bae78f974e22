<script setup lang="ts">
import { api, type FocusRunRecord, type GuideLogRecord, type RunRecord } from '@keen/contract';
import { figure } from '@keen/core/quantities';
import { computed, shallowRef, watch } from 'vue';
import { RouterLink } from 'vue-router';
import { call } from '../../api/client.ts';
import EmptyState from '../../common/EmptyState.vue';
import FilterTile from '../../common/FilterTile.vue';
import { dayName } from '../../common/times.ts';
import VerdictLine from '../../common/VerdictLine.vue';
import { useClub } from '../../stores/club.ts';

/** What last night brought on this rig, what waits to be read, and what to do before anything is turned. */
const club = useClub();
type Head = Omit<RunRecord, 'result'>;
const runs = shallowRef<Head[]>([]);
const last = shallowRef<RunRecord | null>(null);
const focus = shallowRef<FocusRunRecord[]>([]);
/** Newest kept guide logs. */
const logs = shallowRef<GuideLogRecord[]>([]);
const NIGHTS = 5;
watch(
  () => [club.rig?.id, club.rig?.trainStateId] as const,
  async ([rig, state]) => {
    if (!rig || !state) return;
    last.value = null;
    const [heads, runsOfState, kept] = await Promise.all([
      call(api.runs),
      call(api.focusRuns, { query: { trainStateId: state } }),
      call(api.guideLogs, { params: { id: rig } }),
    ]);
    if (club.rig?.id !== rig) return;
    logs.value = kept.ok ? kept.value.slice(0, NIGHTS) : [];
    if (heads.ok) runs.value = heads.value.filter((r) => r.rigId === rig);
    if (runsOfState.ok) focus.value = runsOfState.value;
    const newest = [...runs.value]
      .filter((r) => r.state === 'accepted')
      .sort((a, b) => (a.night < b.night ? 1 : -1))[0];
    if (!newest) return;
    const got = await call(api.run, { params: { id: newest.id } });
    if (got.ok && club.rig?.id === rig) last.value = got.value;
  },
  { immediate: true },
);
const waiting = computed(
  () => focus.value.filter((r) => r.usable && !r.excluded).length - (club.offsets?.runCount ?? 0),
);
const open = computed(() =>
  runs.value.filter(
    (r) => r.state === 'rehearsed' && club.plans.some((p) => p.id === r.planId && p.status === 'planned'),
  ),
);
const frames = computed(() => {
  const r = last.value?.result;
  return r
    ? Object.keys(r.accepted).map((f) => ({
        filter: f,
        good: r.accepted[f] ?? 0,
        bad: r.frames.filter((x) => x.filter === f && !x.accepted).length,
      }))
    : [];
});
const reasons = computed(() => {
  const count = new Map<string, number>();
  for (const f of last.value?.result.frames ?? []) {
    if (f.accepted) continue;
    const why = f.reason
      .replace(/[\d.]+ times/, '')
      .replace(/\(.*\)/, '')
      .trim();
    count.set(why, (count.get(why) ?? 0) + 1);
  }
  return [...count].sort((a, b) => b[1] - a[1]);
});
</script>

<template>
  <EmptyState v-if="!club.rig || (!last && !focus.length)" title="Nothing came back yet">
    After a run is accepted, this page says what it brought. Rehearse a plan and accept it, or drop focus logs under
    Focus runs.
    <template #actions
      ><RouterLink to="/night/run">Run</RouterLink> <RouterLink to="/morning/focus">Focus runs</RouterLink></template
    >
  </EmptyState>
  <template v-else>
    <VerdictLine
      v-if="last"
      :verdict="{
        ...last.result.verdict,
        text: `${last.object}, night of ${dayName(last.night)}: ${last.result.verdict.text}`,
      }"
    />
    <div class="cards">
      <section class="panel stack">
        <h2>Frames</h2>
        <table v-if="frames.length" class="figures">
          <thead>
            <tr>
              <th>Filter</th>
              <th class="num">good</th>
              <th class="num">refused</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="f in frames" :key="f.filter">
              <td><FilterTile :name="f.filter" /></td>
              <td class="num">{{ f.good }}</td>
              <td class="num">{{ f.bad }}</td>
            </tr>
          </tbody>
        </table>
        <ul v-if="reasons.length" class="small plain">
          <li v-for="[why, n] in reasons" :key="why">{{ n }} refused: {{ why }}</li>
        </ul>
        <p v-if="last">
          <RouterLink :to="{ path: '/night/run', query: { plan: last.planId } }"
            >Look at every frame before anything is taken apart</RouterLink
          >
        </p>
      </section>
      <div class="stack">
        <section class="panel stack">
          <h2>Focus</h2>
          <p v-if="!club.offsets" class="level-caution">
            No offsets are adopted for {{ club.rig.words }}. {{ focus.length }} runs wait to be read.
          </p>
          <p v-else-if="waiting > 0" class="level-caution">{{ waiting }} runs are newer than the adopted offsets.</p>
          <p v-else class="level-good">The adopted offsets use every run.</p>
          <p><RouterLink to="/morning/focus">Read the focus runs</RouterLink></p>
        </section>
        <section class="panel stack">
          <h2>Before the rig is touched</h2>
          <ul class="plain">
            <li>Flats through every filter used, camera and train as they stand ({{ club.rig.words }}).</li>
            <li>Dark flats to match; darks for the exposures and the set point of the night.</li>
            <li>Write down what went wrong, and what cured it.</li>
          </ul>
          <p v-if="open.length" class="level-caution">
            {{ open.length }} rehearsed run{{ open.length === 1 ? '' : 's' }} not accepted yet:
            <RouterLink to="/night/run">look</RouterLink>
          </p>
        </section>
      </div>
      <section class="panel stack" data-test="guiding">
        <h2>Guiding</h2>
        <p v-if="!logs.length" class="muted">
          No guide log is kept for this rig. One a night shows what a change of settings was worth.
        </p>
        <template v-else>
          <p :class="`level-${logs[0]!.summary.verdict.level}`">{{ logs[0]!.summary.verdict.text }}</p>
          <table class="figures">
            <thead>
              <tr>
                <th>Night</th>
                <th class="num">″ in all</th>
                <th>What was found</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="l in logs" :key="l.id">
                <td>{{ dayName(l.night) }}</td>
                <td class="num">{{ figure(l.summary.rms.total, 2) }}</td>
                <td>{{ l.summary.findings.map((f) => f.code.replaceAll('-', ' ')).join(', ') }}</td>
              </tr>
            </tbody>
          </table>
        </template>
        <p><RouterLink to="/morning/guiding">Read the guide log</RouterLink></p>
      </section>
    </div>
  </template>
</template>

<style scoped>
.cards {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(320px, 1fr));
  gap: 14px;
  align-items: start;
}
.plain {
  margin: 0;
  padding-left: 18px;
}
</style>
