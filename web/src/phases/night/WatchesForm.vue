<script setup lang="ts">
import type { Twilight, Watches } from '@keen/core/sequence';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';

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
      <h3>The Sun</h3>
      <PickOne
        :value="watches.sunStops ?? 'none'"
        class="sun"
        label="When the Sun comes"
        :options="SUN"
        :disabled="off"
        @update:value="change({ sunStops: $event === 'none' ? null : ($event as Twilight) })"
      />
      <p class="muted small">
        Never point at or near the Sun without a full-aperture solar filter; the mount’s own limits always win.
      </p>
    </div>
    <p class="muted small">
      Focus by time and temperature is a rule of each leg. Wind, humidity and a bumped telescope are not watched yet.
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
