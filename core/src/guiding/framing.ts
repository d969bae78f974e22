import type { Verdict } from '../calculation/index.ts';
import { turn, type Panel, type Stars } from '../sky/index.ts';
import { blendMm, candidatesAt, nearestLit, onlyUsable, type Candidate } from './candidates.ts';
import { exposureFor, limit, saturationMag } from './limit.ts';
import type { GuideView, OffAxisView } from './ofRig.ts';
import { project, type Projected } from '../sky/index.ts';
import { reachMm, turnWindow, type Ring } from './window.ts';
import { makeVerdict, phrase, type Phrase, type PlainPhrase } from '../phrases/index.ts';

/** How the guide camera is used: what decides which stars count. */
export interface GuideCriteria {
  exposureS: number;
  snr: number;
}
/** Turn the whole camera, or keep the framing and turn the guider alone. */
export type TurnMode = 'camera' | 'guider';

/** Every angle of one framing worked through once; an angle is then looked up. */
export interface Framed {
  view: GuideView;
  criteria: GuideCriteria;
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
  criteria: GuideCriteria,
  stars: Stars,
  panels: readonly Panel[],
  cameraDeg: number,
): Framed {
  const { limitingMag: faintestMag } = limit({ ...view.optics, ...criteria });
  const brightestMag = saturationMag(view.optics, criteria.exposureS, view.fullWellE);
  const near = blendMm(view.optics.fwhmArcsec, view.window.focalLengthMm);
  return {
    view,
    criteria,
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
    exposureS: f.criteria.exposureS,
    snr: f.criteria.snr,
    fullWellE: f.view.fullWellE,
  });
}

/** Whether a single field has a star to guide on: off-axis at some angle of the camera, in a guide scope anywhere. */
export function hasGuideStar(
  view: GuideView,
  criteria: GuideCriteria,
  stars: Stars,
  place: { raDeg: number; decDeg: number },
): boolean {
  const panel: Panel = { column: 0, row: 0, ...place, angleDeg: 0, acrossMm: 0, upMm: 0 };
  const f = frame(view, criteria, stars, [panel], 0);
  if (view.kind === 'off-axis') return ringOf(f, 'camera', 0).some((step) => step.lit);
  return starsIn(f, 0, 0).some((c) => c.usable);
}

export const nearestAngle = (ring: readonly RingStep[], wantedDeg: number) =>
  nearestLit((k) => ring[k]!.lit, ring.length, 360 / ring.length, wantedDeg);

export interface FramingVerdict {
  verdict: Verdict;
  /** The angle to turn to, of what the mode turns; null when it is fine or there is none. */
  turnTo: { angleDeg: number; offDeg: number } | null;
}

/** What the best star in the window lacks. */
const lackOf = (c: Candidate, wantedSnr: number, cures: PlainPhrase[]): Phrase =>
  c.saturated
    ? phrase('guide.star-saturated', { starMag: c.mag, cures })
    : c.blendArcsec !== null
      ? phrase('guide.star-blended', { starMag: c.mag, neighbourArcsec: c.blendArcsec, cures })
      : phrase('guide.star-faint', { starMag: c.mag, snr: c.snr, wantedSnr, cures });

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
        ? makeVerdict(
            n < 3 ? 'caution' : 'good',
            phrase('guide.scope-stars', { n, bestMag: best.mag, snr: best.snr, exposureS: f.criteria.exposureS }),
          )
        : makeVerdict('bad', phrase('guide.scope-none')),
    };
  }
  const barred = guiderDeg !== 0 && f.view.shadedAt[Math.round(turn(guiderDeg)) % 360]!;
  if (barred)
    return {
      turnTo: nearestAngle(ring, turn(guiderDeg)),
      verdict: makeVerdict('bad', phrase('guide.prism-in-light', { guiderDeg })),
    };
  if (best && without === 0)
    return {
      turnTo: null,
      verdict: makeVerdict(
        'good',
        several
          ? phrase('guide.panels-good', { panels: f.panels.length, cameraDeg })
          : phrase('guide.star-good', {
              starMag: best.mag,
              cameraDeg,
              snr: best.snr,
              exposureS: f.criteria.exposureS,
            }),
      ),
    };
  const wanted = mode === 'camera' ? cameraDeg : turn(guiderDeg);
  const turnTo = nearestAngle(ring, wanted);
  const near = found.flat()[0];
  const longer =
    near && !near.saturated && near.blendArcsec === null
      ? exposureFor(f.view.optics, near.mag, f.criteria.snr, f.view.fullWellE)
      : null;
  const cures: PlainPhrase[] = turnTo
    ? [
        phrase(`guide.turn-${mode}-${turnTo.offDeg > 0 ? 'on' : 'back'}`, {
          angleDeg: turnTo.angleDeg,
          offDeg: Math.abs(turnTo.offDeg),
        }),
      ]
    : [];
  if (longer?.enough) cures.push(phrase(turnTo ? 'guide.or-expose' : 'guide.expose', { exposureS: longer.exposureS }));
  if (!cures.length) cures.push(phrase('guide.no-angle'));
  const lack = several
    ? phrase('guide.panels-lack', { without, panels: f.panels.length, cameraDeg, cures })
    : near
      ? lackOf(near, f.criteria.snr, cures)
      : phrase('guide.no-star', { cameraDeg, cures });
  return { turnTo, verdict: makeVerdict(turnTo ? 'caution' : 'bad', lack) };
}
