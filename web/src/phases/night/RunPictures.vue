<script setup lang="ts">
import type { PlanRecord, ProjectRecord, RunRecord } from '@keen/contract';
import { practiceFrame } from '@keen/core/frames';
import { scaleArcsecPerPx } from '@keen/core/quantities';
import { useLocalStorage } from '@vueuse/core';
import { Button, Checkbox } from 'ant-design-vue';
import { computed, ref, shallowRef, watch } from 'vue';
import ProgressBar from '../../common/ProgressBar.vue';
import { clock } from '../../common/times.ts';
import TonePicture from '../../common/TonePicture.vue';
import { useClub } from '../../stores/club.ts';
import { lookAtPractice, practiceFits } from '../../workers/looking.ts';
import type { PracticeLook } from '../../workers/look.worker.ts';

/** What the stand-in camera would have seen, drawn on wish from the star catalogue with the width and the cloud it told of. */
const props = defineProps<{ run: RunRecord; plan: PlanRecord; projects: ProjectRecord[]; timeZone: string }>();
const club = useClub();
/** Drawn at once; the rest by another press. */
const AT_ONCE = 48;
const drawn = shallowRef<PracticeLook[]>([]);
const going = ref({ done: 0, of: 0 });
const trouble = ref('');
let stopped = false;
const frames = computed(() => {
  const setup = club.rig?.setup;
  const best = Math.max(1, ...props.run.result.frames.map((f) => f.stars));
  return props.run.result.frames.flatMap((f, i) => {
    const project = props.projects.find((p) => p.id === props.plan.legs[f.leg ?? 0]?.projectId);
    if (!setup || !project) return [];
    const scale = scaleArcsecPerPx(setup.camera.pixelUm, setup.focalLengthMm);
    return [{ of: f, object: project.object, job: practiceFrame(`${props.run.id} ${i}`, project, f, best, scale) }];
  });
});
watch(
  () => props.run.id,
  () => ((drawn.value = []), (stopped = true)),
);
const byId = computed(() => new Map(frames.value.map((f) => [f.job.id, f])));
async function draw() {
  const jobs = frames.value.slice(drawn.value.length, drawn.value.length + AT_ONCE).map((f) => f.job);
  const run = props.run.id;
  [stopped, trouble.value, going.value] = [false, '', { done: 0, of: jobs.length }];
  const got: PracticeLook[] = [];
  try {
    await lookAtPractice(jobs, (one) => {
      got.push(one);
      going.value = { done: got.length, of: jobs.length };
      return !stopped && run === props.run.id;
    });
  } catch (e) {
    trouble.value = `Drawing ended before it was done: ${(e as Error).message}`;
  }
  const order = new Map(jobs.map((j, i) => [j.id, i]));
  if (run === props.run.id) drawn.value = [...drawn.value, ...got.sort((a, b) => order.get(a.id)! - order.get(b.id)!)];
  going.value = { done: 0, of: 0 };
}
/** How much of the chip a saved file holds. */
const whole = useLocalStorage('keen.pictures.whole', false);
const saving = ref('');
async function save(id: string) {
  const [f, setup] = [byId.value.get(id), club.rig?.setup];
  if (!f || !setup || saving.value) return;
  const { widthPx, heightPx } = setup.camera;
  [saving.value, trouble.value] = [id, ''];
  try {
    const bytes = await practiceFits(
      f.job,
      [
        ['OBJECT', f.object],
        ['IMAGETYP', 'LIGHT'],
        ['FILTER', f.of.filter],
        ['EXPTIME', f.of.exposureS],
        ['DATE-OBS', f.of.start.slice(0, 19)],
        ['RA', f.job.raDeg],
        ['DEC', f.job.decDeg],
        ['INSTRUME', 'stand-in camera'],
      ],
      whole.value ? { widthPx, heightPx } : undefined,
    );
    const a = document.createElement('a');
    a.href = URL.createObjectURL(new Blob([bytes as BlobPart], { type: 'application/fits' }));
    a.download = `stand-in-${f.of.start.slice(0, 19).replace(/[:T]/g, '-')}-${f.of.filter}.fits`;
    a.click();
    URL.revokeObjectURL(a.href);
  } catch (e) {
    trouble.value = `This frame could not be saved: ${(e as Error).message}`;
  }
  saving.value = '';
}
const chip = computed(() => (club.rig ? `${club.rig.setup.camera.widthPx} × ${club.rig.setup.camera.heightPx}` : ''));
</script>

<template>
  <div class="stack" data-test="run-pictures">
    <p class="muted small">
      Drawn in this browser: the middle of the field, real stars where the camera looked, as wide, long and clouded as
      it told. A press on a picture saves it as FITS, to be looked through like any other.
    </p>
    <Checkbox v-model:checked="whole">Save the whole chip, {{ chip }} pixels, drawn then</Checkbox>
    <p v-if="saving" class="small" role="status">
      The frame of {{ clock(byId.get(saving)!.of.start, timeZone) }} is being drawn …
    </p>
    <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
    <div v-if="going.of" class="row">
      <ProgressBar class="bar" :done="going.done" :goal="going.of" />
      <span class="small">{{ going.done }} of {{ going.of }} drawn</span>
      <Button size="small" @click="stopped = true">Stop</Button>
    </div>
    <ul v-if="drawn.length" class="sheet">
      <li v-for="d in drawn" :key="d.id">
        <button type="button" :class="{ out: !byId.get(d.id)?.of.accepted }" @click="save(d.id)">
          <TonePicture
            :picture="d.small"
            :stretch="{ whiteSigma: 32, times: 1, above: 0 }"
            :name="`Frame of ${clock(byId.get(d.id)!.of.start, timeZone)}, ${byId.get(d.id)!.of.filter}: save as FITS`"
          />
          <span class="small mono"
            >{{ clock(byId.get(d.id)!.of.start, timeZone) }} {{ byId.get(d.id)!.of.filter
            }}{{ byId.get(d.id)!.of.accepted ? '' : ' ✕' }}</span
          >
        </button>
      </li>
    </ul>
    <p v-if="!going.of && drawn.length < frames.length">
      <Button @click="draw"
        >{{ drawn.length ? 'Draw the next' : 'Draw' }} {{ Math.min(AT_ONCE, frames.length - drawn.length) }} of
        {{ frames.length }}</Button
      >
    </p>
    <p v-if="!frames.length" class="muted">No frame was taken.</p>
  </div>
</template>

<style scoped>
.bar {
  width: 160px;
}
.sheet {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 8px;
}
button {
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--surface);
  color: var(--ink);
  padding: 4px;
  width: 100%;
  cursor: pointer;
}
.out {
  border-color: var(--bad);
}
</style>
