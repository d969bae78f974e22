import { z } from 'zod';
import { day, dottedPath, MOST_ISSUES, within } from '../calculation/index.ts';
import { knownZone, separationDeg } from '../sky/index.ts';
import { movedToNight, nightMover } from './locks.ts';
import { Closing, Leg, legList, Opening, Watches, type NightPlan } from './nightPlan.ts';

export const PLAN_FORMAT = 'keen-night-plan';
/** A project points at a leg’s target when it lies no farther away [deg]; common practice, no source. */
const SAME_TARGET_DEG = 0.5;

const Target = z.strictObject({
  object: z.string().trim().min(1).max(60),
  raDeg: within('deg', 0, 360, 'Right ascension, J2000'),
  decDeg: within('deg', -90, 90, 'Declination, J2000'),
});
/**
 * A leg in a file: its target by name and place, since a project of one club is nothing to another. A second camera is left
 * out: which systems a rig has is its own.
 */
export const FileLeg = Leg.omit({ projectId: true, follower: true }).extend({ target: Target });

/** A night plan as a file that another installation reads. */
export const PlanFile = z.strictObject({
  format: z.literal(PLAN_FORMAT),
  version: z.literal(1),
  rig: z.string().max(120).meta({ description: 'Name of the rig it was made for' }),
  night: day('Local date of the evening'),
  timeZone: z.string().max(64).refine(knownZone, 'not a time zone known by its IANA name'),
  opening: Opening,
  legs: legList(FileLeg),
  closing: Closing,
  watches: Watches.prefault({}),
});
export type PlanFile = z.infer<typeof PlanFile>;

export interface PlanTarget {
  object: string;
  raDeg: number;
  decDeg: number;
}

/** @param targetOf where the project of a leg points */
export function planFileOf(
  plan: NightPlan,
  of: { rig: string; night: string; timeZone: string; targetOf: (projectId: string) => PlanTarget },
): PlanFile {
  const { opening, closing, watches } = plan;
  const legs = plan.legs.map(({ projectId, follower: _f, ...leg }) => ({ ...leg, target: of.targetOf(projectId) }));
  return {
    format: PLAN_FORMAT,
    version: 1,
    rig: of.rig,
    night: of.night,
    timeZone: of.timeZone,
    opening,
    legs,
    closing,
    watches,
  };
}

export type PlanRead = { ok: true; file: PlanFile } | { ok: false; issues: { path: string; message: string }[] };

/** Largest file read [characters]: twenty legs of twelve filters are a tenth of it. */
const MOST_TEXT = 200_000;

/** Reads a plan file; what is wrong is named with its place. */
export function readPlanFile(text: string): PlanRead {
  const no = (path: string, message: string): PlanRead => ({ ok: false, issues: [{ path, message }] });
  if (text.length > MOST_TEXT) return no('', 'the file is longer than any night plan');
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (e) {
    return no('', `not JSON: ${(e as Error).message}`);
  }
  const format = value && typeof value === 'object' ? (value as { format?: unknown }).format : undefined;
  if (format !== PLAN_FORMAT) return no('format', `must be “${PLAN_FORMAT}”: this is no night plan`);
  const version = (value as { version?: unknown }).version;
  if (version !== 1) return no('version', 'only version 1 is known here');
  const got = PlanFile.safeParse(value);
  if (got.success) return { ok: true, file: got.data };
  const issues = got.error.issues.slice(0, MOST_ISSUES);
  return { ok: false, issues: issues.map((i) => ({ path: dottedPath(i.path), message: i.message })) };
}

const plainName = (s: string) => s.toLowerCase().replace(/\s+/g, '');
/**
 * The plan of a file on another night, each leg for the project that points where it does: by the object’s name, else by
 * its place.
 * @returns the targets no project has, where there are any
 */
export function planOfFile(
  file: PlanFile,
  to: { night: string; timeZone: string; projects: readonly ({ id: string } & PlanTarget)[] },
): { plan: NightPlan | null; missing: string[] } {
  const projectFor = ({ object, raDeg, decDeg }: PlanTarget) =>
    to.projects.find((p) => plainName(p.object) === plainName(object)) ??
    to.projects.find((p) => separationDeg(p, { raDeg, decDeg }) < SAME_TARGET_DEG);
  const missing = [...new Set(file.legs.filter((l) => !projectFor(l.target)).map((l) => l.target.object))];
  if (missing.length) return { plan: null, missing };
  const legs = file.legs.map(({ target, ...leg }): NightPlan['legs'][number] => ({
    ...leg,
    projectId: projectFor(target)!.id,
    follower: null,
  }));
  const { opening, closing, watches } = file;
  const plan: NightPlan = { opening, legs, closing, watches };
  return { plan: movedToNight(plan, nightMover(file.timeZone, file.night, to.night, to.timeZone)), missing };
}
