import { InvalidInput } from '@keen/core/calculation';
import {
  frameLook,
  lookAtPicture,
  practiceFile,
  practiceRadiusDeg,
  renderCounts,
  type DrawnSize,
  type DustSpot,
  type FrameMeasures,
  type PracticeFrame,
  type ListedStar,
  type Scene,
  type SmallPicture,
} from '@keen/core/frames';
import { writeFits16, type FitsValue, type FrameKind, type ReadFrame } from '@keen/core/exchange';
import type { StarSource } from '@keen/core/sky';
import { expose, transfer } from 'comlink';
import { KIND_WORDS } from '../common/frameKinds.ts';
import { readFrameFile } from './frameFiles.ts';
import { starsAround } from './starTiles.ts';

/** A file as it was looked at; nothing of it leaves this browser but what is kept on purpose. */
export type LookedFile =
  | {
      ok: true;
      file: string;
      hash: string;
      frame: ReadFrame;
      look: FrameMeasures;
      stars: ListedStar[];
      small: SmallPicture;
      pieces: SmallPicture[];
      /** The mean star of nine parts. */
      meanStars: SmallPicture[];
      /** Round dark spots as of dust. */
      dust: DustSpot[];
      /** The small picture as a data URL; null where this browser cannot make one. */
      picture: string | null;
    }
  /** `kind` where its header says that it is of another kind than was asked for: it was not looked at. */
  | { ok: false; file: string; reason: string; kind?: FrameKind; hash?: string };

/** Largest file taken into memory [bytes]: 61 megapixels in 32 bit, and its header. */
const MOST_BYTES = 260e6;
/** Letters of a small picture that the server takes. */
const MOST_LETTERS = 24_000;

async function look(file: File, wanted: FrameKind | null): Promise<LookedFile> {
  const head = await readFrameFile(file, {});
  if (!head.ok) return head;
  const { kind, kindSaid } = head.frame;
  if (wanted && kindSaid && kind !== wanted)
    return { ok: false, file: head.file, reason: `is a ${KIND_WORDS[kind]} by its header`, kind, hash: head.hash };
  if (file.size > MOST_BYTES) return { ok: false, file: head.file, reason: 'is larger than any single picture' };
  try {
    const { measure, small, pieces, stars: meanStars, dust } = lookAtPicture(new Uint8Array(await file.arrayBuffer()));
    const picture = await dataUrl(small);
    return {
      ok: true,
      file: head.file,
      hash: head.hash,
      frame: head.frame,
      look: frameLook(measure),
      stars: measure.list ?? [],
      small,
      pieces,
      meanStars,
      dust,
      picture,
    };
  } catch (e) {
    const reason =
      e instanceof InvalidInput
        ? e.issues.map((i) => i.message).join('; ')
        : `could not be measured: ${(e as Error).message}`;
    return { ok: false, file: head.file, reason };
  }
}

/** What the camera of a practice rig would have seen: drawn from the star catalogue, then measured as any picture. */
async function practice(frame: PracticeFrame): Promise<PracticeLook> {
  const { measure, small, pieces, stars: meanStars } = lookAtPicture(practiceFile(frame, await starsOf(frame)));
  return {
    id: frame.id,
    look: frameLook(measure),
    stars: measure.list ?? [],
    small,
    pieces,
    meanStars,
    picture: await dataUrl(small),
  };
}
export type PracticeLook = Pick<
  Extract<LookedFile, { ok: true }>,
  'look' | 'stars' | 'small' | 'pieces' | 'meanStars' | 'picture'
> & { id: string };

/** The catalogue where it looked. */
async function starsOf(frame: PracticeFrame, size?: DrawnSize): Promise<StarSource> {
  const radiusDeg = practiceRadiusDeg(frame, size);
  const { stars } = await starsAround({ raDeg: frame.raDeg, decDeg: frame.decDeg, radiusDeg, faintestMag: 11 });
  return () => stars;
}
/** The same as a file, with keywords and checksums. */
async function fits(
  frame: PracticeFrame,
  cards: readonly (readonly [string, FitsValue])[],
  size?: DrawnSize,
): Promise<Uint8Array> {
  const file = practiceFile(frame, await starsOf(frame, size), cards, size);
  return transfer(file, [file.buffer]);
}

/** A drawn picture, measured as any other. */
function drawn(scene: Scene): DrawnLook {
  const {
    measure,
    small,
    pieces,
    stars: meanStars,
  } = lookAtPicture(writeFits16(renderCounts(scene), scene.widthPx, scene.heightPx, []));
  return { look: frameLook(measure), stars: measure.list ?? [], small, pieces, meanStars };
}
export type DrawnLook = Pick<PracticeLook, 'look' | 'stars' | 'small' | 'pieces' | 'meanStars'>;

/** Tones as a grey picture, without loss where that is short enough. */
async function dataUrl({ widthPx, heightPx, tones }: SmallPicture): Promise<string | null> {
  if (typeof OffscreenCanvas === 'undefined') return null;
  const canvas = new OffscreenCanvas(widthPx, heightPx);
  const context = canvas.getContext('2d');
  if (!context) return null;
  const pixels = context.createImageData(widthPx, heightPx);
  tones.forEach((t, i) => pixels.data.set([t, t, t, 255], 4 * i));
  context.putImageData(pixels, 0, 0);
  for (const [type, quality] of [
    ['image/png', 1],
    ['image/webp', 0.7],
  ] as const) {
    const blob = await canvas.convertToBlob({ type, quality });
    const url = await urlOf(blob);
    if (url.length <= MOST_LETTERS) return url;
  }
  return null;
}
const urlOf = async (blob: Blob) => {
  const bytes = new Uint8Array(await blob.arrayBuffer());
  return `data:${blob.type};base64,${btoa(String.fromCharCode(...bytes))}`;
};

const inLooking = { look, practice, drawn, fits };
export type InLooking = typeof inLooking;
expose(inLooking);
