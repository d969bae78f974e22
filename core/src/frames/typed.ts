import { foldedFilter, isKnownFilter, matchFilter } from './filterName.ts';

/** What somebody typed of a night: so many frames, so long, through that filter. */
export interface TypedFrames {
  count: number;
  exposureS: number;
  filter: string;
}
export type TypedProblem = 'shape' | 'count' | 'exposure' | 'doubt' | 'filter';
export type TypedRead =
  | { ok: true; groups: TypedFrames[] }
  /** `rest`: from where on it could not be read. */
  | { ok: false; piece: string; problem: TypedProblem; rest?: string };

/** Units of an exposure, the longer words first; a word that goes on is none of them. */
const UNITS: readonly (readonly [RegExp, number])[] = [
  [/^(?:milliseconds?|msecs?|ms)(?!\p{L})/iu, 0.001],
  [/^(?:hours?|hrs?|h)(?!\p{L})/iu, 3600],
  [/^(?:minutes?|mins?|m)(?!\p{L})/iu, 60],
  [/^(?:seconds?|secs?|s)(?!\p{L})/iu, 1],
  [/^(?:″|''|")/, 1],
  [/^[′']/, 60],
];
const NUMBER = /^\d{1,6}(?:\.\d{1,30})?/;
/** Longest exposure of a typed line [s]. */
const LONGEST_S = 7200;

interface Length {
  seconds: number;
  /** It names its unit. */
  unit: boolean;
  length: number;
}
/** “300”, “300 s”, “2m30s”, “1 h 30 min”: what a text begins with. */
function lengthOf(text: string): Length | 'doubt' | null {
  let [rest, seconds, unit, before] = [text, 0, false, Infinity];
  for (let first = true; ; first = false) {
    const gap = /^\s*/.exec(rest)![0].length;
    const n = NUMBER.exec(rest.slice(gap))?.[0];
    if (!n) return first ? null : { seconds, unit, length: text.length - rest.length };
    const behind = rest.slice(gap + n.length);
    // “1:30” is a minute and a half or an hour and a half
    if (/^:\d/.test(behind)) return 'doubt';
    const space = /^\s*/.exec(behind)![0].length;
    const found = UNITS.map(([re, s]) => ({ word: re.exec(behind.slice(space))?.[0], s })).find(
      (u) => u.word !== undefined,
    );
    // a further part has a unit of its own, a smaller one
    if (!first && (!found || found.s >= before)) return { seconds, unit, length: text.length - rest.length };
    seconds += Number(n) * (found?.s ?? 1);
    unit ||= found !== undefined;
    before = found?.s ?? 0;
    rest = found ? behind.slice(space + found.word!.length) : behind;
    if (!found) return { seconds, unit, length: text.length - rest.length };
  }
}

/** Words between the exposure and the filter that say nothing. */
const BETWEEN = /^(?:through|with|in|of|@|-|:)\s+/i;
const LEADING = /^([^\d\s:][^\d:]{0,38}?)\s*[:\s]\s*(?=\d)/;

function groupOf(piece: string): TypedFrames | { problem: TypedProblem; rest?: string } {
  const lead = LEADING.exec(piece);
  const body = lead ? piece.slice(lead[0].length) : piece;
  const first = lengthOf(body);
  if (first === 'doubt') return { problem: 'doubt' };
  const times = first && /^\s*[x×*·]\s*/i.exec(body.slice(first.length));
  if (!first || !times) return { problem: 'shape' };
  const after = body.slice(first.length + times[0].length);
  const second = lengthOf(after);
  if (second === 'doubt') return { problem: 'doubt' };
  if (!second || (first.unit && second.unit)) return { problem: 'shape' };
  // “300 s × 12” is the other way round
  const [countText, exposureS] = first.unit
    ? [after.slice(0, second.length), first.seconds]
    : [body.slice(0, first.length), second.seconds];
  if (!/^\s*\d{1,6}\s*$/.test(countText)) return { problem: 'count' };
  const count = Number(countText);
  if (count < 1 || count > 5000) return { problem: 'count' };
  if (exposureS <= 0 || exposureS > LONGEST_S) return { problem: 'exposure' };
  const rest = after.slice(second.length).trim().replace(BETWEEN, '');
  if (/^[\d:.]/.test(rest) || rest.length > 39) return { problem: 'shape', rest };
  if (lead && rest) return { problem: 'shape', rest };
  const filter = lead ? lead[1]!.trim() : rest;
  // “60sHa”: a unit that runs into a known filter
  const glued = second.unit || first.unit ? null : /^(s|m|h)([A-Z].*)$/.exec(filter);
  if (glued && !isKnownFilter(filter) && isKnownFilter(glued[2]!)) {
    const seconds = exposureS * { s: 1, m: 60, h: 3600 }[glued[1] as 's']!;
    return seconds > LONGEST_S ? { problem: 'exposure' } : { count, exposureS: seconds, filter: glued[2]! };
  }
  return { count, exposureS, filter };
}

/**
 * Reads "12 × 300 s Ha", "12x5min OIII, 40 x 60s L", "10 × 2m30s R", "Ha: 12x300": groups apart by commas, semicolons or lines.
 * @param held the rig’s filters: whatever stands behind the exposure must be one of them; left out: any name
 * @param aliases spellings assigned by hand, as `matchFilter` takes them
 * @returns the groups, or the piece that cannot be read, why, and where it stopped
 */
export function readTypedFrames(
  text: string,
  held?: readonly string[],
  aliases: Readonly<Record<string, string>> = {},
): TypedRead {
  const groups: TypedFrames[] = [];
  for (const piece of text.split(/[,;\n]+/).map((p) => p.trim())) {
    if (!piece) continue;
    const got = groupOf(piece);
    if ('problem' in got) return { ok: false, piece, ...got };
    if (held && got.filter && matchFilter(got.filter, held, aliases) === null)
      return { ok: false, piece, problem: 'filter', rest: got.filter };
    // “60 S” of a rig that holds a filter of that name
    if (
      held &&
      !got.filter &&
      held.some((h) => /^[smh]$/i.test(h) && new RegExp(`\\d\\s*${h}$`).test(piece) && foldedFilter(h) !== '')
    )
      return { ok: false, piece, problem: 'doubt' };
    groups.push(got);
  }
  return groups.length ? { ok: true, groups } : { ok: false, piece: '', problem: 'shape' };
}
