import { countedMm, type TrainPart } from '../rig/index.ts';

/** A train cut at its corrector and its sensor: what lies between them is what counts. */
export interface Stretch {
  /** The corrector and what stands before it. */
  before: TrainPart[];
  /** Behind the corrector up to the sensor, which lies at the end of the camera. */
  counted: TrainPart[];
  /** Behind the sensor: carries no light. */
  behind: TrainPart[];
  /** Pieces that sound like a corrector in the path or like a camera that something stands behind; nobody has said. */
  asked: { name: string; as: 'corrector' | 'camera' }[];
}

const SOUNDS = {
  corrector: /corrector|flattener|reducer|extender/i,
  camera: /\b(?:camera|sensor)\b/i,
} as const;
/** Pieces named after what they join. */
const JOINS = /adapter|ring|spacer|shim|rotator|tilt/i;

/** Does a piece count as the corrector or the camera, by its role or, where none is given, by its name? */
export const soundsLike = (p: Pick<TrainPart, 'name' | 'role'>, as: 'corrector' | 'camera'): boolean =>
  p.role === undefined ? SOUNDS[as].test(p.name) && !JOINS.test(p.name) : p.role === as;

/**
 * Cuts a train, front to rear. Without a piece that is said to be the corrector the train begins behind it; without one
 * that is said to be the camera it ends at the sensor.
 */
export function stretchOf(train: readonly TrainPart[]): Stretch {
  const corrector = train.findLastIndex((p) => p.role === 'corrector');
  const camera = train.findIndex((p, i) => i > corrector && p.role === 'camera');
  const end = camera < 0 ? train.length : camera + 1;
  const unmeasured = train.flatMap((p, i): Stretch['asked'] => {
    if (p.role !== undefined || i <= corrector || i >= end) return [];
    // a rear face of no length as the first piece is where the train begins, whatever it is
    if (corrector < 0 && soundsLike(p, 'corrector') && (i > 0 || p.lengthMm > 0))
      return [{ name: p.name, as: 'corrector' }];
    if (camera < 0 && i < train.length - 1 && soundsLike(p, 'camera')) return [{ name: p.name, as: 'camera' }];
    return [];
  });
  return {
    before: train.slice(0, corrector + 1),
    counted: train.slice(corrector + 1, end),
    behind: train.slice(end),
    asked: unmeasured,
  };
}

/** Every piece a focuser carries up to the sensor, those before the corrector too [mm]. */
export function stackMm(train: readonly TrainPart[]): number {
  const { before, counted } = stretchOf(train);
  return [...before, ...counted].reduce((s, p) => s + countedMm(p), 0);
}

/**
 * Where a new piece goes: behind the chosen one, or as the last; never behind the sensor nor before the corrector.
 * @param chosen place of the chosen piece, −1 for none
 */
export function placeForPiece(train: readonly TrainPart[], chosen: number): number {
  const corrector = train.findLastIndex((p) => soundsLike(p, 'corrector'));
  const camera = train.findIndex((p, i) => i > corrector && soundsLike(p, 'camera'));
  const last = camera < 0 ? train.length : camera;
  return Math.min(last, Math.max(corrector + 1, chosen < 0 ? last : chosen + 1));
}
