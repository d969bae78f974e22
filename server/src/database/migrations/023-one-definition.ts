import type { RigBuild } from '@keen/core/rig';
import { QueryTypes, type Sequelize } from 'sequelize';
import { aspectsOf, ASPECTS_1, hashOf, trainFingerprint, viewOf, type AspectHashes } from './frozen/states1.ts';

const NAME = 'VARCHAR(24) CHARACTER SET ascii COLLATE ascii_bin';
const parsed = <T>(v: unknown): T => (typeof v === 'string' ? (JSON.parse(v) as T) : (v as T));
const mm = (p: { lengthMm: number; measuredMm?: number; use?: string }) =>
  p.use === 'documented' ? p.lengthMm : (p.measuredMm ?? p.lengthMm);

/** The second definition of the focus aspect: the names of filters are no part of it. */
function focus2(setup: ReturnType<typeof viewOf>): string {
  const sum = (of: (p: (typeof setup.train)[number]) => number) => setup.train.reduce((s, p) => s + of(p), 0);
  const deciding = [
    [setup.focalLengthMm, setup.apertureMm],
    setup.focuserStepUm,
    [sum((p) => mm(p as Parameters<typeof mm>[0])), sum((p) => p.glassMm ?? 0)],
  ];
  return `2.${hashOf(['focus', deciding])}`;
}

/**
 * The name of an aspect carries the version of its definition; what was kept under the old names holds on. A second
 * camera's night says beside which run it was taken, instead of in its name.
 */
export async function up(db: Sequelize): Promise<void> {
  const rows = <T extends object>(sql: string, replacements = {}) =>
    db.query<T>(sql, { type: QueryTypes.SELECT, replacements });
  const run = (sql: string, replacements = {}) => db.query(sql, { replacements });
  await run(`ALTER TABLE runs ADD COLUMN IF NOT EXISTS beside_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NULL`);
  await run(`ALTER TABLE focus_runs MODIFY aspect ${NAME} NULL`);
  await run(`ALTER TABLE offset_sets MODIFY aspect ${NAME} NULL`);
  // its lead is the run of the same night that was accepted with it
  await run(
    `UPDATE runs b JOIN runs a ON a.rig_id = b.rig_id AND a.night = b.night AND a.at = b.at AND a.id <> b.id AND a.plan_id IS NOT NULL
     SET b.beside_id = a.id, b.name = SUBSTRING(b.name, 8)
     WHERE b.kind = 'live' AND b.plan_id IS NULL AND b.beside_id IS NULL AND b.name LIKE 'beside %'`,
  );

  // old name → new name; a focus name alone does not say the new one, the setup behind it does
  const focusOf = new Map<string, string>();
  const fingerprintOf = new Map<string, string>();
  const renamed = (a: (typeof ASPECTS_1)[number], old: string | null, rigId: string): string | null =>
    old === null || old.includes('.')
      ? old
      : a === 'focus'
        ? (focusOf.get(`${rigId} ${old}`) ?? `1.${old}`)
        : `1.${old}`;
  const all = (old: AspectHashes, rigId: string) =>
    Object.fromEntries(ASPECTS_1.map((a) => [a, renamed(a, old[a], rigId)])) as AspectHashes;
  const revisions = await rows<{ rigId: string; setup: string | RigBuild }>(
    'SELECT rig_id AS rigId, setup FROM rig_revisions ORDER BY number',
  );
  for (const r of revisions) {
    const build = parsed<RigBuild>(r.setup);
    for (const s of build.systems) {
      const view = viewOf(build, s.key);
      const old = aspectsOf(view);
      if (old.focus) focusOf.set(`${r.rigId} ${old.focus}`, focus2(view));
      const { balance: _b, ...train } = all(old, r.rigId);
      fingerprintOf.set(`${r.rigId} ${trainFingerprint(view)}`, hashOf(train));
    }
  }
  const taken = new Set<string>();
  for (const s of await rows<{
    id: string;
    rigId: string;
    system: string;
    fingerprint: string;
    aspects: string | AspectHashes | null;
  }>('SELECT id, rig_id AS rigId, system, fingerprint, aspects FROM train_states ORDER BY id')) {
    if (!s.aspects) continue;
    // two states that differed by the name of a filter alone keep a name each: what is measured is looked up by aspect
    const wanted = fingerprintOf.get(`${s.rigId} ${s.fingerprint}`) ?? s.fingerprint;
    const fingerprint = taken.has(`${s.rigId} ${s.system} ${wanted}`) ? s.fingerprint : wanted;
    taken.add(`${s.rigId} ${s.system} ${fingerprint}`);
    await run('UPDATE train_states SET aspects = :aspects, fingerprint = :fingerprint WHERE id = :id', {
      id: s.id,
      fingerprint,
      aspects: JSON.stringify(all(parsed(s.aspects), s.rigId)),
    });
  }
  for (const r of await rows<{ id: string; rigId: string; aspects: string | AspectHashes }>(
    'SELECT id, rig_id AS rigId, aspects FROM runs WHERE aspects IS NOT NULL',
  ))
    await run('UPDATE runs SET aspects = :aspects WHERE id = :id', {
      id: r.id,
      aspects: JSON.stringify(all(parsed(r.aspects), r.rigId)),
    });
  for (const p of await rows<{ id: string; rigId: string; madeFor: string | { aspects: AspectHashes } }>(
    'SELECT id, rig_id AS rigId, made_for AS madeFor FROM plans WHERE made_for IS NOT NULL',
  )) {
    const madeFor = parsed<{ aspects: AspectHashes }>(p.madeFor);
    await run('UPDATE plans SET made_for = :madeFor WHERE id = :id', {
      id: p.id,
      madeFor: JSON.stringify({ ...madeFor, aspects: all(madeFor.aspects, p.rigId) }),
    });
  }
  for (const p of await rows<{ id: string; rigId: string; framing: string | { aspect: string | null } }>(
    'SELECT id, rig_id AS rigId, framing FROM projects WHERE framing IS NOT NULL',
  )) {
    const framing = parsed<{ aspect: string | null }>(p.framing);
    if (!framing) continue;
    await run('UPDATE projects SET framing = :framing WHERE id = :id', {
      id: p.id,
      framing: JSON.stringify({ ...framing, aspect: renamed('framing', framing.aspect ?? null, p.rigId) }),
    });
  }
  for (const [table, column, aspect] of [
    ['focus_runs', 'aspect', 'focus'],
    ['offset_sets', 'aspect', 'focus'],
    ['masters', 'flats_aspect', 'flats'],
  ] as const)
    for (const r of await rows<{ rigId: string; old: string }>(
      `SELECT DISTINCT rig_id AS rigId, ${column} AS old FROM ${table} WHERE ${column} IS NOT NULL`,
    ))
      // runs that were told apart by the name of a filter in the wheel alone are one now: the first is kept
      await run(`UPDATE IGNORE ${table} SET ${column} = :now WHERE rig_id = :rigId AND ${column} = :old`, {
        ...r,
        now: renamed(aspect, r.old, r.rigId),
      });
}
