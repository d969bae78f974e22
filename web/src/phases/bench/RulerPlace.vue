<script setup lang="ts">
import { placeFromRuler, rulerFromPlace } from '@keen/core/balance';
import type { PlacedPart, RigSetup, RulerReading } from '@keen/core/rig';
import { Modal } from 'ant-design-vue';
import dayjs from 'dayjs';
import { computed, ref, watch } from 'vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import WorkingFold from '../../common/WorkingFold.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { plainCopy } from '../../workers/index.ts';

/** A part's mass centre as a ruler on the mounted tube reaches it; the place follows, with its arithmetic. */
const props = defineProps<{ setup: RigSetup; part: PlacedPart | null }>();
const emit = defineEmits<{ close: [] }>();
const session = useSession();
const club = useClub();
const reading = ref<RulerReading | null>(null);
/** Where nobody measured the saddle, a usual one to begin with; it says so in the balance. */
function saddle() {
  props.setup.saddle ??= {
    xMm: 100,
    marks: [
      { name: 'bar’s front end', zMm: 150 },
      { name: 'bar’s rear end', zMm: -150 },
      { name: 'saddle’s middle', zMm: 0, fixed: true },
    ],
    from: { kind: 'assumed', spread: 20 },
  };
  return props.setup.saddle;
}
watch(
  () => props.part,
  (p) => (reading.value = p ? (p.ruler ? plainCopy(p.ruler) : rulerFromPlace(p, saddle())) : null),
);
const place = computed(() => {
  if (!reading.value || !props.setup.saddle) return null;
  try {
    return placeFromRuler(plainCopy(reading.value), plainCopy(props.setup.saddle));
  } catch {
    return null;
  }
});
const mark = computed(() => props.setup.saddle?.marks.find((m) => m.name === reading.value?.mark) ?? null);
function take() {
  const [p, at] = [props.part, place.value];
  if (!p || !at || !reading.value) return;
  Object.assign(p, {
    xMm: at.xMm,
    yMm: at.yMm,
    zMm: at.zMm,
    ruler: plainCopy(reading.value),
    placeFrom: {
      kind: 'measured',
      ...(session.member ? { by: session.member.name } : {}),
      at: dayjs(club.now).format('YYYY-MM-DD'),
    },
  });
  emit('close');
}
</script>

<template>
  <Modal
    :open="part !== null"
    :title="`Where the ${part?.name ?? ''} is, by ruler`"
    ok-text="Take this place"
    width="620px"
    :ok-button-props="{ disabled: !place }"
    @ok="take"
    @cancel="emit('close')"
  >
    <div v-if="reading && setup.saddle" class="stack">
      <p class="muted small">
        To the part’s own mass centre: balance it on an edge first, or take its middle. Lay the ruler along the bar,
        then from the saddle’s surface outward, then sideways from the tube’s middle.
      </p>
      <div class="grid">
        <PickOne
          v-model:value="reading.mark"
          label="From"
          shown
          :options="setup.saddle.marks.map((m) => ({ value: m.name, label: m.name }))"
        />
        <QuantityInput v-model="reading.alongMm" dimension="length" label="along the bar toward the camera end" />
        <QuantityInput v-model="reading.aboveSaddleMm" dimension="length" label="out from the saddle’s surface" />
        <QuantityInput v-model="reading.sidewaysMm" dimension="length" label="sideways (+ is the +y side)" />
      </div>
      <details>
        <summary class="small">The saddle and the mark themselves</summary>
        <div class="grid">
          <QuantityInput
            v-model="setup.saddle.xMm"
            dimension="length"
            label="saddle’s surface from the polar axis"
            :min="1"
            @update:model-value="setup.saddle.from = { kind: 'measured' }"
          />
          <QuantityInput
            v-if="mark"
            v-model="mark.zMm"
            dimension="length"
            :label="`${mark.name} before the declination axis`"
          />
        </div>
      </details>
      <WorkingFold v-if="place" :steps="place.working" />
    </div>
  </Modal>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px 14px;
  align-items: end;
}
summary {
  cursor: pointer;
  padding: 4px 0;
}
</style>
