import {
  alike,
  DeviceFault,
  turnedWith,
  type GuiderState,
  type MountState,
  type Observatory,
  type Power,
  type RunTime,
  type TipTilt,
} from '../observatory/index.ts';
import type { Act, Answer, Readings } from './events.ts';

/** Equipment as a run drives it, in this process or elsewhere. */
export interface Equipment {
  clock: RunTime;
  /** @param before  what was read last */
  read: (before: Readings | null) => Readings;
  /** Asks a device. @throws DeviceFault */
  perform: (act: Act) => Promise<Answer>;
  /** The second camera, where there is one. */
  beside?: {
    read: () => Partial<Readings>;
    perform: (act: Act) => Promise<Answer>;
    /** What it is at ends as a failure. */
    interrupt: (why: Error) => void;
  };
  /** It was left alone and went safe; told once. */
  wentSafe?: () => boolean;
  /** It is elsewhere: what happened to it has happened, and is not played to it again. */
  elsewhere?: boolean;
}
export function equipmentIn(o: Observatory | Equipment): Equipment {
  if ('perform' in o) return o;
  const { beside } = o;
  return {
    clock: o.clock,
    read: (before) => read(o, before),
    perform: (act) => perform(o, act),
    ...(beside
      ? {
          beside: {
            read: () => ({
              temperatureC: beside.focuser.temperatureC() + 0,
              position: beside.focuser.position(),
              wheel: beside.wheel.current(),
            }),
            // it is asked for nothing that is the mount’s
            perform: (act) => (act.do === 'connect' ? Promise.resolve(true) : perform({ ...o, ...beside }, act)),
            interrupt: (why) => beside.interrupt?.(why),
          },
        }
      : {}),
  };
}

/** Asks a device of an observatory. @throws DeviceFault */
export async function perform(o: Observatory, act: Act): Promise<Answer> {
  switch (act.do) {
    case 'connect':
      return o.connect ? o.connect(act.device) : true;
    case 'centre':
      return (await o.mount.slewAndCentre({ raDeg: act.raDeg, decDeg: act.decDeg }, act.withinArcmin)) ?? 0;
    case 'field':
      await o.mount.slewToField({ altitudeDeg: act.altitudeDeg, azimuthDeg: act.azimuthDeg });
      return null;
    case 'flip':
      await o.mount.flip({ raDeg: act.raDeg, decDeg: act.decDeg }, act.to);
      return null;
    case 'park':
      await o.mount.park();
      return null;
    case 'start':
      await o.guider.start();
      return null;
    case 'stop':
      await o.guider.stop();
      return null;
    case 'open':
    case 'close':
      if (!o.roof) throw new DeviceFault('roof', 'there is none', true);
      await o.roof[act.do]();
      return null;
    case 'switch-on':
    case 'switch-off':
      if (!o.power) throw new DeviceFault('power', 'there is none that can be switched', true);
      await o.power.switchTo(act.do === 'switch-on');
      return null;
    case 'rotate':
      if (!o.rotator) throw new DeviceFault('rotator', 'there is none', true);
      return o.rotator.turnTo({ paDeg: act.paDeg, eitherWay: act.eitherWay }, act.withinDeg);
    case 'centre-plate':
      if (!o.tipTilt) throw new DeviceFault('tip-tilt', 'there is none', true);
      await o.tipTilt.centre();
      return null;
    case 'dither':
      await o.guider.dither();
      return null;
    case 'turn':
      await o.wheel.select(act.filter);
      return null;
    case 'move':
      await o.focuser.moveTo(act.position);
      return null;
    case 'cool':
      await o.camera.cool?.(act.toC);
      return null;
    case 'expose':
      return o.camera.expose(act.seconds);
    case 'read-out':
      await o.camera.download();
      return null;
    case 'focus-frame':
      return o.camera.focusFrame();
    case 'abort':
      await o[act.device]?.abort?.();
      return null;
  }
}

const rounded = (v: number, to: number) => Math.round(v / to) * to + 0;
const hundredth = (v: number) => Math.round(100 * v) / 100 + 0;
/** Where the tube is, and when that was [ms since 1970, UTC]; one that stands, or follows the sky as it did, is where it was. */
export function tubeRead(now: MountState | null, last: Readings['tube'], atMs: number): Readings['tube'] {
  if (!now) return null;
  const { haDeg, decDeg, side, moves, follows } = now;
  const stays = last && !moves && !last.moves && follows === last.follows;
  if (stays && alike(now, turnedWith(last, { follows, sinceMs: atMs - last.atMs }))) return last;
  return { haDeg: hundredth(haDeg), decDeg: hundredth(decDeg), side, moves, follows, atMs };
}

/** What has to be known at once; the rest is read once a minute, and whenever something was done. */
export const URGENT: ReadonlySet<keyof Readings> = new Set(['safe', 'clear', 'guider', 'roof', 'tube']);

/**
 * What the devices of an observatory read now.
 * @param before  what they read last: a tube that follows the sky, or stands, is where it was
 */
export function read(o: Observatory, before: Readings | null): Readings {
  const { wheel, focuser, weather, camera, guider, mount } = o;
  const { clear, windMS = 0, humidity = 0 } = weather.read();
  const { is, rms }: GuiderState = guider.state?.() ?? { is: 'off', rms: null };
  return {
    // a reading of minus nothing is nothing
    temperatureC: focuser.temperatureC() + 0,
    position: focuser.position(),
    wheel: wheel.current(),
    clear,
    windMS: Math.round(10 * windMS) / 10,
    humidity: Math.round(1000 * humidity) / 1000,
    safe: o.interlock?.isSafe() ?? true,
    guider: is,
    ...(o.roof ? { roof: o.roof.state() } : {}),
    ...(o.rotator ? { rotatorDeg: rounded(o.rotator.angleDeg(), 0.1) } : {}),
    ...(o.tipTilt ? { tilt: tiltRead(o.tipTilt) } : {}),
    ...(o.power ? { supply: supplyRead(o.power) } : {}),
    guideArcsec: rms && [rms.ra, rms.dec],
    cooler: camera.state ? [rounded(camera.state().sensorC, 0.1), camera.state().coolerPercent] : null,
    tube: tubeRead(mount.state?.() ?? null, before?.tube ?? null, o.clock.now()),
  };
}
/** To a twentieth of its reach: what changes all the time is told where it says something. */
function tiltRead(plate: TipTilt): [number, number] {
  const { ra, dec } = plate.tilt();
  return [rounded(ra, 0.05), rounded(dec, 0.05)];
}
function supplyRead(power: Power): NonNullable<Readings['supply']> {
  const { volts, on } = power.state();
  return { volts: rounded(volts, 0.1), on };
}
/** What is another than before. */
export function changes(now: Partial<Readings>, before: Partial<Readings> | null): Partial<Readings> {
  if (!before) return now;
  const same = (a: unknown, b: unknown) =>
    a === b || (typeof a === 'object' && JSON.stringify(a) === JSON.stringify(b));
  return Object.fromEntries(
    Object.entries(now).filter(([k, v]) => !same(before[k as keyof Readings], v)),
  ) as Partial<Readings>;
}
