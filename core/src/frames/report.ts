import { longOverShort } from '../quantities/index.ts';
import { z } from 'zod';
import { day } from '../calculation/index.ts';
import { phrase, words, type Phrase, isNameCode, nameOf } from '../phrases/index.ts';
import { median } from '../statistics/index.ts';
import type { FrameMeasures } from './frameMeasures.ts';
import { isOfMost } from './nightFindings.ts';
import type { NightHours } from './night/nightHours.ts';

export const REPORT_FORMAT = 'keen-night-report';
const name = z.string().max(200);
const frames = z.int().min(0).meta({ description: 'Frames' });
const seconds = (description: string) => z.number().min(0).meta({ unit: 's', description });
const width = z.number().nullable();

/** What a night brought, as a file that others read. The flats are those missing for the train as it stood when it was made. */
export const NightReport = z.strictObject({
  format: z.literal(REPORT_FORMAT),
  version: z.literal(1),
  site: name,
  rig: name,
  night: day('Local date of the evening'),
  by: name,
  taken: z.array(
    z.strictObject({
      object: name,
      filter: name,
      exposureS: seconds('Exposure of a frame'),
      accepted: frames,
      refused: frames,
      openS: seconds('Open shutter of the frames that count'),
      hfdPx: width.meta({ unit: 'px', description: 'Median half flux diameter of the frames that count' }),
      longOverShort: width.meta({ description: 'Median length of their stars over their width' }),
      stars: width.meta({ description: 'Median number of their stars' }),
    }),
  ),
  refused: z.array(z.strictObject({ because: name, frames, lostS: seconds('Open shutter that does not count') })),
  shown: z.array(z.strictObject({ finding: name, frames, of: frames })),
  focus: z.array(z.strictObject({ filter: name, runs: frames, usable: frames })),
  guiding: z.array(
    z.strictObject({
      log: name,
      raArcsec: z.number().meta({ unit: 'arcsec' }),
      decArcsec: z.number().meta({ unit: 'arcsec' }),
      totalArcsec: z.number().meta({ unit: 'arcsec' }),
      found: z.array(name),
    }),
  ),
  hours: z
    .strictObject({
      darkS: seconds('From the end of dusk to the beginning of dawn'),
      clearS: seconds('Of it, not known to be lost to cloud'),
      countedS: seconds('Of it, with an open shutter whose frame counts'),
      went: z.array(
        z.strictObject({
          what: z.enum(['counted', 'refused', 'between', 'focusing', 'cloud', 'idle', 'before', 'after']),
          because: name,
          seconds: seconds('They add up to the dark time'),
        }),
      ),
    })
    .nullable()
    .meta({ description: 'Where the dark hours went; null where the place has no dark that night' }),
  guidedFrames: z.array(z.string().max(500)).meta({ description: 'What the guide logs say of the frames' }),
  flatsBeforeAnythingIsTurned: frames,
  handOver: z.string().max(5000),
});
export type NightReport = z.infer<typeof NightReport>;

/** What a report is made from. */
export interface NightFacts extends Pick<
  NightReport,
  'site' | 'rig' | 'night' | 'by' | 'guiding' | 'guidedFrames' | 'flatsBeforeAnythingIsTurned'
> {
  frames: readonly {
    object: string;
    filter: string;
    exposureS: number;
    accepted: boolean;
    /** Why not, in a word or two; empty where nobody said. */
    because: string;
    look: FrameMeasures | null;
    /** Half flux diameter the run itself measured, where nobody looked at the frame [px]. */
    hfdPx?: number | null;
    findings: readonly string[];
  }[];
  hours: NightHours | null;
  focusRuns: readonly { filter: string; usable: boolean }[];
}

function grouped<T, K extends string>(list: readonly T[], key: (one: T) => K): Map<K, T[]> {
  const all = new Map<K, T[]>();
  for (const one of list) all.set(key(one), [...(all.get(key(one)) ?? []), one]);
  return all;
}
const middle = (values: readonly (number | null | undefined)[], digits: number) => {
  const there = values.filter((v): v is number => typeof v === 'number');
  return there.length ? Number(median(there).toFixed(digits)) : null;
};
/** The report of a night, with a note for whoever takes over drafted from its facts. */
export function nightReport(of: NightFacts): NightReport {
  const taken = [...grouped(of.frames, (f) => `${f.object}\n${f.filter}\n${f.exposureS}`).values()].map((all) => {
    const [first, counted] = [all[0]!, all.filter((f) => f.accepted)];
    const long = (f: (typeof all)[number]) =>
      typeof f.look?.eccentricity === 'number' ? longOverShort(f.look.eccentricity) : null;
    return {
      object: first.object,
      filter: first.filter,
      exposureS: first.exposureS,
      accepted: counted.length,
      refused: all.length - counted.length,
      openS: counted.length * first.exposureS,
      hfdPx: middle(
        counted.map((f) => f.look?.hfdPx ?? f.hfdPx),
        2,
      ),
      longOverShort: middle(counted.map(long), 2),
      stars: middle(
        counted.map((f) => f.look?.stars),
        0,
      ),
    };
  });
  const out = of.frames.filter((f) => !f.accepted);
  const refused = [...grouped(out, (f) => f.because || 'nobody said why')]
    .map(([because, all]) => ({ because, frames: all.length, lostS: all.reduce((s, f) => s + f.exposureS, 0) }))
    .sort((a, b) => b.lostS - a.lostS);
  const measured = of.frames.filter((f) => f.look);
  const shown = [
    ...grouped(
      measured.flatMap((f) => f.findings),
      (code) => code,
    ),
  ]
    .map(([finding, all]) => ({ finding, frames: all.length, of: measured.length }))
    .sort((a, b) => b.frames - a.frames);
  const focus = [...grouped(of.focusRuns, (r) => r.filter)].map(([filter, all]) => ({
    filter,
    runs: all.length,
    usable: all.filter((r) => r.usable).length,
  }));
  const { site, rig, night, by, guiding, guidedFrames, flatsBeforeAnythingIsTurned } = of;
  const round = (s: number) => Math.round(s);
  const hours = of.hours && {
    darkS: round(of.hours.darkS),
    clearS: round(of.hours.clearS),
    countedS: round(of.hours.countedS),
    went: of.hours.sums.map((s) => ({ what: s.kind, because: s.because, seconds: round(s.seconds) })),
  };
  const facts = {
    site,
    rig,
    night,
    by,
    taken,
    refused,
    shown,
    focus,
    guiding,
    hours,
    guidedFrames,
    flatsBeforeAnythingIsTurned,
  };
  return {
    format: REPORT_FORMAT,
    version: 1,
    ...facts,
    handOver: handOverNote(facts)
      .map((p) => words(p))
      .join('\n'),
  };
}

/** What the hours of a night went into, in words. */
export const HOUR_WORDS = {
  counted: 'frames that count',
  refused: 'frames refused',
  between: 'between frames',
  focusing: 'focusing',
  cloud: 'waiting for cloud',
  idle: 'nothing taken',
  before: 'before the first frame',
  after: 'after the last frame',
} as const;
/** What took most of the hours that gave no frame. */
function greatestLoss(hours: NonNullable<NightReport['hours']>) {
  const worst = hours.went.find((w) => w.what !== 'counted');
  return {
    most: worst ? worst.because || HOUR_WORDS[worst.what] : HOUR_WORDS.between,
    mostHours: (worst?.seconds ?? 0) / 3600,
  };
}

/** What the next person has to know, line by line; what was as usual is left out. */
export function handOverNote(r: Omit<NightReport, 'format' | 'version' | 'handOver'>): Phrase[] {
  const objects = grouped(r.taken, (t) => t.object);
  const sum = (list: NightReport['taken'], key: 'accepted' | 'refused' | 'openS') =>
    list.reduce((s, t) => s + t[key], 0);
  return [
    ...[...objects].map(([object, all]) =>
      phrase('report.taken', {
        object: object || 'no project',
        frames: sum(all, 'accepted'),
        openHours: sum(all, 'openS') / 3600,
        refused: sum(all, 'refused'),
      }),
    ),
    ...(r.hours && r.hours.darkS > 0
      ? [
          phrase('report.hours', {
            countedHours: r.hours.countedS / 3600,
            darkHours: r.hours.darkS / 3600,
            ...greatestLoss(r.hours),
          }),
        ]
      : []),
    ...(r.refused.length
      ? [phrase('report.refused', { causes: r.refused.map((c) => `${c.because} (${c.frames})`) })]
      : []),
    ...r.shown
      .filter((s) => s.finding !== 'round' && isOfMost(s))
      .map((s) => phrase('look.most', { shown: s.frames, measured: s.of, finding: namesIn([s.finding]) })),
    ...r.focus
      .filter((f) => f.usable < f.runs)
      .map((f) => phrase('report.focus', { filter: f.filter, unusable: f.runs - f.usable, runs: f.runs })),
    ...r.guiding.map((g) =>
      g.found.length
        ? phrase('report.guiding-found', {
            log: g.log,
            rmsArcsec: g.totalArcsec,
            found: namesIn(g.found),
          })
        : phrase('report.guiding', { log: g.log, rmsArcsec: g.totalArcsec }),
    ),
    ...r.guidedFrames.slice(1).map((text) => phrase('report.said', { text })),
    ...(r.flatsBeforeAnythingIsTurned ? [phrase('calibration.urgent', { flats: r.flatsBeforeAnythingIsTurned })] : []),
  ];
}

/** What the book has a name for; nothing else was found by this product. */
const namesIn = (codes: readonly string[]) => codes.filter(isNameCode).map(nameOf);
