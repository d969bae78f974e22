import { VirtualClock, turningS, type Observatory, type SecondCamera } from '../observatory/index.ts';
import type { Overheads } from '../sequence/index.ts';

/** Equipment that takes exactly the time it is said to take, under a sky that never changes. */
export function obedient(
  overheads: Overheads,
  startMs: number,
  wheelAt: string,
  second: { overheads: Overheads; wheelAt: string } | null = null,
  rotator?: { afterFlip: 'turn' | 'leave' },
): Observatory {
  const clock = new VirtualClock(startMs);
  const spend = (s: number) => clock.sleep(1000 * s);
  /** What a pointing takes is said for mount and rotator together. */
  const own = (s: number) => ((turnS = rotator ? turningS(s) : 0), s - turnS);
  let turnS = 0;
  return {
    clock,
    ...(rotator ? { rotator: { turnTo: async () => (await spend(turnS), 0), angleDeg: () => 0 } } : {}),
    mount: {
      slewAndCentre: () => spend(own(overheads.slewCentreS)),
      slewToField: () => spend(overheads.slewCentreS),
      flip: () => spend(rotator?.afterFlip === 'turn' ? own(overheads.flipS) : overheads.flipS),
      park: async () => undefined,
    },
    guider: {
      start: () => spend(overheads.guideStartS),
      stop: async () => undefined,
      dither: () => spend(overheads.ditherS),
    },
    ...train(overheads, wheelAt, spend),
    ...(second ? { beside: train(second.overheads, second.wheelAt, (s) => clock.beside.sleep(1000 * s)) } : {}),
    weather: { read: () => ({ clear: true, temperatureC: 5, seeingArcsec: 2 }) },
  };
}
function train(overheads: Overheads, wheelAt: string, spend: (s: number) => Promise<void>): SecondCamera {
  let [wheel, place] = [wheelAt, 5000];
  return {
    wheel: {
      filters: ['L', 'R', 'Ha'],
      current: () => wheel,
      select: async (name) => (await spend(overheads.filterChangeS), void (wheel = name)),
    },
    focuser: { position: () => place, temperatureC: () => 5, moveTo: async (p) => void (place = p) },
    camera: {
      expose: async (s) => (await spend(s), { hfdPx: 2, stars: 100, eccentricity: 0.2, background: 1 }),
      download: () => spend(overheads.downloadS),
      focusFrame: async () => ({ hfdPx: Math.hypot(2, 0.03 * (place - 5000)), stars: 100 }),
    },
  };
}
