<script setup lang="ts">
import { questions } from '../../api/questions.ts';
import { nameOf, isNameCode } from '@keen/core/phrases';
import type { FrameRecord } from '@keen/contract';
import { nightHours, nightReport } from '@keen/core/frames';
import { isLostToCloud, isOfNight, refusalPhrase, isLogOfNight } from '@keen/core/record';
import { figure } from '@keen/core/quantities';
import { Button, Input } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';
import { RouterLink } from 'vue-router';
import { useAnswer } from '../../common/answer.ts';
import { darkHours } from '../../common/darkHours.ts';
import EmptyState from '../../common/EmptyState.vue';
import FilterTile from '../../common/FilterTile.vue';
import WhenThere from '../../common/WhenThere.vue';
import PickOne from '../../common/PickOne.vue';
import { personalKey } from '../../common/personal.ts';
import { download } from '../../common/download.ts';
import { dayName, hours } from '../../common/times.ts';
import { useClub } from '../../stores/club.ts';
import { useUnits } from '../../stores/units.ts';
import NightsOver from './NightsOver.vue';
import HoursBar from './HoursBar.vue';
import { useNightGuiding } from './useNightGuiding.ts';
import { useFrameReview } from './useFrameReview.ts';

/** A night on one page: what was taken, what was lost and why, and a note for whoever takes over; to print, or as a file. */
const club = useClub();
const units = useUnits();
const used = useFrameReview({ pictures: false });
const { nights, nightId, rows } = used;
const night = computed(() => nights.value.find((n) => n.id === nightId.value) ?? null);
const { ofRig, judged, frames, focus } = used.answers;
const logs = useAnswer('The guide logs', () => (night.value ? questions.guideLogs(night.value.rigId) : null));
const needs = useAnswer('The calibration of this night', () =>
  night.value ? questions.calibrationNeeds(night.value.rigId, night.value.system) : null,
);
// a run knows when it waited for the sky: no frame tells of that
const run = useAnswer('The run of this night', () =>
  night.value?.kind === 'live' ? questions.run(night.value.id) : null,
);
/** Spells in which a run of this night waited for the sky [ms]. */
const clouds = computed(() =>
  (run.value.value?.result.events ?? [])
    .filter((e) => e.kind === 'cloud')
    .map((e) => [Date.parse(e.start), Date.parse(e.end)] as const),
);
const guidedBy = computed(() => {
  const n = night.value;
  return (n ? (logs.value.value ?? []).filter((l) => isLogOfNight(l, n)) : []).map((l) => ({
    log: l.name,
    raArcsec: l.summary.rms.ra,
    decArcsec: l.summary.rms.dec,
    totalArcsec: l.summary.rms.total,
    found: l.summary.findings.map((f) => f.code).filter((c) => c !== 'calm'),
  }));
});
const focusRuns = computed(() => {
  const [n, site] = [night.value, club.site];
  return n && site ? (focus.value.value ?? []).filter((r) => isOfNight(r.time, n.night, site.timeZone)) : [];
});
const facts = [frames, focus, logs, needs, run];
const guided = useNightGuiding(night, rows);
/** Frames of the night that carry no time: where its hours went cannot be told from the others. */
const timeless = computed(() => rows.value.filter((r) => r.record && !r.startedAt).length);
/** Where the dark hours went. */
const spent = computed(() => {
  if (timeless.value) return null;
  const dark = night.value && club.site ? darkHours(club.site, night.value.night) : null;
  if (!dark) return null;
  const frames = rows.value.flatMap((r) =>
    r.record && r.startedAt
      ? [
          {
            startedMs: Date.parse(r.startedAt),
            exposureS: r.exposureS,
            accepted: r.accepted,
            because: because(r.record),
            cloud: isLostToCloud(r.record.refusal),
          },
        ]
      : [],
  );
  const focused = focusRuns.value.map((r) => Date.parse(r.time!)).sort((a, b) => a - b);
  return nightHours(dark, frames, focused, clouds.value);
});
const because = (r: FrameRecord) => (r.refusal ? units.say(refusalPhrase(r.refusal)) : '');
const report = computed(() => {
  const n = night.value;
  if (!n || !club.site || !club.rig || !facts.every((a) => a.there.value)) return null;
  const object = (id: string | null) => n.taken.find((t) => t.projectId === id)?.object ?? '';
  return nightReport({
    site: club.site.name,
    rig: club.rig.name,
    night: n.night,
    by: n.by,
    frames: rows.value.flatMap((r) =>
      r.record
        ? [
            {
              object: object(r.record.projectId),
              filter: r.filter,
              exposureS: r.exposureS,
              accepted: r.accepted,
              because: because(r.record),
              look: r.look,
              hfdPx: r.record.measures.hfdPx ?? null,
              findings: used
                .findingsOf(r)
                .filter((f) => f.code !== 'prism-shadow' || f.severity !== 'good')
                .map((f) => f.code),
            },
          ]
        : [],
    ),
    hours: spent.value,
    guidedFrames: guided.phrases.value.map((p) => units.say(p)),
    focusRuns: focusRuns.value,
    guiding: guidedBy.value,
    flatsBeforeAnythingIsTurned: needs.value.value?.urgent.length ?? 0,
  });
});
/** The note as somebody changed it; until then as it is drafted. */
const written = ref<string | null>(null);
const slot = computed(() => personalKey(`report.${nightId.value}`));
watch(slot, (s) => (written.value = localStorage.getItem(s)), { immediate: true });
const note = computed({
  get: () => written.value ?? report.value?.handOver ?? '',
  set: (text: string) => {
    written.value = text;
    localStorage.setItem(slot.value, text);
  },
});
function draftAnew() {
  written.value = null;
  localStorage.removeItem(slot.value);
}
const file = () =>
  download(
    `night-report-${report.value!.night}.json`,
    JSON.stringify({ ...report.value, handOver: note.value }, null, 2),
    'application/json',
  );
const print = () => globalThis.print();
const open = computed(() => (report.value?.taken ?? []).reduce((s, t) => s + t.openS, 0) / 60);
</script>

<template>
  <EmptyState v-if="!club.rig" title="No rig yet" lacks="rig">A report sums up one night of one rig.</EmptyState>
  <WhenThere v-else-if="nights.length === 0" :of="[ofRig, judged]">
    <EmptyState title="No night on record for this rig">
      A report is made from the frames, focus runs and logs of a night.
      <template #actions
        ><RouterLink to="/morning/night"><Button type="primary">Bring in a night</Button></RouterLink></template
      >
    </EmptyState>
  </WhenThere>
  <template v-else>
    <div class="row no-print">
      <PickOne
        :value="nightId"
        label="Night"
        shown
        :options="
          nights.slice(0, 60).map((n) => ({
            value: n.id,
            label: `${dayName(n.night)}: ${[...new Set(n.taken.map((t) => t.object || 'no project'))].join(', ')}`,
          }))
        "
        :dropdown-match-select-width="false"
        @update:value="nightId = String($event)"
      />
      <Button @click="print">Print</Button>
      <Button :disabled="!report" @click="file">Report (JSON)</Button>
    </div>
    <WhenThere :of="facts">
      <article v-if="report" class="panel stack sheet" data-test="report">
        <h1>{{ report.rig }}, night of {{ dayName(report.night) }}</h1>
        <p class="muted">{{ report.site }}; {{ report.by }}; {{ hours(open) }} of open shutter count.</p>
        <table class="figures">
          <thead>
            <tr>
              <th>Object</th>
              <th>Filter</th>
              <th class="num">Exposure</th>
              <th class="num">Count</th>
              <th class="num">Refused</th>
              <th class="num">HFD, px</th>
              <th class="num">Long over short</th>
              <th class="num">Stars</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(t, i) in report.taken" :key="i">
              <td>{{ i > 0 && report.taken[i - 1]!.object === t.object ? '' : t.object || 'no project' }}</td>
              <td><FilterTile v-if="t.filter" :name="t.filter" /></td>
              <td class="num">{{ figure(t.exposureS, 0) }} s</td>
              <td class="num">{{ t.accepted }}</td>
              <td class="num">{{ t.refused || '' }}</td>
              <td class="num">{{ t.hfdPx === null ? '–' : figure(t.hfdPx, 2) }}</td>
              <td class="num">{{ t.longOverShort === null ? '–' : figure(t.longOverShort, 2) }}</td>
              <td class="num">{{ t.stars ?? '–' }}</td>
            </tr>
          </tbody>
        </table>
        <p v-if="timeless" class="muted" data-test="timeless">
          {{ timeless }} {{ timeless === 1 ? 'frame carries' : 'frames carry' }} no time: where the dark hours went is
          not told.
        </p>
        <HoursBar v-if="spent" :spent="spent" :zone="club.site?.timeZone ?? 'UTC'" />
        <div class="parts">
          <section v-if="report.refused.length">
            <h2>What it lost</h2>
            <p v-for="r in report.refused" :key="r.because">
              {{ r.because }}: {{ r.frames }} {{ r.frames === 1 ? 'frame' : 'frames' }}, {{ hours(r.lostS / 60) }}
            </p>
          </section>
          <section v-if="report.shown.length">
            <h2>What the frames show</h2>
            <p v-for="s in report.shown" :key="s.finding">
              {{ isNameCode(s.finding) ? units.say(nameOf(s.finding)) : s.finding }}: {{ s.frames }} of {{ s.of }}
            </p>
          </section>
          <section v-if="report.focus.length">
            <h2>Focus runs</h2>
            <p v-for="f in report.focus" :key="f.filter">
              <FilterTile :name="f.filter" /> {{ f.runs
              }}<template v-if="f.usable < f.runs">, {{ f.usable }} of use</template>
            </p>
          </section>
          <section v-if="report.guiding.length">
            <h2>Guiding</h2>
            <p v-for="text in report.guidedFrames" :key="text">{{ text }}</p>
            <p v-for="(g, i) in report.guiding" :key="i">
              {{ units.say({ code: 'report.guiding', values: { log: g.log, rmsArcsec: g.totalArcsec } }) }}
            </p>
          </section>
        </div>
        <label class="stack"
          ><span class="row spread"
            ><strong>Hand-over note</strong
            ><Button v-if="written !== null" size="small" class="no-print" @click="draftAnew"
              >Draft it anew</Button
            ></span
          >
          <Input.TextArea
            v-model:value="note"
            :auto-size="{ minRows: 4, maxRows: 14 }"
            :maxlength="5000"
            class="no-print"
          />
          <span class="on-paper">{{ note }}</span>
        </label>
        <p class="muted small no-print">
          Drafted from the facts above; what you change is kept in this browser and goes into print and file. Focus runs
          and missing flats are those of the train as it stands now.
        </p>
      </article>
    </WhenThere>
    <NightsOver />
  </template>
</template>

<style scoped>
.parts {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(200px, 1fr));
  gap: 18px;
}
.parts p {
  margin: 2px 0;
}
.on-paper {
  display: none;
  white-space: pre-wrap;
}
@media print {
  .no-print {
    display: none !important;
  }
  .on-paper {
    display: block;
  }
  .sheet {
    border: 0;
    color: #000;
    background: #fff;
  }
}
</style>
