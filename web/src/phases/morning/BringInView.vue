<script setup lang="ts">
import { makeVerdict, phrase } from '@keen/core/phrases';
import { Button } from 'ant-design-vue';
import WhenThere from '../../common/WhenThere.vue';
import { computed } from 'vue';
import { useRouter } from 'vue-router';
import EmptyState from '../../common/EmptyState.vue';
import TableQuestions from '../../common/TableQuestions.vue';
import ProgressBar from '../../common/ProgressBar.vue';
import VerdictLine from '../../common/VerdictLine.vue';
import { useClub } from '../../stores/club.ts';
import { useHandOver } from '../../stores/handOver.ts';
import { useSession } from '../../stores/session.ts';
import { dayName } from '../../common/times.ts';
import BringInGroups from './BringInGroups.vue';
import CalibrationNeeds from './CalibrationNeeds.vue';
import CalibrationRecord from './CalibrationRecord.vue';
import DropFolder from './DropFolder.vue';
import FrameKeywords from './FrameKeywords.vue';
import NightsList from './NightsList.vue';
import TypedNight from './TypedNight.vue';
import { useBringIn } from './useBringIn.ts';

/** The morning's folder into the record: headers read here, matched, judged, counted; undone if it was wrong. */
const club = useClub();
const session = useSession();
const router = useRouter();
const night = useBringIn();
/** The projects of this rig, those planned for the night first, then those worked on last. */
const likely = computed(() => {
  const planned = new Set(
    club.plans.filter((p) => p.night === night.night.value).flatMap((p) => p.legs.map((l) => l.projectId)),
  );
  const last = (p: (typeof club.rigProjects)[number]) =>
    p.nights
      .map((n) => n.night)
      .sort()
      .at(-1) ?? '';
  return [...club.rigProjects].sort(
    (a, b) => Number(planned.has(b.id)) - Number(planned.has(a.id)) || last(b).localeCompare(last(a)),
  );
});
const lights = computed(() => night.matched.value.filter((f) => f.kindNow === 'light'));
const verdict = computed(() => {
  const all = night.matched.value.length;
  const done = night.told.value;
  if (!all) return done ? makeVerdict('good', done) : makeVerdict('caution', phrase('bring-in.begin'));
  const wait = night.waiting.value;
  const waits = wait ? [phrase('bring-in.waits', { n: wait })] : [];
  // what is left of a folder after a part of it was brought in is not the folder any more
  if (done) return makeVerdict('caution', done, phrase('bring-in.left', { n: all }), ...waits);
  const shutterHours = lights.value.reduce((s, f) => s + (f.accepted ? (f.read.exposureS ?? 0) : 0), 0) / 3600;
  const folder = { lights: lights.value.length, shutterHours, others: all - lights.value.length };
  return makeVerdict(
    wait ? 'caution' : 'good',
    phrase('bring-in.folder', folder),
    ...(wait ? waits : [phrase('bring-in.matched')]),
  );
});
/** What the columns of a table of frames are called in a question. */
const TABLE_WORDS = {
  exposure: 'exposure',
  filter: 'filter',
  object: 'object',
  time: 'time of the frame',
  count: 'number of frames',
  kind: 'kind of frame',
  temperature: 'sensor’s temperature',
  gain: 'gain',
  file: 'file',
};
async function openLog(o: (typeof night.others.value)[number]) {
  if (o.kind === 'frames') return night.takeTable(o.file);
  await night.openText(o);
  await router.push(o.kind === 'guide-log' ? '/morning/guiding' : '/morning/focus');
}
const handOver = useHandOver();
function lookThrough({ evening, files }: (typeof night.brought.value)[number]) {
  handOver.givePictures(evening, files);
  return router.push('/morning/frames');
}
const KIND = { 'guide-log': 'Read the guide log', 'focus-log': 'Read the focus log', frames: 'Take its frames' };
</script>

<template>
  <EmptyState v-if="!club.rig" title="No rig yet" lacks="rig"
    >A night belongs to a rig: its filters and projects tell what the frames are.</EmptyState
  >
  <template v-else>
    <VerdictLine :verdict="verdict" />
    <p v-if="night.trouble.value" class="level-bad" role="alert">{{ night.trouble.value }}</p>
    <p v-if="night.brought.value.length" class="row" data-test="brought">
      <Button v-for="b in night.brought.value" :key="b.evening" type="primary" @click="lookThrough(b)"
        >Look through the {{ b.files.length }} {{ b.files.length === 1 ? 'frame' : 'frames' }} of
        {{ dayName(b.evening) }}</Button
      >
      <span class="muted small">Each is measured to its corners, from the files just read.</span>
    </p>
    <div v-if="session.mayEdit" class="split ways">
      <DropFolder @take="night.take">
        FITS headers are read in this browser; nothing is sent but what they say. Guide and focus logs and tables of the
        same folder are recognised.
      </DropFolder>
      <TypedNight
        v-model:night="night.night.value"
        :projects="likely"
        :filters="night.filters.value"
        :add="night.type"
      />
    </div>
    <p v-else class="muted">Guests may look, not change.</p>
    <div v-if="night.reading.value.of" class="panel row" role="status">
      <ProgressBar :done="night.reading.value.done" :goal="night.reading.value.of" />
      <span>{{ night.reading.value.done }} of {{ night.reading.value.of }} headers read</span>
      <Button size="small" @click="night.cancel">Stop here</Button>
    </div>
    <section v-if="night.others.value.length" class="panel stack" data-test="logs">
      <h2>Also in the folder</h2>
      <p v-for="o in night.others.value" :key="o.file.name" class="row">
        <strong>{{ o.file.name }}</strong>
        <Button size="small" @click="openLog(o)">{{ KIND[o.kind] }}</Button>
      </p>
    </section>
    <section v-if="night.asked.value" class="panel stack">
      <h2>{{ night.asked.value.file.name }}</h2>
      <TableQuestions
        :asks="night.asked.value.read.asks"
        :columns="night.asked.value.read.columns"
        :sample="night.asked.value.read.sample"
        :words="TABLE_WORDS"
        :time-zone="club.site?.timeZone ?? 'UTC'"
        @answer="night.answerTable"
      />
    </section>
    <BringInGroups v-if="night.matched.value.length" :night="night" />
    <section v-if="night.bad.value.length" class="panel stack" data-test="bad-files">
      <h2>Not taken</h2>
      <ul class="plain small">
        <li v-for="(b, i) in night.bad.value.slice(0, 40)" :key="i"><strong>{{ b.file }}</strong> {{ b.reason }}</li>
        <li v-if="night.bad.value.length > 40">and {{ night.bad.value.length - 40 }} more</li>
      </ul>
    </section>
    <FrameKeywords
      v-if="night.keywords.value.length"
      :keywords="night.keywords.value"
      :mapping="night.mapping.value"
      @map="night.remap"
    />
    <WhenThere :of="[night.nightsAnswer]">
      <NightsList :nights="night.nights.value" @undo="night.undo" @judged="night.load().then(club.loadProjects)" />
    </WhenThere>
    <CalibrationNeeds :nights="night.nights.value.filter((n) => !n.undone).length" />
    <WhenThere :of="[night.calibrationAnswer]">
      <CalibrationRecord :groups="night.calibration.value" />
    </WhenThere>
  </template>
</template>

<style scoped>
.ways {
  grid-template-columns: minmax(0, 1.2fr) minmax(0, 1fr);
}
.plain {
  margin: 0;
  padding-left: 18px;
}
@media (max-width: 900px) {
  .ways {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
