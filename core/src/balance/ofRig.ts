import type { z } from 'zod';
import { phrase, type Phrase } from '../phrases/index.ts';
import { ridesOf, type RigSetup } from '../rig/index.ts';
import type { AssessInput, SolveInput as SolveSchema } from './schemas.ts';

/** What `balance.assess` takes, for a rig as it stands at a site. */
export const assessInputOf = (setup: RigSetup, latitudeDeg: number): AssessInput => ({
  masses: setup.placed.map(({ name, massKg, xMm, yMm, zMm }) => ({ name, massKg, xMm, yMm, zMm })),
  counterweights: setup.counterweights.map(({ massKg, distanceMm }) => ({ massKg, distanceMm })),
  shaft: { massKg: setup.shaft.massKg, centreMm: setup.shaft.centreMm },
  latitudeDeg,
  ratedLoadKg: setup.mount.ratedLoadKg,
});

/** What `balance.solve` takes, with the rig's own slide, shaft, weights and trim points. */
export const solveInputOf = (setup: RigSetup, latitudeDeg: number): z.input<typeof SolveSchema> => ({
  ...assessInputOf(setup, latitudeDeg),
  slide: { minMm: setup.slide.minMm, maxMm: setup.slide.maxMm },
  shaftRangeMm: { min: setup.shaft.minMm, max: setup.shaft.maxMm },
  counterweightStock: setup.counterweightStock,
  trimPoints: setup.trimPoints,
  trimStockKg: setup.trimStockKg,
  relocations: setup.relocations ?? [],
  biasNm: setup.biasNm ?? 0,
  ...ringTurnOf(setup),
});

/** A side moment of what turns with the tube below this is not worth a turn [kg·mm]. */
const WORTH_TURNING_KGMM = 50;

/** A tube held by rings may be turned in them, where something on it stands to one side. */
function ringTurnOf(setup: RigSetup): Pick<z.input<typeof SolveSchema>, 'ringTurn'> {
  const tube = setup.placed.find((p) => p.kind === 'tube');
  if (!tube || !setup.placed.some((p) => p.kind === 'rings')) return {};
  const turning = setup.placed.filter((p) => ridesOf(p) === 'tube');
  const aside = turning.reduce((s, p) => s + p.massKg * Math.hypot(p.xMm - tube.xMm, p.yMm - tube.yMm), 0);
  if (aside < WORTH_TURNING_KGMM) return {};
  return { ringTurn: { axisXMm: tube.xMm, axisYMm: tube.yMm, masses: turning.map((p) => p.name) } };
}

/** The masses of a rig in another of its configurations: some parts off, some on. */
export const variantSetup = (setup: RigSetup, name: string): RigSetup => {
  const v = (setup.variants ?? []).find((x) => x.name === name);
  if (!v) return setup;
  const off = new Set(v.without);
  return { ...setup, placed: [...setup.placed.filter((p) => !off.has(p.name)), ...v.extra] };
};

/** Share of the tube that may stand free beyond the rings; common practice, no source. */
const FREE_SHARE = 0.45;

/** A tube that reaches far beyond narrowly set rings flexes: null when it does not. */
export function overhangCaution(setup: RigSetup): Phrase | null {
  const tube = setup.placed.find((p) => p.kind === 'tube');
  const rings = setup.placed.find((p) => p.kind === 'rings');
  if (!tube || !rings) return null;
  const free = Math.max(
    tube.zMm + tube.lengthMm / 2 - (rings.zMm + rings.lengthMm / 2),
    rings.zMm - rings.lengthMm / 2 - (tube.zMm - tube.lengthMm / 2),
  );
  return free > FREE_SHARE * tube.lengthMm ? phrase('balance.overhang', { freeMm: free, name: tube.name }) : null;
}
