<script setup lang="ts">
import type { Twilight, Watches } from '@keen/core/sequence';
import PickOne from './PickOne.vue';
import QuantityInput from './QuantityInput.vue';

/** Rules that are looked at all night, and what is then done. */
const props = defineProps<{ watches: Watches; off: boolean }>();
const emit = defineEmits<{ change: [watches: Watches] }>();
const change = (more: Partial<Watches>) => emit('change', { ...props.watches, ...more });
const SUN: { value: Twilight | 'none'; label: string }[] = [
  { value: 'none', label: 'legs end by their own hours' },
  { value: 'astronomical', label: 'at astronomical dawn every leg ends' },
  { value: 'nautical', label: 'at nautical dawn every leg ends' },
  { value: 'civil', label: 'at civil dawn every leg ends' },
  { value: 'sunset', label: 'at sunrise every leg ends' },
];
/** Limits of the air, each with what is done beyond it. */
const AIR = [
  { key: 'wind', title: 'Wind', label: 'Not above', dimension: 'speed', unit: undefined, min: 1, max: 40 },
  { key: 'damp', title: 'Damp', label: 'Humidity not above', dimension: 'number', unit: '%', min: 30, max: 100 },
] as const;
type Air = (typeof AIR)[number]['key'];
const THEN = [
  { value: 'wait', label: 'close, open when it is well below' },
  { value: 'close', label: 'close for the night' },
];
const limitOf = (key: Air) => (key === 'wind' ? props.watches.wind?.aboveMS : props.watches.damp?.abovePercent) ?? null;
const thenOf = (key: Air) => props.watches[key]?.then ?? 'wait';
function setLimit(key: Air, limit: number | null) {
  if (key === 'wind') change({ wind: limit === null ? null : { aboveMS: limit, then: thenOf(key) } });
  else change({ damp: limit === null ? null : { abovePercent: limit, then: thenOf(key) } });
}
function setThen(key: Air, then: 'wait' | 'close') {
  if (key === 'wind') change({ wind: { ...props.watches.wind!, then } });
  else change({ damp: { ...props.watches.damp!, then } });
}
</script>

<template>
  <div class="stack" data-test="watches">
    <div>
      <h3>Cloud</h3>
      <p class="muted small">
        Guiding stops and the shutter stays closed while it lasts; then the object is centred anew.
      </p>
      <QuantityInput
        :model-value="watches.cloudClosesAfterMin"
        dimension="number"
        unit="min"
        label="Close the night after"
        optional
        :decimals="0"
        :min="5"
        :max="600"
        :step="15"
        width="120px"
        :disabled="off"
        @update:model-value="change({ cloudClosesAfterMin: $event ?? null })"
      />
      <p class="muted small">Empty: wait until the end. A rehearsal plays this rule.</p>
    </div>
    <div>
      <h3>Pointing</h3>
      <QuantityInput
        :model-value="watches.recentreAboveArcmin"
        dimension="number"
        unit="′"
        label="Centre again when off by"
        optional
        :decimals="1"
        :min="0.2"
        :max="60"
        :step="0.5"
        width="120px"
        :disabled="off"
        @update:model-value="change({ recentreAboveArcmin: $event ?? null })"
      />
      <p class="muted small">
        Somebody knocks a tripod, a ring slips: the frame tells, the next one is in place again.
      </p>
    </div>
    <div v-for="a in AIR" :key="a.key">
      <h3>{{ a.title }}</h3>
      <div class="row">
        <QuantityInput
          :model-value="limitOf(a.key)"
          :dimension="a.dimension"
          :unit="a.unit"
          :label="a.label"
          optional
          :decimals="0"
          :min="a.min"
          :max="a.max"
          width="120px"
          :disabled="off"
          @update:model-value="setLimit(a.key, $event ?? null)"
        />
        <PickOne
          v-if="watches[a.key]"
          :value="watches[a.key]!.then"
          :label="`Then, with ${a.title.toLowerCase()}`"
          :options="THEN"
          :disabled="off"
          @update:value="setThen(a.key, $event as 'wait' | 'close')"
        />
      </div>
    </div>
    <div>
      <h3>The Sun</h3>
      <PickOne
        :value="watches.sunStops ?? 'none'"
        class="sun"
        label="When the Sun comes"
        :options="SUN"
        :disabled="off"
        @update:value="change({ sunStops: $event === 'none' ? null : ($event as Twilight) })"
      />
      <QuantityInput
        :model-value="watches.sunDistanceDeg"
        dimension="number"
        unit="°"
        label="While it is up, nearer than this to it never"
        :decimals="0"
        :min="10"
        :max="90"
        :step="5"
        width="120px"
        :disabled="off"
        @update:model-value="$event !== undefined && $event !== null && change({ sunDistanceDeg: $event })"
      />
      <p class="muted small">
        Never point at or near the Sun without a full-aperture solar filter; the mount’s own limits always win.
      </p>
    </div>
    <p class="muted small">
      Focus by time and temperature is a rule of each leg. A rehearsal plays all of these; the night as it is drawn here
      cannot know when wind or cloud will come.
    </p>
  </div>
</template>

<style scoped>
h3 {
  margin-bottom: 2px;
}
.sun {
  width: 290px;
}
</style>
