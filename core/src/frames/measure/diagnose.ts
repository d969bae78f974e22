import { longOverShort } from '../../quantities/index.ts';
import { z } from 'zod';
import {
  define,
  explained,
  InvalidInput,
  parseInput,
  PhraseSchema,
  quantity,
  type CalculationContext,
  type WorkingStep,
} from '../../calculation/index.ts';
import { makeVerdict, phrase, words, nameOf } from '../../phrases/index.ts';
import { mean, weightedFit } from '../../statistics/index.ts';
import { comaPx, Flare } from './flare.ts';
import { HOLLOW, MeasuredCell, measurePicture, type MeasureOutput } from './measure.ts';

const size = z.number().nullable();
/** What of a measured picture is judged; what else it carries is not looked at. */
const Cell = z.object(MeasuredCell.shape);
export const JudgedPicture = z.object({
  widthPx: z.number().positive(),
  heightPx: z.number().positive(),
  background: z.number(),
  stars: z.number().min(0),
  used: z.number().min(0),
  hfdPx: size,
  fwhmPx: size.optional(),
  eccentricity: size,
  elongationAngleDeg: size,
  coreRatio: size,
  edgeDips: z.object({ left: z.number(), right: z.number(), bottom: z.number(), top: z.number() }),
  grid: z.array(Cell).length(9),
  flare: Flare.nullable().optional(),
});
export type JudgedPicture = z.infer<typeof JudgedPicture>;
const AsFile = z.strictObject({ file: z.string().min(1).max(4096) });
const Baseline = JudgedPicture.pick({ stars: true, hfdPx: true, background: true });
export const DiagnoseInput = z
  .strictObject({
    measure: z.union([AsFile, JudgedPicture]).optional(),
    file: z.string().min(1).max(4096).optional(),
    scaleArcsecPerPx: quantity('arcsec', 'Angle of a pixel').positive().max(1000).optional(),
    baseline: z.union([AsFile, Baseline]).optional(),
  })
  .refine((i) => (i.measure === undefined) !== (i.file === undefined), {
    path: ['measure'],
    message: 'give either a measured picture or a file',
  });

export const FrameFindingCode = z.enum([
  'prism-shadow',
  'cloud',
  'defocus',
  'crowded',
  'too-few-stars',
  'trailing',
  'spacing-radial',
  'spacing-tangential',
  'elongated',
  'tilt',
  'coma',
  'one-sided',
  'round',
]);
export type FrameFindingCode = z.infer<typeof FrameFindingCode>;
export const FrameFinding = z.strictObject({
  code: FrameFindingCode,
  severity: z.enum(['good', 'caution', 'bad']),
  evidence: z.string(),
  advice: z.string(),
  phrases: z.tuple([PhraseSchema, PhraseSchema]),
});
export type FrameFinding = z.infer<typeof FrameFinding>;
export const DiagnoseOutput = z.strictObject({ findings: z.array(FrameFinding), ...explained });

/** Thresholds; common practice, no source. Tried on rendered frames whose faults are known. */
const LIMITS = {
  dip: 0.02,
  cloud: { stars: 0.6, hfd: 1.5, sky: 1.25, starsUnderSky: 0.85 },
  defocus: { used: 5, times: 1.5, arcsec: 8, crowded: 1.8 },
  used: 10,
  cells: 7,
  perCell: 3,
  round: 0.45,
  corner: { beyondCentre: 0.12, elongated: 0.5 },
  alike: 0.8,
  along: 0.6,
  tilt: { share: 0.2, explained: 0.6 },
  flare: { errors: 5, outward: 0.015, everywhere: 0.01 },
} as const;

type Judged = Pick<JudgedPicture, 'widthPx' | 'heightPx'> & { cells: JudgedPicture['grid'] };
const finding = (
  code: FrameFindingCode,
  severity: FrameFinding['severity'],
  evidence: ReturnType<typeof phrase>,
  advice: ReturnType<typeof phrase>,
): FrameFinding => ({ code, severity, evidence: words(evidence), advice: words(advice), phrases: [evidence, advice] });

/** A dark middle of one edge: what a prism does. */
function prismShadow(m: JudgedPicture): FrameFinding[] {
  const [edge, dip] = Object.entries(m.edgeDips).reduce((a, b) => (b[1] > a[1] ? b : a));
  if (dip < LIMITS.dip) return [];
  return [
    finding(
      'prism-shadow',
      'bad',
      phrase('frame.prism-shadow', { edge, dipPercent: 100 * dip }),
      phrase('frame.prism-shadow-advice', { edge }),
    ),
  ];
}

function cloud(m: JudgedPicture, usual: z.infer<typeof Baseline> | null): FrameFinding[] {
  if (!usual) return [];
  const { stars, background } = m;
  const { cloud: limit } = LIMITS;
  const notWider = usual.hfdPx === null || m.hfdPx === null || m.hfdPx < limit.hfd * usual.hfdPx;
  const advice = phrase('frame.cloud-advice');
  if (stars <= limit.stars * usual.stars && notWider && usual.stars > 0)
    return [finding('cloud', 'bad', phrase('frame.cloud-few', { stars, usualStars: Math.round(usual.stars) }), advice)];
  if (background >= limit.sky * usual.background && stars <= limit.starsUnderSky * usual.stars)
    return [
      finding(
        'cloud',
        'bad',
        phrase('frame.cloud-bright', {
          stars,
          usualStars: Math.round(usual.stars),
          brighterPercent: 100 * (background / usual.background - 1),
        }),
        advice,
      ),
    ];
  return [];
}

function defocus(m: JudgedPicture, usual: z.infer<typeof Baseline> | null, scale: number | null) {
  const { hfdPx, coreRatio } = m;
  if (m.used < LIMITS.defocus.used || hfdPx === null) return null;
  const advice = phrase('frame.defocus-advice');
  // neighbours’ light widens the half-flux diameter and not the fitted core
  const { fwhmPx = null } = m;
  const crowded = fwhmPx !== null && hfdPx > LIMITS.defocus.crowded * fwhmPx;
  const of = (evidence: ReturnType<typeof phrase>, hollow = false) =>
    crowded && !hollow
      ? {
          hollow,
          finding: finding(
            'crowded',
            'good',
            phrase('frame.crowded', { hfdPx, fwhmPx: fwhmPx! }),
            phrase('frame.crowded-advice'),
          ),
        }
      : { hollow, finding: finding('defocus', 'bad', evidence, advice) };
  if (hfdPx >= HOLLOW.hfdPx && coreRatio !== null && coreRatio < HOLLOW.coreRatio)
    return of(phrase('frame.defocus-hollow', { hfdPx }), true);
  if (usual?.hfdPx && hfdPx >= LIMITS.defocus.times * usual.hfdPx)
    return of(phrase('frame.defocus-wider', { hfdPx, times: hfdPx / usual.hfdPx }));
  if (scale !== null && hfdPx * scale >= LIMITS.defocus.arcsec)
    return of(phrase('frame.defocus-wide', { hfdArcsec: hfdPx * scale }));
  return null;
}

const isCorner = (c: { row: number; col: number }) => c.row !== 1 && c.col !== 1;
const isCentre = (c: { row: number; col: number }) => c.row === 1 && c.col === 1;

/** How far directions agree, 0 to 1, each turned by half a circle being the same. */
function agreement(anglesDeg: readonly number[]): number {
  const two = anglesDeg.map((a) => (a * Math.PI) / 90);
  return (
    Math.hypot(
      two.reduce((s, a) => s + Math.cos(a), 0),
      two.reduce((s, a) => s + Math.sin(a), 0),
    ) / two.length
  );
}
/** 1 where cells are drawn out along the radius, −1 where across it. */
function alongRadius({ cells, widthPx, heightPx }: Judged): number {
  let [sum, all] = [0, 0];
  for (const c of cells) {
    if (isCentre(c) || c.eccentricity === null || c.angleDeg === null) continue;
    const radial = Math.atan2((c.row - 1) * heightPx, (c.col - 1) * widthPx);
    sum += c.eccentricity ** 2 * Math.cos(2 * ((c.angleDeg * Math.PI) / 180 - radial));
    all += c.eccentricity ** 2;
  }
  return all > 0 ? sum / all : 0;
}

/** How stars are drawn out: the same way everywhere, by the radius, or anyhow. */
function elongation(m: JudgedPicture, judged: Judged): FrameFinding[] {
  const { cells } = judged;
  const drawn = cells.filter((c) => c.eccentricity !== null && c.angleDeg !== null);
  const angles = drawn.map((c) => c.angleDeg!);
  const longEverywhere = drawn.length > 0 && drawn.filter((c) => c.eccentricity! < LIMITS.round).length <= 1;
  if (longEverywhere && agreement(angles) >= LIMITS.alike)
    return [
      finding(
        'trailing',
        'bad',
        phrase('frame.trailing', {
          ratio: longOverShort(m.eccentricity ?? LIMITS.round),
          angleDeg: m.elongationAngleDeg ?? angles[0]!,
        }),
        phrase('frame.trailing-advice'),
      ),
    ];
  const corners = drawn.filter(isCorner).map((c) => c.eccentricity!);
  const corner = corners.length ? corners.reduce((s, e) => s + e, 0) / corners.length : 0;
  const centre = drawn.find(isCentre)?.eccentricity ?? null;
  const along = alongRadius(judged);
  if (
    corner >= LIMITS.round &&
    centre !== null &&
    corner >= centre + LIMITS.corner.beyondCentre &&
    Math.abs(along) >= LIMITS.along
  ) {
    const code = along > 0 ? 'spacing-radial' : 'spacing-tangential';
    return [
      finding(code, 'bad', phrase(`frame.${code}`, { ratio: longOverShort(corner) }), phrase('frame.spacing-advice')),
    ];
  }
  const whole = m.eccentricity ?? 0;
  if (whole >= LIMITS.round || corner >= LIMITS.corner.elongated)
    return [
      finding(
        'elongated',
        'caution',
        phrase('frame.elongated', { ratio: longOverShort(Math.max(whole, corner)) }),
        phrase('frame.elongated-advice'),
      ),
    ];
  return [];
}

/** A plane through the widths of the cells. */
function tilt({ cells, widthPx, heightPx }: Judged): FrameFinding[] {
  const wide = cells.filter((c) => c.hfdPx !== null);
  const fit = weightedFit(
    wide.map((c) => [1, c.col - 1, c.row - 1]),
    wide.map((c) => c.hfdPx!),
    wide.map(() => 1),
  );
  if (!fit) return [];
  const [middle, a, b] = fit.coefficients as [number, number, number];
  const mean = wide.reduce((s, c) => s + c.hfdPx!, 0) / wide.length;
  const total = wide.reduce((s, c) => s + (c.hfdPx! - mean) ** 2, 0);
  const explainedShare = total > 0 ? 1 - fit.residuals.reduce((s, r) => s + r * r, 0) / total : 0;
  const span = Math.abs(a) + Math.abs(b);
  if ((2 * span) / middle < LIMITS.tilt.share || explainedShare < LIMITS.tilt.explained) return [];
  const towardsDeg = ((Math.atan2(b / heightPx, a / widthPx) * 180) / Math.PI + 360) % 360;
  return [
    finding(
      'tilt',
      'bad',
      phrase('frame.tilt', { smallPx: middle - span, largePx: middle + span, towardsDeg }),
      phrase('frame.tilt-advice'),
    ),
  ];
}

/** Light to one side of the cores: outwards from the middle, or everywhere the same way. */
function flare({ flare: f, hfdPx, grid }: JudgedPicture): FrameFinding[] {
  if (!f || hfdPx === null) return [];
  const found: FrameFinding[] = [];
  const { errors, outward, everywhere } = LIMITS.flare;
  if (Math.abs(f.outward) >= Math.max(outward, errors * f.outwardError)) {
    const corners = grid.filter(isCorner).flatMap((c) => c.hfdPx ?? []);
    const awayPx = comaPx(Math.abs(f.outward), corners.length ? mean(corners) : hfdPx);
    found.push(
      finding(
        'coma',
        'caution',
        phrase(f.outward > 0 ? 'frame.coma' : 'frame.coma-inwards', { awayPx }),
        phrase('frame.coma-advice'),
      ),
    );
  }
  const lean = Math.hypot(f.x, f.y);
  if (lean >= Math.max(everywhere, errors * f.error)) {
    const towardsDeg = ((Math.atan2(f.y, f.x) * 180) / Math.PI + 360) % 360;
    found.push(
      finding(
        'one-sided',
        'caution',
        phrase('frame.one-sided', { awayPx: comaPx(lean, hfdPx), towardsDeg }),
        phrase('frame.one-sided-advice'),
      ),
    );
  }
  return found;
}

/**
 * What is wrong with a picture, from its sky and its stars in nine cells.
 * @param usual a good picture of the same object through the same filter; null without one
 * @returns at least one finding; `round` where nothing is wrong with the stars
 */
export function diagnose(
  m: JudgedPicture,
  usual: z.infer<typeof Baseline> | null = null,
  scaleArcsecPerPx: number | null = null,
): FrameFinding[] {
  const findings = [...prismShadow(m), ...cloud(m, usual)];
  const wide = defocus(m, usual, scaleArcsecPerPx);
  if (wide) findings.push(wide.finding);
  if (wide?.hollow) return findings;
  const judged = { widthPx: m.widthPx, heightPx: m.heightPx, cells: m.grid.filter((c) => c.used >= LIMITS.perCell) };
  if (m.used < LIMITS.used || judged.cells.length < LIMITS.cells) {
    const few = phrase('frame.too-few-stars', { used: m.used, cells: judged.cells.length });
    return [...findings, finding('too-few-stars', 'caution', few, phrase('frame.too-few-stars-advice'))];
  }
  const shapes = [...elongation(m, judged), ...tilt(judged), ...flare(m)];
  findings.push(...shapes);
  if (shapes.length === 0 && wide?.finding.code !== 'defocus')
    findings.push(finding('round', 'good', phrase('frame.round'), phrase('frame.round-advice')));
  return findings;
}

/** A picture measured already, or one to be measured first. */
function pictureOf<S extends z.ZodType>(
  given: { file: string } | object,
  as: S,
  path: string,
  { file }: CalculationContext,
): z.output<S> {
  if (!('file' in given)) return parseInput(as, given);
  if (!file) throw InvalidInput.at(path, 'no path is taken here: send the measured picture, or use the shell');
  return parseInput(as, measurePicture(file(String(given.file)), path) satisfies MeasureOutput);
}

export const framesDiagnose = define({
  name: 'frames.diagnose',
  summary: 'What is wrong with a picture, each finding with its evidence and what to do',
  sources: ['Thresholds: common practice, no source; tried on rendered frames'],
  input: DiagnoseInput,
  output: DiagnoseOutput,
  compute: (input, context) => {
    const m = pictureOf(
      input.measure ?? { file: input.file! },
      JudgedPicture,
      input.file === undefined ? 'measure.file' : 'file',
      context,
    );
    const usual = input.baseline === undefined ? null : pictureOf(input.baseline, Baseline, 'baseline.file', context);
    const findings = diagnose(m, usual, input.scaleArcsecPerPx ?? null);
    const wrong = findings.filter((f) => f.severity !== 'good');
    const working: WorkingStep[] = [
      {
        label: 'Deepest dip of an edge',
        formula: '1 − q/q(opposite)',
        value: 100 * Math.max(...Object.values(m.edgeDips)),
        unit: '%',
      },
      {
        label: 'Cells with stars enough',
        formula: `at least ${LIMITS.perCell} each`,
        value: m.grid.filter((c) => c.used >= LIMITS.perCell).length,
        unit: '',
      },
      { label: 'Width', formula: 'median', value: m.hfdPx, unit: 'px' },
    ];
    const verdict = wrong.length
      ? makeVerdict(
          wrong.some((f) => f.severity === 'bad') ? 'bad' : 'caution',
          phrase('frames.findings', { findings: wrong.map((f) => nameOf(f.code)) }),
        )
      : makeVerdict('good', phrase('frames.healthy'));
    return { findings, working, verdict };
  },
});
