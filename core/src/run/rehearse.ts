import {
  drawFaults,
  withFaults,
  type Fault,
  type Pace,
  type PlannedFault,
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

interface Pictures {
  scaleArcsecPerPx: number;
  size: { widthPx: number; heightPx: number } | null;
}
/** A plan with the stand-ins it is played on, and a second camera beside it: plain data, so that a worker can have it. */
export interface Rehearsal {
  plan: RunPlan;
  world: SimulatedTruth;
  overheads: Overheads;
  /** What is to go wrong, beside what does by itself. */
  faults?: readonly Fault[];
  beside: { world: SimulatedTruth; overheads: Overheads } | null;
  /** How its frames are drawn where they are kept: scale, and the size where it is not the small one [px]. */
  pictures?: Pictures & { second?: Pictures };
}

/**
 * Plays a night on simulated equipment in virtual time.
 * @param progress  told the share of the night that is over, and the frames there are
 */
export async function rehearse(
  { plan, world, overheads, faults = [], beside }: Rehearsal,
  progress: (share: number, frames: number) => void = () => undefined,
): Promise<RunResult> {
  const drawn = drawFaults(faults, world.seed, world.startMs, plan.endMs);
  const equipment = standIns(world, overheads, undefined, beside);
  const { o } = drawn.length || world.supply ? withFaults(equipment, drawn, world.seed) : { o: equipment };
  return { ...(await conduct(plan, o, progress)), faults: [...faults] };
}
/** What there is for something to go wrong with. */
export const hasOf = ({ legs, supply }: Pick<RunPlan, 'legs' | 'supply'>) => ({
  rotator: legs.some((l) => l.turned !== undefined),
  supply: supply !== undefined,
});
/** What came of a run that was driven, from its events. */
export function resultOfEvents(events: readonly Happened[]): RunResult {
  const { state, ...said } = replay(events);
  if (!state) throw new Error('a run begins with what it is to do');
  const faults = [...new Set(events.flatMap((e) => (e.code === 'thrown' ? [e.fault] : [])))];
  return { ...resultOf(state, said), faults };
}
/** The stand-ins of a rehearsal, on which faults can be put while it goes on. */
export function equipmentOf({ world, overheads, faults = [], plan, beside }: Rehearsal, pace?: Pace) {
  const planned = drawFaults(faults, world.seed, world.startMs, plan.endMs);
  const { o } = withFaults(standIns(world, overheads, pace, beside), planned, world.seed);
  return { o, put: (fault: PlannedFault) => void planned.push(fault) };
}
