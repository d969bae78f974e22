<script setup lang="ts">
import { questions } from '../../api/questions.ts';
import { makeVerdict, nameOf, phrase } from '@keen/core/phrases';
import { useUnits } from '../../stores/units.ts';
import type { NightRecord } from '@keen/contract';
import { useAnswer } from '../../common/answer.ts';
import WhenThere from '../../common/WhenThere.vue';
import { fieldOf, nightFindings } from '@keen/core/frames';
import { refusalPhrase } from '@keen/core/record';
import { figure, scaleArcsecPerPx } from '@keen/core/quantities';
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import EmptyState from '../../common/EmptyState.vue';
import HoursOver from '../../common/HoursOver.vue';
import FilterTile from '../../common/FilterTile.vue';
import { dayName } from '../../common/times.ts';
import VerdictLine from '../../common/VerdictLine.vue';
import { useClub } from '../../stores/club.ts';
import VerdictText from '../../common/VerdictText.vue';

/** What last night brought on this rig, what waits to be read, and what to do before anything is turned. */
const club = useClub();
const units = useUnits();
const rig = computed(() => club.rig?.id);
const NIGHTS = 5;
const answers = {
  runs: useAnswer('The runs', () => (rig.value ? questions.runs() : null)),
  nights: useAnswer('The nights of this rig', () => (rig.value ? questions.nights(rig.value) : null)),
  focus: useAnswer('The focus runs', () => (club.rig ? questions.focusRuns(club.rig.trainStateId) : null)),
  logs: useAnswer('The guide logs', () => (rig.value ? questions.guideLogs(rig.value) : null)),
  needs: useAnswer('What calibration is missing', () =>
    club.rig ? questions.calibrationNeeds(club.rig.id, club.rig.system.key) : null,
  ),
};
const runs = computed(() => (answers.runs.value.value ?? []).filter((r) => r.rigId === rig.value));
/** The newest night that counts. */
const last = computed<NightRecord | null>(() => answers.nights.value.value?.find((n) => !n.undone) ?? null);
const framesOfLast = useAnswer('The frames of the night', () =>
  last.value ? questions.nightFrames(last.value.id) : null,
);
const frames = computed(() => framesOfLast.value.value ?? []);
const focus = computed(() => answers.focus.value.value ?? []);
/** Newest kept guide logs. */
const logs = computed(() => (answers.logs.value.value ?? []).slice(0, NIGHTS));
/** Filters whose flats are lost once the train is touched. */
const lacks = answers.needs.value;
const restsOn = [...Object.values(answers), framesOfLast, club.offsetsAnswer];
/** What the night itself rests on: each card of the page stands for itself, whatever else could not be read. */
const ofNight = [answers.nights, framesOfLast];
const nightThere = computed(() => ofNight.every((a) => a.there.value));
const nothingYet = computed(
  () => restsOn.every((a) => a.there.value) && !last.value && !focus.value.length && !logs.value.length,
);
/** Filters of frames whose train stands no more and that have no flat: they are named, never asked for. */
const tooLate = computed(() => {
  const urgent = new Set(lacks.value?.urgent.map((u) => u.trainRevision));
  const lost = (lacks.value?.missing ?? []).flatMap((m) =>
    m.kind === 'flat' && !urgent.has(m.trainRevision) ? [m.filter] : [],
  );
  return [...new Set(lost)].join(', ');
});
const flatsMissing = computed(() => [...new Set((lacks.value?.urgent ?? []).map((u) => u.filter))]);
const waiting = computed(
  () => focus.value.filter((r) => r.usable && !r.excluded).length - (club.offsets?.runCount ?? 0),
);
const open = computed(() =>
  runs.value.filter(
    (r) => r.state === 'rehearsed' && club.plans.some((p) => p.id === r.planId && p.status === 'planned'),
  ),
);
const counted = computed(() => {
  const byFilter = new Map<string, { filter: string; good: number; bad: number }>();
  for (const t of last.value?.taken ?? []) {
    const f = byFilter.get(t.filter) ?? { filter: t.filter, good: 0, bad: 0 };
    f.good += t.accepted;
    f.bad += t.rejected;
    byFilter.set(t.filter, f);
  }
  return [...byFilter.values()];
});
/** Refusals by what they were for. */
const reasons = computed(() => {
  const count = new Map<string, number>();
  for (const f of frames.value) {
    if (f.accepted || f.kind !== 'light') continue;
    const why = f.refusal ? units.say(refusalPhrase(f.refusal)) : f.reason || 'without a reason';
    count.set(why, (count.get(why) ?? 0) + 1);
  }
  return [...count].sort((a, b) => b[1] - a[1]);
});
/** What was measured of the night’s frames, and what most of them show. */
const found = computed(() => {
  // a night of another camera of this rig has another scale
  const setup = last.value?.system === club.rig?.system.key ? club.rig?.setup : undefined;
  const scale = setup ? scaleArcsecPerPx(setup.camera.pixelUm, setup.focalLengthMm) : null;
  const lights = frames.value.filter((f) => f.kind === 'light' && f.accepted);
  return {
    lights: lights.length,
    ...nightFindings(
      lights.map((f) => ({ ...f, field: fieldOf({ projectId: f.projectId, ...f.header }) })),
      scale,
    ),
  };
});
const shows = computed(() =>
  found.value.most.map((m) => phrase('morning.shows', { n: m.frames, of: m.of, finding: units.say(nameOf(m.code)) })),
);
const verdict = computed(() => {
  const n = last.value;
  if (!n) return null;
  const good = counted.value.reduce((s, f) => s + f.good, 0);
  const bad = counted.value.reduce((s, f) => s + f.bad, 0);
  const objects = [...new Set(n.taken.flatMap((t) => (t.object ? [t.object] : [])))].join(', ');
  const what = objects || (good + bad ? 'Frames of no project' : 'Calibration only');
  return makeVerdict(
    good === 0 || shows.value.length ? 'bad' : bad > 0.2 * (good + bad) ? 'caution' : 'good',
    phrase('morning.night', { what, night: dayName(n.night), good, bad }),
    ...shows.value,
  );
});
</script>

<template>
  <HoursOver v-if="club.rig" />
  <EmptyState v-if="!club.rig" title="No rig yet" lacks="rig"
    >What a night brought is told rig by rig: frames, focus, guiding.</EmptyState
  >
  <EmptyState v-else-if="nothingYet" title="Nothing came back yet">
    Bring in a night’s folder and this page says what it was worth: frames by filter, what was refused and why, what
    waits to be read.
    <template #actions
      ><RouterLink to="/morning/night" class="button">Bring in a night</RouterLink>
      <RouterLink to="/morning/focus">Focus runs</RouterLink>
      <RouterLink to="/night/run">Rehearse a plan</RouterLink></template
    >
  </EmptyState>
  <template v-else>
    <WhenThere :of="ofNight">
      <VerdictLine v-if="verdict" :verdict="verdict" />
      <VerdictLine v-else :verdict="makeVerdict('caution', phrase('morning.logs-only'))" />
    </WhenThere>
    <div class="cards">
      <section v-if="!nightThere" class="panel stack"><h2>Frames</h2></section>
      <section v-else-if="last" class="panel stack">
        <h2>Frames</h2>
        <table v-if="counted.length" class="figures">
          <thead>
            <tr>
              <th>Filter</th>
              <th class="num">good</th>
              <th class="num">refused</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="f in counted" :key="f.filter">
              <td><FilterTile :name="f.filter" /></td>
              <td class="num">{{ f.good }}</td>
              <td class="num">{{ f.bad }}</td>
            </tr>
          </tbody>
        </table>
        <p v-else class="muted">No light frames: {{ last.calibration }} for calibration.</p>
        <ul v-if="reasons.length" class="small plain">
          <li v-for="[why, n] in reasons" :key="why">{{ n }} refused: {{ why }}</li>
        </ul>
        <p>
          <RouterLink v-if="found.measured === 0" to="/morning/frames"
            >Look at every frame before anything is taken apart</RouterLink
          >
          <RouterLink v-else to="/morning/frames"
            >Its frames, {{ found.measured }} of {{ found.lights }} measured</RouterLink
          >
        </p>
        <p class="row small">
          <RouterLink v-if="last.planId" :to="{ path: '/night/run', query: { plan: last.planId } }">Its run</RouterLink>
          <RouterLink to="/morning/report">Its report</RouterLink>
        </p>
      </section>
      <section v-else class="panel stack">
        <h2>Frames</h2>
        <p class="muted">No frame is on record. The night’s folder moves the projects.</p>
        <p><RouterLink to="/morning/night">Bring in a night</RouterLink></p>
      </section>
      <div class="stack">
        <section class="panel stack">
          <h2>Focus</h2>
          <WhenThere :of="[answers.focus, club.offsetsAnswer]">
            <p v-if="!club.offsets" class="level-caution">
              No offsets are adopted for {{ club.rig.words }}. {{ focus.length }} runs wait to be read.
            </p>
            <p v-else-if="waiting > 0" class="level-caution">{{ waiting }} runs are newer than the adopted offsets.</p>
            <p v-else class="level-good">The adopted offsets use every run.</p>
          </WhenThere>
          <p><RouterLink to="/morning/focus">Read the focus runs</RouterLink></p>
        </section>
        <section class="panel stack">
          <h2>Before the rig is touched</h2>
          <WhenThere :of="[answers.needs, answers.runs]">
            <ul class="plain">
              <li v-if="flatsMissing.length" class="level-bad" data-test="flats-missing">
                Flats of {{ flatsMissing.join(', ') }} are still missing, camera and train as they stand ({{
                  club.rig.words
                }}): <RouterLink to="/morning/night">what else</RouterLink>.
              </li>
              <li v-else-if="lacks && lacks.frames > 0">
                No frame on record wants a flat of the train as it stands ({{ club.rig.words }}).
              </li>
              <li v-if="tooLate" class="level-caution">
                Flats of {{ tooLate }} are missing for frames of an earlier train: nothing taken now would fit them.
              </li>
              <li v-if="lacks && lacks.frames > 0">
                Dark flats to match; darks for the exposures and the set point of the night.
              </li>
              <li>Write down what went wrong, and what cured it.</li>
            </ul>
            <p v-if="open.length" class="level-caution">
              {{ open.length }} rehearsed run{{ open.length === 1 ? '' : 's' }} not accepted yet:
              <RouterLink to="/night/run">look</RouterLink>
            </p>
          </WhenThere>
        </section>
      </div>
      <section class="panel stack" data-test="guiding">
        <h2>Guiding</h2>
        <WhenThere :of="[answers.logs]">
          <p v-if="!logs.length" class="muted">
            No guide log is kept for this rig. One a night shows what a change of settings was worth.
          </p>
          <template v-else>
            <VerdictText :verdict="logs[0]!.summary.verdict" />
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
                  <td>{{ l.summary.findings.map((f) => units.say(nameOf(f.code))).join(', ') }}</td>
                </tr>
              </tbody>
            </table>
          </template>
        </WhenThere>
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
