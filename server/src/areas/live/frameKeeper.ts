import type { KeptFrame, KeptFrames } from '@keen/contract';
import { practiceFrame } from '@keen/core/frames';
import type { WrittenCard } from '@keen/core/exchange';
import { STAND_IN_STARS, type RunFrame, type RunResult } from '@keen/core/observatory';
import type { Rehearsal } from '@keen/core/run';
import { mkdir, open, readdir, readFile, rm, statfs } from 'node:fs/promises';
import { join } from 'node:path';
import type { Config } from '../../config.ts';
import { known, Problem } from '../../problems.ts';
import { iso, type Store } from '../../store.ts';
import type { RunTask } from '../calculations/pool.ts';
import { smallOf, type DrawnFrame } from './drawFrame.ts';

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
/** What each camera took. */
interface Taken {
  frames: readonly RunFrame[];
  second: readonly RunFrame[];
}
/** Which frame of a run: each camera counts its own. */
export interface WhichFrame {
  n: number;
  second: boolean;
}
interface Row extends WhichFrame {
  startMs: number;
  filter: string;
  bytes: number;
  measured: string | null;
  problem: string;
}

/**
 * Keeps the frames of runs as files: on stand-ins drawn from what the camera told, over a bridge as that gives them; measured on the
 * file as any other. They are kept for a while: a drawn one can be drawn anew from what happened, and the equipment’s own are the
 * equipment’s to keep for longer.
 */
export function frameKeeper(
  store: Store,
  runTask: RunTask,
  where: Config['frames'],
  report: (error: unknown, where: string) => void,
) {
  const { folder, days } = where;
  const pathOf = (runId: string, { n, second }: WhichFrame) =>
    join(folder, runId, `${second ? 'second-' : ''}${n}.fits`);
  /** Frames of one run come one after the other. */
  const lines = new Map<string, Promise<unknown>>();
  let sweptAt = -Infinity;

  async function hasRoom(): Promise<boolean> {
    await mkdir(folder, { recursive: true });
    const { bavail, bsize } = await statfs(folder);
    return bavail * bsize >= where.reserveMb * MB;
  }
  const note = (
    runId: string,
    { n, second }: WhichFrame,
    f: RunFrame,
    of: Pick<Row, 'bytes' | 'measured' | 'problem'>,
  ) =>
    store.db.query(
      `INSERT INTO run_frames (run_id, second, n, start_ms, filter, bytes, measured, problem, kept_at)
       SELECT id, :second, :n, :startMs, :filter, :bytes, :measured, :problem, :now FROM live_runs WHERE id = :runId
       ON DUPLICATE KEY UPDATE start_ms = VALUES(start_ms), filter = VALUES(filter), bytes = VALUES(bytes), measured = VALUES(measured), problem = VALUES(problem)`,
      {
        replacements: {
          runId,
          second: second ? 1 : 0,
          n,
          startMs: Date.parse(f.start),
          filter: f.filter,
          now: store.now(),
          ...of,
        },
      },
    );

  /** Notes what came of writing a frame. */
  async function written(runId: string, which: WhichFrame, f: RunFrame, got: DrawnFrame): Promise<'kept' | 'no-room'> {
    if (got.ok) {
      const { ok: _ok, bytes, ...measured } = got;
      await note(runId, which, f, { bytes, measured: JSON.stringify(measured), problem: '' });
      return 'kept';
    }
    const isFull = got.code === 'ENOSPC' || got.code === 'EDQUOT';
    const problem = isFull ? NO_ROOM : (got.why ?? `it could not be written (${got.code})`);
    await note(runId, which, f, { bytes: 0, measured: null, problem });
    return isFull ? 'no-room' : 'kept';
  }
  async function drawOne(
    { runId, byId, rehearsal }: KeptOf,
    which: WhichFrame,
    f: RunFrame,
  ): Promise<'kept' | 'no-room'> {
    const { plan, pictures } = rehearsal;
    const target = plan.legs.find((l) => l.planIndex === f.leg)?.target;
    const of = which.second ? pictures?.second : pictures;
    if (!of || !target) return 'kept';
    const drawn = await runTask(
      'drawFrame',
      {
        path: pathOf(runId, which),
        frame: practiceFrame(
          `${runId} ${which.second ? 'second ' : ''}${which.n}`,
          target,
          f,
          STAND_IN_STARS,
          of.scaleArcsecPerPx,
        ),
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
          ['INSTRUME', which.second ? 'second stand-in camera' : 'stand-in camera'],
          ...(f.rotatorDeg === undefined || which.second ? [] : [['ROTATANG', f.rotatorDeg] as WrittenCard]),
        ],
        size: of.size,
      },
      byId,
    );
    return written(runId, which, f, drawn);
  }
  /** A frame as equipment elsewhere gives it, written down and measured; what is none is noted. */
  async function fetchOne({ runId, byId }: KeptOf, which: WhichFrame, f: RunFrame, fetched: () => Promise<Uint8Array>) {
    let file: Uint8Array;
    try {
      file = await fetched();
    } catch (e) {
      const problem = `the equipment did not give it (${e instanceof Error ? e.message : String(e)})`.slice(0, 190);
      await note(runId, which, f, { bytes: 0, measured: null, problem });
      return 'kept' as const;
    }
    return written(runId, which, f, await runTask('writeFrame', { path: pathOf(runId, which), file }, byId));
  }
  /** In its run’s turn. @param fetched  asks equipment elsewhere for it; left out: it is drawn. @returns whether there is room for another */
  function keep(
    of: KeptOf,
    which: WhichFrame,
    f: RunFrame,
    fetched?: () => Promise<Uint8Array>,
  ): Promise<'kept' | 'no-room'> {
    if (!folder) return Promise.resolve('kept');
    const before = lines.get(of.runId) ?? Promise.resolve();
    const now = before
      .then(async () => {
        if (await hasRoom()) return fetched ? fetchOne(of, which, f, fetched) : drawOne(of, which, f);
        await note(of.runId, which, f, { bytes: 0, measured: null, problem: NO_ROOM });
        return 'no-room' as const;
      })
      .catch(async (e: unknown) => {
        report(e, 'keeping a frame');
        // one that takes too long would do so again; whatever else it was passes
        if (known(e).code === 'too_much_work')
          await note(of.runId, which, f, { bytes: 0, measured: null, problem: 'it took too long' }).catch(
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
      'SELECT second, n, start_ms AS startMs, filter, bytes, measured, problem FROM run_frames WHERE run_id = ? ORDER BY second, n',
      [runId],
    );
  /** Keeps what is not kept yet of a run: its server ended meanwhile, or there was no room. */
  async function makeUp(of: KeptOf, taken: Taken): Promise<void> {
    if (!folder) return;
    await lines.get(of.runId);
    const key = ({ n, second }: WhichFrame) => `${Number(second)} ${n}`;
    const there = new Set((await rowsOf(of.runId)).filter((r) => r.problem !== NO_ROOM).map(key));
    for (const second of [false, true])
      for (const [n, f] of (second ? taken.second : taken.frames).entries())
        if (!there.has(key({ n, second })) && (await keep(of, { n, second }, f)) === 'no-room') return;
  }

  /** Takes away what is too old, and folders of runs that are no more; makes up for what was left out. */
  async function sweep(now = false): Promise<void> {
    if (!folder || (!now && Date.now() - sweptAt < SWEEP_MS)) return;
    sweptAt = Date.now();
    const old = new Date(store.now().getTime() - days * 86_400_000);
    const rows = await store.read<WhichFrame & { runId: string }>(
      'SELECT run_id AS runId, second, n FROM run_frames WHERE kept_at < ? LIMIT 2000',
      [old],
    );
    for (const { runId, ...which } of rows) {
      const path = pathOf(runId, which);
      for (const it of [path, smallOf(path)]) await rm(it, { force: true });
      await store.db.query('DELETE FROM run_frames WHERE run_id = :runId AND second = :second AND n = :n', {
        replacements: { runId, ...which },
      });
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
       WHERE l.state = 'ended' AND l.bridge = '' AND l.ended_at > ? AND l.frames > (SELECT COUNT(*) FROM run_frames f WHERE f.run_id = l.id AND f.second = 0 AND f.problem <> ?)
       ORDER BY l.ended_at DESC LIMIT 3`,
      [recent, NO_ROOM],
    );
    for (const { runId, byId, input, result } of short)
      await makeUp(
        { runId, byId, rehearsal: JSON.parse(input) as Rehearsal },
        takenIn(JSON.parse(result) as RunResult),
      );
  }
  const gone = () => new Problem('not_found', 'This frame is not kept here, or not any more.');
  async function demandPath(runId: string, which: WhichFrame): Promise<string> {
    const [row] = folder
      ? await store.read<Row>("SELECT n FROM run_frames WHERE run_id = ? AND second = ? AND n = ? AND problem = ''", [
          runId,
          which.second ? 1 : 0,
          which.n,
        ])
      : [];
    if (!row) throw gone();
    return pathOf(runId, which);
  }
  return {
    keep,
    makeUp,
    sweep,
    /** Opens a file; one that somebody took away is not there either. @throws Problem not_found */
    file: async (runId: string, which: WhichFrame) =>
      open(await demandPath(runId, which)).catch((e: NodeJS.ErrnoException) => {
        throw e.code === 'ENOENT' ? gone() : e;
      }),
    picture: async (runId: string, which: WhichFrame) =>
      JSON.parse(
        await readFile(smallOf(await demandPath(runId, which)), 'utf8').catch(() => {
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
          second: Boolean(Number(r.second)),
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
export const takenIn = ({ frames, follower }: Pick<RunResult, 'frames' | 'follower'>): Taken => ({
  frames,
  second: follower?.frames ?? [],
});
export type FrameKeeper = ReturnType<typeof frameKeeper>;
