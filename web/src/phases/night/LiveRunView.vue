<script setup lang="ts">
import { figure } from '@keen/core/quantities';
import { EVERYDAY, isLoud } from '@keen/core/run';
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import VerdictLine from '../../common/VerdictLine.vue';
import WhenThere from '../../common/WhenThere.vue';
import { clock, dayName } from '../../common/times.ts';
import { useClub } from '../../stores/club.ts';
import { useUnits } from '../../stores/units.ts';
import LiveDebrief from '../../common/LiveDebrief.vue';
import LiveControls from './LiveControls.vue';
import LiveFrame from './LiveFrame.vue';
import LiveKept from './LiveKept.vue';
import LiveNow from './LiveNow.vue';
import LiveTraces from './LiveTraces.vue';
import NightStrip from './NightStrip.vue';
import { useAlarm } from './useAlarm.ts';
import { useLiveRun } from './useLiveRun.ts';
import { useRunClock } from './useRunClock.ts';

const props = defineProps<{ id: string }>();
const club = useClub();
const units = useUnits();
const followed = useLiveRun(computed(() => props.id));
const { head, run, state, hearing, there, says, traces, verdict, coming, besideSays, besideNow, aheadNight, byOthers } =
  followed;
const site = computed(() => {
  const rig = club.rigs.find((r) => r.id === run.value?.rigId);
  return club.sites.find((s) => s.id === rig?.siteId) ?? club.site ?? null;
});
const zone = computed(() => site.value?.timeZone ?? 'UTC');
const { nowMs } = useRunClock(followed);
const alarm = useAlarm(computed(() => verdict.value !== null && isLoud(verdict.value)));

const frames = computed(() => says.value.flatMap((s) => (s.said === 'frame' ? [s] : [])));
const besideFrames = computed(() => besideSays.value.flatMap((s) => (s.said === 'frame' ? [s] : [])));
const focusRuns = computed(() => says.value.flatMap((s) => (s.said === 'focus' ? [s] : [])));
const events = computed(() => says.value.flatMap((s) => (s.said === 'event' ? [s] : [])));
/** What was out of the ordinary, newest first. */
const MOST_NOTES = 8;
const besideEvents = computed(() => besideSays.value.flatMap((s) => (s.said === 'event' ? [s] : [])));
/** A frame that does not count is out of the ordinary too. */
const refusedFrames = computed(() =>
  [...frames.value, ...besideFrames.value]
    .filter((f) => !f.accepted)
    .map((f) => ({
      kind: 'note' as const,
      start: f.start,
      phrase: undefined,
      text: `${f.filter} refused: ${f.reasonPhrase ? units.say(f.reasonPhrase) : f.reason}`,
    })),
);
const notes = computed(() =>
  [...events.value, ...besideEvents.value, ...refusedFrames.value]
    .filter((e) => (e.kind === 'note' || e.kind === 'cloud') && !EVERYDAY.has(e.phrase?.code ?? ''))
    .sort((a, b) => (a.start < b.start ? -1 : a.start > b.start ? 1 : 0))
    .slice(-MOST_NOTES)
    .toReversed(),
);
/** How what some rigs have stands. */
const stands = computed(() => {
  const { roof, rotatorDeg, tilt, supply } = state.value?.readings ?? {};
  return [
    ...(roof ? [roof === 'moves' ? 'the roof moves' : `roof ${roof}`] : []),
    ...(rotatorDeg === undefined ? [] : [`rotator at ${figure(rotatorDeg, 1)}°`]),
    ...(tilt ? [`tip-tilt plate at ${figure(100 * Math.max(...tilt.map(Math.abs)), 0)} % of its reach`] : []),
    ...(supply ? [supply.on ? `supply ${figure(supply.volts, 1)} V` : 'power off'] : []),
  ];
});
const title = computed(() => (run.value ? `${run.value.objects} with the ${run.value.rig}` : ''));
/** Nothing can be made of what happened: another version wrote it, or it is too long ago. */
const untold = computed(() => byOthers.value || (there.value && !state.value && run.value?.state === 'ended'));
const drivenWords = computed(() => {
  const r = run.value;
  if (!r || r.state !== 'running') return '';
  if (hearing.value === 'deaf') return 'No line to the server: what is shown is from before.';
  if (!r.driven) return 'No server drives it at this moment; another takes it over within seconds.';
  return '';
});
</script>

<template>
  <WhenThere :of="[head]">
    <template v-if="run">
      <VerdictLine v-if="verdict && there" :verdict="verdict" data-test="standing">
        {{ title }}, night of {{ dayName(run.night) }}, begun by {{ run.by }}; on {{ run.bridge || 'stand-ins'
        }}<template v-if="run.speed !== 1">, {{ run.speed }} times as fast</template>.
        <template v-if="run.takenOver">
          {{ run.takenOver === 1 ? 'Once' : `${run.takenOver} times` }} another server took it over.</template
        >
      </VerdictLine>
      <p v-else-if="untold" class="level-caution" role="status" data-test="untold">
        {{ title }}, night of {{ dayName(run.night) }}:
        {{
          byOthers
            ? 'run by another version of this programme, which plays it otherwise.'
            : 'what happened in it is not kept any more.'
        }}
        <RouterLink v-if="run.runId" :to="{ path: '/night/run', query: { plan: run.planId } }"
          >What came of it is kept</RouterLink
        >
      </p>
      <p v-else-if="run.state !== 'failed'" class="muted" role="status">Reading what has happened …</p>
      <p v-if="drivenWords" class="level-caution small" role="status" data-test="line">{{ drivenWords }}</p>
      <p v-if="run.state === 'failed'" class="level-bad" role="alert">This run was given up: {{ run.problem }}</p>
      <template v-if="state && there">
        <section v-if="site" class="panel">
          <NightStrip
            :site="site"
            :date="run.night"
            :from-ms="state.startMs"
            :until-ms="state.plan.endMs"
            :now-ms="nowMs"
            :events="events"
            :ahead="state.finished ? [] : aheadNight"
            :beside="state.beside ? besideEvents : undefined"
            label="The night as a strip: what was done, and fainter what is still to come"
          />
        </section>
        <p v-if="stands.length" class="muted small" data-test="stands">Equipment: {{ stands.join(', ') }}</p>
        <div class="two">
          <div class="stack">
            <LiveNow v-if="!state.finished" :coming="coming" :now-ms="nowMs" :time-zone="zone" :beside="besideNow" />
            <section v-else class="panel stack">
              <h2>It is over</h2>
              <p>
                {{ frames.filter((f) => f.accepted).length }} good frames of {{ frames.length
                }}<template v-if="besideFrames.length"
                  >; {{ besideFrames.filter((f) => f.accepted).length }} of {{ besideFrames.length }} by the second
                  camera</template
                >.
              </p>
              <p>
                <RouterLink :to="{ path: '/night/run', query: { plan: run.planId } }"
                  >See all that came of it</RouterLink
                >
              </p>
            </section>
            <LiveControls v-if="run.state === 'running'" :run="run" :state="state" :followed="followed" />
          </div>
          <div class="stack">
            <LiveFrame :frames="frames" :time-zone="zone" />
            <LiveFrame
              v-if="state.beside"
              :frames="besideFrames"
              :time-zone="zone"
              title="Last frame of the second camera"
            />
            <section class="panel">
              <h2>What was out of the ordinary</h2>
              <ol v-if="notes.length" class="notes" aria-live="polite">
                <li v-for="(n, i) in notes" :key="`${n.start} ${i}`">
                  <span class="mono">{{ clock(n.start, zone) }}</span>
                  <span>{{ n.phrase ? units.say(n.phrase) : n.text }}</span>
                </li>
              </ol>
              <p v-else class="muted">Nothing so far.</p>
            </section>
          </div>
        </div>
        <LiveKept
          :key="run.id"
          :run-id="run.id"
          :frames="frames.length + besideFrames.length"
          :time-zone="zone"
          :bridge="run.bridge"
        />
        <LiveDebrief v-if="run.debrief" :debrief="run.debrief" :time-zone="zone" />
        <LiveTraces
          :traces="traces"
          :focus-runs="focusRuns"
          :from-ms="state.startMs"
          :until-ms="state.plan.endMs"
          :time-zone="zone"
        />
        <p class="row small no-print">
          <RouterLink :to="`/night/live/${run.id}/quiet`">A quiet page for a second monitor</RouterLink>
          <Button size="small" :type="alarm.allowed.value ? 'default' : 'dashed'" @click="alarm.toggle">{{
            alarm.allowed.value ? 'Sound when somebody is needed: on' : 'Sound when somebody is needed: off'
          }}</Button>
          <span v-if="!run.bridge" class="muted">Here nothing moves: it is driven on stand-ins.</span>
        </p>
      </template>
    </template>
  </WhenThere>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 12px;
  align-items: start;
}
.notes {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 3px;
  font-size: 14px;
}
.notes li {
  display: grid;
  grid-template-columns: 56px minmax(0, 1fr);
}
@media (max-width: 900px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
