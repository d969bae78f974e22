import type { UnitSystem } from '@keen/core/quantities';
import type { Verdict } from '@keen/core';
import { words, type Phrase } from '@keen/core/phrases';
import { formatLength, formatMass, formatTemperature } from '@keen/core/quantities';
import { useLocalStorage } from '@vueuse/core';
import { defineStore } from 'pinia';

/** Units shown; what is stored never changes. */
export const useUnits = defineStore('units', () => {
  const system = useLocalStorage<UnitSystem>('keen.units', 'metric');
  return {
    system,
    mass: (kg: number) => formatMass(kg, system.value),
    length: (mm: number, decimals = 0) => formatLength(mm, system.value, decimals),
    /** Phrases of the book in the chosen units. */
    say: (phrases: Phrase | readonly Phrase[], between = ' ') => words(phrases, system.value, between),
    /** A verdict in the chosen units; one without codes is as it came. */
    verdict: (v: Verdict) =>
      (v.said?.length ? words(v.said, system.value) : v.text).replace(/(^|[\s(])-(?=\d)/g, '$1−'),
    temperature: (c: number, decimals = 1) => formatTemperature(c, system.value, decimals),
  };
});
