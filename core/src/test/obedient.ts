import { VirtualClock, type Observatory, type SecondCamera } from '../observatory/index.ts';
import type { Overheads } from '../sequence/index.ts';

/** Equipment that takes exactly the time it is said to take, under a sky that never changes. */
export function obedient(
  overheads: Overheads,
  startMs: number,
  wheelAt: string,
  second: { overheads: Overheads; wheelAt: string } | null = null,
): Observatory {
  const clock = new VirtualClock(startMs);
  const spend = (s: number) => clock.sleep(1000 * s);
  return {
    clock,
    mount: {
      slewAndCentre: () => spend(overheads.slewCentreS),
      slewToField: () => spend(overheads.slewCentreS),
      flip: () => spend(overheads.flipS),
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
