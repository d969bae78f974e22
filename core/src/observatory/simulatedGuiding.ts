import { SIDEREAL_ARCSEC_PER_S } from '../quantities/index.ts';
import { seeded } from '../statistics/index.ts';

/** What may be wrong with a simulated night's guiding. */
export const GUIDE_FAULTS = [
  'none',
  'over-correction',
  'worm',
  'cloud',
  'hot-pixel',
  'gusts',
  'polar',
  'backlash',
] as const;
export type GuideFault = (typeof GUIDE_FAULTS)[number];

export interface SimulatedSample {
  timeS: number;
  raArcsec: number;
  decArcsec: number;
  raPulseMs: number;
  decPulseMs: number;
  snr: number;
  state: 'guiding' | 'settling' | 'dithering' | 'lost';
}
export interface SimulatedGuiding {
  seed: number;
  seconds: number;
  cadenceS?: number;
  fault?: GuideFault;
  /** Scatter of one measurement by the air [″]. */
  seeingArcsec?: number;
  wormPeriodS?: number;
  /** When it dithers [s], rising; left out, now and then. */
  ditherAtS?: readonly number[];
}

/** Pointing moved by a pulse at half the sidereal rate [″ per ms]. */
const ARCSEC_PER_MS = SIDEREAL_ARCSEC_PER_S * 0.5e-3;
const DITHER_EVERY_S = 600;
/** Play of the declination gear with the fault, and a slow sway of the pointing that turns its pulses round [″, s]; invented. */
const PLAY = { arcsec: 12, sway: 4, periodS: 640 } as const;

/**
 * A guider on a worm mount under moving air: measure, correct by a share of the error, dither now and then. One fault can
 * be put in. Everything random comes from the seed, so that the same night can be read again.
 */
export function simulateGuiding(o: SimulatedGuiding): SimulatedSample[] {
  const random = seeded(o.seed);
  const cadence = o.cadenceS ?? 2;
  const seeing = o.seeingArcsec ?? 0.45;
  const fault = o.fault ?? 'none';
  const worm = { period: o.wormPeriodS ?? 480, semi: fault === 'worm' ? 9 : 2.5 };
  const gain = fault === 'over-correction' ? 1.75 : fault === 'worm' ? 0.12 : 0.55;
  const samples: SimulatedSample[] = [];
  let [ra, dec, lastWorm, settle, play] = [0, 0, 0, 0, 0];
  const cloudAt = o.seconds * 0.55;
  const lockAt = o.seconds * 0.6;
  const gusts = fault === 'gusts' ? [0.2, 0.45, 0.7, 0.85].map((k) => k * o.seconds) : [];
  const ditherFalls = (from: number, to: number) =>
    o.ditherAtS
      ? o.ditherAtS.some((at) => at > from && at <= to)
      : Math.floor(to / DITHER_EVERY_S) !== Math.floor(from / DITHER_EVERY_S);
  for (let t = 0; t < o.seconds; t += cadence) {
    const w = worm.semi * Math.sin((2 * Math.PI * t) / worm.period);
    ra += w - lastWorm + 0.012 * random.normal();
    lastWorm = w;
    if (fault === 'backlash')
      dec += (PLAY.sway * 2 * Math.PI * cadence * Math.cos((2 * Math.PI * t) / PLAY.periodS)) / PLAY.periodS;
    dec += (fault === 'polar' ? 0.9 / 60 : 0.05 / 60) * cadence + 0.01 * random.normal();
    let state: SimulatedSample['state'] = settle-- > 0 ? 'settling' : 'guiding';
    if (t > 0 && fault !== 'polar' && ditherFalls(t - cadence, t)) {
      ra += 3 * random.normal();
      dec += 3 * random.normal();
      state = 'dithering';
      settle = 6;
    }
    const shake = gusts.some((g) => t >= g && t < g + 12) ? 9 : 1;
    const dim = fault === 'cloud' ? 1 - 0.8 * Math.exp(-(((t - cloudAt) / 140) ** 2)) : 1;
    const locked = fault === 'hot-pixel' && t >= lockAt;
    const snr = Math.max(2, 55 * dim * (1 + 0.08 * random.normal()));
    if (fault === 'cloud' && dim < 0.28 && random.next() < 0.5) {
      samples.push({ timeS: t, raArcsec: 0, decArcsec: 0, raPulseMs: 0, decPulseMs: 0, snr: 0, state: 'lost' });
      continue;
    }
    const seen = locked
      ? { ra: 0.01 * random.normal(), dec: 0.01 * random.normal() }
      : { ra: ra + shake * seeing * random.normal(), dec: dec + shake * seeing * random.normal() };
    const pulse = (error: number, g: number) =>
      Math.abs(error) < 0.1 ? 0 : Math.max(-2500, Math.min(2500, Math.round((g * error) / ARCSEC_PER_MS)));
    const raPulse = pulse(seen.ra, gain);
    const decPulse = fault === 'polar' ? 0 : pulse(seen.dec, 0.45);
    // a positive pulse makes the error fall
    ra -= raPulse * ARCSEC_PER_MS;
    // a gear with play turns freely before it takes hold on the other side
    const turned = decPulse * ARCSEC_PER_MS;
    const free = fault === 'backlash' ? Math.max(-PLAY.arcsec / 2 - play, Math.min(PLAY.arcsec / 2 - play, turned)) : 0;
    play += free;
    dec -= turned - free;
    samples.push({
      timeS: t,
      raArcsec: Math.round(seen.ra * 1000) / 1000,
      decArcsec: Math.round(seen.dec * 1000) / 1000,
      raPulseMs: raPulse,
      decPulseMs: decPulse,
      snr: Math.round(snr * 10) / 10,
      state,
    });
  }
  return samples;
}
