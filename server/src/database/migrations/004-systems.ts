import type { RigBuild, RigSetup } from '@keen/core/rig';
import { aspectsOf, buildOf, trainFingerprint, viewOf, type AspectHashes } from './frozen/states1.ts';
import { QueryTypes, type Sequelize } from 'sequelize';

const REF = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const KEY = "VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT 'main'";
const NAME = 'CHAR(16) CHARACTER SET ascii COLLATE ascii_bin';
const TABLE = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci';

/** Columns first; what fills them follows. A step that was done already is passed over, so that a halted run goes on. */
const COLUMNS = [
  `ALTER TABLE train_states ADD COLUMN IF NOT EXISTS system ${KEY}, ADD COLUMN IF NOT EXISTS aspects JSON NULL`,
  `ALTER TABLE rig_revisions ADD COLUMN IF NOT EXISTS train_states JSON NULL`,
  `ALTER TABLE projects ADD COLUMN IF NOT EXISTS system ${KEY}`,
  `ALTER TABLE plans ADD COLUMN IF NOT EXISTS made_for JSON NULL`,
  `ALTER TABLE guide_logs ADD COLUMN IF NOT EXISTS system ${KEY}`,
  `ALTER TABLE focus_runs ADD COLUMN IF NOT EXISTS rig_id ${REF} NULL, ADD COLUMN IF NOT EXISTS system ${KEY},
     ADD COLUMN IF NOT EXISTS aspect ${NAME} NULL`,
  `ALTER TABLE offset_sets ADD COLUMN IF NOT EXISTS rig_id ${REF} NULL, ADD COLUMN IF NOT EXISTS system ${KEY},
     ADD COLUMN IF NOT EXISTS aspect ${NAME} NULL`,
  `ALTER TABLE runs ADD COLUMN IF NOT EXISTS kind ENUM('rehearsed','live','recorded') NOT NULL DEFAULT 'rehearsed',
     ADD COLUMN IF NOT EXISTS rig_id ${REF} NULL, ADD COLUMN IF NOT EXISTS system ${KEY}, ADD COLUMN IF NOT EXISTS night DATE NULL,
     ADD COLUMN IF NOT EXISTS name VARCHAR(120) NOT NULL DEFAULT '', ADD COLUMN IF NOT EXISTS aspects JSON NULL,
     ADD COLUMN IF NOT EXISTS offset_set_id ${REF} NULL, ADD COLUMN IF NOT EXISTS plan_version INT NULL,
     MODIFY plan_id ${REF} NULL, MODIFY seed INT NULL, MODIFY result LONGTEXT NULL`,
  `CREATE TABLE IF NOT EXISTS frames (
    id ${REF} NOT NULL PRIMARY KEY, run_id ${REF} NOT NULL, seq INT NOT NULL, kind ENUM('light','dark','flat','bias','darkFlat') NOT NULL,
    project_id ${REF} NULL, filter VARCHAR(40) NOT NULL, exposure_s DOUBLE NOT NULL, started_at DATETIME(3) NULL, file VARCHAR(255) NOT NULL,
    header JSON NOT NULL, measures JSON NOT NULL, accepted TINYINT NOT NULL, reason VARCHAR(200) NOT NULL,
    counted_hash CHAR(101) CHARACTER SET ascii COLLATE ascii_bin NULL UNIQUE, file_hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL,
    UNIQUE (run_id, seq), INDEX (project_id, kind), CHECK (exposure_s >= 0),
    FOREIGN KEY (run_id) REFERENCES runs(id), FOREIGN KEY (project_id) REFERENCES projects(id)) ${TABLE}`,
];

const AFTER = [
  'ALTER TABLE train_states DROP INDEX IF EXISTS rig_id, ADD UNIQUE INDEX IF NOT EXISTS one_state (rig_id, system, fingerprint)',
  'ALTER TABLE focus_runs ADD INDEX IF NOT EXISTS state_of (train_state_id)',
  'ALTER TABLE focus_runs DROP INDEX IF EXISTS train_state_id, ADD UNIQUE INDEX IF NOT EXISTS one_run (rig_id, system, aspect, filter, time, position)',
  'ALTER TABLE focus_runs MODIFY rig_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, ADD FOREIGN KEY IF NOT EXISTS focus_rig (rig_id) REFERENCES rigs(id)',
  'ALTER TABLE offset_sets MODIFY rig_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, ADD FOREIGN KEY IF NOT EXISTS offsets_rig (rig_id) REFERENCES rigs(id)',
  'ALTER TABLE runs MODIFY rig_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, MODIFY night DATE NOT NULL, ADD INDEX IF NOT EXISTS nights_of (rig_id, night), ADD FOREIGN KEY IF NOT EXISTS runs_rig (rig_id) REFERENCES rigs(id)',
  'DROP TABLE IF EXISTS frame_counts',
];

interface OldRig {
  id: string;
  clubId: string;
  siteId: string;
  name: string;
  demo: number;
}
interface OldRevision {
  id: string;
  rigId: string;
  number: number;
  setup: RigSetup | RigBuild;
  changes: (string | object)[];
  stateId: string;
}

const parsed = <T>(v: unknown): T => (typeof v === 'string' ? (JSON.parse(v) as T) : (v as T));

/**
 * Rigs carry imaging systems; measured things belong to aspects of a state; runs have frames. Two rigs of one site on
 * the same mount with the same parts become one rig of two systems; nothing that was measured is lost.
 */
export async function up(db: Sequelize): Promise<void> {
  for (const sql of COLUMNS) await db.query(sql);
  const rows = <T extends object>(sql: string, replacements: Record<string, unknown> = {}) =>
    db.query<T>(sql, { type: QueryTypes.SELECT, replacements });
  const run = (sql: string, replacements: Record<string, unknown>) => db.query(sql, { replacements });

  const rigs = await rows<OldRig>(
    `SELECT r.id, r.club_id AS clubId, r.site_id AS siteId, r.name, c.demo FROM rigs r JOIN clubs c ON c.id = r.club_id WHERE r.archived_at IS NULL ORDER BY r.name`,
  );
  const revisions = (
    await rows<OldRevision>(
      'SELECT id, rig_id AS rigId, number, setup, changes, train_state_id AS stateId FROM rig_revisions ORDER BY number',
    )
  ).map((r) => ({
    ...r,
    setup: parsed<RigSetup | RigBuild>(r.setup),
    changes: parsed<(string | object)[]>(r.changes),
  }));
  const allRigs = await rows<OldRig>(
    'SELECT r.id, r.club_id AS clubId, r.site_id AS siteId, r.name, c.demo FROM rigs r JOIN clubs c ON c.id = r.club_id',
  );
  const rigOf = new Map(allRigs.map((r) => [r.id, r]));
  /** Where a rig's records went: another rig's system, or its own. */
  const place = new Map(allRigs.map((r) => [r.id, { rigId: r.id, system: 'main' }]));
  const builds = new Map<string, RigBuild>();

  for (const r of revisions) {
    const rig = rigOf.get(r.rigId)!;
    const build =
      'systems' in r.setup
        ? r.setup
        : { ...buildOf({ ...r.setup, practice: rig.demo === 1 }, rig.name), practice: rig.demo === 1 };
    builds.set(r.id, build);
    await run('UPDATE rig_revisions SET setup = :setup, changes = :changes, train_states = :states WHERE id = :id', {
      id: r.id,
      setup: JSON.stringify(build),
      changes: JSON.stringify(
        r.changes.map((c) => (typeof c === 'string' ? { code: 'rig.text', values: { text: c } } : c)),
      ),
      states: JSON.stringify({ [build.systems[0]!.key]: r.stateId }),
    });
  }

  // what each train state is true of, from a revision that had it
  const nameOfState = new Map<string, { aspects: AspectHashes; fingerprint: string }>();
  for (const r of revisions) {
    const view = viewOf(builds.get(r.id)!);
    nameOfState.set(r.stateId, { aspects: aspectsOf(view), fingerprint: trainFingerprint(view) });
  }

  const latest = (rigId: string) => revisions.filter((r) => r.rigId === rigId).at(-1);
  for (const [i, b] of rigs.entries()) {
    const rb = latest(b.id);
    const lead = rigs.slice(0, i).find((a) => {
      const ra = latest(a.id);
      if (!ra || !rb || a.clubId !== b.clubId || a.siteId !== b.siteId || place.get(a.id)!.rigId !== a.id) return false;
      const [x, y] = [builds.get(ra.id)!, builds.get(rb.id)!];
      return (
        x.mount.name === y.mount.name && x.placed.length > 0 && JSON.stringify(x.placed) === JSON.stringify(y.placed)
      );
    });
    if (lead && rb) await merge(lead, b, rb);
  }

  /** One rig becomes a system of another: a revision of the whole is written, the old rig is put away. */
  async function merge(lead: OldRig, b: OldRig, rb: OldRevision): Promise<void> {
    const [one, two] = [builds.get(latest(lead.id)!.id)!, builds.get(rb.id)!];
    // the tube that collects more light leads
    const bySize = [
      { system: one.systems[0]!, name: lead.name, key: 'main', stateId: latest(lead.id)!.stateId },
      { system: two.systems[0]!, name: b.name, key: 'second', stateId: rb.stateId },
    ].sort((p, q) => q.system.apertureMm - p.system.apertureMm);
    const { systems: _s, ...carried } = bySize[0]!.key === 'main' ? one : two;
    const build: RigBuild = { ...carried, systems: bySize.map((s) => ({ ...s.system, key: s.key, name: s.name })) };
    place.set(b.id, { rigId: lead.id, system: 'second' });
    const [{ id }] = (await rows<{ id: string }>('SELECT UUID() AS id')) as [{ id: string }];
    const last = latest(lead.id)!;
    const next: OldRevision = { ...last, id, number: last.number + 1, setup: build };
    const [{ byId, at }] = (await rows<{ byId: string; at: Date }>(
      'SELECT by_id AS byId, at FROM rig_revisions WHERE id = :id',
      { id: rb.id },
    )) as [{ byId: string; at: Date }];
    await run(
      `INSERT INTO rig_revisions (id, rig_id, number, setup, changes, train_state_id, train_states, by_id, at)
       VALUES (:id, :rigId, :number, :setup, :changes, :stateId, :states, :byId, :at)`,
      {
        id,
        rigId: lead.id,
        number: next.number,
        setup: JSON.stringify(build),
        changes: JSON.stringify([{ code: 'rig.system-added', values: { name: b.name } }]),
        stateId: last.stateId,
        states: JSON.stringify({ main: last.stateId, second: rb.stateId }),
        byId,
        at,
      },
    );
    revisions.push(next);
    builds.set(id, build);
    await run('UPDATE rigs SET version = version + 1 WHERE id = :id', { id: lead.id });
    await run('UPDATE rigs SET archived_at = NOW(3) WHERE id = :id', { id: b.id });
    const moved = { from: b.id, to: lead.id };
    for (const table of ['train_states', 'projects', 'guide_logs'])
      await run(`UPDATE ${table} SET rig_id = :to, system = 'second' WHERE rig_id = :from`, moved);
    await run('UPDATE plans SET rig_id = :to WHERE rig_id = :from', moved);
    // lists and settings of the evening are the rig's: the lead's stay
    for (const table of ['setup_ticks', 'setup_lists', 'dusk_settings'])
      await run(`DELETE FROM ${table} WHERE rig_id = :from`, moved);
  }

  // states that differed in names only are one now
  const states = await rows<{ id: string; rigId: string; system: string; createdAt: Date }>(
    'SELECT id, rig_id AS rigId, system, created_at AS createdAt FROM train_states ORDER BY created_at, id',
  );
  await db.query('ALTER TABLE train_states ADD INDEX IF NOT EXISTS rig_of (rig_id)');
  await db.query('ALTER TABLE train_states DROP INDEX IF EXISTS rig_id');
  await db.query('ALTER TABLE focus_runs ADD INDEX IF NOT EXISTS state_of (train_state_id)');
  await db.query('ALTER TABLE focus_runs DROP INDEX IF EXISTS train_state_id');
  const kept = new Map<string, string>();
  for (const s of states) {
    const named = nameOfState.get(s.id);
    if (!named) continue;
    const key = `${s.rigId} ${s.system} ${named.fingerprint}`;
    const first = kept.get(key);
    if (!first) {
      kept.set(key, s.id);
      await run('UPDATE train_states SET fingerprint = :fingerprint, aspects = :aspects WHERE id = :id', {
        id: s.id,
        fingerprint: named.fingerprint,
        aspects: JSON.stringify(named.aspects),
      });
      continue;
    }
    for (const table of ['rig_revisions', 'runs', 'focus_runs', 'offset_sets', 'guide_logs'])
      await run(`UPDATE ${table} SET train_state_id = :first WHERE train_state_id = :id`, { first, id: s.id });
    await run('UPDATE rig_revisions SET train_states = REPLACE(train_states, :id, :first)', { first, id: s.id });
    await run('DELETE FROM train_states WHERE id = :id', { id: s.id });
  }

  const finalStates = await rows<{ id: string; rigId: string; system: string; words: string; aspects: string | null }>(
    'SELECT id, rig_id AS rigId, system, words, aspects FROM train_states',
  );
  for (const s of finalStates) {
    const aspects = s.aspects ? parsed<AspectHashes>(s.aspects) : null;
    for (const table of ['focus_runs', 'offset_sets'])
      await run(`UPDATE ${table} SET rig_id = :rigId, system = :system, aspect = :aspect WHERE train_state_id = :id`, {
        id: s.id,
        rigId: s.rigId,
        system: s.system,
        aspect: aspects?.focus ?? null,
      });
  }
  // one run told twice, before and after a part was renamed
  await db.query(
    `DELETE a FROM focus_runs a JOIN focus_runs b ON a.rig_id = b.rig_id AND a.system = b.system AND a.aspect = b.aspect
       AND a.filter = b.filter AND a.time = b.time AND a.position = b.position AND a.id > b.id`,
  );

  for (const p of await rows<{ id: string; rigId: string; system: string; framing: string | null }>(
    'SELECT id, rig_id AS rigId, system, framing FROM projects WHERE framing IS NOT NULL',
  )) {
    const framing = parsed<{ words: string } | null>(p.framing);
    if (!framing) continue;
    const state = finalStates.find((s) => s.rigId === p.rigId && s.system === p.system && s.words === framing.words);
    const aspect = state?.aspects ? parsed<AspectHashes>(state.aspects).framing : null;
    await run('UPDATE projects SET framing = :framing WHERE id = :id', {
      id: p.id,
      framing: JSON.stringify({ ...framing, aspect }),
    });
  }

  await framesOfRuns(db, finalStates);
  for (const sql of AFTER) await db.query(sql);
}

interface OldFrame {
  filter: string;
  start: string;
  exposureS: number;
  hfdPx: number;
  stars: number;
  eccentricity: number;
  background: number;
  focusPosition: number;
  temperatureC: number;
  accepted: boolean;
  reason: string;
}

/** Accepted rehearsals of practice rigs were their nights; their frames become rows. Others never counted for the sky. */
async function framesOfRuns(
  db: Sequelize,
  states: readonly { id: string; system: string; aspects: string | null }[],
): Promise<void> {
  const run = (sql: string, replacements: Record<string, unknown>) => db.query(sql, { replacements });
  const heads = await db.query<{
    id: string;
    state: string;
    stateId: string;
    rigId: string;
    night: string;
    projectId: string;
    demo: number;
    planVersion: number;
  }>(
    `SELECT r.id, r.state, r.train_state_id AS stateId, p.rig_id AS rigId, p.night, p.project_id AS projectId, c.demo, p.version AS planVersion
     FROM runs r JOIN plans p ON p.id = r.plan_id JOIN rigs g ON g.id = p.rig_id JOIN clubs c ON c.id = g.club_id`,
    { type: QueryTypes.SELECT },
  );
  const stateOf = new Map(states.map((s) => [s.id, s]));
  for (const h of heads) {
    const live = h.state === 'accepted' && h.demo === 1;
    const s = stateOf.get(h.stateId);
    await run(
      `UPDATE runs SET rig_id = :rigId, system = :system, night = :night, kind = :kind, aspects = :aspects, plan_version = :planVersion WHERE id = :id`,
      {
        id: h.id,
        rigId: h.rigId,
        system: s?.system ?? 'main',
        night: h.night,
        kind: live ? 'live' : 'rehearsed',
        aspects: s?.aspects ? JSON.stringify(parsed(s.aspects)) : null,
        planVersion: h.planVersion,
      },
    );
    if (!live) continue;
    const [row] = await db.query<{ result: string }>('SELECT result FROM runs WHERE id = :id', {
      type: QueryTypes.SELECT,
      replacements: { id: h.id },
    });
    await run('DELETE FROM frames WHERE run_id = :id', { id: h.id });
    const { frames } = JSON.parse(row!.result) as { frames: OldFrame[] };
    for (const [seq, f] of frames.entries())
      await run(
        `INSERT INTO frames (id, run_id, seq, kind, project_id, filter, exposure_s, started_at, file, header, measures, accepted, reason)
         VALUES (UUID(), :run, :seq, 'light', :project, :filter, :exposure, :at, '', :header, :measures, :accepted, :reason)`,
        {
          run: h.id,
          seq,
          project: h.projectId,
          filter: f.filter,
          exposure: f.exposureS,
          at: new Date(f.start),
          header: JSON.stringify({ focuserPosition: f.focusPosition, focuserC: f.temperatureC }),
          measures: JSON.stringify({
            hfdPx: f.hfdPx,
            stars: f.stars,
            eccentricity: f.eccentricity,
            background: f.background,
          }),
          accepted: f.accepted ? 1 : 0,
          reason: f.reason.slice(0, 200),
        },
      );
  }
}
