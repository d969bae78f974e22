// Lays the reviewed table data/deep-sky-corrections.csv over catalogue rows: what it says wins, what it leaves empty stays.
import { readFileSync } from 'node:fs';

const TABLE = 'data/deep-sky-corrections.csv';

/** "Sh2-155", "Sh2 155" and "SH2155" are one object. */
const squeezed = (name) =>
  name
    .toLowerCase()
    .replace(/[\s\-_]+/g, '')
    .replace(/([a-z])0+(\d)/g, '$1$2');

/** "05 35.1" hours, or "-04 46" degrees, as degrees. */
function sexagesimal(text, perUnit) {
  const [whole, minutes = '0'] = text.trim().split(/\s+/);
  const sign = whole.startsWith('-') ? -1 : 1;
  return sign * perUnit * (Math.abs(Number(whole)) + Number(minutes) / 60);
}
const number = (text) => (text === '' ? null : Number(text));

export function readCorrections(text = readFileSync(TABLE, 'utf8')) {
  const [head, ...lines] = text.trim().split('\n');
  const columns = head.split(',');
  return lines.map((line, i) => {
    const cells = line.split(',');
    if (cells.length !== columns.length)
      throw new Error(`${TABLE}, line ${i + 2}: ${cells.length} cells, not ${columns.length}`);
    const c = Object.fromEntries(columns.map((k, j) => [k, cells[j]]));
    const list = (t) => t.split(';').filter(Boolean);
    return {
      id: c.id,
      aliases: list(c.aliases),
      names: list(c.names),
      type: c.type,
      raDeg: c.ra ? Math.round(sexagesimal(c.ra, 15) * 1e4) / 1e4 : null,
      decDeg: c.dec ? Math.round(sexagesimal(c.dec, 1) * 1e4) / 1e4 : null,
      mag: number(c.mag),
      major: number(c.major),
      minor: number(c.minor),
      paDeg: number(c.pa),
    };
  });
}

/** Rows { id, aliases, names, type, raDeg, decDeg, mag, major, minor, paDeg } with the corrections in them. */
export function corrected(rows, corrections = readCorrections()) {
  const byName = new Map();
  for (const r of rows)
    for (const n of [r.id, ...r.aliases]) byName.set(squeezed(n), [...(byName.get(squeezed(n)) ?? []), r]);
  const gone = new Set();
  const made = [];
  for (const c of corrections) {
    // the source has some objects twice
    const [own, ...twice] = byName.get(squeezed(c.id)) ?? [];
    const others = [...twice, ...c.aliases.flatMap((a) => byName.get(squeezed(a)) ?? [])].filter((r) => r !== own);
    const base = own ?? others[0] ?? null;
    if (!base && (c.raDeg === null || c.decDeg === null))
      throw new Error(`${c.id} is not in the source and has no place`);
    for (const r of [own, ...others]) if (r) gone.add(r);
    const aliases = [...c.aliases, ...(base ? [base.id, ...base.aliases] : []), ...others.map((r) => r.id)];
    const seen = new Set([squeezed(c.id)]);
    made.push({
      id: c.id,
      aliases: aliases.filter((a) => !seen.has(squeezed(a)) && seen.add(squeezed(a))),
      names: [...new Set([...c.names, ...(base?.names ?? [])])],
      type: c.type,
      raDeg: c.raDeg ?? base.raDeg,
      decDeg: c.decDeg ?? base.decDeg,
      // a magnitude the table leaves empty is that of a star in it, or of nothing: none is better
      mag: c.mag,
      major: c.major ?? base?.major ?? null,
      minor: c.minor ?? c.major ?? base?.minor ?? null,
      paDeg: c.paDeg,
    });
  }
  const ids = new Set();
  return [...made, ...rows.filter((r) => !gone.has(r))].filter((r) => !ids.has(r.id) && ids.add(r.id));
}

/** The file the application reads: columns, the fainter last; what few objects have stands apart, by place. */
export function catalogueOf(rows, source) {
  const sorted = [...rows].sort((a, b) => (a.mag ?? 99) - (b.mag ?? 99) || a.id.localeCompare(b.id));
  const column = (k) => sorted.map((r) => r[k]);
  const more = {};
  sorted.forEach((r, i) => {
    const extra = {
      ...(r.aliases.length > 1 ? { aliases: r.aliases } : {}),
      ...(r.names.length > 1 ? { names: r.names } : {}),
      ...(r.paDeg === null ? {} : { paDeg: r.paDeg }),
    };
    if (Object.keys(extra).length) more[i] = extra;
  });
  return {
    source,
    licence: 'BSD-3-Clause, see data/README.md',
    id: column('id'),
    alias: sorted.map((r) => r.aliases[0] ?? null),
    name: sorted.map((r) => r.names[0] ?? null),
    type: column('type'),
    raDeg: column('raDeg'),
    decDeg: column('decDeg'),
    mag: column('mag'),
    majorArcmin: column('major'),
    minorArcmin: column('minor'),
    more,
  };
}
