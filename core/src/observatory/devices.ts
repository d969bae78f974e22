/** What the conductor asks of equipment. The stand-ins implement it in virtual time; a real driver could as well. */

/** Time as the run sees it. Milliseconds since 1970, UTC. */
export interface Clock {
  now(): number;
  sleep(ms: number): Promise<void>;
}
/** The same for whoever watches the devices meanwhile. */
export interface RunTime extends Clock {
  /**
   * Lets time pass until a moment [ms], or until something is over, or somebody calls; whichever is first.
   * @param beside  what the second camera is at
   */
  until(ms: number, busy: Promise<unknown> | null, beside?: Promise<unknown> | null): Promise<void>;
  /** Of time that is not the world’s: ends what sleeps on it as a failure. */
  interrupt?(why: Error): void;
}

/** Side of the pier on which the tube is; it looks to the other one. */
export type PierSide = 'east' | 'west';

export interface Mount {
  /**
   * Slews, solves and corrects until the target is centred within a tolerance, or as well as it gets.
   * @returns how far off it ended [arcmin]; nothing where it does not solve
   */
  slewAndCentre(target: { raDeg: number; decDeg: number }, withinArcmin: number): Promise<number | void>;
  /** Slews to a place above the horizon, for focusing there. */
  slewToField(field: { altitudeDeg: number; azimuthDeg: number }): Promise<void>;
  /** Brings the tube to a side of the pier, and centres again; one that is there already passes to no other. */
  flip(target: { raDeg: number; decDeg: number }, to: PierSide): Promise<void>;
  /** On which side of the pier the tube is; nothing where the mount does not tell. */
  pierSide?(): PierSide;
  park(): Promise<void>;
  /** Stops where it is; what was asked of it fails. */
  abort?(): void | Promise<void>;
  /** Where the tube is now; left out: the mount does not tell. */
  state?(): MountState;
}
/** Where a tube looks: hour angle and declination [deg], whether it is on its way, and whether it follows the sky. */
export interface MountState {
  haDeg: number;
  decDeg: number;
  side: PierSide;
  moves: boolean;
  follows: boolean;
}
export interface GuiderState {
  is: 'off' | 'guiding' | 'lost';
  /** Scatter of the last minute [arcsec]. */
  rms: { ra: number; dec: number } | null;
}

export interface Guider {
  start(): Promise<void>;
  stop(): Promise<void>;
  /** Moves the pointing a little and waits until it has settled. */
  dither(): Promise<void>;
  state?(): GuiderState;
}

export interface FilterWheel {
  readonly filters: readonly string[];
  current(): string;
  select(filter: string): Promise<void>;
}

export interface Focuser {
  position(): number;
  temperatureC(): number;
  moveTo(position: number): Promise<void>;
}

/** What is measured on a frame as soon as it is read out. */
export interface FrameMeasure {
  hfdPx: number;
  stars: number;
  eccentricity: number;
  /** Sky level against a clear frame through the same filter. */
  background: number;
  /** How far the frame lies from where it should, and how far it is turned from that, where it was solved. */
  offArcmin?: number;
  offDeg?: number;
}

export interface Camera {
  expose(seconds: number): Promise<FrameMeasure>;
  /** Reads the last exposure out. */
  download(): Promise<void>;
  /** A short frame for focusing. */
  focusFrame(): Promise<{ hfdPx: number; stars: number }>;
  /** Ends an exposure, which is lost; what was asked fails. */
  abort?(): void | Promise<void>;
  /** Cools to a temperature, by itself and in its own time; null: warms up. */
  cool?(toC: number | null): Promise<void>;
  state?(): { sensorC: number; coolerPercent: number };
}

/** Lets things move, or not: roof, door, somebody in the way. */
export interface Interlock {
  isSafe(): boolean;
}

/** A roof, a dome’s shutter, or whatever stands between the tube and the rain. */
export interface Roof {
  state(): 'open' | 'closed' | 'moves';
  open(): Promise<void>;
  /** Closes it: never asked for before the mount is parked. */
  close(): Promise<void>;
}
export interface Weather {
  /** Whether the sky is open now; conditions as a sensor on the roof would give them. */
  read(): { clear: boolean; temperatureC: number; seeingArcsec: number; windMS?: number; humidity?: number };
}

/** Turns the camera against the tube. */
export interface Rotator {
  /**
   * Turns, solves and corrects until the picture’s top stands at a position angle within a tolerance, or as near as it gets; where
   * it does not matter which way is up, whichever is nearer.
   * @returns how far off it ended [deg]
   */
  turnTo(want: { paDeg: number; eitherWay: boolean }, withinDeg: number): Promise<number>;
  /** Its own angle against the tube [deg]. */
  angleDeg(): number;
  /** Stops where it is; what was asked of it fails. */
  abort?(): void | Promise<void>;
}

/** A plate that tilts the light on its way: it takes the quick part of what the guide star shows, the mount what is left. */
export interface TipTilt {
  /** How far it is tilted of what it can, in right ascension and declination [−1 to 1]. */
  tilt(): { ra: number; dec: number };
  /** Brings it to its middle, before a star is held. */
  centre(): Promise<void>;
}

/** What everything runs on. */
export interface Power {
  state(): { volts: number; on: boolean };
  switchTo(on: boolean): Promise<void>;
}

/** What every observatory has, in the order in which it is connected. */
export const DEVICES = ['camera', 'wheel', 'focuser', 'mount', 'guider', 'weather'] as const;
/** What some have. */
export const MORE_DEVICES = ['rotator', 'tip-tilt'] as const;
export type Device = (typeof DEVICES | typeof MORE_DEVICES)[number];
/** What can be asked for something; a roof and a supply are not connected, they are there or not. */
export type Asked = Device | 'roof' | 'power';

/** Thrown by a device that cannot do what it was asked. */
export class DeviceFault extends Error {
  readonly device: Asked;
  /** Asking again is of no use. */
  readonly final: boolean;
  constructor(device: Asked, reason: string, final = false) {
    super(reason);
    this.device = device;
    this.final = final;
  }
}

/** A second camera on the same mount, with what it exposes through. */
export interface SecondCamera {
  wheel: FilterWheel;
  focuser: Focuser;
  camera: Camera;
  /** Whatever it is at ends as a failure. */
  interrupt?: (why: Error) => void;
}
export interface Observatory {
  /** Whether a device answers now; left out: all do. */
  connect?(device: Device): Promise<boolean>;
  clock: RunTime;
  mount: Mount;
  guider: Guider;
  wheel: FilterWheel;
  focuser: Focuser;
  camera: Camera;
  weather: Weather;
  /** Left out: nothing is in the way of anything. */
  interlock?: Interlock;
  /** Left out: there is none, or it is opened and closed by hand. */
  roof?: Roof;
  /** Each left out where there is none. */
  rotator?: Rotator;
  tipTilt?: TipTilt;
  power?: Power;
  /** Left out: there is none. */
  beside?: SecondCamera;
  /** Of stand-ins: what comes over them from outside. */
  disturb?(air: (ms: number) => { gust: boolean; lost: boolean; hot: boolean; deaf: boolean }): void;
}
