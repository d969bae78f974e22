import type { KeptFrame, KeptFrames } from '@keen/contract';
import { practiceFrame } from '@keen/core/frames';
import { STAND_IN_STARS, type RunFrame } from '@keen/core/observatory';
import type { Rehearsal } from '@keen/core/run';
import { mkdir, open, readdir, readFile, rm, statfs } from 'node:fs/promises';
import { join } from 'node:path';
import type { Config } from '../../config.ts';
import { known, Problem } from '../../problems.ts';
import { iso, type Store } from '../../store.ts';
import type { RunTask } from '../calculations/pool.ts';
import { smallOf } from './drawFrame.ts';

/** How often what is too old is taken away, and what was left out is made up for [ms]. */
const SWEEP_MS = 600_000;
/** Of a run that is over frames are made up for so long [days]. */
const MADE_UP_DAYS = 1;
const MB = 1e6;
/** What is made up for once there is room again. */
const NO_ROOM = 'no room where frames are kept';
const UUID = /^[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

/** A run whose frames are kept. */
export interface KeptOf {
  runId: string;
  byId: string;
  rehearsal: Pick<Rehearsal, 'plan' | 'pictures'>;
}
interface Row {
  n: number;
  startMs: number;
  filter: string;
  bytes: number;
  measured: string | null;
  problem: string;
}

/**
 * Keeps the frames of runs on stand-ins as files: drawn from what the camera told, and measured on what was drawn. A file can be
 * drawn anew from what happened, so nothing hangs on any of them; they are kept for a while.
 */
export function frameKeeper(
  store: Store,
  runTask: RunTask,
  where: Config['frames'],
  report: (error: unknown, where: string) => void,
) {
  const { folder, days } = where;
  const pathOf = (runId: string, n: number) => join(folder, runId, `${n}.fits`);
  /** Frames of one run come one after the other. */
  const lines = new Map<string, Promise<unknown>>();
  let sweptAt = -Infinity;

  async function hasRoom(): Promise<boolean> {
    await mkdir(folder, { recursive: true });
    const { bavail, bsize } = await statfs(folder);
    return bavail * bsize >= where.reserveMb * MB;
  }
  const note = (runId: string, n: number, f: RunFrame, of: Pick<Row, 'bytes' | 'measured' | 'problem'>) =>
    store.db.query(
      `INSERT INTO run_frames (run_id, n, start_ms, filter, bytes, measured, problem, kept_at)
       SELECT id, :n, :startMs, :filter, :bytes, :measured, :problem, :now FROM live_runs WHERE id = :runId
       ON DUPLICATE KEY UPDATE start_ms = VALUES(start_ms), filter = VALUES(filter), bytes = VALUES(bytes), measured = VALUES(measured), problem = VALUES(problem)`,
      {
        replacements: { runId, n, startMs: Date.parse(f.start), filter: f.filter, now: store.now(), ...of },
      },
    );

  async function keepOne({ runId, byId, rehearsal }: KeptOf, n: number, f: RunFrame): Promise<'kept' | 'no-room'> {
    const { plan, pictures } = rehearsal;
    const target = plan.legs.find((l) => l.planIndex === f.leg)?.target;
    if (!pictures || !target) return 'kept';
    if (!(await hasRoom())) {
      await note(runId, n, f, { bytes: 0, measured: null, problem: NO_ROOM });
      return 'no-room';
    }
    const drawn = await runTask(
      'drawFrame',
      {
        path: pathOf(runId, n),
        frame: practiceFrame(`${runId} ${n}`, target, f, STAND_IN_STARS, pictures.scaleArcsecPerPx),
        cards: [
          ['OBJECT', target.name],
          ['IMAGETYP', 'LIGHT'],
          ['FILTER', f.filter],
          ['EXPTIME', f.exposureS],
          ['DATE-OBS', f.start.slice(0, 19)],
          ['RA', target.raDeg],
          ['DEC', target.decDeg],
          ['CCD-TEMP', f.temperatureC],
          ['FOCUSPOS', f.focusPosition],
          ['INSTRUME', 'stand-in camera'],
        ],
        size: pictures.size,
      },
      byId,
    );
    if (drawn.ok) {
      const { ok: _ok, bytes, ...measured } = drawn;
      await note(runId, n, f, { bytes, measured: JSON.stringify(measured), problem: '' });
      return 'kept';
    }
    const isFull = drawn.code === 'ENOSPC' || drawn.code === 'EDQUOT';
    const problem = isFull ? NO_ROOM : `it could not be written (${drawn.code})`;
    await note(runId, n, f, { bytes: 0, measured: null, problem });
    return isFull ? 'no-room' : 'kept';
  }
  /** In its run’s turn. @returns whether there is room for another */
  function keep(of: KeptOf, n: number, f: RunFrame): Promise<'kept' | 'no-room'> {
    if (!folder) return Promise.resolve('kept');
    const before = lines.get(of.runId) ?? Promise.resolve();
    const now = before
      .then(() => keepOne(of, n, f))
      .catch(async (e: unknown) => {
        report(e, 'keeping a frame');
        // one that takes too long would do so again; whatever else it was passes
        if (known(e).code === 'too_much_work')
          await note(of.runId, n, f, { bytes: 0, measured: null, problem: 'drawing it took too long' }).catch(
            () => undefined,
          );
        return 'kept' as const;
      });
    lines.set(of.runId, now);
    void now.finally(() => lines.get(of.runId) === now && lines.delete(of.runId));
    return now;
  }
  const rowsOf = (runId: string) =>
    store.read<Row>(
      'SELECT n, start_ms AS startMs, filter, bytes, measured, problem FROM run_frames WHERE run_id = ? ORDER BY n',
      [runId],
    );
  /** Keeps what is not kept yet of a run: its server ended meanwhile, or there was no room. */
  async function makeUp(of: KeptOf, frames: readonly RunFrame[]): Promise<void> {
    if (!folder) return;
    await lines.get(of.runId);
    const there = new Set((await rowsOf(of.runId)).filter((r) => r.problem !== NO_ROOM).map((r) => Number(r.n)));
    for (const [n, f] of frames.entries()) if (!there.has(n) && (await keep(of, n, f)) === 'no-room') return;
  }

  /** Takes away what is too old, and folders of runs that are no more; makes up for what was left out. */
  async function sweep(now = false): Promise<void> {
    if (!folder || (!now && Date.now() - sweptAt < SWEEP_MS)) return;
    sweptAt = Date.now();
    const old = new Date(store.now().getTime() - days * 86_400_000);
    const rows = await store.read<{ runId: string; n: number }>(
      'SELECT run_id AS runId, n FROM run_frames WHERE kept_at < ? LIMIT 2000',
      [old],
    );
    for (const { runId, n } of rows) {
      for (const path of [pathOf(runId, n), smallOf(pathOf(runId, n))]) await rm(path, { force: true });
      await store.db.query('DELETE FROM run_frames WHERE run_id = :runId AND n = :n', { replacements: { runId, n } });
    }
    const there = (await readdir(folder).catch(() => [] as string[])).filter((d) => UUID.test(d));
    const recent = new Date(store.now().getTime() - MADE_UP_DAYS * 86_400_000);
    const wanted = there.length
      ? await store.read<{ id: string }>(
          `SELECT id FROM live_runs l WHERE id IN (?)
             AND (state = 'running' OR ended_at > ? OR EXISTS (SELECT 1 FROM run_frames f WHERE f.run_id = l.id))`,
          [there, recent],
        )
      : [];
    const kept = new Set(wanted.map((r) => r.id));
    for (const d of there) if (!kept.has(d)) await rm(join(folder, d), { recursive: true, force: true });
    const short = await store.read<{ runId: string; byId: string; input: string; result: string }>(
      `SELECT l.id AS runId, l.by_id AS byId, l.input, r.result FROM live_runs l JOIN runs r ON r.id = l.run_id
       WHERE l.state = 'ended' AND l.bridge = '' AND l.ended_at > ? AND l.frames > (SELECT COUNT(*) FROM run_frames f WHERE f.run_id = l.id AND f.problem <> ?)
       ORDER BY l.ended_at DESC LIMIT 3`,
      [recent, NO_ROOM],
    );
    for (const { runId, byId, input, result } of short)
      await makeUp(
        { runId, byId, rehearsal: JSON.parse(input) as Rehearsal },
        (JSON.parse(result) as { frames: RunFrame[] }).frames,
      );
  }
  const gone = () => new Problem('not_found', 'This frame is not kept here, or not any more.');
  async function demandPath(runId: string, n: number): Promise<string> {
    const [row] = folder
      ? await store.read<Row>("SELECT n FROM run_frames WHERE run_id = ? AND n = ? AND problem = ''", [runId, n])
      : [];
    if (!row) throw gone();
    return pathOf(runId, n);
  }
  return {
    keep,
    makeUp,
    sweep,
    /** Opens a file; one that somebody took away is not there either. @throws Problem not_found */
    file: async (runId: string, n: number) =>
      open(await demandPath(runId, n)).catch((e: NodeJS.ErrnoException) => {
        throw e.code === 'ENOENT' ? gone() : e;
      }),
    picture: async (runId: string, n: number) =>
      JSON.parse(
        await readFile(smallOf(await demandPath(runId, n)), 'utf8').catch(() => {
          throw gone();
        }),
      ) as { widthPx: number; heightPx: number; tones: string },
    list: async (runId: string): Promise<KeptFrames> => ({
      days: folder ? days : null,
      frames: (await rowsOf(runId)).map((r): KeptFrame => {
        const measured = r.measured
          ? (JSON.parse(r.measured) as Pick<KeptFrame, 'stars' | 'hfdPx' | 'eccentricity'>)
          : null;
        return {
          n: Number(r.n),
          start: iso(new Date(Number(r.startMs))),
          filter: r.filter,
          kept: r.problem === '',
          problem: r.problem,
          bytes: Number(r.bytes),
          stars: measured?.stars ?? null,
          hfdPx: measured?.hfdPx ?? null,
          eccentricity: measured?.eccentricity ?? null,
        };
      }),
    }),
  };
}
export type FrameKeeper = ReturnType<typeof frameKeeper>;
