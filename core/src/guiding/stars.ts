import { offAxisDeg } from '../quantities/index.ts';
import { z } from 'zod';
import { atLeastZero, define, explained, InvalidInput, positive, quantity, within } from '../calculation/index.ts';
import { project, starsOf, turn, type Projected, type Stars, type StarSource } from '../sky/index.ts';
import { anglesOf, inWindow, reachMm, turnWindow, type GuideWindow, type Ring } from './window.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';

/** Brighter stars than this are left away: they flood a guide camera. */
export const BRIGHTEST_MAG = 2;
const CatalogueStar = z.strictObject({
  raDeg: within('deg', 0, 360, 'Right ascension, J2000'),
  decDeg: within('deg', -90, 90, 'Declination, J2000'),
  mag: quantity('mag', 'V_T magnitude'),
});

/** Steps to a full turn: a hundredth of a degree is finer than any rotator. */
const MOST_STEPS = 36_000;
/** Most angles that stars are looked at under, all together: a wide window about the axis holds each star at every angle. */
const MOST_LOOKS = 100_000_000;
export const StarsInput = z
  .strictObject({
    raDeg: within('deg', 0, 360, 'Right ascension of the target, J2000'),
    decDeg: within('deg', -90, 90, 'Declination of the target, J2000'),
    focalLengthMm: positive('mm', 'Focal length'),
    centreRadiusMm: atLeastZero('mm', 'Window’s centre from the axis'),
    fieldMm: z.strictObject({
      tangential: positive('mm', 'Window across the radius'),
      radial: positive('mm', 'Window along the radius'),
    }),
    faintestMag: quantity('mag', 'Faintest star that guides'),
    brightestMag: quantity('mag', 'Brightest star wanted').default(BRIGHTEST_MAG),
    fromPaDeg: quantity('deg', 'First position angle').default(0),
    toPaDeg: quantity('deg', 'Last position angle').default(360),
    stepDeg: z.number().gt(0).max(90).meta({ unit: 'deg', description: 'Step' }).default(1),
    catalogue: z
      .array(CatalogueStar)
      .max(200_000)
      .meta({ description: 'Stars to use instead of the shipped ones' })
      .optional(),
  })
  .superRefine((v, ctx) => {
    if (v.faintestMag <= v.brightestMag)
      ctx.addIssue({
        code: 'custom',
        path: ['faintestMag'],
        message: `must be fainter (larger) than brightestMag, ${v.brightestMag}`,
      });
    if (360 / v.stepDeg > MOST_STEPS)
      ctx.addIssue({
        code: 'custom',
        path: ['stepDeg'],
        message: `must be at least ${360 / MOST_STEPS}°: no window is turned more finely`,
      });
  });
export type StarsInput = z.infer<typeof StarsInput>;

const StarOut = z.strictObject({ raDeg: z.number(), decDeg: z.number(), mag: z.number() });
export const StarsOutput = z.strictObject({
  windows: z.array(z.strictObject({ fromPaDeg: z.number(), toPaDeg: z.number(), bestMag: z.number(), star: StarOut })),
  coverage: z.number(),
  best: z.strictObject({ paDeg: z.number(), star: StarOut }).nullable(),
  ...explained,
});
export type StarsOutput = z.input<typeof StarsOutput>;

/** Farthest corner a flat field may have from the axis [deg]; beyond, the plane runs away. */
const WIDEST_DEG = 85;
/** Fewer angles than this with a star: the framing will have to yield. Common practice, no source. */
const SPARSE = 0.25;

const starAt = (s: Stars, i: number) => ({
  raDeg: s.raDeg[i]!,
  decDeg: s.decDeg[i]!,
  mag: s.mag[i]!,
});

/** Stars that any angle of a window about the target can reach. @throws InvalidInput without a catalogue */
export function starsAround(i: StarsInput, source: StarSource | undefined): Stars {
  const radiusDeg = offAxisDeg(reachMm(i), i.focalLengthMm);
  if (radiusDeg > WIDEST_DEG)
    throw InvalidInput.at(
      'centreRadiusMm',
      `puts the window ${radiusDeg.toFixed(0)}° off the axis; at most ${WIDEST_DEG}° can be worked out`,
    );
  if (i.catalogue) return starsOf(i.catalogue);
  if (!source) throw InvalidInput.at('catalogue', 'is needed here: no star catalogue is at hand');
  return source({ raDeg: i.raDeg, decDeg: i.decDeg, radiusDeg, faintestMag: i.faintestMag });
}

/** Runs of consecutive angles with a star; in a full turn the run over the seam is one, and comes first. */
function windowsOf(ring: Ring, stars: Stars): StarsOutput['windows'] {
  const n = ring.count.length;
  const runs: { from: number; to: number }[] = [];
  for (let k = 0; k < n; k++) {
    if (ring.count[k] === 0) continue;
    const last = runs.at(-1);
    if (last && last.to === k - 1) last.to = k;
    else runs.push({ from: k, to: k });
  }
  if (ring.full && runs.length > 1 && runs[0]!.from === 0 && runs.at(-1)!.to === n - 1) {
    runs[0]!.from = runs.pop()!.from - n;
  }
  const pa = (k: number) => turn(ring.fromPaDeg + ((k + n) % n) * ring.stepDeg);
  const whole = ring.full && runs.length === 1 && runs[0]!.to - runs[0]!.from === n - 1;
  return runs.map(({ from, to }) => {
    let best = -1;
    for (let k = from; k <= to; k++) {
      const i = ring.bestIndex[(k + n) % n]!;
      if (best < 0 || stars.mag[i]! < stars.mag[best]!) best = i;
    }
    const star = starAt(stars, best);
    const fromPaDeg = pa(from);
    return { fromPaDeg, toPaDeg: whole ? fromPaDeg + 360 : pa(to), bestMag: star.mag, star };
  });
}

/** The brightest star of all angles, and the angle at which it stands nearest the window's centre. */
function bestOf(w: GuideWindow, ring: Ring, stars: Stars, placed: Projected): StarsOutput['best'] {
  let best = -1;
  for (const i of ring.bestIndex) if (i >= 0 && (best < 0 || stars.mag[i]! < stars.mag[best]!)) best = i;
  if (best < 0) return null;
  const j = placed.index.subarray(0, placed.length).indexOf(best);
  let at = -1;
  let nearest = Infinity;
  for (let k = 0; k < ring.count.length; k++) {
    const p = inWindow(w, ring.fromPaDeg + k * ring.stepDeg, placed.eastMm[j]!, placed.northMm[j]!);
    const d = Math.hypot(p.acrossMm, p.outMm);
    if (p.inside && d < nearest - 1e-9) [at, nearest] = [k, d];
  }
  return { paDeg: turn(ring.fromPaDeg + at * ring.stepDeg), star: starAt(stars, best) };
}

/** Angles at which a guide star stands in the off-axis window. @throws InvalidInput */
export function guideStarsOf(i: StarsInput, source?: StarSource): StarsOutput {
  const stars = starsAround(i, source);
  const placed = project(stars, i, i.focalLengthMm, reachMm(i));
  const { steps } = anglesOf(i.fromPaDeg, i.toPaDeg, i.stepDeg);
  if (steps * placed.length > MOST_LOOKS)
    throw InvalidInput.at(
      'stepDeg',
      `is too fine for the ${placed.length} stars about this target: at most ${Math.floor(MOST_LOOKS / placed.length)} angles can be looked at`,
    );
  const ring = turnWindow(i, stars, placed, i, { brightest: i.brightestMag, faintest: i.faintestMag });
  return summaryOf(i, stars, placed, ring);
}

/** Windows, coverage and best star of a ring that is already turned. */
export function summaryOf(i: StarsInput, stars: Stars, placed: Projected, ring: Ring): StarsOutput {
  const steps = ring.count.length;
  const lit = ring.count.reduce((n, c) => (c > 0 ? n + 1 : n), 0);
  const coverage = lit / steps;
  const best = bestOf(i, ring, stars, placed);
  return {
    windows: windowsOf(ring, stars),
    coverage,
    best,
    working: [
      { label: 'Stars the window can reach', formula: 'gnomonic about the target', value: placed.length, unit: '' },
      { label: 'Angles tried', formula: `from, from + ${i.stepDeg}°, …`, value: steps, unit: '' },
      {
        label: 'Angles with a star',
        formula: `${i.brightestMag} ≤ mag ≤ ${i.faintestMag}, edges of the window included`,
        value: lit,
        unit: '',
        source: i.catalogue ? undefined : 'Tycho-2, Høg et al. 2000, V_T',
      },
    ].map(({ source, ...step }) => (source ? { ...step, source } : step)),
    verdict: best
      ? makeVerdict(
          coverage < SPARSE ? 'caution' : 'good',
          phrase('guide.window', {
            faintestMag: i.faintestMag,
            litPercent: 100 * coverage,
            brightestMag: best.star.mag,
            atDeg: best.paDeg,
          }),
        )
      : makeVerdict('bad', phrase('guide.window-none', { faintestMag: i.faintestMag })),
  };
}

export const guideStars = define({
  name: 'guide.stars',
  summary: 'Angles at which an off-axis guider has a star',
  sources: [
    'Gnomonic projection: textbook',
    'Tycho-2: Høg et al. (2000), Astronomy & Astrophysics 355, L27',
    'Coverage that calls for caution: common practice, no source',
  ],
  input: StarsInput,
  output: StarsOutput,
  compute: (input, context) => guideStarsOf(input, context.stars),
});
