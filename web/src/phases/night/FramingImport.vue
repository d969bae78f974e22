<script setup lang="ts">
import { useUnits } from '../../stores/units.ts';
import { phrase } from '@keen/core/phrases';
import {
  framingFromHeader,
  MAX_HEADER_BYTES,
  readFitsHeader,
  readPictureHeader,
  sameScale,
  type HeaderFraming,
} from '@keen/core/exchange';
import { figure, formatDec, formatRa } from '@keen/core/quantities';
import { Button } from 'ant-design-vue';
import { ref } from 'vue';

/** Takes a framing from a picture's FITS header: only the head of the file is read, nothing is sent anywhere. */
const props = defineProps<{ scaleArcsecPerPx: number }>();
const emit = defineEmits<{ take: [framing: HeaderFraming] }>();
const units = useUnits();
const field = ref<HTMLInputElement>();
const trouble = ref('');
const found = ref<HeaderFraming | null>(null);
async function read(e: Event) {
  const file = (e.target as HTMLInputElement).files?.[0];
  found.value = null;
  trouble.value = '';
  if (!file) return;
  const start = new Uint8Array(await file.slice(0, MAX_HEADER_BYTES).arrayBuffer());
  const picture = readPictureHeader(start, file.size);
  // of a framing the header alone is wanted, whatever became of the pixels
  const header = picture.ok ? picture : readFitsHeader(start);
  const got = header.ok ? framingFromHeader(header.cards) : header;
  if (got.ok) found.value = (got as { framing: HeaderFraming }).framing;
  else trouble.value = `${file.name}: ${got.message}`;
  field.value!.value = '';
}
const foreign = (f: HeaderFraming) =>
  f.scaleArcsecPerPx !== null && !sameScale(f.scaleArcsecPerPx, props.scaleArcsecPerPx)
    ? units.say(phrase('framing.other-scale', { scaleArcsec: f.scaleArcsecPerPx, ownArcsec: props.scaleArcsecPerPx }))
    : '';
</script>

<template>
  <div class="stack import">
    <label class="row small">
      <span>From a picture’s FITS header</span>
      <input ref="field" type="file" accept=".fit,.fits,.fts" data-test="fits" @change="read" />
    </label>
    <p v-if="trouble" class="level-bad small" role="alert">{{ trouble }}</p>
    <template v-if="found">
      <p class="small">
        {{ found.object ?? 'Picture' }} at
        <span class="mono">{{ formatRa(found.raDeg) }} {{ formatDec(found.decDeg) }}</span>,
        {{
          found.angleDeg === null
            ? 'no solved angle in the header: the present one stays'
            : `top of the picture at ${figure(found.angleDeg, 1)}°${found.mirrored ? ', mirrored' : ''}`
        }}.
      </p>
      <p v-if="foreign(found)" class="level-caution small">{{ foreign(found) }}</p>
      <Button size="small" class="start" @click="(emit('take', found!), (found = null))">Take this framing</Button>
    </template>
  </div>
</template>

<style scoped>
.import {
  gap: 6px;
}
.start {
  justify-self: start;
}
</style>
