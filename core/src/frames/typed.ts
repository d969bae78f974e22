/** What somebody typed of a night: so many frames, so long, through that filter. */
export interface TypedFrames {
  count: number;
  exposureS: number;
  filter: string;
}

const UNIT: Readonly<Record<string, number>> = { s: 1, sec: 1, min: 60, m: 60 };

/**
 * Reads "12 × 300 s Ha", "12x5min OIII, 40 x 60s L": groups apart by commas, semicolons or lines.
 * @returns the groups, or the piece that cannot be read
 */
export function readTypedFrames(
  text: string,
): { ok: true; groups: TypedFrames[] } | { ok: false; piece: string; problem: 'shape' | 'count' | 'exposure' } {
  const groups: TypedFrames[] = [];
  for (const piece of text.split(/[,;\n]+/).map((p) => p.trim())) {
    if (!piece) continue;
    const m = /^(\d{1,6})\s*[x×*]\s*(\d{1,6}(?:\.\d{1,6})?)\s*(s|sec|min|m)?\s*(\S.{0,38})?$/i.exec(piece);
    if (!m) return { ok: false, piece, problem: 'shape' };
    const count = Number(m[1]);
    const exposureS = Number(m[2]) * UNIT[(m[3] ?? 's').toLowerCase()]!;
    if (count < 1 || count > 5000) return { ok: false, piece, problem: 'count' };
    if (exposureS <= 0 || exposureS > 7200) return { ok: false, piece, problem: 'exposure' };
    groups.push({ count, exposureS, filter: (m[4] ?? '').trim() });
  }
  return groups.length ? { ok: true, groups } : { ok: false, piece: '', problem: 'shape' };
}
