import { seeded } from '../statistics/index.ts';
import { DeviceFault, type Device, type FrameMeasure, type Observatory } from './devices.ts';

/** What can go wrong with equipment, on request. */
export const FAULTS = [
  'cloud',
  'gust',
  'knock',
  'cable-snag',
  'focuser-slip',
  'device-absent',
  'device-late',
  'device-silent',
  'star-lost',
  'hot-pixel',
  'wrong-filter',
  'disk-full',
  'interlock',
  'roof-closes',
  'power-dip',
  'clock-back',
  'two-at-once',
  'rotator-slips',
  'supply-low',
  'deaf-mount',
] as const;
export type Fault = (typeof FAULTS)[number];

/** Those that can come over what a rig has. */
export const faultsOf = ({ rotator, supply }: { rotator: boolean; supply: boolean }): Fault[] =>
  FAULTS.filter((f) => (f !== 'rotator-slips' || rotator) && (f !== 'supply-low' || supply));

/** A fault of one night: from when on, and for how long it lasts where it passes. */
export interface PlannedFault {
  fault: Fault;
  atMs: number;
  forMs: number;
}
/** Draws when each fault comes: in the middle of a night, for some minutes. */
export function drawFaults(faults: readonly Fault[], seed: number, startMs: number, endMs: number): PlannedFault[] {
  return faults.map((fault, i) => {
    const r = seeded(seed).fork(`${fault} ${i}`);
    const atMs = Math.round(startMs + (0.15 + 0.5 * r.next()) * (endMs - startMs));
    return { fault, atMs, forMs: Math.round((3 + 17 * r.next()) * 60_000) };
  });
}

/** What really happened on the equipment, whatever the conductor believes of it. */
export interface Truth {
  /** Exposures that were read out, by when they began. */
  readOut: { startMs: number; filter: string }[];
  /** Motions and exposures that were begun while the interlock was open. */
  unsafe: string[];
  flips: number;
}

/** So soon what moves is stopped once the interlock has opened [ms]. */
const STOPS_MS = 10_000;
/** A gust [m/s]; as invented as the stand-ins. */
const GUST = 19;
/** A rotator slips by so much [deg]; a supply that fails gives so much, and below that nothing works any more [V]. All invented. */
const SLIPS_DEG = 6;
const LOW_V = 10.9;
const DEAD_V = 9;
const MAY_BE_SILENT: readonly Device[] = ['camera', 'wheel', 'guider', 'mount'];
const FOR_EVER_MS = 1e10;
/** So far somebody at the hand controller moves it [arcmin]. */
const ELSEWHERE = 80;
const MAY_BE_ABSENT: readonly Device[] = ['camera', 'wheel', 'focuser', 'guider'];

/**
 * Stand-ins that misbehave as is asked for. Everything else they do as before; what is true of them is kept apart, so that it
 * can be held against what a run wrote down.
 */
export function withFaults(
  o: Observatory,
  planned: readonly PlannedFault[],
  seed: number,
): { o: Observatory; truth: Truth } {
  const random = seeded(seed).fork('faults');
  const truth: Truth = { readOut: [], unsafe: [], flips: 0 };
  const { clock } = o;
  o.disturb?.((ms) => ({
    gust: on('gust', ms),
    lost: on('star-lost', ms),
    hot: onHotPixel,
    deaf: on('deaf-mount', ms),
  }));
  const of = (fault: Fault) => planned.filter((p) => p.fault === fault);
  const now = () => o.clock.now();
  const on = (fault: Fault, ms = now()) => of(fault).some((p) => ms >= p.atMs && ms < p.atMs + p.forMs);
  const since = (fault: Fault) => of(fault).some((p) => now() >= p.atMs);
  const overlaps = (fault: Fault, fromMs: number, untilMs: number) =>
    of(fault).some((p) => p.atMs < untilMs && p.atMs + p.forMs > fromMs);
  const once = new Set<Fault>();
  /** True the first time it is asked after the fault has come. */
  const first = (fault: Fault) => since(fault) && !once.has(fault) && !!once.add(fault);
  const absent = MAY_BE_ABSENT[Math.floor(MAY_BE_ABSENT.length * random.next())]!;
  const slip = Math.round((random.next() < 0.5 ? -1 : 1) * (150 + 250 * random.next()));
  let [slipped, offArcmin, offDeg, onHotPixel, lost] = [0, 0, 0, false, false];
  let begun: { startMs: number; filter: string } | null = null;
  let wrong: string | null = null;

  /** A cloud for some minutes, and a guider that takes a hot pixel for its star for a while after it. */
  const HOT_CLOUD_MS = 240_000;
  const hotPixels = () => of('hot-pixel').some((p) => now() >= p.atMs && now() < p.atMs + HOT_CLOUD_MS + p.forMs);
  const clouded = (fromMs: number, untilMs: number) =>
    overlaps('cloud', fromMs, untilMs) ||
    overlaps('roof-closes', fromMs, untilMs) ||
    of('hot-pixel').some((p) => p.atMs < untilMs && p.atMs + HOT_CLOUD_MS > fromMs);

  /** A roof that shuts by itself opens the interlock as well. */
  const OPENS_INTERLOCK = ['interlock', 'roof-closes'] as const;
  const isSafe = () => !OPENS_INTERLOCK.some((f) => on(f)) && (o.interlock?.isSafe() ?? true);
  const isDrained = () => (o.power?.state().volts ?? DEAD_V) < DEAD_V;
  /** What a device answers to anything while it is gone. */
  function present(device: Device): void {
    if ((on('power-dip') && device !== 'weather') || isDrained()) throw new DeviceFault(device, 'no power');
    if (device === absent && on('device-absent')) throw new DeviceFault(device, 'no answer on its cable');
  }
  const late = () => (first('device-late') ? clock.sleep(100_000) : Promise.resolve());
  /** One device does not come back from what it was asked for, once. */
  const silent = MAY_BE_SILENT[Math.floor(MAY_BE_SILENT.length * random.next())]!;
  const hangs = (device: Device) =>
    device === silent && first('device-silent') ? clock.sleep(FOR_EVER_MS) : Promise.resolve();
  /** Something that moves, held against the interlock: it does not begin while that is open, and ends soon after it has opened. */
  async function moves<T>(what: string, work: () => Promise<T>): Promise<T> {
    const beganMs = now();
    const at = (ms: number) => new Date(ms).toISOString();
    if (!isSafe()) truth.unsafe.push(`${what} begun at ${at(beganMs)}`);
    try {
      const got = await work();
      if (on('power-dip', now())) lost = true;
      return got;
    } finally {
      for (const p of OPENS_INTERLOCK.flatMap(of))
        if (p.atMs > beganMs && now() > p.atMs + STOPS_MS && now() < p.atMs + p.forMs)
          truth.unsafe.push(`${what} begun at ${at(beganMs)} went on until ${at(now())}`);
    }
  }

  /** A frame with what came over it from outside. */
  function spoilt(m: FrameMeasure, startMs: number): FrameMeasure {
    const by: Partial<FrameMeasure> = {};
    if (clouded(startMs, now())) Object.assign(by, { stars: Math.round(0.1 * m.stars), background: 2.3 });
    if (OPENS_INTERLOCK.some((f) => overlaps(f, startMs, now())))
      Object.assign(by, { stars: 0, background: 0.2, eccentricity: 0.9 });
    if (overlaps('gust', startMs, now()) || onHotPixel || lost || overlaps('star-lost', startMs, now()))
      Object.assign(by, { eccentricity: Math.max(0.8, m.eccentricity) });
    return {
      ...m,
      ...by,
      offArcmin: (m.offArcmin ?? 0) + offArcmin,
      ...(o.rotator ? { offDeg: (m.offDeg ?? 0) + offDeg } : {}),
    };
  }

  const back = () => (on('clock-back') ? 3_600_000 : 0);
  async function secondExposes(seconds: number): Promise<FrameMeasure> {
    const startMs = now();
    const m = await o.beside!.camera.expose(seconds);
    if (on('power-dip')) throw new DeviceFault('camera', 'no power');
    return spoilt(m, startMs);
  }
  const faulty: Observatory = {
    ...o,
    clock: {
      now: () => now() - back(),
      sleep: (ms) => clock.sleep(ms),
      until: (ms, busy, beside) => clock.until(ms + back(), busy, beside),
      ...(clock.interrupt ? { interrupt: (why) => clock.interrupt!(why) } : {}),
    },
    connect: async (device) => {
      await late();
      if (on('power-dip') || (device === absent && on('device-absent'))) return false;
      return o.connect ? o.connect(device) : true;
    },
    mount: {
      ...o.mount,
      slewAndCentre: (target, within) =>
        moves('a slew', async () => {
          present('mount');
          await late();
          await hangs('mount');
          [offArcmin, lost] = [0, false];
          return o.mount.slewAndCentre(target, within);
        }),
      slewToField: (field) =>
        moves('a slew', async () => {
          present('mount');
          return o.mount.slewToField(field);
        }),
      flip: (target, to) =>
        moves('a flip', async () => {
          present('mount');
          if (first('cable-snag')) throw new DeviceFault('mount', 'it stopped against a cable');
          const before = o.mount.pierSide?.();
          offArcmin = 0;
          await o.mount.flip(target, to);
          if (before !== to) truth.flips++;
        }),
      park: () =>
        moves('parking', async () => {
          present('mount');
          return o.mount.park();
        }),
    },
    guider: {
      start: async () => {
        present('guider');
        await late();
        await hangs('guider');
        if (on('star-lost')) throw new DeviceFault('guider', 'no star is found');
        onHotPixel = hotPixels();
        return o.guider.start();
      },
      stop: async () => {
        if (on('power-dip')) throw new DeviceFault('guider', 'no power');
        onHotPixel = false;
        return o.guider.stop();
      },
      dither: async () => {
        present('guider');
        if (on('star-lost')) throw new DeviceFault('guider', 'the star is lost');
        return o.guider.dither();
      },
      ...(o.guider.state
        ? { state: () => (on('power-dip') ? { is: 'off' as const, rms: null } : o.guider.state!()) }
        : {}),
    },
    wheel: {
      ...o.wheel,
      current: () => wrong ?? o.wheel.current(),
      select: async (filter) => {
        present('wheel');
        await late();
        await hangs('wheel');
        await o.wheel.select(filter);
        wrong = null;
        if (first('wrong-filter')) wrong = o.wheel.filters.find((f) => f !== filter) ?? null;
      },
    },
    focuser: {
      ...o.focuser,
      position: () => o.focuser.position() + slipped,
      moveTo: async (p) => {
        present('focuser');
        if (first('focuser-slip')) slipped = slip;
        return o.focuser.moveTo(p - slipped);
      },
    },
    camera: {
      ...o.camera,
      expose: async (seconds) => {
        present('camera');
        await late();
        await hangs('camera');
        const startMs = now();
        if (!isSafe()) truth.unsafe.push(`an exposure begun at ${new Date(startMs).toISOString()}`);
        if (first('focuser-slip')) {
          slipped = slip;
          await o.focuser.moveTo(o.focuser.position() - slip);
        }
        if (first('knock')) offArcmin += 5;
        if (first('rotator-slips')) offDeg += SLIPS_DEG;
        const m = await o.camera.expose(seconds);
        present('camera');
        if (first('two-at-once')) {
          offArcmin += ELSEWHERE;
          await o.wheel.select(o.wheel.filters.find((f) => f !== o.wheel.current()) ?? o.wheel.current());
          begun = { startMs, filter: o.wheel.current() };
          return { ...spoilt(m, startMs), eccentricity: 0.9 };
        }
        begun = { startMs, filter: wrong ?? o.wheel.current() };
        return spoilt(m, startMs);
      },
      download: async () => {
        present('camera');
        if (since('disk-full')) throw new DeviceFault('camera', 'the disk is full', true);
        await o.camera.download();
        if (begun) truth.readOut.push(begun);
        begun = null;
      },
      focusFrame: async () => {
        present('camera');
        const m = await o.camera.focusFrame();
        return clouded(now(), now() + 1) ? { ...m, stars: 3 } : m;
      },
    },
    weather: {
      read: () => {
        const w = o.weather.read();
        return {
          ...w,
          clear: w.clear && !clouded(now(), now() + 1),
          windMS: on('gust') ? Math.max(GUST, w.windMS ?? 0) : (w.windMS ?? 0),
        };
      },
    },
    interlock: { isSafe },
    ...(o.rotator
      ? {
          rotator: {
            ...o.rotator,
            turnTo: (want, withinDeg) =>
              moves('a turn of the rotator', async () => {
                present('rotator');
                const off = await o.rotator!.turnTo(want, withinDeg);
                offDeg = 0;
                return off;
              }),
          },
        }
      : {}),
    ...(o.power
      ? {
          power: {
            switchTo: (to) => o.power!.switchTo(to),
            state: () => {
              const now = o.power!.state();
              return since('supply-low') ? { ...now, volts: Math.min(LOW_V, now.volts) } : now;
            },
          },
        }
      : {}),
    ...(o.roof ? { roof: { ...o.roof, state: () => (on('roof-closes') ? 'closed' : o.roof!.state()) } } : {}),
    ...(o.beside ? { beside: { ...o.beside, camera: { ...o.beside.camera, expose: secondExposes } } } : {}),
  };
  return { o: faulty, truth };
}
