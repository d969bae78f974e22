import type { SpokenVerdict } from '../calculation/index.ts';
import { makeVerdict, phrase, type PlainPhrase } from '../phrases/index.ts';
import { nearestLit } from './candidates.ts';
import { starsIn, windowPa, type Framed, type RingStep, type TurnMode } from './framing.ts';
import { turn } from '../sky/index.ts';

/** What an off-axis guider sees once the mount has flipped: tube, camera and prism have turned by half a turn on the sky. */
export interface AfterFlip {
  /** Where the window of the first panel stands then. */
  windowPaDeg: number;
  verdict: SpokenVerdict;
  /** The nearest angle, of what the mode turns, with a star on both sides of the meridian; null when it is fine or there is none. */
  turnTo: { angleDeg: number; offDeg: number } | null;
}

/**
 * The guide star of the other side of the meridian. A guide scope sees the same field, upside down: null.
 * @param ring  of the same framing and mode, by whole degrees
 */
export function afterFlip(
  f: Framed,
  mode: TurnMode,
  cameraDeg: number,
  guiderDeg: number,
  ring: readonly RingStep[],
): AfterFlip | null {
  if (f.view.kind !== 'off-axis') return null;
  const windowDeg = windowPa(f.view, f.panels[0]!.panel.angleDeg, guiderDeg + 180);
  const best = f.panels.map((_, i) => starsIn(f, i, guiderDeg + 180).find((c) => c.usable) ?? null);
  const weakest = best.reduce((a, b) => (a === null || b === null ? null : b.snr < a.snr ? b : a));
  if (weakest)
    return {
      windowPaDeg: windowDeg,
      verdict: makeVerdict('good', phrase('guide.flip-good', { windowDeg, starMag: weakest.mag, snr: weakest.snr })),
      turnTo: null,
    };
  const half = ring.length / 2;
  // the guider keeps its place on the camera through the flip: what bars it there bars it once
  const both = (k: number) => ring[k]!.lit && !Number.isNaN(ring[(k + half) % ring.length]!.bestMag);
  const turnTo = nearestLit(both, ring.length, 360 / ring.length, mode === 'camera' ? cameraDeg : turn(guiderDeg));
  const cure: PlainPhrase = turnTo
    ? phrase(`guide.flip-turn-${mode}`, { angleDeg: turnTo.angleDeg })
    : phrase('guide.flip-no-angle');
  return {
    windowPaDeg: windowDeg,
    verdict: makeVerdict('caution', phrase('guide.flip-none', { windowDeg, cures: [cure] })),
    turnTo,
  };
}
