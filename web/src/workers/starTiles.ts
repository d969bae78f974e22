import {
  STAR_EDITION,
  depthFor,
  joinStars,
  readTile,
  tileBytes,
  tilesAround,
  type StarCap,
  type StarIndex,
  type Stars,
  type Tile,
} from '@keen/core/sky';

/** What one target may cost on the line [bytes]. */
export const BUDGET_BYTES = 300_000;
const FOLDER = '/data/stars';
let contents: Promise<StarIndex> | null = null;
const held = new Map<string, Promise<Stars>>();

async function indexOf(): Promise<StarIndex> {
  const answer = await fetch(`${FOLDER}/index.json?edition=${STAR_EDITION}`);
  if (!answer.ok) throw new Error(`the star catalogue could not be read (${answer.status})`);
  return (await answer.json()) as StarIndex;
}

async function fetchTile(index: StarIndex, tile: Tile, depth: number): Promise<Stars> {
  const { from, to } = tileBytes(index, tile, depth);
  if (to === from) return readTile(new Uint8Array(), tile);
  const answer = await fetch(`${FOLDER}/${index.bands[tile.band]!.file}?edition=${STAR_EDITION}`, {
    headers: { Range: `bytes=${from}-${to - 1}` },
  });
  if (!answer.ok) throw new Error(`a star tile could not be read (${answer.status})`);
  const bytes = new Uint8Array(await answer.arrayBuffer());
  // a server that knows no ranges sends the whole file
  return readTile(answer.status === 206 ? bytes : bytes.subarray(from, to), tile);
}

export interface FetchedStars {
  stars: Stars;
  /** Faintest magnitude that is complete; less than asked for where the field is wide and crowded. */
  depthMag: number;
  bytes: number;
}

/** Stars of a cap, tile by tile; in wide fields down to the magnitude that keeps within the budget. */
export async function starsAround(cap: StarCap): Promise<FetchedStars> {
  contents ??= indexOf();
  let index: StarIndex;
  try {
    index = await contents;
  } catch (e) {
    contents = null;
    throw e;
  }
  const tiles = tilesAround(cap.raDeg, cap.decDeg, cap.radiusDeg);
  const cost = (depth: number) =>
    tiles.reduce((sum, t) => {
      const { from, to } = tileBytes(index, t, depth);
      return sum + to - from;
    }, 0);
  let depth = depthFor(index.depths, cap.faintestMag);
  while (depth > 0 && cost(depth) > BUDGET_BYTES) depth--;
  const parts = await Promise.all(
    tiles.map((t) => {
      const key = `${t.band}/${t.column}/${depth}`;
      let part = held.get(key);
      if (!part) {
        part = fetchTile(index, t, depth);
        held.set(key, part);
        part.catch(() => held.delete(key));
      }
      return part;
    }),
  );
  return { stars: joinStars(parts), depthMag: index.depths[depth]!, bytes: cost(depth) };
}
