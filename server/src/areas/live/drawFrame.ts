import { lookAtPicture, practiceFile, type DrawnSize, type PracticeFrame } from '@keen/core/frames';
import type { WrittenCard } from '@keen/core/exchange';
import type { StarSource } from '@keen/core/sky';
import { randomUUID } from 'node:crypto';
import { mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';

/** A frame to be drawn and written down. */
export interface DrawFrame {
  path: string;
  frame: PracticeFrame;
  cards: WrittenCard[];
  size: DrawnSize | null;
}
export type DrawnFrame =
  | { ok: true; bytes: number; stars: number; hfdPx: number | null; eccentricity: number | null }
  /** `code`: as the file system says; `why`: where it is not that. */
  | { ok: false; code: string; why?: string };
/** Where the small picture of a frame lies. */
export const smallOf = (path: string): string => path.replace(/\.fits$/, '.json');

/** Draws a frame, and writes it down. */
export const drawFrame = ({ path, frame, cards, size }: DrawFrame, stars: StarSource): DrawnFrame =>
  writeFrame({ path, file: practiceFile(frame, stars, cards, size ?? undefined) });

/** Measures a FITS file and writes it down with a small picture beside it. It is there whole, or not at all. */
export function writeFrame({ path, file }: { path: string; file: Uint8Array }): DrawnFrame {
  let looked: ReturnType<typeof lookAtPicture>;
  try {
    looked = lookAtPicture(file);
  } catch (e) {
    // somebody’s equipment gave something else
    if (!(e instanceof Error)) throw e;
    return { ok: false, code: 'EINVAL', why: `what the equipment gave cannot be read: ${e.message}`.slice(0, 190) };
  }
  const { measure, small } = looked;
  // two servers may make up for the same frame
  const parts = [path, smallOf(path)].map((to) => ({ to, part: `${to}.${randomUUID()}.part` }));
  try {
    mkdirSync(dirname(path), { recursive: true });
    const tones = Buffer.from(small.tones).toString('base64');
    writeFileSync(parts[0]!.part, file);
    writeFileSync(parts[1]!.part, JSON.stringify({ widthPx: small.widthPx, heightPx: small.heightPx, tones }));
    for (const { to, part } of parts) renameSync(part, to);
  } catch (e) {
    for (const { part } of parts) rmSync(part, { force: true });
    return { ok: false, code: (e as NodeJS.ErrnoException).code ?? 'EIO' };
  }
  const { stars: seen, hfdPx, eccentricity } = measure;
  return { ok: true, bytes: file.length, stars: seen, hfdPx, eccentricity };
}
