import type { MessagePort } from 'node:worker_threads';
import { calculations, InvalidInput, parseInput, type Solver } from '@keen/core';
import { readGuideCsv } from '@keen/core/exchange';
import { LogInput, summaryOfLog, type LogSummary } from '@keen/core/guiding';
import type { RunResult } from '@keen/core/observatory';
import type { Phrase } from '@keen/core/phrases';
import { phrase } from '@keen/core/phrases';
import { workOutBoard, type Board, type BoardTask } from '@keen/core/season';
import type { RiskOutput } from '@keen/core/sequence';
import { debrief, resultOfEvents, type Debrief, type Happened, type Rehearsal } from '@keen/core/run';
import { playRehearsal, playRiskOf, rehearsalOf, type RehearsalTask, type RiskTask } from '../runs/playNight.ts';
import { highsSolver } from '@keen/core/solver';
import type { StarSource } from '@keen/core/sky';
import { measurePicture } from '@keen/core/frames';
import { drawFrame, writeFrame, type DrawFrame, type DrawnFrame } from '../live/drawFrame.ts';
import { starFiles } from './starFiles.ts';

/** One question to the registry, as it reaches a worker. */
export interface Question {
  name: string;
  /** Work of another kind than the registry’s. */
  task?: keyof Tasks | undefined;
  input: unknown;
  dataFolder: string;
  /** Longest a search may take, so that its answer comes before the deadline [s]. */
  mostSeconds: number;
  /** A picture that was sent instead of a question. */
  picture?: Uint8Array | undefined;
  /** Told when the work begins, the time a worker takes to start is nobody's; and of a task how far it is. */
  begun: MessagePort;
}
/** How far a task is, and what it is at. */
export interface Progress {
  share: number;
  stage: Phrase;
}
type Tell = (progress: Progress) => void;
/** The answer as text, so that the server does not write a large one out itself. */
export interface Reply {
  status: 200 | 400;
  json: string;
}

let solver: Promise<Solver> | undefined;
/** What solves programmes, loaded when somebody first asks for it. */
const solverHere = () => (solver ??= highsSolver());

let stars: StarSource | undefined;
const starsIn = (dataFolder: string): StarSource => (stars ??= starFiles(dataFolder));

/** The picture that came along; a path is never followed. */
function sent(picture: Uint8Array | undefined): (path: string) => Uint8Array {
  return (path) => {
    if (picture && path === PICTURE) return picture;
    throw InvalidInput.at('file', 'no path is taken here: send the picture itself as application/fits');
  };
}
export const PICTURE = 'the picture sent';

/** How often a task tells how far it is [ms]. */
const TELL_MS = 150;

/** Work that is no calculation of the registry: reading what people bring, and rehearsals. */
export const tasks = {
  /** A guide log in our own columns, read and summed up; or what is wrong with it. */
  guideLog: ({ csv, imagingScaleArcsecPerPx }: { csv: string; imagingScaleArcsecPerPx: number | null }): LogSummary => {
    const read = readGuideCsv(csv);
    if (read.bad.length)
      throw InvalidInput.at(
        'csv',
        `line ${read.bad[0]!.line}: ${read.bad[0]!.reason}; the columns are those of the export`,
      );
    return summaryOfLog(
      parseInput(LogInput, { samples: read.samples, ...(imagingScaleArcsecPerPx ? { imagingScaleArcsecPerPx } : {}) }),
    );
  },
  rehearse: (of: RehearsalTask, tell: Tell): Promise<RunResult> =>
    playRehearsal(of, (share, frames) => tell({ share, stage: phrase('job.rehearsing', { frames }) })),
  /** What a night on stand-ins is run with. */
  rehearsal: (of: RehearsalTask): Rehearsal => rehearsalOf(of),
  /** What came of a run, from what happened in it. */
  resultOf: ({ events }: { events: Happened[] }): RunResult => resultOfEvents(events),
  /** A frame of a run, drawn, written where it is kept, and measured as any other. */
  drawFrame: (of: DrawFrame, _tell: Tell, stars: StarSource): DrawnFrame => drawFrame(of, stars),
  /** A frame of equipment elsewhere, measured and written where it is kept. */
  writeFrame: (of: { path: string; file: Uint8Array }): DrawnFrame => writeFrame(of),
  /** What a frame of equipment that tells nothing of it itself shows; nothing where there is no star. */
  measureFrame: ({
    file,
  }: {
    file: Uint8Array;
  }): { hfdPx: number; stars: number; eccentricity: number; level: number } => {
    const { hfdPx, stars, eccentricity, background } = measurePicture(file);
    return { hfdPx: hfdPx ?? 0, stars, eccentricity: eccentricity ?? 0, level: background };
  },
  /** What came of what somebody put into a run; null: nobody did. */
  debrief: async ({ events, rehearsal }: { events: Happened[]; rehearsal: Rehearsal }): Promise<Debrief | null> =>
    events.some((e) => e.code === 'thrown') ? debrief(events, rehearsal) : null,
  risk: (of: RiskTask, tell: Tell): RiskOutput =>
    playRiskOf(of, (share) =>
      tell({ share, stage: phrase('job.drawing', { done: Math.round(share * of.nights), nights: of.nights }) }),
    ),
  board: async (of: BoardTask, tell: Tell): Promise<Board> => {
    const begun = performance.now();
    const clock = () => performance.now();
    return workOutBoard(of, await solverHere(), clock, ({ found, bound }) => {
      const openPercent = found > 0 && bound < 1e12 ? Math.min(100, (100 * (bound - found)) / found) : 100;
      // a search does not know how long it takes: the time it may take is what it is told by
      const share = Math.min(0.98, (performance.now() - begun) / 1000 / of.timeLimitS);
      tell({ share, stage: phrase('job.searching', { openPercent }) });
      return true;
    });
  },
};
export type Tasks = typeof tasks;

/** The same where no pool stands yet: while the demo is made. */
export const taskAtOnce = (async (task: keyof Tasks, input: unknown) =>
  (tasks[task] as (i: unknown, tell: Tell) => unknown)(input, () => undefined)) as <K extends keyof Tasks>(
  task: K,
  input: Parameters<Tasks[K]>[0],
) => Promise<Awaited<ReturnType<Tasks[K]>>>;

export default async function answer({
  name,
  input,
  dataFolder,
  mostSeconds,
  begun,
  picture,
  task,
}: Question): Promise<Reply> {
  begun.postMessage('begun');
  if (!task) begun.close();
  let told = -Infinity;
  const tell: Tell = (progress) => {
    const now = performance.now();
    if (now - told < TELL_MS) return;
    told = now;
    begun.postMessage(progress);
  };
  try {
    if (task) {
      const work = tasks[task] as (i: unknown, tell: Tell, stars: StarSource) => unknown;
      return { status: 200, json: JSON.stringify(await work(input, tell, starsIn(dataFolder))) };
    }
    const calculation = calculations.get(name)!;
    const context = { stars: starsIn(dataFolder), file: sent(picture), mostSeconds };
    const more = calculation.needsSolver ? { solver: await solverHere() } : {};
    return { status: 200, json: JSON.stringify(calculation.run(input, { ...context, ...more })) };
  } catch (e) {
    if (e instanceof InvalidInput) return { status: 400, json: JSON.stringify(e) };
    throw e;
  } finally {
    begun.close();
  }
}
