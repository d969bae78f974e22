<script setup lang="ts">
import { parsePlace } from '@keen/core/quantities';
import { Button, Input } from 'ant-design-vue';
import { computed, ref } from 'vue';
import HorizonPicture from '../../common/HorizonPicture.vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import { SKIES } from '../../common/skies.ts';
import { proposedZone } from '../../common/timeZones.ts';
import { FREE_ABOVE, type useFirstEvening } from './useFirstEvening.ts';

/** Latitude and longitude in any form, the zone and sky proposed, the horizon free above 20° until it is drawn. */
const props = defineProps<{ evening: ReturnType<typeof useFirstEvening> }>();
const place = computed(() => props.evening.draft.value.place);
const trouble = ref('');
const zones = Intl.supportedValuesOf('timeZone').map((z) => ({ value: z, label: z }));

async function put(latitudeDeg: number, longitudeDeg: number) {
  Object.assign(place.value, { latitudeDeg, longitudeDeg });
  const zone = await proposedZone(latitudeDeg, longitudeDeg);
  // a later place wins over a slower answer
  if (place.value.latitudeDeg === latitudeDeg && place.value.longitudeDeg === longitudeDeg) place.value.timeZone = zone;
}
function read(typed: string) {
  place.value.typed = typed;
  const got = parsePlace(typed);
  trouble.value = got.ok || typed.trim() === '' ? '' : got.message;
  if (got.ok) void put(got.place.latitudeDeg, got.place.longitudeDeg);
  else Object.assign(place.value, { latitudeDeg: null, longitudeDeg: null });
}
const asking = ref(false);
function locate() {
  asking.value = true;
  navigator.geolocation.getCurrentPosition(
    ({ coords }) => {
      asking.value = false;
      trouble.value = '';
      // a tenth of a minute of arc is near enough, and tells less
      const [lat, lon] = [coords.latitude, coords.longitude].map((v) => Math.round(v * 1000) / 1000) as [
        number,
        number,
      ];
      place.value.typed = `${lat}, ${lon}`;
      if (coords.altitude) place.value.elevationM = Math.round(coords.altitude);
      void put(lat, lon);
    },
    (e) => {
      asking.value = false;
      trouble.value = `This browser gives no place (${e.message || 'refused'}); type it above, or paste it from a map.`;
    },
    { timeout: 15_000 },
  );
}
const mayLocate = 'geolocation' in navigator && window.isSecureContext;
const free = computed(() => JSON.stringify(place.value.horizon) === JSON.stringify(FREE_ABOVE));
</script>

<template>
  <label class="field">
    Latitude and longitude, typed or pasted from a map
    <Input
      :value="place.typed"
      size="large"
      placeholder="47.07, 15.44"
      :status="trouble ? 'error' : undefined"
      aria-describedby="place-trouble"
      @update:value="read(String($event ?? ''))"
    />
  </label>
  <p v-if="trouble" id="place-trouble" class="level-bad small" role="alert">{{ trouble }}</p>
  <div v-if="mayLocate" class="row small">
    <Button size="small" :loading="asking" @click="locate">Ask this browser</Button>
    <span class="muted">It asks you first; the place stays in your own database.</span>
  </div>
  <div class="grid">
    <PickOne
      v-model:value="place.timeZone"
      label="Time zone (proposed)"
      shown
      show-search
      :options="zones"
      placeholder="follows from the place"
    />
    <QuantityInput
      v-model="place.elevationM"
      dimension="distance"
      label="Height above the sea"
      :decimals="0"
      :step="10"
      :min="-450"
      :max="6500"
    />
    <PickOne
      v-model:value="place.skyMagArcsec2"
      label="Night sky"
      shown
      :options="SKIES.map((s) => ({ value: s.mag, label: `${s.words} (${s.mag.toFixed(1)} mag/arcsec²)` }))"
    />
    <label class="field">Name of the place<Input v-model:value="place.name" placeholder="Home" /></label>
  </div>
  <div class="row spread">
    <h3>Horizon</h3>
    <span class="small muted">{{
      free ? 'Free above 20° for now. Draw roofs and trees with the mouse or a finger.' : 'As drawn.'
    }}</span>
    <Button v-if="!free" size="small" @click="place.horizon = FREE_ABOVE">Free above 20°</Button>
  </div>
  <HorizonPicture :horizon="place.horizon ?? []" :limit-deg="30" editable @update:horizon="place.horizon = $event" />
</template>

<style scoped>
.field {
  display: grid;
  gap: 2px;
  font-size: 13px;
  color: var(--ink-2);
}
.grid {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 10px 14px;
  align-items: end;
}
@media (max-width: 560px) {
  .grid {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
