import { longOverShort, FWHM_PER_SIGMA } from '../../quantities/index.ts';
import { LONG_ECCENTRICITY } from '../../record/index.ts';
import { phrase, type Phrase } from '../../phrases/index.ts';
import { lowerBound, median } from '../../statistics/index.ts';
import type { FrameMeasures } from '../frameMeasures.ts';

/** A guide log that knows its time of day. Errors are those on the sky [″], seconds count from `beganAtMs`. */
export interface TimedLog {
  name: string;
  beganAtMs: number;
  samples: readonly LoggedSample[];
}
export interface LoggedSample {
  timeS: number;
  raArcsec: number;
  decArcsec: number;
  state: 'guiding' | 'settling' | 'dithering' | 'lost' | 'off';
}
export interface ExposedFrame {
  id: string;
  startedMs: number;
  exposureS: number;
  look: Pick<FrameMeasures, 'fwhmPx' | 'eccentricity'> | null;
}
/** What the mount did while a shutter was open. */
export interface FrameGuiding {
  log: string;
  /** Which of the logs that is. */
  logAt: number;
  /** Share of the exposure of which the log knows, 0 to 1. */
  covered: number;
  /** Scatter about the frame’s own mean, both axes together [″]; null where fewer than three samples were guided. */
  rmsArcsec: number | null;
  /** Largest distance from that mean [″], and when after the shutter opened [s]. */
  peakArcsec: number | null;
  peakAtS: number | null;
  /** Without a guide star, and dithering or settling, with the shutter open [s]. */
  lostS: number;
  movedS: number;
  /** Length over width of the stars as this guiding would leave them; null where the picture was not measured. */
  explains: number | null;
  /** How this frame differs from its fellows; empty: it was guided as usual. */
  phrases: Phrase[];
}

/** Thresholds of what is said; common practice, no source. */
const SAY = {
  lostShare: 0.05,
  movedS: 3,
  restless: 1.5,
  gustSigma: 6,
  gustArcsec: 1,
  sudden: 5,
  mostOfIt: 0.5,
} as const;
/** Frames and samples fewer than these say nothing. */
const ENOUGH = { samples: 3, frames: 4 } as const;

interface During extends FrameGuiding {
  /** Root mean squares along the longest axis of the scatter and across it [″]. */
  along: number;
  across: number;
  /** Middle distance from the mean [″]. */
  usualArcsec: number;
}

/**
 * What a night’s guide logs say of each of its frames: scatter, the worst excursion, a lost star, a dither within the
 * exposure, and whether the stars are as long as this guiding makes them.
 * @param scaleArcsecPerPx of the main camera
 * @returns by frame; frames of which no log knows anything are left out
 */
export function guidingOfFrames(
  frames: readonly ExposedFrame[],
  logs: readonly TimedLog[],
  scaleArcsecPerPx: number,
): Map<string, FrameGuiding> {
  const found = new Map<string, During>();
  for (const [logAt, log] of logs.entries()) {
    const step = cadenceOf(log);
    const times = log.samples.map((s) => s.timeS);
    for (const frame of frames) {
      const during = duringFrame(frame, log, times, step, scaleArcsecPerPx);
      if (during && during.covered > (found.get(frame.id)?.covered ?? 0)) found.set(frame.id, { ...during, logAt });
    }
  }
  const usual = usualOf([...found.values()]);
  return new Map(
    frames.flatMap((f) => {
      const d = found.get(f.id);
      if (!d) return [];
      const { along: _a, across: _b, usualArcsec: _u, ...figures } = d;
      return [[f.id, { ...figures, phrases: wordsFor(f, d, usual) }] as const];
    }),
  );
}

/** Where in a rising list a time would stand. */
const place = (times: readonly number[], s: number) => lowerBound(times, (t) => t, s);
/** Usual time between two samples [s]. */
function cadenceOf(log: TimedLog): number {
  const steps = log.samples.slice(1).map((s, i) => s.timeS - log.samples[i]!.timeS);
  return steps.length ? median(steps) : 0;
}

function duringFrame(
  frame: ExposedFrame,
  log: TimedLog,
  times: readonly number[],
  step: number,
  scale: number,
): During | null {
  const from = (frame.startedMs - log.beganAtMs) / 1000;
  const [a, b] = [place(times, from), place(times, from + frame.exposureS)];
  const inside = log.samples.slice(a, b);
  if (inside.length === 0 || frame.exposureS <= 0) return null;
  const seconds = (states: readonly LoggedSample['state'][]) =>
    Math.min(frame.exposureS, inside.filter((s) => states.includes(s.state)).length * step);
  const steady = inside.filter((s) => s.state === 'guiding' || s.state === 'off');
  const base = {
    log: log.name,
    logAt: 0,
    covered: Math.min(1, (inside.length * step) / frame.exposureS),
    lostS: seconds(['lost']),
    movedS: seconds(['dithering', 'settling']),
    explains: null,
    phrases: [],
  };
  if (steady.length < ENOUGH.samples)
    return { ...base, rmsArcsec: null, peakArcsec: null, peakAtS: null, along: 0, across: 0, usualArcsec: 0 };
  const n = steady.length;
  const [mx, my] = [steady.reduce((s, v) => s + v.raArcsec, 0) / n, steady.reduce((s, v) => s + v.decArcsec, 0) / n];
  let [xx, xy, yy, peak, at] = [0, 0, 0, 0, 0];
  const distances: number[] = [];
  for (const s of steady) {
    const [dx, dy] = [s.raArcsec - mx, s.decArcsec - my];
    xx += dx * dx;
    xy += dx * dy;
    yy += dy * dy;
    const far = Math.hypot(dx, dy);
    distances.push(far);
    if (far > peak) [peak, at] = [far, s.timeS - from];
  }
  const [half, spread] = [(xx + yy) / 2 / n, Math.hypot((xx - yy) / 2, xy) / n];
  const [along, across] = [Math.sqrt(half + spread), Math.sqrt(Math.max(0, half - spread))];
  return {
    ...base,
    rmsArcsec: Math.sqrt((xx + yy) / n),
    peakArcsec: peak,
    peakAtS: at,
    along,
    across,
    usualArcsec: median(distances),
    explains: explained(frame.look, along, across, scale),
  };
}

/**
 * How long over wide stars become by such guiding. The width across the scatter is what is left by air and optics; widths
 * add by their squares.
 */
function explained(look: ExposedFrame['look'], along: number, across: number, scale: number): number | null {
  if (typeof look?.fwhmPx !== 'number' || typeof look.eccentricity !== 'number') return null;
  const ratio = longOverShort(look.eccentricity);
  const narrow = (look.fwhmPx / Math.sqrt(ratio)) * scale;
  const air = Math.max(0, narrow ** 2 - (FWHM_PER_SIGMA * across) ** 2);
  const [long, wide] = [
    Math.sqrt(air + (FWHM_PER_SIGMA * along) ** 2),
    Math.sqrt(air + (FWHM_PER_SIGMA * across) ** 2),
  ];
  return wide > 0 ? long / wide : null;
}

interface Usual {
  rmsArcsec: number;
  peakArcsec: number;
}
function usualOf(all: readonly During[]): Usual | null {
  const known = all.filter((d) => d.rmsArcsec !== null);
  if (known.length < ENOUGH.frames) return null;
  return { rmsArcsec: median(known.map((d) => d.rmsArcsec!)), peakArcsec: median(known.map((d) => d.peakArcsec!)) };
}

function wordsFor(frame: ExposedFrame, d: During, usual: Usual | null): Phrase[] {
  const phrases: Phrase[] = [];
  if (d.lostS > SAY.lostShare * frame.exposureS) phrases.push(phrase('guided.lost', { lostS: d.lostS }));
  if (d.movedS > SAY.movedS) phrases.push(phrase('guided.moved', { movedS: d.movedS }));
  if (usual && d.rmsArcsec !== null && d.peakArcsec !== null) {
    // an excursion that stands out of this frame and of the night
    const least = Math.max(SAY.gustArcsec, (SAY.gustSigma * usual.rmsArcsec) / Math.SQRT2, 1.5 * usual.peakArcsec);
    const sudden = d.peakArcsec > least && d.peakArcsec > SAY.sudden * d.usualArcsec;
    if (sudden) phrases.push(phrase('guided.gust', { peakArcsec: d.peakArcsec, atS: d.peakAtS! }));
    else if (d.rmsArcsec > SAY.restless * usual.rmsArcsec)
      phrases.push(phrase('guided.restless', { rmsArcsec: d.rmsArcsec, usualArcsec: usual.rmsArcsec }));
  }
  const long = frame.look?.eccentricity;
  // a log of a part of the exposure explains nothing of the rest
  if (typeof long === 'number' && long >= LONG_ECCENTRICITY && d.explains !== null && d.covered > 0.9) {
    const ratio = longOverShort(long);
    const share = (d.explains - 1) / (ratio - 1);
    const values = { ratio, explains: d.explains };
    phrases.push(share >= SAY.mostOfIt ? phrase('guided.explains', values) : phrase('guided.not-guiding', values));
  }
  return phrases;
}

/** The clock of a log against that of the frames. */
export interface ClockShift {
  /** Hours to add to the log’s times. */
  hours: number;
  /** Share of the open shutters that the log then covers. */
  covered: number;
}
/** Widest difference between two clocks looked for [h], and its steps: time zones go by quarters. */
const CLOCKS = { most: 14, step: 0.25, better: 0.02, clearly: 0.3 } as const;
/** A second of dithering with the shutter open speaks as loudly against a clock as ten without a log; chosen by trial. */
const UNREST = 10;
/**
 * Whether a log’s clock ran in another time zone than the camera’s: the shift by quarter hours under which dithers and
 * settling fall between the frames. Null where nothing has to be shifted, or nothing tells.
 */
export function likelyShift(frames: readonly ExposedFrame[], log: TimedLog): ClockShift | null {
  const moving = log.samples.filter((s) => s.state === 'dithering' || s.state === 'settling').map((s) => s.timeS);
  if (frames.length < ENOUGH.frames || log.samples.length === 0) return null;
  const step = cadenceOf(log);
  const times = log.samples.map((s) => s.timeS);
  const open = frames.reduce((s, f) => s + f.exposureS, 0);
  const at = (hours: number) => {
    let [seen, moved] = [0, 0];
    for (const f of frames) {
      const from = (f.startedMs - log.beganAtMs) / 1000 - 3600 * hours;
      const within = (of: readonly number[]) => place(of, from + f.exposureS) - place(of, from);
      seen += Math.min(f.exposureS, within(times) * step);
      moved += Math.min(f.exposureS, within(moving) * step);
    }
    return { hours, covered: seen / open, moved: moved / open, fits: (seen - UNREST * moved) / open };
  };
  const now = at(0);
  // a log that fits as it is stays as it is
  if (now.covered > 0.3 && now.moved < 0.02) return null;
  let best = now;
  // the nearest first: a farther one has to fit clearly better
  for (let k = 1; k <= CLOCKS.most / CLOCKS.step; k++)
    for (const hours of [k * CLOCKS.step, -k * CLOCKS.step]) {
      const there = at(hours);
      if (there.fits > best.fits + CLOCKS.better) best = there;
    }
  return best.fits > now.fits + CLOCKS.clearly && best.covered > 0.5
    ? { hours: best.hours, covered: best.covered }
    : null;
}

/** In a sentence: how many frames of the night were hurt by what, and whether long stars are the guiding’s. */
export function guidedVerdict(frames: readonly ExposedFrame[], of: ReadonlyMap<string, FrameGuiding>): Phrase[] {
  const all = frames.flatMap((f) => of.get(f.id) ?? []);
  if (all.length === 0) return [];
  const count = (code: string) => all.filter((g) => g.phrases.some((p) => p.code === code)).length;
  const known = all.flatMap((g) => g.rmsArcsec ?? []);
  const [by, other] = [count('guided.explains'), count('guided.not-guiding')];
  const hurt = (['lost', 'gust', 'restless', 'moved'] as const).map((name) => [name, count(`guided.${name}`)] as const);
  return [
    phrase('guided.night', {
      covered: all.length,
      frames: frames.length,
      ...(known.length ? { rmsArcsec: median(known) } : { rmsArcsec: 0 }),
    }),
    ...hurt.filter(([, n]) => n > 0).map(([name, n]) => phrase(`guided.${name}-frames`, { frames: n })),
    ...(by + other > 0
      ? [phrase(other > by ? 'guided.long-not-guiding' : 'guided.long-guiding', { long: by + other, explained: by })]
      : []),
  ];
}
