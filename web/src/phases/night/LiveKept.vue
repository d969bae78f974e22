<script setup lang="ts">
import { api, type KeptFrame } from '@keen/contract';
import type { SmallPicture } from '@keen/core/frames';
import { figure } from '@keen/core/quantities';
import { useIntervalFn } from '@vueuse/core';
import { computed, shallowRef, watch } from 'vue';
import { call, pathOf } from '../../api/client.ts';
import { questions } from '../../api/questions.ts';
import { useAnswer } from '../../common/answer.ts';
import TonePicture from '../../common/TonePicture.vue';
import WhenThere from '../../common/WhenThere.vue';
import { clock } from '../../common/times.ts';

/** The frames of a run as the server keeps them: the last few as pictures, each of them as a file. */
const props = defineProps<{
  runId: string;
  /** How many there are, with those of a second camera. */
  frames: number;
  timeZone: string;
  /** Equipment elsewhere, by its name; empty: stand-ins. */
  bridge: string;
}>();
const kept = useAnswer('frames', () => questions.liveRunFrames(props.runId));
/** A frame is drawn and measured after it was taken: it is asked for until it is there, or nothing comes any more [ms]. */
const AGAIN_MS = 2500;
/** So often in a row without another frame. */
const MOST_TRIES = 12;
const there = computed(() => kept.value.value?.frames ?? []);
let [tries, had] = [0, -1];
useIntervalFn(() => {
  const has = there.value.length;
  tries = has === had ? tries + 1 : 0;
  had = has;
  if (kept.value.value?.days && has < props.frames && tries < MOST_TRIES) void kept.load();
}, AGAIN_MS);
watch(
  () => props.frames,
  () => (tries = 0),
);
/** Pictures shown. */
const SHOWN = 8;
const last = computed(() =>
  there.value
    .filter((f) => f.kept)
    .toSorted((a, b) => (a.start < b.start ? -1 : a.start > b.start ? 1 : 0))
    .slice(-SHOWN),
);
const keyOf = ({ n, second }: KeptFrame) => `${second ? 'second ' : ''}${n}`;
const pictures = shallowRef<ReadonlyMap<string, SmallPicture>>(new Map());
watch(
  last,
  async (now) => {
    for (const f of now) {
      if (pictures.value.has(keyOf(f))) continue;
      const got = await call(api.liveRunPicture, {
        params: { id: props.runId, n: f.n },
        query: f.second ? { second: 'true' } : {},
      });
      if (!got.ok) continue;
      const { widthPx, heightPx, tones } = got.value;
      const bytes = Uint8Array.from(atob(tones), (c) => c.charCodeAt(0));
      pictures.value = new Map([...pictures.value, [keyOf(f), { widthPx, heightPx, tones: bytes }]]);
    }
  },
  { immediate: true },
);
const megabytes = computed(() => there.value.reduce((s, f) => s + f.bytes, 0) / 1e6);
const missing = computed(() => there.value.filter((f) => !f.kept));
const fileOf = (f: KeptFrame) =>
  `${pathOf(api.liveRunFile, { id: props.runId, n: f.n })}${f.second ? '?second=true' : ''}`;
const nameOf = (f: KeptFrame) =>
  `${f.second ? 'Second camera, frame' : 'Frame'} of ${clock(f.start, props.timeZone)}, ${f.filter}${f.hfdPx === null ? '' : `, HFD ${figure(f.hfdPx, 2)} px on the file`}: save as FITS`;
</script>

<template>
  <section class="panel stack" data-test="live-kept">
    <h2>Frames kept</h2>
    <WhenThere :of="[kept]">
      <p v-if="kept.value.value?.days === null" class="muted small">
        This server keeps none: no folder is named for them.
      </p>
      <p v-else-if="bridge && frames && there.length === 0" class="muted small">
        {{ bridge }} has given none: it keeps its own.
      </p>
      <template v-else>
        <p class="small muted">
          {{ there.length - missing.length }} of {{ frames }} as FITS, {{ figure(megabytes, 1) }} MB, for
          {{ kept.value.value?.days }} days;
          {{ bridge ? `as ${bridge} gave them` : 'drawn as the stand-in camera saw them' }}, and measured on the file. A
          press saves one.
        </p>
        <p v-if="missing.length" class="level-caution small" role="status">
          {{ missing.length }} {{ missing.length === 1 ? 'is' : 'are' }} missing: {{ missing[0]!.problem }}.
        </p>
        <ul v-if="last.length" class="sheet">
          <li v-for="f in last" :key="keyOf(f)">
            <a :href="fileOf(f)" :aria-label="nameOf(f)" :title="nameOf(f)" download>
              <TonePicture
                v-if="pictures.get(keyOf(f))"
                :picture="pictures.get(keyOf(f))!"
                :stretch="{ whiteSigma: 32, times: 1, above: 0 }"
                :name="nameOf(f)"
              />
              <span class="small mono">{{ clock(f.start, timeZone) }} {{ f.filter }}{{ f.second ? ', 2nd' : '' }}</span>
            </a>
          </li>
        </ul>
      </template>
    </WhenThere>
  </section>
</template>

<style scoped>
.sheet {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(120px, 1fr));
  gap: 8px;
}
a {
  display: grid;
  gap: 2px;
  color: inherit;
}
</style>
