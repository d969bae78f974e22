import type { LiveRun, Page } from '@keen/contract';
import { faultsOf, type Fault } from '@keen/core/observatory';
import { hasOf, type CommandCode, type Rehearsal, type Thrown } from '@keen/core/run';
import { scaleArcsecPerPx } from '@keen/core/quantities';
import { viewOf } from '@keen/core/rig';
import { hash32, seeded } from '@keen/core/statistics';
import type { Transaction } from 'sequelize';
import type { PlanRow, ProjectRow } from '../../database/index.ts';
import { plain } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { iso, isoOrNull, pageOf, type Actor, type Store } from '../../store.ts';
import type { RunTask } from '../calculations/pool.ts';
import { prepareRehearsal } from '../runs/rehearse.ts';
import type { LiveRunRow } from './table.ts';

const HEAD = { exclude: ['input', 'record'] };
type Head = Omit<LiveRunRow, 'input' | 'record'>;

/** Runs as they are told, in a few queries however many there are. */
async function recordsOf(store: Store, who: Actor, rows: readonly Head[], t?: Transaction): Promise<LiveRun[]> {
  const within = t ? { transaction: t } : {};
  const byId = <R extends { id: string }>(list: R[]) => new Map(list.map((r) => [r.id, r]));
  const names = await store.names(who.clubId, t);
  const plans = byId<PlanRow>(
    (await store.plans.findAll({ where: { id: rows.map((r) => r.planId) }, ...within })).map(plain),
  );
  const ids = [...plans.values()].flatMap((p) => p.legs.map((l) => l.projectId));
  const projects = byId<ProjectRow>((await store.projects.findAll({ where: { id: ids }, ...within })).map(plain));
  const rigs = byId((await store.rigs.findAll({ where: { id: rows.map((r) => r.rigId) }, ...within })).map(plain));
  const held = rows.length
    ? await store.read<{ id: string }>(
        "SELECT id FROM live_runs WHERE id IN (?) AND state = 'running' AND lease_until > NOW(3)",
        [rows.map((r) => r.id)],
        t,
      )
    : [];
  const driven = new Set(held.map((h) => h.id));
  const nameOf = (id: string | null) => (id ? (names.get(id) ?? '') : '');
  return rows.map((r) => {
    const plan = plans.get(r.planId)!;
    const legs = plan.legs.map((l) => projects.get(l.projectId)!);
    return {
      id: r.id,
      planId: r.planId,
      rigId: r.rigId,
      rig: rigs.get(r.rigId)!.name,
      system: legs[0]!.system,
      night: plan.night,
      objects: [...new Set(legs.map((p) => p.object))].join(', '),
      state: r.state,
      speed: r.speed,
      bridge: r.bridge,
      by: nameOf(r.byId),
      begunAt: iso(r.begunAt),
      endedAt: isoOrNull(r.endedAt),
      holderId: r.holderId,
      holder: nameOf(r.holderId),
      askedById: r.askedById,
      askedBy: nameOf(r.askedById),
      events: r.lastSeq,
      at: iso(new Date(Number(r.atMs))),
      frames: r.frames,
      driven: driven.has(r.id),
      takenOver: Math.max(0, r.claims - 1),
      runId: r.runId,
      problem: r.problem,
      debrief: r.debrief ? (JSON.parse(r.debrief) as LiveRun['debrief']) : null,
    };
  });
}
export async function liveRuns(store: Store, who: Actor, page: Page): Promise<LiveRun[]> {
  const rigs = await store.read<{ id: string }>('SELECT id FROM rigs WHERE club_id = ?', [who.clubId]);
  const rows = await store.liveRuns.findAll({
    where: { rigId: rigs.map((r) => r.id) },
    attributes: HEAD,
    order: [
      ['begunAt', 'DESC'],
      ['id', 'ASC'],
    ],
    ...pageOf(page),
  });
  return recordsOf(store, who, rows.map(plain));
}
/** One of the club’s. @throws Problem not_found */
export async function demandLive(store: Store, who: Actor, id: string, t?: Transaction): Promise<Head> {
  const [own] = await store.read<{ id: string }>(
    'SELECT r.id FROM live_runs r JOIN rigs g ON g.id = r.rig_id WHERE r.id = ? AND g.club_id = ?',
    [id, who.clubId],
    t,
  );
  const found = own && (await store.liveRuns.findByPk(id, { attributes: HEAD, ...(t ? { transaction: t } : {}) }));
  if (!found) throw new Problem('not_found', 'There is no such run.');
  return plain(found);
}
export const liveRun = async (store: Store, who: Actor, id: string): Promise<LiveRun> =>
  (await recordsOf(store, who, [await demandLive(store, who, id)]))[0]!;

/** Equipment elsewhere has no second camera that could be asked: it is not waited for either. */
function withoutSecond({ plan: { beside: _none, legs, ...plan }, ...rehearsal }: Rehearsal): Rehearsal {
  const alone = legs.map(({ waitsFor: _w, followerOf: _f, ...leg }) => leg);
  return { ...rehearsal, plan: { ...plan, legs: alone }, beside: null };
}
/** Begins to run a plan; a server drives it from then on. */
export async function startRun(
  store: Store,
  runTask: RunTask,
  who: Actor,
  planId: string,
  { speed, seed, bridge, wholeFrames }: { speed: number; seed: number; bridge: string; wholeFrames: boolean },
  bridges: Readonly<Record<string, string>>,
): Promise<LiveRun> {
  if (bridge && !Object.hasOwn(bridges, bridge))
    throw new Problem('invalid_input', 'This server knows no such equipment.', {
      issues: [{ path: 'bridge', message: `is none of ${Object.keys(bridges).join(', ') || 'none'}` }],
    });
  const prepared = await prepareRehearsal(store, who, planId, seed);
  const whole: Rehearsal = await runTask('rehearsal', prepared.task, who.id);
  const picturesOf = (system: string) => {
    const { camera, focalLengthMm } = viewOf(prepared.task.records.build, system);
    return {
      scaleArcsecPerPx: scaleArcsecPerPx(camera.pixelUm, focalLengthMm),
      size: wholeFrames ? { widthPx: camera.widthPx, heightPx: camera.heightPx } : null,
    };
  };
  const { beside } = prepared.task;
  const pictures = {
    ...picturesOf(prepared.run.system),
    ...(beside ? { second: picturesOf(beside.system) } : {}),
  };
  const rehearsal = bridge ? withoutSecond(whole) : { ...whole, pictures };
  const { rigId, night } = prepared.run;
  return store.change(
    who,
    ['rig', rigId],
    async (t) => {
      const [busy] = await store.read<{ id: string; byId: string }>(
        'SELECT id, by_id AS byId FROM live_runs WHERE rig_busy = ?',
        [rigId],
        t,
      );
      if (busy) {
        const by = (await store.names(who.clubId, t)).get(busy.byId);
        throw new Problem(
          'already_exists',
          `This rig is at work already${by ? `, begun by ${by}` : ''}: one run at a time.`,
        );
      }
      const row: LiveRunRow = {
        id: store.id(),
        planId,
        rigId,
        rigBusy: rigId,
        byId: who.id,
        state: 'running',
        speed: bridge ? 1 : speed,
        bridge,
        input: JSON.stringify(rehearsal),
        // over a bridge it is a real night
        record: JSON.stringify({ ...prepared.run, ...(bridge ? { kind: 'live' } : {}) }),
        holderId: who.id,
        askedById: null,
        lastSeq: 0,
        atMs: rehearsal.world.startMs,
        frames: 0,
        leaseOwner: null,
        leaseUntil: null,
        claims: 0,
        version: 0,
        begunAt: store.now(),
        endedAt: null,
        runId: null,
        debrief: null,
        problem: '',
      };
      await store.liveRuns.create(row, { transaction: t });
      return (await recordsOf(store, who, [row], t))[0]!;
    },
    { quiet: true, tells: { what: 'live-runs', rigId, night } },
  );
}

/** Changes a run that goes on, in its rig’s turn. */
async function changeRunning(
  store: Store,
  who: Actor,
  id: string,
  work: (row: Head, t: Transaction) => Promise<Partial<Head>>,
): Promise<LiveRun> {
  const { rigId } = await demandLive(store, who, id);
  return store.change(
    who,
    ['rig', rigId],
    async (t) => {
      const row = await demandLive(store, who, id, t);
      if (row.state !== 'running') throw new Problem('already_done', 'This run is over.');
      const set = await work(row, t);
      // whoever drives it writes its version; what is changed here is read by them, and written by nobody else
      if (Object.keys(set).length) await store.liveRuns.update(set, { where: { id }, transaction: t });
      return (await recordsOf(store, who, [{ ...row, ...set }], t))[0]!;
    },
    { quiet: true, tells: { what: 'live-runs', rigId } },
  );
}
async function demandHolder(store: Store, who: Actor, row: Head, t: Transaction): Promise<void> {
  if (row.holderId === who.id) return;
  const holder = row.holderId ? (await store.names(who.clubId, t)).get(row.holderId) : null;
  throw new Problem(
    'not_allowed',
    holder ? `${holder} is at the controls: ask for them first.` : 'Nobody is at the controls: take them first.',
  );
}
const ask = (store: Store, who: Actor, runId: string, data: object, t: Transaction) =>
  store.db.query(
    'INSERT INTO run_commands (id, run_id, data, by_id, asked_at) VALUES (:id, :runId, :data, :byId, NOW(3))',
    { replacements: { id: store.id(), runId, data: JSON.stringify(data), byId: who.id }, transaction: t },
  );

export const commandRun = (store: Store, who: Actor, id: string, code: CommandCode): Promise<LiveRun> =>
  changeRunning(store, who, id, async (row, t) => {
    await demandHolder(store, who, row, t);
    await ask(store, who, id, { code, by: who.id }, t);
    return {};
  });
export const setRunSpeed = (store: Store, who: Actor, id: string, speed: number): Promise<LiveRun> =>
  changeRunning(store, who, id, async (row, t) => {
    await demandHolder(store, who, row, t);
    if (row.bridge) throw new Problem('not_allowed', 'Real equipment has the world’s time.');
    return { speed };
  });
/** Who is at the controls: one person, who gives them away; a steward may take them. */
export const runControls = (
  store: Store,
  who: Actor,
  id: string,
  what: 'ask' | 'give' | 'leave' | 'take',
): Promise<LiveRun> =>
  changeRunning(store, who, id, async (row, t) => {
    switch (what) {
      case 'ask':
        if (row.holderId === who.id) throw new Problem('already_done', 'You are at the controls.');
        return row.holderId ? { askedById: who.id } : { holderId: who.id, askedById: null };
      case 'give':
        await demandHolder(store, who, row, t);
        if (!row.askedById) throw new Problem('out_of_order', 'Nobody asks for the controls.');
        return { holderId: row.askedById, askedById: null };
      case 'leave':
        await demandHolder(store, who, row, t);
        return { holderId: row.askedById, askedById: null };
      case 'take':
        if (row.holderId && row.holderId !== who.id && who.role !== 'steward')
          throw new Problem('not_allowed', 'Somebody is at the controls: ask for them. A steward may take them.');
        return { holderId: who.id, askedById: row.askedById === who.id ? null : row.askedById };
    }
  });

/** Longest and shortest time a thrown fault lasts where it passes [ms]; invented. */
const LASTS_MS = [180_000, 1_200_000] as const;
/** Puts a fault on the stand-ins, at a moment nobody is told beforehand. */
export const throwFault = (
  store: Store,
  who: Actor,
  id: string,
  { fault, withinMin }: { fault: Fault | null; withinMin: number },
): Promise<LiveRun> =>
  changeRunning(store, who, id, async (row, t) => {
    if (row.bridge) throw new Problem('not_allowed', 'Nothing is made to go wrong on real equipment.');
    const commandId = store.id();
    const r = seeded(hash32(commandId));
    const { input } = plain((await store.liveRuns.findByPk(id, { attributes: ['input'], transaction: t }))!);
    const could = faultsOf(hasOf((JSON.parse(input) as Rehearsal).plan));
    const drawn = fault ?? could[Math.floor(could.length * r.next())]!;
    const [short, long] = LASTS_MS;
    const thrown: Thrown = {
      code: 'thrown',
      by: who.id,
      fault: drawn,
      atMs: Math.round(Number(row.atMs) + withinMin * 60_000 * r.next()),
      forMs: Math.round(short + (long - short) * r.next()),
    };
    await ask(store, who, id, thrown, t);
    return {};
  });
