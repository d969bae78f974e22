<script setup lang="ts">
import { FRAME_KEYWORDS, type FrameField, type KeywordMapping } from '@keen/core/exchange';
import PickOne from '../../common/PickOne.vue';

/** Which keyword of the headers means what: the usual ones by themselves, others chosen once and remembered here. */
const props = defineProps<{ keywords: readonly string[]; mapping: KeywordMapping }>();
const emit = defineEmits<{ map: [mapping: KeywordMapping] }>();
const WORDS: Record<FrameField, string> = {
  kind: 'Kind of frame',
  object: 'Object',
  ra: 'Right ascension',
  dec: 'Declination',
  filter: 'Filter',
  exposureS: 'Exposure',
  startedAt: 'Start (UTC)',
  setPointC: 'Set point',
  sensorC: 'Sensor temperature',
  gain: 'Gain',
  offset: 'Offset',
  binning: 'Binning',
  pixelUm: 'Pixel',
  focalLengthMm: 'Focal length',
  focuserPosition: 'Focuser position',
  focuserC: 'Focuser temperature',
  rotationDeg: 'Rotation',
  bayer: 'Colour cells',
};
const fields = Object.keys(WORDS) as FrameField[];
/** What is taken without a choice: the first usual keyword that these headers have. */
const usual = (f: FrameField) => FRAME_KEYWORDS[f].find((k) => props.keywords.includes(k)) ?? 'none found';
function choose(f: FrameField, keyword: string) {
  const next = { ...props.mapping };
  if (keyword) next[f] = keyword;
  else delete next[f];
  emit('map', next);
}
</script>

<template>
  <details class="panel" data-test="keywords">
    <summary>Which keyword means what</summary>
    <div class="grid">
      <PickOne
        v-for="f in fields"
        :key="f"
        shown
        show-search
        size="small"
        :label="WORDS[f]"
        :value="mapping[f] ?? ''"
        :options="[{ value: '', label: `as usual: ${usual(f)}` }, ...keywords.map((k) => ({ value: k, label: k }))]"
        @update:value="choose(f, String($event))"
      />
    </div>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
  font-weight: 600;
}
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(180px, 1fr));
  gap: 8px 14px;
  margin-top: 10px;
}
</style>
