import { z } from 'zod';
import { day, InvalidInput, PlainPhraseSchema, within, type Solver } from '../calculation/index.ts';
import type { PlainPhrase } from '../phrases/index.ts';
import type { Site } from '../sky/index.ts';
import { allocate, type Found } from './allocate.ts';
import { NOBODY, Taken } from './field.ts';
import { forecast } from './forecast.ts';
import { seasonField, type SeasonField, type SeasonProject, type SeasonSlot } from './nights.ts';
import { Given, type AllocateInput } from './schemas.ts';
import { fairMaxima } from './shares.ts';
import { whyNoMore } from './why.ts';

/** By which rules coming nights are given out. */
export const BoardSettings = z.strictObject({
  from: day('First night'),
  nights: z.int().min(1).max(60),
  slotMinutes: within('min', 20, 240, 'Length of a slot, about').default(60),
  switchPenalty: within('min', 0, 500, 'What a change of object costs, in minutes at the zenith').default(15),
  minimumBlockSlots: z.int().min(1).max(4).default(1),
  clearFraction: within('', 0.05, 1, 'Share of the nights that are clear').default(0.5),
  /** Over how many past days what somebody received counts towards their share; null: no shares. */
  fairDays: z.int().min(1).max(730).nullable().default(90),
});
export type BoardSettings = z.infer<typeof BoardSettings>;

/** Hours that are somebody’s already: booked, promised, or planned. They are given to nobody else, and count as given. */
export const PromisedHours = z.strictObject({
  rigId: z.string(),
  night: z.string(),
  start: z.string(),
  end: z.string(),
  memberId: z.string(),
  projectId: z.string().nullable(),
  origin: z.enum(['member', 'rules', 'plan']),
});
export type PromisedHours = z.infer<typeof PromisedHours>;

/** All that a board is worked out from: plain data, so that a worker can have it. */
export interface BoardTask extends BoardSettings {
  rigs: { id: string; site: Site }[];
  projects: SeasonProject[];
  /** What people call projects and members, by id. */
  names: Record<string, string>;
  /** Hours of a rig that are spoken for [ms]. */
  taken: Record<string, [number, number][]>;
  /** Hours to come that are somebody’s; they stand among the taken too. */
  promised: PromisedHours[];
  /** What members received in the days that count [min]. */
  received: Record<string, number>;
  /** Projects that have no hours now, and why. */
  barred: Record<string, PlainPhrase>;
  locked: Given[];
  /** What stood before a wish: only what must change does. */
  standing: Given[];
  timeLimitS: number;
}

export const BoardSlot = z.strictObject({
  id: z.string(),
  night: z.string(),
  rigId: z.string(),
  order: z.int(),
  start: z.string(),
  end: z.string(),
  /** What may be expected of it. */
  minutes: z.number(),
  moonlit: z.number(),
  moonUp: z.number(),
  projectId: z.string().nullable(),
  /** Given although its member has had their share: nobody else could use it. */
  beyondShare: z.boolean(),
  greedyProjectId: z.string().nullable(),
});
export type BoardSlot = z.infer<typeof BoardSlot>;
export const BoardProject = z.strictObject({
  projectId: z.string(),
  memberId: z.string(),
  weight: z.number(),
  wantedMinutes: z.number(),
  /** Of hours that are its own already. */
  promisedMinutes: z.number(),
  minutes: z.number(),
  why: PlainPhraseSchema,
  eligible: z.array(z.strictObject({ slot: z.string(), quality: z.number() })),
  /** Chance of being finished with what the board gives it, and by which night it is so in 10, 50 and 90 of 100. */
  chance: z.number(),
  nights: z.strictObject({ p10: z.string().nullable(), p50: z.string().nullable(), p90: z.string().nullable() }),
});
export type BoardProject = z.infer<typeof BoardProject>;
export const Board = z.strictObject({
  settings: BoardSettings,
  locked: z.array(Given),
  slots: z.array(BoardSlot),
  promised: z.array(PromisedHours),
  projects: z.array(BoardProject),
  members: z.array(
    z.strictObject({
      memberId: z.string(),
      received: z.number(),
      /** Of hours that are theirs already. */
      promised: z.number(),
      minutes: z.number(),
      /** What their share leaves them in these nights; null where there are no shares. */
      most: z.number().nullable(),
    }),
  ),
  objective: z.number(),
  bound: z.number(),
  gap: z.number().nullable(),
  proven: z.boolean(),
  greedyObjective: z.number(),
  seconds: z.number(),
});
export type Board = z.infer<typeof Board>;

/** Told how far a search is: what was found, what is proven. @returns whether to go on */
export type BoardProgress = (of: { found: number; bound: number }) => boolean;

/** Share of the best that may be left unproven: what is foretold of clouds is not known nearly so well. */
const GAP = 0.005;
/** The same for a wish: what stands is kept within this, so that the answer comes soon and moves little else. */
const WISH_GAP = 0.01;

const iso = (ms: number) => new Date(ms).toISOString();

/**
 * Who has which hours of the coming nights. With shares it is first given within them, and what nobody can use within theirs to
 * whomever it is worth most.
 * @param now  a clock of milliseconds
 * @throws InvalidInput with a lock that cannot be kept
 */
export function workOutBoard(
  task: BoardTask,
  solver: Solver,
  now: () => number,
  progress: BoardProgress = () => true,
): Board {
  const begun = now();
  const passedS = () => (now() - begun) / 1000;
  const promised = expectedOf(task);
  const field = seasonField(
    task.rigs.map((r) => ({ ...r, clearOf: () => task.clearFraction })),
    task.projects.map((p) => stillNeeding(p.id in task.barred ? { ...p, rigs: [] } : p, promised.project[p.id] ?? 0)),
    task,
    (rig) => task.taken[rig] ?? [],
  );
  const most = task.fairDays === null ? null : fairMaxima(field, added(task.received, promised.member), task.locked);
  const sent: AllocateInput = {
    slots: field.slots.map(({ id, night, rig, order, minutes }) => ({ id, night, rig, order, minutes })),
    projects: field.projects,
    locked: task.locked,
    switchPenalty: task.switchPenalty * task.clearFraction,
    minimumBlockSlots: task.minimumBlockSlots,
    timeLimitS: task.timeLimitS,
    gap: task.standing.length ? WISH_GAP : GAP,
    ...(most ? { memberMaxMinutes: most } : {}),
  };
  demandKnownLocks(sent);
  const tell = (found: number, bound: number) => progress({ found, bound });
  const fair = allocate(sent, solver, tell, task.standing);
  const all = most ? beyondShares(sent, fair, solver, passedS(), tell, task.standing) : fair;
  return boardOf(task, field, { fair, all, most, promised, seconds: passedS() });
}

/** What may be expected of hours that are somebody’s [min], by project and by member. */
interface Expected {
  project: Record<string, number>;
  member: Record<string, number>;
}
function expectedOf({ promised, clearFraction }: BoardTask): Expected {
  const of: Expected = { project: {}, member: {} };
  for (const p of promised) {
    const minutes = (clearFraction * (Date.parse(p.end) - Date.parse(p.start))) / 60_000;
    of.member[p.memberId] = (of.member[p.memberId] ?? 0) + minutes;
    if (p.projectId !== null) of.project[p.projectId] = (of.project[p.projectId] ?? 0) + minutes;
  }
  return of;
}
const added = (a: Record<string, number>, b: Record<string, number>): Record<string, number> =>
  Object.fromEntries([...new Set([...Object.keys(a), ...Object.keys(b)])].map((k) => [k, (a[k] ?? 0) + (b[k] ?? 0)]));
/** What a project needs beside hours it has already; both sorts of filters alike. */
function stillNeeding(p: SeasonProject, minutes: number): SeasonProject {
  const all = p.narrowMinutes + p.broadMinutes;
  const left = all > 0 ? Math.max(0, 1 - minutes / all) : 0;
  return { ...p, narrowMinutes: left * p.narrowMinutes, broadMinutes: left * p.broadMinutes };
}

/** A board is worked out anew each day: a lock may name a slot of yesterday’s. */
function demandKnownLocks({ locked, slots }: AllocateInput): void {
  const there = new Set(slots.map((s) => s.id));
  locked.forEach((l, i) => {
    if (!there.has(l.slot))
      throw InvalidInput.at(`locked.${i}.slot`, `these hours are not to be given: ${l.slot}. Work the board out anew`);
  });
}

/** What is left after everybody had their share; little of the time is for this. */
function beyondShares(
  sent: AllocateInput,
  fair: Found,
  solver: Solver,
  passedS: number,
  tell: (a: number, b: number) => boolean,
  standing: readonly Given[],
): Found {
  const { memberMaxMinutes: _shares, ...open } = sent;
  const locked = Array.from(fair.given, (project, slot) => ({ project, slot }))
    .filter(({ project }) => project !== NOBODY)
    .map(({ project, slot }) => ({ slot: sent.slots[slot]!.id, project: sent.projects[project]!.id }));
  const timeLimitS = Math.max(1, sent.timeLimitS - passedS);
  return allocate({ ...open, locked, timeLimitS }, solver, tell, standing);
}

interface Outcome {
  fair: Found;
  all: Found;
  most: Record<string, number> | null;
  promised: Expected;
  seconds: number;
}
function boardOf(
  task: BoardTask,
  { slots, projects }: SeasonField,
  { fair, all, most, promised, seconds }: Outcome,
): Board {
  const taken = new Taken(all.field, all.given);
  const idOf = (place: number) => (place === NOBODY ? null : projects[place]!.id);
  const {
    rigs: _r,
    projects: wanted,
    names,
    taken: _t,
    promised: hours,
    received,
    locked,
    standing: _w,
    barred: _b,
    timeLimitS: _s,
    ...settings
  } = task;
  return {
    settings,
    locked,
    promised: hours,
    slots: slots.map((s, i) => ({
      id: s.id,
      night: s.night,
      rigId: s.rig,
      order: s.order,
      start: iso(s.fromMs),
      end: iso(s.untilMs),
      minutes: s.minutes,
      moonlit: s.moonlit,
      moonUp: s.moonUp,
      projectId: idOf(all.given[i]!),
      beyondShare: all.given[i] !== NOBODY && fair.given[i] === NOBODY,
      greedyProjectId: idOf(fair.greedy[i]!),
    })),
    projects: projects.map((p, i) => ({
      projectId: p.id,
      memberId: p.member,
      weight: p.weight,
      wantedMinutes: wanted[i]!.narrowMinutes + wanted[i]!.broadMinutes,
      promisedMinutes: promised.project[p.id] ?? 0,
      minutes: taken.byProject[i]!,
      why: named(task.barred[p.id] ?? whyNoMore(all.field, all.given, i, taken), names),
      eligible: p.eligible,
      ...finishing(
        wanted[i]!.narrowMinutes + wanted[i]!.broadMinutes,
        [
          ...slots.filter((_, s) => all.given[s] === i),
          ...hours
            .filter((h) => h.projectId === p.id)
            .map((h) => ({ night: h.night, fromMs: Date.parse(h.start), untilMs: Date.parse(h.end) })),
        ],
        task.clearFraction,
      ),
    })),
    members: [...new Set(projects.map((p) => p.member))].map((memberId) => ({
      memberId,
      received: received[memberId] ?? 0,
      promised: promised.member[memberId] ?? 0,
      minutes: taken.ofMember(memberId),
      most: most ? (most[memberId] ?? 0) : null,
    })),
    objective: fair.objective,
    bound: fair.bound,
    gap: fair.gap,
    proven: fair.proven,
    greedyObjective: fair.greedyObjective,
    seconds,
  };
}

/** When a project is finished with the hours it was given: each night is clear or it is not, whatever rigs it has in it. */
function finishing(
  needMinutes: number,
  given: readonly Pick<SeasonSlot, 'night' | 'fromMs' | 'untilMs'>[],
  clearFraction: number,
): Pick<Board['projects'][number], 'chance' | 'nights'> {
  const byNight = new Map<string, number>();
  for (const s of given) byNight.set(s.night, (byNight.get(s.night) ?? 0) + (s.untilMs - s.fromMs) / 60_000);
  const nights = [...byNight].sort(([a], [b]) => (a < b ? -1 : 1));
  const found = forecast({
    needMinutes: Math.ceil(needMinutes),
    nights: nights.map(([, minutes]) => ({ minutes: Math.min(1440, Math.floor(minutes)) })),
    clearFraction,
  });
  const at = (i: number | null) => (i === null ? null : (nights[i]?.[0] ?? null));
  return { chance: found.chance, nights: { p10: at(found.p10), p50: at(found.p50), p90: at(found.p90) } };
}

/** The same sentence with what people call things. */
function named({ code, values }: PlainPhrase, names: Record<string, string>): PlainPhrase {
  const nameOf = (v: string) => (Object.hasOwn(names, v) ? names[v]! : v);
  return {
    code,
    values: Object.fromEntries(
      Object.entries(values).map(([k, v]) => [
        k,
        typeof v === 'string' ? nameOf(v) : Array.isArray(v) ? v.map(nameOf) : v,
      ]),
    ),
  };
}
