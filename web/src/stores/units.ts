import type { UnitSystem } from '@keen/core/quantities';
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
    temperature: (c: number, decimals = 1) => formatTemperature(c, system.value, decimals),
  };
});
