import { SIDEREAL_ARCSEC_PER_S } from '../quantities/index.ts';
import type { Random } from '../statistics/index.ts';

/** One measurement in so long [ms]. */
const CADENCE_MS = 2000;
/** Scatter of one measurement by the air, and of the mount between two [arcsec]; invented. */
const SEEING = 0.45;
const JITTER = 0.012;
/** Share of an error that is corrected, and what is too small to be [arcsec]. */
const GAIN = 0.55;
const SMALLEST = 0.1;
/** Half the sidereal rate [arcsec/ms], and the longest pulse [ms]. */
const RATE = SIDEREAL_ARCSEC_PER_S * 0.5e-3;
const LONGEST_MS = 2500;
/**
 * A tip-tilt plate takes so much of an error at once, and of what shakes the tube; the mount is told to follow from this share of
 * its reach on. Invented.
 */
const QUICK = 0.7;
const STEADIED = 0.5;
const HANDS_OVER = 0.3;
/** A gust shakes the tube so much [arcsec]. */
const GUST = 6;
/** Measurements of a minute. */
const KEPT = 60_000 / CADENCE_MS;

/** What the mount does by itself. */
export interface MountTruth {
  wormS: number;
  wormArcsec: number;
  /** Drift in declination by the pole that is missed [arcsec/min]. */
  driftArcsecPerMin: number;
}
/** Sums over where a star was, in both axes. */
interface Smear {
  n: number;
  ra: number;
  dec: number;
  ra2: number;
  dec2: number;
}
interface GuideSample {
  raArcsec: number;
  decArcsec: number;
}
/** What holds at a measurement. */
export interface GuideAir {
  gust: boolean;
  /** The star cannot be seen. */
  lost: boolean;
  /** It is a hot pixel that is held. */
  hot: boolean;
  /** The mount does not hear its pulses. */
  deaf: boolean;
}

/**
 * A star held where it is by pulses: measured every two seconds, corrected by a share. It is played on to a moment when somebody
 * asks, always in the same steps, so that nothing depends on how often one does.
 */
export class GuideLoop {
  private steps: number;
  private ra = 0;
  private dec = 0;
  private on = false;
  private readonly samples: GuideSample[] = [];
  /** Of exposures that go on. */
  private readonly open: Smear[] = [];
  private readonly startMs: number;
  private readonly mount: MountTruth;
  private readonly random: Random;
  private readonly air: (ms: number) => GuideAir;

  /** Where a plate in front of the guider has moved the star to, and how far it can [arcsec]; zero: there is none. */
  private readonly plate = { ra: 0, dec: 0 };
  private readonly reachArcsec: number;

  constructor(
    startMs: number,
    mount: MountTruth,
    random: Random,
    air: (ms: number) => GuideAir,
    plate: { reachArcsec: number } | null = null,
  ) {
    [this.startMs, this.mount, this.random, this.air, this.steps] = [startMs, mount, random, air, 0];
    this.reachArcsec = plate?.reachArcsec ?? 0;
  }
  /** The star is held from now on, where it is now, or let go. */
  hold(on: boolean, nowMs: number): void {
    this.to(nowMs);
    this.on = on;
    if (!on) this.samples.length = 0;
    // held where it is now, by whatever tilt the plate has
    [this.ra, this.dec] = [this.plate.ra, this.plate.dec];
  }
  /** The plate is brought to its middle, and the star with it. */
  centrePlate(nowMs: number): void {
    this.to(nowMs);
    [this.plate.ra, this.plate.dec] = [0, 0];
  }
  /** How far the plate is tilted, of what it can. */
  tilt(nowMs: number): { ra: number; dec: number } {
    this.to(nowMs);
    const of = this.reachArcsec || 1;
    return { ra: this.plate.ra / of, dec: this.plate.dec / of };
  }
  /** What the plate takes of an error, before anything else does. */
  private tilted(axis: 'ra' | 'dec', error: number): number {
    if (!this.reachArcsec) return error;
    const reach = this.reachArcsec;
    const to = Math.max(-reach, Math.min(reach, this.plate[axis] + QUICK * error));
    const taken = to - this.plate[axis];
    this.plate[axis] = to;
    return error - taken;
  }
  to(nowMs: number): void {
    const until = Math.floor((nowMs - this.startMs) / CADENCE_MS);
    for (; this.steps < until; this.steps++) this.step();
  }
  private step(): void {
    const atMs = this.startMs + (this.steps + 1) * CADENCE_MS;
    const { wormS, wormArcsec, driftArcsecPerMin } = this.mount;
    const [a, b] = [atMs - CADENCE_MS, atMs].map((ms) => Math.sin((2 * Math.PI * ms) / (1000 * wormS)));
    const { gust, lost, hot, deaf } = this.air(atMs);
    this.ra += wormArcsec * (b! - a!) + JITTER * this.random.normal();
    this.dec += (driftArcsecPerMin * CADENCE_MS) / 60_000 + JITTER * this.random.normal();
    const holds = this.on && !lost && !hot;
    const shaken = gust ? GUST * (this.reachArcsec && holds ? STEADIED : 1) : 0;
    const [x, y, u, v] = [
      this.random.normal(),
      this.random.normal(),
      this.random.normal() * shaken,
      this.random.normal() * shaken,
    ];
    const left = [this.ra - this.plate.ra, this.dec - this.plate.dec] as const;
    const [quickRa, quickDec] = holds ? [this.tilted('ra', left[0]), this.tilted('dec', left[1])] : left;
    const [ra, dec] = [quickRa + u, quickDec + v];
    for (const s of this.open) {
      s.n++;
      s.ra += ra;
      s.dec += dec;
      s.ra2 += ra * ra;
      s.dec2 += dec * dec;
    }
    if (!this.on || lost) return;
    const seen = hot ? [0.02 * x, 0.02 * y] : [ra + SEEING * x, dec + SEEING * y];
    const wanted = this.reachArcsec ? [this.handedOver('ra'), this.handedOver('dec')] : seen;
    const [raPulseMs, decPulseMs] = wanted.map((e) =>
      Math.abs(e!) < SMALLEST ? 0 : Math.max(-LONGEST_MS, Math.min(LONGEST_MS, Math.round((GAIN * e!) / RATE))),
    );
    if (!deaf) this.pulse(raPulseMs! * RATE, decPulseMs! * RATE);
    this.samples.push({ raArcsec: seen[0]!, decArcsec: seen[1]! });
    if (this.samples.length > KEPT) this.samples.shift();
  }
  /** What the plate hands over to the mount. */
  private handedOver(axis: 'ra' | 'dec'): number {
    return Math.abs(this.plate[axis]) > HANDS_OVER * this.reachArcsec ? this.plate[axis] : 0;
  }
  private pulse(ra: number, dec: number): void {
    this.ra -= ra;
    this.dec -= dec;
    if (!this.reachArcsec) return;
    // the plate gives back what the mount has taken
    this.plate.ra -= ra;
    this.plate.dec -= dec;
  }
  /** Scatter of what was measured in the last minute [arcsec]; null where too little was. */
  rms(nowMs: number): { ra: number; dec: number } | null {
    this.to(nowMs);
    const last = this.samples;
    if (last.length < 5) return null;
    const of = (k: 'raArcsec' | 'decArcsec') => Math.sqrt(last.reduce((s, x) => s + x[k] ** 2, 0) / last.length);
    return { ra: Math.round(100 * of('raArcsec')) / 100, dec: Math.round(100 * of('decArcsec')) / 100 };
  }
  /** An exposure begins. @returns ends it: how long a star of a width [arcsec] came out by what the mount really did in it, as eccentricity */
  shutter(fromMs: number): (untilMs: number, starArcsec: number) => number {
    this.to(fromMs);
    const smear: Smear = { n: 0, ra: 0, dec: 0, ra2: 0, dec2: 0 };
    this.open.push(smear);
    return (untilMs, starArcsec) => {
      this.to(untilMs);
      this.open.splice(this.open.indexOf(smear), 1);
      return smeared(smear, starArcsec);
    };
  }
}
function smeared({ n, ra, dec, ra2, dec2 }: Smear, starArcsec: number): number {
  if (n < 2) return 0;
  const [x, y] = [ra2 / n - (ra / n) ** 2, dec2 / n - (dec / n) ** 2].map((v) => 8 * Math.LN2 * Math.max(0, v));
  const [short, long] = [Math.min(x!, y!), Math.max(x!, y!)].map((v) => starArcsec ** 2 + v);
  return Math.sqrt(1 - short! / long!);
}
