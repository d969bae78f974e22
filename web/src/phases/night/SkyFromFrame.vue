<script setup lang="ts">
import { readBackground, readFrame, type ReadFrame } from '@keen/core/exchange';
import { matchFilter } from '@keen/core/frames';
import { figure } from '@keen/core/quantities';
import { eveningDate } from '@keen/core/sky';
import { Button } from 'ant-design-vue';
import { computed, ref, shallowRef } from 'vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';

/** The sky as a frame of one’s own shows it: background less bias, in electrons a second and pixel. The picture stays in this browser. */
const props = defineProps<{ filters: readonly string[]; timeZone: string; widthPx: number }>();
const emit = defineEmits<{ use: [filter: string, ePerSPx: number, on: string] }>();
/** Largest file taken into memory [bytes]: 61 megapixels in 32 bit, and its header. */
const MOST_BYTES = 260e6;
const picture = shallowRef<{ name: string; level: number; frame: ReadFrame } | null>(null);
const bias = ref<number | null>(null);
const ePerCount = ref<number | null>(null);
const filter = ref('');
const trouble = ref('');

async function levelOf(file: File) {
  if (file.size > MOST_BYTES) throw new Error(`${file.name} is larger than any single picture`);
  const got = readBackground(new Uint8Array(await file.arrayBuffer()));
  if (!got.ok) throw new Error(`${file.name}: ${got.message}`);
  return got.value;
}
async function take(e: Event, what: 'light' | 'bias') {
  const field = e.target as HTMLInputElement;
  const file = field.files?.[0];
  field.value = '';
  if (!file) return;
  trouble.value = '';
  try {
    const { level, cards } = await levelOf(file);
    if (what === 'bias') {
      bias.value = Math.round(level * 100) / 100;
      return;
    }
    const frame = readFrame(cards);
    picture.value = { name: file.name, level, frame };
    filter.value = matchFilter(frame.filter, props.filters, {}) ?? props.filters[0] ?? '';
    const gain = cards.get('EGAIN');
    if (typeof gain === 'number' && gain > 0) ePerCount.value = gain;
  } catch (err) {
    trouble.value = (err as Error).message;
  }
}
const seconds = computed(() => picture.value?.frame.exposureS ?? 0);
const found = computed(() => {
  const l = picture.value;
  if (!l || bias.value === null || !ePerCount.value || !(seconds.value > 0)) return null;
  return ((l.level - bias.value) * ePerCount.value) / seconds.value;
});
/** What still stands against using it. */
const against = computed(() => {
  const l = picture.value;
  if (!l) return '';
  if (!(seconds.value > 0)) return 'Its header has no exposure.';
  if (l.frame.binning > 1)
    return `It was read out ${l.frame.binning} × ${l.frame.binning}: a frame without binning is wanted.`;
  if (l.frame.widthPx !== null && l.frame.widthPx > 1.02 * props.widthPx)
    return `It is ${l.frame.widthPx} pixels wide, this camera has ${props.widthPx}.`;
  if (found.value !== null && found.value <= 0) return 'Its background lies at or below the bias.';
  return '';
});
function use() {
  const { startedAt } = picture.value!.frame;
  const on = eveningDate(props.timeZone, startedAt ? Date.parse(startedAt) : Date.now());
  emit('use', filter.value, Number(found.value!.toPrecision(4)), on);
}
</script>

<template>
  <details data-test="sky-from-frame">
    <summary>Sky from a frame of your own</summary>
    <div class="stack">
      <div class="row">
        <label class="take"
          ><input
            type="file"
            accept=".fits,.fit,.fts"
            class="visually-hidden"
            data-test="light-file"
            @change="take($event, 'light')"
          />
          {{ picture ? picture.name : 'A light frame, FITS' }}</label
        >
        <label class="take"
          ><input
            type="file"
            accept=".fits,.fit,.fts"
            class="visually-hidden"
            data-test="bias-file"
            @change="take($event, 'bias')"
          />
          A bias frame</label
        >
      </div>
      <div class="row">
        <QuantityInput
          v-model="bias"
          dimension="number"
          label="Bias level"
          unit="counts"
          optional
          :decimals="1"
          :min="-1e5"
          :max="1e6"
          width="120px"
        />
        <QuantityInput
          v-model="ePerCount"
          dimension="number"
          label="A count stands for"
          unit="e⁻"
          optional
          :decimals="3"
          :min="0.0001"
          :max="1000"
          width="120px"
        />
        <PickOne
          v-if="picture"
          v-model:value="filter"
          label="Through"
          shown
          :options="filters.map((f) => ({ value: f, label: f }))"
        />
      </div>
      <p v-if="trouble" class="level-bad small" role="alert">{{ trouble }}</p>
      <p v-if="against" class="level-caution small">{{ against }}</p>
      <p v-if="picture && found !== null && !against" class="row small" data-test="found">
        <span
          >Background {{ figure(picture.level, 1) }} counts in {{ figure(seconds, 0) }} s:
          <strong>{{ figure(found, 3) }} e⁻/s</strong> a pixel, dark current with it.</span
        >
        <Button size="small" @click="use">Use it for {{ filter }}</Button>
      </p>
      <p v-else-if="picture && !against" class="muted small">
        Background {{ figure(picture.level, 1) }} counts. The bias level and what a count stands for are still wanted.
      </p>
    </div>
  </details>
</template>

<style scoped>
.stack {
  margin-top: 6px;
}
.take {
  cursor: pointer;
  color: var(--accent);
  text-decoration: underline;
}
.take:focus-within {
  outline: 2px solid var(--accent);
}
</style>
