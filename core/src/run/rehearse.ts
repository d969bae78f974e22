import {
  drawFaults,
  withFaults,
  type Fault,
  type Pace,
  type PlannedFault,
  followerPlanOf,
  standIns,
  type Observatory,
  type RunPlan,
  type RunResult,
  type SimulatedTruth,
} from '../observatory/index.ts';
import type { Overheads } from '../sequence/index.ts';
import type { Happened } from './events.ts';
import { play } from './play.ts';
import { replay, resultOf } from './project.ts';

/**
 * Carries a plan out on an observatory: prepares, exposes, judges each frame, waits out cloud, flips, refocuses. Knows only what
 * the devices say; the order of filters counts accepted frames.
 * @param progress  told on the way: share of the night that is over, and the frames there are
 */
export const conduct = async (
  plan: RunPlan,
  o: Observatory,
  progress?: (share: number, frames: number) => void,
): Promise<RunResult> => (await play(plan, o, progress)).result;

/** A plan with the stand-ins it is played on, and a second camera beside it: plain data, so that a worker can have it. */
export interface Rehearsal {
  plan: RunPlan;
  world: SimulatedTruth;
  overheads: Overheads;
  /** What is to go wrong, beside what does by itself. */
  faults?: readonly Fault[];
  beside: { of: Parameters<typeof followerPlanOf>[0]; world: SimulatedTruth; overheads: Overheads } | null;
}

/**
 * Plays a night on simulated equipment in virtual time; the second camera over what the lead did.
 * @param progress  told the share of the time that is played, and the frames that were taken in it
 */
export async function rehearse(
  { plan, world, overheads, faults = [], beside }: Rehearsal,
  progress: (share: number, frames: number) => void = () => undefined,
): Promise<RunResult> {
  const cameras = beside ? 2 : 1;
  const played = (nth: number) => (share: number, frames: number) => progress((nth + share) / cameras, frames);
  const drawn = drawFaults(faults, world.seed, world.startMs, plan.endMs);
  const equipment = standIns(world, overheads);
  const { o } = drawn.length ? withFaults(equipment, drawn, world.seed) : { o: equipment };
  const lead = { ...(await conduct(plan, o, played(0))), faults: [...faults] };
  return besideIt(lead, beside, played(1));
}
/** The second camera over what the lead did. */
async function besideIt(
  lead: RunResult,
  beside: Rehearsal['beside'],
  progress?: (share: number, frames: number) => void,
): Promise<RunResult> {
  const follow = beside && followerPlanOf(beside.of, lead);
  if (!follow) return lead;
  const {
    follower: _none,
    faults: _asked,
    ...taken
  } = await conduct(follow, standIns(beside.world, beside.overheads), progress);
  return { ...lead, follower: taken };
}
/** What came of a run that was driven, from its events; with what a second camera took beside it. */
export async function resultOfEvents(
  events: readonly Happened[],
  { beside }: Pick<Rehearsal, 'beside'>,
): Promise<RunResult> {
  const { state, says } = replay(events);
  if (!state) throw new Error('a run begins with what it is to do');
  const faults = [...new Set(events.flatMap((e) => (e.code === 'thrown' ? [e.fault] : [])))];
  return besideIt({ ...resultOf(state, says), faults }, beside);
}
/** The stand-ins of a rehearsal, on which faults can be put while it goes on. */
export function equipmentOf({ world, overheads, faults = [], plan }: Rehearsal, pace?: Pace) {
  const planned = drawFaults(faults, world.seed, world.startMs, plan.endMs);
  const { o } = withFaults(standIns(world, overheads, pace), planned, world.seed);
  return { o, put: (fault: PlannedFault) => void planned.push(fault) };
}
