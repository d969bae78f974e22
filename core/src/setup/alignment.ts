import { z } from 'zod';
import { parseInput, positive, quantity, type Verdict } from '../calculation/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';
import { RAD } from '../quantities/index.ts';

/** A second tube may be off by this share of the field it must share; common practice, no source. */
export const SHARED_FIELD = 0.1;

export const AlignmentInput = z.strictObject({
  /** Where the star that is centred in the main camera stands in the second one, from its centre. */
  rightPx: quantity('px', 'To the right of the second camera’s centre'),
  upPx: quantity('px', 'Above the second camera’s centre'),
  focalLengthMm: positive('mm', 'Focal length of the second tube'),
  pixelUm: positive('µm', 'Pixel of the second camera'),
  widthPx: z.int().positive(),
  heightPx: z.int().positive(),
  /** Field of the main camera, short side. */
  mainFieldArcmin: positive('arcmin', 'Short side of the main field'),
  /** Turn of the second camera against its own tube: 0 when the picture's top is the tube's top. */
  cameraAngleDeg: quantity('deg', 'Turn of the picture against the tube').default(0),
  holder: z.enum(['plate', 'rings']).meta({ description: 'Two-axis plate, or two rings of three screws' }),
  leverMm: positive('mm', 'Plate: pivot to screw; rings: between the rings'),
  pitchMm: positive('mm', 'Screw’s pitch').default(1),
});
export type AlignmentInput = z.infer<typeof AlignmentInput>;

export interface Alignment {
  offArcmin: number;
  toleranceArcmin: number;
  /** Moves in order: what, which way, how many turns. */
  moves: { screw: string; way: string; mm: number; turns: number }[];
  verdict: Verdict;
}

/**
 * Which screws bring a second tube onto the first. A star right of the second picture's centre, picture upright, says
 * that the tube points left of it: it must go right. The picture is taken as seen on the sky (not mirrored).
 */
export function alignment(raw: z.input<typeof AlignmentInput>): Alignment {
  const i = parseInput(AlignmentInput, raw);
  const arcminPerPx = (i.pixelUm / 1000 / i.focalLengthMm) * (180 / Math.PI) * 60;
  const [s, c] = [Math.sin(i.cameraAngleDeg * RAD), Math.cos(i.cameraAngleDeg * RAD)];
  const right = (i.rightPx * c - i.upPx * s) * arcminPerPx;
  const up = (i.rightPx * s + i.upPx * c) * arcminPerPx;
  const offArcmin = Math.hypot(right, up);
  const ownField = Math.min(i.widthPx, i.heightPx) * arcminPerPx;
  const toleranceArcmin = SHARED_FIELD * Math.min(ownField, i.mainFieldArcmin);
  const way = (arcmin: number) => i.leverMm * Math.tan((Math.abs(arcmin) / 60) * RAD);
  const move = (arcmin: number, screw: string, words: string) => {
    const mm = way(arcmin);
    return { screw, way: words, mm, turns: mm / i.pitchMm };
  };
  const moves: Alignment['moves'] = [];
  const worth = toleranceArcmin / 10;
  if (i.holder === 'plate') {
    if (Math.abs(right) > worth)
      moves.push(move(right, 'side-to-side screw', right > 0 ? 'nose to the right' : 'nose to the left'));
    if (Math.abs(up) > worth) moves.push(move(up, 'up-and-down screw', up > 0 ? 'nose up' : 'nose down'));
  } else {
    // three screws a ring, one on top: the front ring carries the nose where the screws push it
    if (Math.abs(up) > worth)
      moves.push(
        up > 0
          ? move(up, 'front ring, top screw out; both lower screws in', 'nose up')
          : move(up, 'front ring, both lower screws out; top screw in', 'nose down'),
      );
    if (Math.abs(right) > worth)
      moves.push(
        right > 0
          ? move(right / Math.cos(30 * RAD), 'front ring, right screw out; left screw in', 'nose to the right')
          : move(right / Math.cos(30 * RAD), 'front ring, left screw out; right screw in', 'nose to the left'),
      );
  }
  const fine = offArcmin <= toleranceArcmin;
  return {
    offArcmin,
    toleranceArcmin,
    moves,
    verdict: fine
      ? makeVerdict('good', phrase('alignment.agree', { offArcmin, allowedArcmin: toleranceArcmin }))
      : makeVerdict(
          offArcmin > Math.min(ownField, i.mainFieldArcmin) / 2 ? 'bad' : 'caution',
          phrase('alignment.off', { offArcmin, allowedArcmin: toleranceArcmin }),
          ...moves.map((m) => phrase('alignment.turn', { way: m.way, turns: m.turns })),
        ),
  };
}
