import type {
  Asked,
  Device,
  FrameMeasure,
  GuiderState,
  MountState,
  PierSide,
  PlannedFault,
  Power,
  Roof,
} from '../observatory/index.ts';
import type { PlainPhrase } from '../phrases/index.ts';
import type { RunEvent, RunFocus, RunFrame, RunPlan } from '../observatory/index.ts';

/** What devices read at a moment; in an event only what is another than before. */
export interface Readings {
  temperatureC: number;
  position: number;
  wheel: string;
  clear: boolean;
  windMS: number;
  humidity: number;
  /** The interlock lets things move: roof open, nobody in the way. */
  safe: boolean;
  guider: GuiderState['is'];
  /** Each left out where there is none. */
  roof?: ReturnType<Roof['state']>;
  /** The camera’s turn against the tube [deg]. */
  rotatorDeg?: number;
  /** How far a tip-tilt plate is tilted of what it can, in right ascension and declination. */
  tilt?: [number, number];
  supply?: ReturnType<Power['state']>;
  /** Scatter of guiding in the last minute, in right ascension and declination [arcsec]. */
  guideArcsec: [number, number] | null;
  /** The sensor [°C], and what its cooler gives [%]. */
  cooler: [number, number] | null;
  /** Where the tube was at a moment, by hour angle and declination [deg]; while it follows it turns with the sky. */
  tube: (MountState & { atMs: number }) | null;
}

/** What is asked of a device. */
export type Ask =
  | { device: Device; do: 'connect' }
  | { device: 'mount'; do: 'centre'; raDeg: number; decDeg: number; withinArcmin: number }
  | { device: 'mount'; do: 'field'; altitudeDeg: number; azimuthDeg: number }
  | { device: 'mount'; do: 'flip'; raDeg: number; decDeg: number; to: PierSide }
  | { device: 'mount'; do: 'park' }
  | { device: 'roof'; do: 'open' | 'close' }
  | { device: 'power'; do: 'switch-on' | 'switch-off' }
  | { device: 'rotator'; do: 'rotate'; paDeg: number; eitherWay: boolean; withinDeg: number }
  | { device: 'tip-tilt'; do: 'centre-plate' }
  | { device: 'guider'; do: 'start' | 'stop' | 'dither' }
  | { device: 'wheel'; do: 'turn'; filter: string }
  | { device: 'focuser'; do: 'move'; position: number }
  | { device: 'camera'; do: 'expose'; seconds: number }
  | { device: 'camera'; do: 'cool'; toC: number | null }
  | { device: 'camera'; do: 'read-out' | 'focus-frame' };
/** The same as a request: answered by its number, and given up after its time [ms since 1970, UTC]. */
export type Act = (Ask | { device: 'mount' | 'camera' | 'rotator'; do: 'abort' }) & { id: number; deadlineMs: number };
/** What moves the tube or the camera on it, or has the shutter open: forbidden while the interlock is open, and stopped when it opens. */
export const isMotion = ({ device, do: what }: { device: Asked; do: Ask['do'] }): boolean =>
  (device === 'mount' && what !== 'connect') || what === 'rotate' || what === 'expose' || what === 'dither';

/** What a device gave back. */
export type Answer = boolean | number | FrameMeasure | { hfdPx: number; stars: number } | null;

/** What somebody at the controls can ask for. */
export const COMMANDS = ['pause', 'resume', 'skip', 'focus', 'centre', 'guide', 'stop'] as const;
export type CommandCode = (typeof COMMANDS)[number];
export interface Command {
  code: CommandCode;
  /** Who asks, by id. */
  by: string;
}

export interface NoRoom {
  code: 'no-room';
}
/** A fault that somebody at the side has put on the stand-ins: the run does not know of it. */
export interface Thrown extends PlannedFault {
  code: 'thrown';
  by: string;
}

/**
 * By which rules a run is played: raised whenever the same events come to something else than before. One that was begun by others
 * is not gone on with, nor played again: what came of it was kept.
 */
export const RULES = 2;
export const isByOtherRules = (first: Happened | undefined): boolean =>
  first !== undefined && (first.code !== 'began' || first.rules !== RULES);

/** What happened, and when [ms since 1970, UTC]. A run is the list of them: everything else follows. */
export type Happened = {
  at: number;
  readings?: Partial<Readings>;
  /** It is of the second camera. */
  beside?: true;
} & (
  | { code: 'began'; plan: RunPlan; rules?: number }
  /** Time has passed. */
  | { code: 'tick' }
  /** The equipment was left alone, stopped what it was at and parked by itself. */
  | { code: 'went-safe' }
  /** No further frame can be kept where frames are. */
  | NoRoom
  | { code: 'done'; act: number; value: Answer }
  /** `final`: asking again is of no use. */
  | { code: 'failed'; act: number; reason: string; final?: boolean }
  | Command
  | Thrown
);

/** What follows from an event for whoever reads of the night. */
export type Said = ({ said: 'event' } & RunEvent) | ({ said: 'frame' } & RunFrame) | ({ said: 'focus' } & RunFocus);

/** What follows from an event for one camera. */
export interface Follows {
  acts: readonly Act[];
  says: readonly Said[];
}
export interface Stepped<S> extends Follows {
  state: S;
  /** What follows for the second camera. */
  beside: Follows;
}
export type { PlainPhrase };
