import {
  MAX_HEADER_BYTES,
  readFrame,
  readPictureHeader,
  type KeywordMapping,
  type ReadFrame,
} from '@keen/core/exchange';
import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';

/** A FITS file as the browser saw it: its header, and what stands for the file. */
export type FrameFile =
  | { ok: true; file: string; hash: string; frame: ReadFrame; keywords: string[] }
  | { ok: false; file: string; reason: string };

/** First look at a file, enough for most headers [bytes]. */
const FIRST = 2880 * 6;
/** Of the pixels, so much from the middle goes into the hash: frames of one burst may share a header [bytes]. */
const SAMPLE = 16_384;

/** The header of the part that holds the picture, and the bytes it was read from; a file cut short is none. */
async function headerOf(file: Blob) {
  let size = FIRST;
  for (;;) {
    const bytes = new Uint8Array(await file.slice(0, size).arrayBuffer());
    const got = readPictureHeader(bytes, file.size);
    if (got.ok || bytes.length < size || size >= MAX_HEADER_BYTES) return { bytes, got };
    size = Math.min(MAX_HEADER_BYTES, size * 8);
  }
}

/** Reads one file's header and makes its hash: of the header, the size and a piece of the pixels, not of every pixel. */
export async function readFrameFile(file: File, mapping: KeywordMapping): Promise<FrameFile> {
  const name = file.name.slice(-255);
  try {
    const { bytes, got } = await headerOf(file);
    if (!got.ok) return { ok: false, file: name, reason: got.message };
    const middle = Math.max(0, Math.floor(file.size / 2 - SAMPLE / 2));
    const sample = new Uint8Array(await file.slice(middle, middle + SAMPLE).arrayBuffer());
    const hash = sha256
      .create()
      .update(bytes.subarray(0, FIRST))
      .update(new TextEncoder().encode(String(file.size)))
      .update(sample);
    return {
      ok: true,
      file: name,
      hash: bytesToHex(hash.digest()),
      frame: readFrame(got.cards, mapping),
      keywords: [...got.cards.keys()],
    };
  } catch (e) {
    return { ok: false, file: name, reason: `could not be read: ${(e as Error).message}` };
  }
}

/** Files at once: enough to keep the disk busy, few enough to keep memory small. */
const AT_ONCE = 6;

/** Reads many files in their order, telling how many are done; stops where it is told to. */
export async function readFrameFiles(
  files: readonly File[],
  mapping: KeywordMapping,
  progress: (done: number) => boolean | Promise<boolean>,
): Promise<FrameFile[]> {
  const found = new Array<FrameFile>(files.length);
  let next = 0;
  let done = 0;
  let going = true;
  const work = async () => {
    while (going && next < files.length) {
      const i = next++;
      found[i] = await readFrameFile(files[i]!, mapping);
      done++;
      if (done % 20 === 0 || done === files.length) going = (await progress(done)) !== false && going;
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, work));
  return found.filter((f) => f !== undefined);
}
