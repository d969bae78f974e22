import { nightFrame } from '@keen/core/sky';
import { defineStore } from 'pinia';
import { computed, watchEffect } from 'vue';
import { z } from 'zod';
import { useStored } from '../common/stored.ts';
import { LIGHTS, type Light } from '../theme/lights.ts';
import { useClub } from './club.ts';

export type LightChoice = 'automatic' | Light;

/** Which light the interface shows, and where the Sun stands at the site. */
export const useLight = defineStore('light', () => {
  const club = useClub();
  const choice = useStored<LightChoice>('keen.light', z.enum(['automatic', ...LIGHTS]), 'automatic');
  /** Read before the first paint, by `light.js`. */
  const shown = useStored<Light>('keen.light-shown', z.enum(LIGHTS), 'day');
  const frame = computed(() => (club.site ? nightFrame(club.site, club.tonight) : null));
  const sunAltitudeDeg = computed(() => {
    const f = frame.value;
    return f ? f.sky.sunAltitudeDeg(Math.min(f.to, Math.max(f.from, club.now))) : null;
  });
  /** True between the Sun's upper and lower transit: the day is going down. */
  const afternoon = computed(() => (frame.value ? club.now < frame.value.middle : true));
  const light = computed<Light>(() => {
    if (choice.value !== 'automatic') return choice.value;
    // until the site is known it stays as it was last shown
    if (sunAltitudeDeg.value === null) return shown.value;
    return sunAltitudeDeg.value > -0.8 ? 'day' : 'night';
  });
  watchEffect(() => {
    document.documentElement.dataset.light = light.value;
    shown.value = light.value;
  });
  const choose = (c: LightChoice) => (choice.value = c);
  return { choice, choose, light, sunAltitudeDeg, afternoon };
});
