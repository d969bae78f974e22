import type { Verdict } from '../calculation/index.ts';
import { turn, type Panel, type Stars } from '../sky/index.ts';
import { blendMm, candidatesAt, nearestLit, onlyUsable, type Candidate } from './candidates.ts';
import { exposureFor, limit, saturationMag } from './limit.ts';
import type { GuideView, OffAxisView } from './ofRig.ts';
import { project, reachMm, turnWindow, type Projected, type Ring } from './window.ts';

/** How the guide camera is used: what decides which stars count. */
export interface GuideWish {
  exposureS: number;
  snr: number;
}
/** Turn the whole camera, or keep the framing and turn the guider alone. */
export type TurnMode = 'camera' | 'guider';

/** Every angle of one framing worked through once; an angle is then looked up. */
export interface Framed {
  view: GuideView;
  wish: GuideWish;
  stars: Stars;
  /** Magnitudes between which a star guides. */
  faintestMag: number;
  brightestMag: number;
  panels: { panel: Panel; placed: Projected; ring: Ring | null }[];
}

const STEPS = 360;

/**
 * Projects the stars about every panel and turns the window once round. Only stars that stand alone and are neither too
 * faint nor too bright count here: a stricter ring than `guide.stars`, which asks for magnitudes only.
 */
export function frame(
  view: GuideView,
  wish: GuideWish,
  stars: Stars,
  panels: readonly Panel[],
  cameraDeg: number,
): Framed {
  const { limitingMag: faintestMag } = limit({ ...view.optics, ...wish });
  const brightestMag = saturationMag(view.optics, wish.exposureS, view.fullWellE);
  const near = blendMm(view.optics.fwhmArcsec, view.window.focalLengthMm);
  return {
    view,
    wish,
    stars,
    faintestMag,
    brightestMag,
    panels: panels.map((panel) => {
      const placed = project(stars, panel, view.window.focalLengthMm, reachMm(view.window));
      if (view.kind === 'guide-scope') return { panel, placed, ring: null };
      const usable = onlyUsable(stars, placed, near, { brightest: brightestMag, faintest: faintestMag });
      // north turns across a mosaic: each panel's window leads or lags by that much
      const fromPaDeg = view.offsetDeg + panel.angleDeg - cameraDeg;
      const ring = turnWindow(
        view.window,
        stars,
        usable,
        { fromPaDeg, toPaDeg: fromPaDeg + 360, stepDeg: 360 / STEPS },
        { brightest: brightestMag, faintest: faintestMag },
      );
      return { panel, placed, ring };
    }),
  };
}

export interface RingStep {
  /** Every panel has a star. */
  lit: boolean;
  /** Faintest of the panels' best stars, NaN when one has none. */
  bestMag: number;
  /** The prism would shade the main sensor here. */
  barred: boolean;
}

/**
 * The ring by whole degrees: of the camera while it turns as one, of the guider against it while the framing is held.
 */
export function ringOf(f: Framed, mode: TurnMode, cameraDeg: number): RingStep[] {
  const view = f.view as OffAxisView;
  return Array.from({ length: STEPS }, (_, d) => {
    const k = mode === 'camera' ? d : (Math.round(cameraDeg) + d) % STEPS;
    let worst = -Infinity;
    for (const { ring } of f.panels) {
      const mag = ring?.bestMag[((k % STEPS) + STEPS) % STEPS] ?? Number.NaN;
      worst = Number.isNaN(mag) || Number.isNaN(worst) ? Number.NaN : Math.max(worst, mag);
    }
    const barred = mode === 'guider' && view.shadedAt[d]!;
    return { lit: !Number.isNaN(worst) && !barred, bestMag: worst, barred };
  });
}

/** Position angle of a panel's window. */
export const windowPa = (view: OffAxisView, panelDeg: number, guiderDeg: number): number =>
  turn(panelDeg + view.offsetDeg + guiderDeg);

/** Stars in a panel's window, best first. */
export function starsIn(f: Framed, at: number, guiderDeg: number): Candidate[] {
  const { panel, placed } = f.panels[at]!;
  const pa = f.view.kind === 'off-axis' ? windowPa(f.view, panel.angleDeg, guiderDeg) : panel.angleDeg;
  return candidatesAt(f.view.window, pa, f.stars, placed, {
    optics: f.view.optics,
    exposureS: f.wish.exposureS,
    snr: f.wish.snr,
    fullWellE: f.view.fullWellE,
  });
}

export const nearestAngle = (ring: readonly RingStep[], wantedDeg: number) =>
  nearestLit((k) => ring[k]!.lit, ring.length, 360 / ring.length, wantedDeg);

export interface FramingVerdict {
  verdict: Verdict;
  /** The angle to turn to, of what the mode turns; null when it is fine or there is none. */
  turnTo: { angleDeg: number; offDeg: number } | null;
}

const degrees = (v: number) => `${v.toFixed(0).replace('-', '−')}°`;
const reason = (c: Candidate, snr: number) =>
  c.saturated
    ? 'fills its well'
    : c.blendArcsec !== null
      ? `has a neighbour ${c.blendArcsec.toFixed(0)}″ off`
      : `reaches ${c.snr.toFixed(0)} where ${snr} is wanted`;

/** One sentence: is there a guide star, and if not, what to do. */
export function framingVerdict(
  f: Framed,
  mode: TurnMode,
  cameraDeg: number,
  guiderDeg: number,
  ring: readonly RingStep[],
): FramingVerdict {
  const found = f.panels.map((_, i) => starsIn(f, i, guiderDeg));
  const without = found.filter((c) => !c[0]?.usable).length;
  const best = found.flatMap((c) => c.filter((s) => s.usable)).sort((a, b) => b.snr - a.snr)[0];
  const several = f.panels.length > 1;
  if (f.view.kind === 'guide-scope') {
    const n = found[0]!.filter((c) => c.usable).length;
    return {
      turnTo: null,
      verdict: best
        ? {
            level: n < 3 ? 'caution' : 'good',
            text: `${n} star${n === 1 ? '' : 's'} to guide on in the guide scope’s field; the best, magnitude ${best.mag.toFixed(1)}, reaches ${best.snr.toFixed(0)} in ${f.wish.exposureS} s.`,
          }
        : { level: 'bad', text: 'No star to guide on in the guide scope’s field: expose longer.' },
    };
  }
  const barred = guiderDeg !== 0 && f.view.shadedAt[Math.round(turn(guiderDeg)) % 360]!;
  if (barred)
    return {
      turnTo: nearestAngle(ring, turn(guiderDeg)),
      verdict: {
        level: 'bad',
        text: `Turned ${degrees(guiderDeg)} against the camera the prism stands in the main sensor’s light. Turn the guider elsewhere, or move the prism out.`,
      },
    };
  if (best && without === 0)
    return {
      turnTo: null,
      verdict: {
        level: 'good',
        text: several
          ? `Every one of the ${f.panels.length} panels has a guide star at ${degrees(cameraDeg)}.`
          : `A guide star of magnitude ${best.mag.toFixed(1)} stands in the window at ${degrees(cameraDeg)}: signal to noise ${best.snr.toFixed(0)} in ${f.wish.exposureS} s, alone.`,
      },
    };
  const wanted = mode === 'camera' ? cameraDeg : turn(guiderDeg);
  const turnTo = nearestAngle(ring, wanted);
  const near = found.flat()[0];
  const lack = several
    ? `${without} of ${f.panels.length} panels have no guide star at ${degrees(cameraDeg)}`
    : near
      ? `The best star in the window, magnitude ${near.mag.toFixed(1)}, ${reason(near, f.wish.snr)}`
      : `No star stands in the guide window at ${degrees(cameraDeg)}`;
  const longer =
    near && !near.saturated && near.blendArcsec === null
      ? exposureFor(f.view.optics, near.mag, f.wish.snr, f.view.fullWellE)
      : null;
  const cures = [
    turnTo
      ? `turn ${mode === 'camera' ? 'the camera' : 'the guider'} to ${degrees(turnTo.angleDeg)}, ${Math.abs(turnTo.offDeg).toFixed(0)}° ${turnTo.offDeg > 0 ? 'on' : 'back'}`
      : null,
    longer?.enough ? `expose the guider ${longer.exposureS} s` : null,
  ].filter((c) => c !== null);
  const advice = cures.length ? cures.join(', or ') : 'no angle has one: expose longer, or shift the framing';
  return {
    turnTo,
    verdict: { level: turnTo ? 'caution' : 'bad', text: `${lack}: ${advice}.` },
  };
}
