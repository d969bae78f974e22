import { ridesOf, type RigSetup } from '../rig/index.ts';
import type { SolveOutput } from './solve.ts';

const tenths = (v: number) => Math.round(v * 10) / 10;
const hundredths = (v: number) => Math.round(v * 100) / 100;

/** Everything on the tube turned about the tube's own line, places it could be moved to with it; the setup itself is changed. */
export function turnTube(setup: RigSetup, deg: number): void {
  const tube = setup.placed.find((p) => p.kind === 'tube');
  if (!tube) return;
  const { xMm: ax, yMm: ay } = tube;
  const rad = (deg * Math.PI) / 180;
  const turn = (p: { xMm: number; yMm: number }) => {
    const [u, v] = [p.xMm - ax, p.yMm - ay];
    p.xMm = hundredths(ax + u * Math.cos(rad) - v * Math.sin(rad));
    p.yMm = hundredths(ay + u * Math.sin(rad) + v * Math.cos(rad));
  };
  const turning = setup.placed.filter((p) => ridesOf(p) === 'tube');
  turning.forEach(turn);
  const names = new Set(turning.map((p) => p.name));
  for (const r of setup.relocations) if (names.has(r.mass)) r.to.forEach(turn);
}

/**
 * The tube slid in its saddle with everything on it, as far as its ends allow; marks and what is left of its reach go with it. The
 * setup itself is changed.
 */
export function slideTube(setup: RigSetup, dzMm: number): void {
  const { slide } = setup;
  const shift = Math.min(slide.maxMm, Math.max(slide.minMm, dzMm));
  const moved = [...setup.placed, ...setup.trimPoints, ...setup.relocations.flatMap((r) => r.to)];
  for (const p of [...moved, ...(setup.saddle?.marks ?? []).filter((m) => !m.fixed)]) p.zMm = hundredths(p.zMm + shift);
  slide.markMm = hundredths(slide.markMm + shift);
  slide.minMm = hundredths(slide.minMm - shift);
  slide.maxMm = hundredths(slide.maxMm - shift);
}

/**
 * A rig as it stands once the solver's moves are made: relocations (the old place becomes the free one), the tube turned, trims put on, the
 * tube slid with everything on it, the weights at their new marks. The given setup is not changed.
 */
export function carryOut(setup: RigSetup, s: SolveOutput): RigSetup {
  const next = structuredClone(setup);
  for (const m of s.moves) {
    const part = next.placed.find((q) => q.name === m.mass);
    const place = next.relocations.find((r) => r.mass === m.mass)?.to.find((q) => q.name === m.to);
    if (!part || !place) continue;
    const from = { name: 'where it was', xMm: part.xMm, yMm: part.yMm, zMm: part.zMm };
    Object.assign(part, { xMm: place.xMm, yMm: place.yMm, zMm: place.zMm });
    Object.assign(place, from);
  }
  if (s.turnDeg !== 0) turnTube(next, s.turnDeg);
  for (const t of s.trim) {
    const p = next.trimPoints.find((q) => q.name === t.point);
    if (!p) continue;
    let name = `trim, ${p.name}`;
    while (next.placed.some((q) => q.name === name)) name += '′';
    next.placed.push({
      name,
      kind: 'accessory',
      massKg: Math.round(t.massKg * 1000) / 1000,
      xMm: p.xMm,
      yMm: p.yMm,
      zMm: p.zMm,
      lengthMm: 35,
      widthMm: 35,
    });
  }
  slideTube(next, tenths(s.slideMm));
  next.counterweights = s.counterweights.map((w) => ({ massKg: w.massKg, distanceMm: Math.round(w.distanceMm) }));
  return next;
}
