<script setup lang="ts">
import { makeVerdict, nameOf, phrase } from '@keen/core/phrases';
import { MOST_FAULTS, type RunRecord } from '@keen/contract';
import { faultsOf } from '@keen/core/observatory';
import { Button, Checkbox, InputNumber, Popconfirm } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { questions } from '../../api/questions.ts';
import { useAnswer } from '../../common/answer.ts';
import EmptyState from '../../common/EmptyState.vue';
import PickOne from '../../common/PickOne.vue';
import { FAULT_WORDS } from '../../common/faultWords.ts';
import JobProgress from '../../common/JobProgress.vue';
import { clock, dayName } from '../../common/times.ts';
import VerdictLine from '../../common/VerdictLine.vue';
import { useClub } from '../../stores/club.ts';
import { mayBeAccepted } from '@keen/core/record';
import { planHolds } from '@keen/core/sequence';
import { useUnits } from '../../stores/units.ts';
import NightStrip from './NightStrip.vue';
import RunResults from './RunResults.vue';
import { planTitle } from '../../common/records.ts';
import { useRun } from './useRun.ts';

const club = useClub();
const units = useUnits();
const route = useRoute();
const plans = computed(() => club.plans.filter((p) => p.rigId === club.rig?.id).slice(0, 14));
const chosen = ref('');
watch(
  [plans, () => route.query.plan],
  () => {
    const wanted = String(route.query.plan ?? '');
    const other = club.plans.find((p) => p.id === wanted);
    if (other && other.rigId !== club.rig?.id) {
      club.selectRig(other.rigId);
      return;
    }
    if (!plans.value.some((p) => p.id === chosen.value))
      chosen.value = (other ?? plans.value.find((p) => p.status === 'planned') ?? plans.value[0])?.id ?? '';
  },
  { immediate: true },
);
const plan = computed(() => plans.value.find((p) => p.id === chosen.value) ?? null);
/** What the plan was made for and no longer is: said before it is run, not after. */
const stale = computed(() => {
  const [p, rig] = [plan.value, club.rig];
  // what is not there yet has not changed
  if (p?.status !== 'planned' || !rig || !club.offsetsAnswer.value.value) return [];
  return planHolds(p.madeFor, { aspects: rig.system.aspects, offsetSetId: club.offsets?.id ?? null }, p.legs);
});
/** How each leg works its filters. */
const legWords = computed(() => {
  const p = plan.value;
  return (p?.legs ?? [])
    .map(
      (l) =>
        `${p!.legs.length > 1 ? `${l.object}: ` : ''}${l.settings.order}, ${units.say(nameOf(l.settings.focus.policy))}`,
    )
    .join('; ');
});
const projectsOf = (r: RunRecord) =>
  r.legs.filter((l, i) => r.legs.findIndex((m) => m.projectId === l.projectId) === i);
const zone = computed(() => club.site?.timeZone ?? 'UTC');

const { run, trouble, busy, job, cancel, seed, faults, mayRun, rehearse, begin, accept } = useRun(plan);
const mayCount = computed(() => run.value !== null && mayBeAccepted(run.value.kind, club.rig?.build.practice === true));
const router = useRouter();
const live = useAnswer('runs that go on', questions.liveRuns);
const going = computed(() => (live.value.value ?? []).filter((r) => r.state === 'running'));
const busyRig = computed(() => going.value.find((r) => r.rigId === club.rig?.id) ?? null);
const bridges = useAnswer('equipment', questions.bridges);
/** What it is run on: empty for stand-ins. */
const equipment = ref('');
/** What of the rig something can go wrong with. */
const has = computed(() => ({
  rotator: club.rig?.setup.rotator !== undefined,
  supply: club.rig?.setup.supply !== undefined,
}));
/** Frames are kept as large as the sensor. */
const wholeFrames = ref(false);
async function runIt() {
  const id = await begin(equipment.value, wholeFrames.value);
  if (id) await router.push(`/night/live/${id}`);
}

const strip = computed(() => run.value?.result.events ?? []);
</script>

<template>
  <p v-for="r in going" :key="r.id" class="row going" data-test="going">
    <strong>{{ r.objects }} with the {{ r.rig }}</strong>
    <span>{{ r.frames }} frames so far, begun by {{ r.by }}</span>
    <RouterLink :to="`/night/live/${r.id}`">Watch it</RouterLink>
  </p>
  <p v-if="live.trouble.value" class="level-caution small">
    Whether a run goes on could not be read: {{ live.trouble.value }}
    <Button size="small" @click="live.load()">Try again</Button>
  </p>
  <EmptyState v-if="!club.rig" title="No rig yet" lacks="rig">
    A rehearsal plays a rig’s plan before the night does; it wants a rig first.
  </EmptyState>
  <EmptyState v-else-if="plans.length === 0" title="No plan to run">
    A rehearsal plays a saved plan on simulated equipment that misbehaves: focus drifts, a cloud comes, a frame is
    spoilt. Save a plan first.
    <template #actions><RouterLink to="/night/plan">Plan</RouterLink></template>
  </EmptyState>
  <template v-else-if="plan">
    <VerdictLine
      v-if="run"
      :verdict="run.result.verdict"
      :notes="[
        phrase(run.state === 'accepted' ? 'run.counted' : 'run.not-counted'),
        phrase(run.offsetsUsed ? 'run.seed-offsets' : 'run.seed-no-offsets', {
          seed: String(run.seed),
          words: run.words,
        }),
      ]"
    />
    <VerdictLine
      v-else
      :verdict="
        makeVerdict('caution', phrase('plan.not-rehearsed', { plan: planTitle(plan), night: dayName(plan.night) }))
      "
      :notes="[phrase('run.stand-ins')]"
    />
    <p v-if="stale.length" class="level-caution small" data-test="stale">
      {{ units.say(stale) }}
      <RouterLink :to="{ path: '/night/plan', query: { project: plan.legs[0]!.projectId } }"
        >Look the plan over</RouterLink
      >
    </p>
    <div class="split board">
      <nav class="panel list" aria-label="Plans of this rig">
        <button v-for="p in plans" :key="p.id" type="button" :class="{ here: p.id === chosen }" @click="chosen = p.id">
          <span class="row spread"
            ><strong>{{ planTitle(p) }}</strong
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
              <h2>{{ plan.legs.length > 1 ? `${plan.legs.length} legs` : plan.legs[0]!.projectName }}</h2>
              <span class="muted small">{{ legWords }}</span>
            </span>
            <span v-if="mayRun && plan.status === 'planned'" class="row">
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
              <Button
                :type="run ? 'default' : 'primary'"
                :loading="busy"
                :disabled="faults.length > MOST_FAULTS"
                @click="rehearse"
                >{{ run ? 'Rehearse again' : 'Rehearse' }}</Button
              >
              <PickOne
                v-if="!busyRig && bridges.value.value?.length"
                v-model:value="equipment"
                label="Run on"
                :options="[
                  { value: '', label: 'stand-ins' },
                  ...(bridges.value.value ?? []).map((b) => ({ value: b, label: b })),
                ]"
              />
              <span v-if="!busyRig && equipment && plan.legs.some((l) => l.follower)" class="small level-caution"
                >The second camera is not driven there.</span
              >
              <Popconfirm
                v-if="!busyRig && equipment"
                title="This moves real equipment. Nobody in the way, cables clear, end-stop on? Its own interlocks always win."
                ok-text="Run it"
                cancel-text="Not yet"
                @confirm="runIt"
                ><Button :loading="busy">Run it, and watch</Button></Popconfirm
              >
              <template v-else-if="!busyRig">
                <Checkbox v-model:checked="wholeFrames">Keep whole frames</Checkbox>
                <Button :loading="busy" @click="runIt">Run it, and watch</Button>
              </template>
              <Button v-if="run && run.state === 'rehearsed' && mayCount" type="primary" :loading="busy" @click="accept"
                >Accept: count its frames</Button
              >
            </span>
          </div>
          <PickOne
            v-if="mayRun && plan.status === 'planned'"
            v-model:value="faults"
            label="What shall go wrong in the next rehearsal"
            mode="multiple"
            option-filter-prop="label"
            shown
            :options="faultsOf(has).map((f) => ({ value: f, label: FAULT_WORDS[f] }))"
            :max-tag-count="MOST_FAULTS"
            placeholder="only what does by itself"
            class="faults"
          />
          <p v-if="faults.length > MOST_FAULTS" class="level-bad small" role="alert">
            {{ MOST_FAULTS }} at most: one learns more from fewer.
          </p>
          <JobProgress v-if="job && !job.endedAt" :job="job" @cancel="cancel" />
          <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
          <p v-if="run?.result.faults.length" class="small" data-test="asked-faults">
            Asked to go wrong: {{ run.result.faults.map((f) => FAULT_WORDS[f]).join(', ') }}.
          </p>
          <p v-if="run && run.state === 'rehearsed' && !mayCount" class="small">
            A rehearsal never counts for a real rig. In the morning
            <RouterLink to="/morning/night">bring in the night’s own frames</RouterLink>.
          </p>
          <p class="small muted">
            A real mount may move by itself: hands and cables clear, end-stop on, and its own interlocks always win. On
            stand-ins nothing moves.
          </p>
          <NightStrip
            v-if="club.site"
            :site="club.site"
            :date="plan.night"
            :from-ms="Date.parse(plan.start)"
            :until-ms="Date.parse(plan.end)"
            :now-ms="club.now"
            :events="strip"
            label="The run as a strip"
            :beside="run?.result.follower?.events"
            :hours="run ? '' : `${clock(plan.start, zone)} to ${clock(plan.end, zone)}`"
          />
        </section>
        <template v-if="run">
          <RunResults :run="run" :plan="plan" :projects="club.projects" :time-zone="zone" />
          <p v-if="run.state === 'accepted'" class="row">
            <RouterLink to="/morning/focus">Read its {{ run.result.focusRuns.length }} focus runs</RouterLink>
            <RouterLink
              v-for="l in projectsOf(run)"
              :key="l.projectId"
              :to="{ path: '/season', query: { project: l.projectId } }"
              >{{ projectsOf(run).length > 1 ? `See ${l.object}` : 'See the project' }}</RouterLink
            >
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
@media (max-width: 1000px) {
  .board {
    grid-template-columns: minmax(0, 1fr);
  }
}
.faults {
  max-width: 560px;
}
.going {
  border-left: 4px solid var(--accent);
  padding: 4px 0 4px 14px;
  margin-bottom: 10px;
}
</style>
