import { phrase, type Phrase } from '../phrases/index.ts';
import type { RigSetup } from '../rig/index.ts';

/** An assumed number and how far it could move the balance. */
export interface Assumption {
  part: string;
  what: 'mass' | 'place' | 'saddle';
  /** To either side, kg or mm. */
  spread: number;
  /** Largest change of a moment about either axis within the spread [kg·mm]. */
  momentKgMm: number;
}

/**
 * The assumed values of a rig by what they are worth: the one to measure first stands first. Each is moved alone by its
 * own spread; the others stay.
 */
export function assumptions(setup: RigSetup): Assumption[] {
  const found: Assumption[] = [];
  for (const p of setup.placed) {
    if (p.placeFrom?.kind === 'assumed' && p.placeFrom.spread)
      found.push({
        part: p.name,
        what: 'place',
        spread: p.placeFrom.spread,
        momentKgMm: p.massKg * p.placeFrom.spread,
      });
    if (p.massFrom?.kind === 'assumed' && p.massFrom.spread)
      found.push({
        part: p.name,
        what: 'mass',
        spread: p.massFrom.spread,
        momentKgMm: p.massFrom.spread * Math.max(Math.abs(p.xMm), Math.hypot(p.yMm, p.zMm)),
      });
  }
  const saddle = setup.saddle?.from;
  if (saddle?.kind === 'assumed' && saddle.spread)
    found.push({
      part: 'saddle',
      what: 'saddle',
      spread: saddle.spread,
      momentKgMm: saddle.spread * setup.placed.reduce((s, p) => s + p.massKg, 0),
    });
  return found.sort((a, b) => b.momentKgMm - a.momentKgMm);
}

/** The assumed value that matters most, in words; null when nothing is assumed. */
export function assumptionPhrase(setup: RigSetup): Phrase | null {
  const most = assumptions(setup)[0];
  if (!most) return null;
  const values = { name: most.part, momentKgCm: most.momentKgMm / 10 };
  return most.what === 'mass'
    ? phrase('assumed.mass', { ...values, spreadKg: most.spread })
    : phrase(most.what === 'saddle' ? 'assumed.saddle' : 'assumed.place', { ...values, spreadMm: most.spread });
}

/** Parts whose mass or place nobody vouched for: no spread is known for them, which is not the same as none. */
export const unsaidPhrase = (setup: RigSetup): Phrase | null => {
  const parts = setup.placed.filter((p) => !p.massFrom || !p.placeFrom).length;
  return parts > 0 ? phrase('assumed.unsaid', { parts }) : null;
};
