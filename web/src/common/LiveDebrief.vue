<script setup lang="ts">
import type { Debrief } from '@keen/core/run';
import { computed } from 'vue';
import { clock } from './times.ts';
import { FAULT_WORDS } from './faultWords.ts';

/** What was put into a night: when it came to light, what was done, what it cost, and what would have come of it alone. */
const props = defineProps<{ debrief: Debrief; timeZone: string }>();
const minutes = (ms: number) => Math.max(0, Math.round(ms / 60_000));
const DONE: Record<string, string> = {
  'run.again': 'asked again',
  'run.wait-device': 'waited for the device',
  'run.interrupted': 'broken off and begun anew',
  'run.guide-anew': 'the guide star sought anew',
  'run.star-lost': 'the frame given up, the star waited for',
  'run.wait-star': 'the star waited for',
  'run.shut-cloud': 'the cloud waited out',
  'run.shut-wind': 'the wind waited out',
  'run.shut-damp': 'the damp waited out',
  'run.shut-interlock': 'nothing moved while the interlock was open',
  'run.knocked': 'centred again',
  'run.off-middle': 'centred again',
  'run.wide': 'focused before the next frame',
  'run.focus-again': 'focused once more',
  'run.wheel-elsewhere': 'the wheel turned again',
  'run.device-fault': 'the night closed',
  'run.closed-wind': 'the night closed',
  'run.closed-damp': 'the night closed',
  'run.closed-cloud': 'the night closed',
  'run.interlock-stays': 'the night closed',
  'run.device-absent': 'the night not begun',
  'run.not-parked': 'the mount left where it stood',
  'run.focus-stayed': 'the focus left where it was',
  'run.refused-sun': 'a motion not begun',
  'run.refused-ground': 'a motion not begun',
  'run.stopped-sun': 'a motion stopped',
  'run.stopped-ground': 'a motion stopped',
};
/** What has no words of its own here stands in the list of the run. */
const doneWords = (done: readonly string[]) =>
  [...new Set(done.map((c) => (c.startsWith('refused') ? 'a frame refused' : (DONE[c] ?? 'something else'))))].join(
    ', ',
  ) || 'nothing had to be';
const ASKED = {
  pause: 'paused',
  resume: 'went on',
  skip: 'skipped the object',
  focus: 'asked for focus',
  centre: 'asked for centring',
  guide: 'had it guided anew',
  stop: 'stopped',
} as const;
const rows = computed(() =>
  props.debrief.faults.map((f) => ({
    what: FAULT_WORDS[f.fault],
    at: clock(f.atMs, props.timeZone),
    noticed: f.noticedMs === null ? 'never' : `${minutes(f.noticedMs - f.atMs)} min later`,
    done: doneWords(f.done),
    people:
      f.askedMs === null
        ? 'nobody touched it'
        : `${f.asked.map((a) => ASKED[a]).join(', ')}, ${minutes(f.askedMs - f.atMs)} min later`,
  })),
);
const against = computed(() => {
  const { accepted, alone, quiet } = props.debrief;
  const hand = accepted - alone;
  const by =
    hand === 0
      ? 'as it would have been by itself'
      : hand > 0
        ? `${hand} more than by itself`
        : `${-hand} fewer than by itself`;
  return `${accepted} good frames: ${by}; ${quiet} in peace.`;
});
</script>

<template>
  <section class="panel" data-test="debrief">
    <h2>What was put in, and what came of it</h2>
    <p>{{ against }}</p>
    <div class="scroll">
      <table class="figures">
        <thead>
          <tr>
            <th>What</th>
            <th>Came</th>
            <th>First seen</th>
            <th>Done by itself</th>
            <th>At the controls</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(r, i) in rows" :key="i">
            <td>{{ r.what }}</td>
            <td class="mono">{{ r.at }}</td>
            <td>{{ r.noticed }}</td>
            <td>{{ r.done }}</td>
            <td>{{ r.people }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>
