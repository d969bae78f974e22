import type { UnitSystem } from '@keen/core/quantities';
import type { Verdict } from '@keen/core/calculation';
import { inReadersUnit, quantityText, readersFigure, sentences, unitOf, words, type Phrase } from '@keen/core/phrases';
import { formatTemperature } from '@keen/core/quantities';
import { defineStore } from 'pinia';
import { computed } from 'vue';
import { z } from 'zod';
import { useStored } from '../common/stored.ts';
import { useSession } from './session.ts';

/** Units shown; what is stored never changes. */
export const useUnits = defineStore('units', () => {
  const session = useSession();
  /** What was chosen at this browser; empty: as the club begins. */
  const chosen = useStored<UnitSystem | ''>('keen.units', z.enum(['metric', 'imperial', '']), '');
  const system = computed<UnitSystem>({
    get: () => chosen.value || session.settings.units,
    set: (now) => (chosen.value = now),
  });
  const shown = (name: string, value: number, decimals: number, signed = false) =>
    quantityText(name, value, system.value, { decimals, signed });
  return {
    system,
    change: () => (system.value = system.value === 'metric' ? 'imperial' : 'metric'),
    mass: (kg: number, decimals = 2) => shown('massKg', kg, decimals),
    length: (mm: number, decimals = 0) => shown('lengthMm', mm, decimals),
    torque: (nm: number, decimals = 2) => shown('torqueNm', nm, decimals),
    /** A static moment: mass times the distance from its axis. */
    moment: (kgMm: number, signed = false) => shown('momentKgCm', kgMm / 10, 1, signed),
    /** A difference of temperatures. */
    degrees: (c: number, decimals = 1) => shown('changeDeltaC', c, decimals),
    signedLength: (mm: number, decimals = 0) => shown('lengthMm', mm, decimals, true),
    signedMass: (kg: number, decimals = 2) => shown('massKg', kg, decimals, true),
    signedTorque: (nm: number, decimals = 2) => shown('torqueNm', nm, decimals, true),
    signedDegrees: (c: number, decimals = 1) => shown('changeDeltaC', c, decimals, true),
    inertia: (kgM2: number) => shown('inertiaKgM2', kgM2, 2),
    slope: (stepsPerC: number, decimals = 1, signed = true) => shown('slopeStepsPerC', stepsPerC, decimals, signed),
    /** The unit for the head of a column or an axis, by a name with its suffix; and the bare figure under it. */
    unitOf: (name: string) => unitOf(name, system.value),
    bare: (name: string, value: number) => inReadersUnit(name, value, system.value),
    /** A figure of a working, with its metric unit. */
    figure: (value: number, unit: string) => readersFigure(value, unit, system.value),
    /** A value by a name that ends in its unit, as in the book. */
    quantity: (name: string, value: number, decimals?: number) =>
      quantityText(name, value, system.value, decimals === undefined ? {} : { decimals }),
    /** Phrases of the book in the chosen units. */
    say: (phrases: Phrase | readonly Phrase[], between = ' ') => words(phrases, system.value, between),
    /** Phrases as sentences, each with a capital. */
    sentences: (phrases: readonly Phrase[]) => sentences(phrases, system.value),
    /** A verdict in the chosen units; one without codes is as it came. */
    verdict: (v: Verdict) =>
      (v.phrases?.length ? sentences(v.phrases, system.value) : v.text).replace(/(^|[\s(])-(?=\d)/g, '$1−'),
    temperature: (c: number, decimals = 1) => formatTemperature(c, system.value, decimals),
  };
});
