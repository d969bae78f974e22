import { InvalidInput, parseInput } from '@keen/core/calculation';
import {
  type Fault,
  runPlanOf,
  simulatedTruthOf,
  zoneStepsOf,
  type AppliedOffsets,
  type RunResult,
  type SimulatedTruth,
} from '@keen/core/observatory';
import { rehearse, type Rehearsal } from '@keen/core/run';
import { viewOf } from '@keen/core/rig';
import {
  afterOpening,
  assembleNight,
  focusRunsAsked,
  followingOverheads,
  NightPlan,
  playNightRisk,
  type NightRiskInput,
  type RiskOutput,
} from '@keen/core/sequence';
import { factsOf, pointing, type NightRecords } from '../plans/facts.ts';

/** Reach of a focus run to either side, in critical zones; common practice, no source. */
const FOCUS_REACH_ZONES = 5;
/** Focus runs one rehearsal plays: every change of a night of 90 s frames. */
const MOST_FOCUS_RUNS = 500;

/** A night to be played by a worker, with all it needs; nothing of it is read from anywhere. */
export interface NightToPlay {
  plan: NightPlan;
  records: NightRecords;
}
export interface RehearsalTask extends NightToPlay {
  seed: number;
  faults: readonly Fault[];
  offsets: AppliedOffsets | null;
  /** What is known of the camera’s cooler. */
  cooling: { setPointC: number; ratePerMinC: number; deepestBelowAmbientC: number };
  beside: { system: string; offsets: AppliedOffsets | null } | null;
}

/** Lays a night out. @throws InvalidInput where none of its legs has any hours */
function laidOut({ plan: sent, records }: NightToPlay) {
  const plan = parseInput(NightPlan, sent);
  const facts = factsOf(plan, records);
  const { prepared, schedule } = assembleNight(plan, facts)!;
  if (!schedule) throw InvalidInput.at('legs', 'none of them has any hours in its night any more');
  return { plan, facts, prepared, schedule };
}

/** How a roof stands before a night that opens or closes one. */
function roofOf({ opening, closing }: NightPlan): Pick<SimulatedTruth, 'roof'> {
  const has = (steps: readonly { step: string }[]) => steps.some((s) => s.step === 'roof');
  if (has(opening)) return { roof: 'closed' };
  return has(closing) ? { roof: 'open' } : {};
}
/** What a night is run with: its plan as the conductor works it, and the stand-ins. @throws InvalidInput where it asks for too much */
export function rehearsalOf(of: RehearsalTask): Rehearsal {
  const { plan, facts, prepared, schedule } = laidOut(of);
  const { projects, build, site, system } = of.records;
  const focusRuns = schedule.legs.reduce(
    (sum, l, i) => sum + focusRunsAsked(l.schedule, plan.legs[i]!.settings.focus.policy),
    0,
  );
  if (focusRuns > MOST_FOCUS_RUNS)
    throw InvalidInput.at(
      'legs',
      `ask for ${focusRuns} focus runs, a rehearsal plays ${MOST_FOCUS_RUNS} at most: longer exposures, offsets, or another order`,
    );
  const setup = viewOf(build, system);
  const targets = plan.legs.map((l) => pointing(projects.get(l.projectId)!, l.panel, setup));
  const worldOf = (key: string) => ({
    ...simulatedTruthOf(viewOf(build, key), of.seed, schedule.startMs, schedule.endMs),
    longitudeDeg: site.longitudeDeg,
    latitudeDeg: site.latitudeDeg,
  });
  const reachOf = (key: string) => FOCUS_REACH_ZONES * zoneStepsOf(viewOf(build, key));
  const around = { prepared, targets };
  const { beside, cooling } = of;
  return {
    plan: runPlanOf(plan, schedule, {
      ...around,
      night: facts.night,
      sky: { site, minimumAltitudeDeg: plan.legs.map((l) => projects.get(l.projectId)!.minimumAltitudeDeg) },
      offsets: of.offsets,
      coolToC: cooling.setPointC,
      focusReachSteps: reachOf(system),
      rig: setup,
      beside: beside && { offsets: beside.offsets, focusReachSteps: reachOf(beside.system) },
    }),
    world: {
      ...worldOf(system),
      cooler: cooling,
      ...roofOf(plan),
    },
    overheads: setup.overheads,
    faults: of.faults,
    beside: beside && {
      world: worldOf(beside.system),
      overheads: followingOverheads(viewOf(build, beside.system).overheads),
    },
  };
}
/** Plays a night on stand-ins, told how far it is. @throws InvalidInput where it asks for more than one rehearsal plays */
export const playRehearsal = (
  of: RehearsalTask,
  progress: (share: number, frames: number) => void,
): Promise<RunResult> => rehearse(rehearsalOf(of), progress);

export interface RiskTask
  extends NightToPlay, Pick<NightRiskInput, 'legIndex' | 'weather' | 'nights' | 'seed' | 'orders'> {}

/** Plays one leg of a night under many drawn skies, told how far it is. @throws InvalidInput as the drawing does */
export function playRiskOf({ plan: sent, records, ...of }: RiskTask, progress: (share: number) => void): RiskOutput {
  const { plan, prepared, schedule } = laidOut({ plan: sent, records });
  const nights = playNightRisk({ prepared, ...afterOpening(schedule, plan.opening, prepared), ...of });
  for (;;) {
    const step = nights.next();
    if (step.done) return step.value;
    progress(step.value);
  }
}
