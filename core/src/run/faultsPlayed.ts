import {
  drawFaults,
  FAULTS,
  simulatedTruthOf,
  standIns,
  withFaults,
  zoneStepsOf,
  type Fault,
  type RunPlan,
} from '../observatory/index.ts';
import type { Code } from '../phrases/index.ts';
import type { RigSetup } from '../rig/index.ts';
import { Dither, FocusRule, type TimelineInput } from '../sequence/index.ts';
import { EVERYDAY } from './everyday.ts';
import { play } from './play.ts';

/** What came of a night with faults in it. */
export interface FaultNight {
  faults: readonly Fault[];
  seed: number;
  /** What was done about it: codes of what a run said beyond what it says in a quiet night. */
  done: Code[];
  /** Frames that counted, against the same night without a fault. */
  accepted: number;
  quiet: number;
  /** What was begun although the interlock forbade it, and a flip too many. */
  unsafe: string[];
  /** Frames that were read out and are not in the record, once each. */
  lost: number;
  finished: boolean;
}
/** An ordinary night: six hours, three filters, a flip in the middle. */
export function ordinaryNight(setup: RigSetup, seed: number): RunPlan {
  const [start, end] = ['2026-11-24T18:00:00.000Z', '2026-11-25T00:00:00.000Z'];
  const world = simulatedTruthOf(setup, seed, Date.parse(start), Date.parse(end));
  const timeline: TimelineInput = {
    start,
    end,
    filters: ['L', 'R', 'G'].map((name) => ({ name, exposureS: 180, quota: 60, done: 0 })),
    order: 'rolling',
    overheads: setup.overheads,
    dither: Dither.parse({ everyFrames: 2 }),
    focus: FocusRule.parse({ policy: 'offsets', everyMin: 90 }),
    flipAt: '2026-11-24T21:00:00.000Z',
    blocked: [],
  } as TimelineInput;
  return {
    opening: [{ step: 'connect', minutes: 2, notBeforeMs: null, field: null }],
    legs: [
      {
        planIndex: 0,
        projectId: 'p',
        goal: 'p',
        timeline,
        role: 'main',
        turnMin: null,
        target: { name: 'the object', raDeg: 60, decDeg: 40 },
        guiding: true,
        centreWithinArcmin: 1,
      },
    ],
    closing: [],
    watches: {
      recentreAboveArcmin: 1,
      wind: { aboveMS: 12, then: 'wait' },
      damp: null,
      cloudClosesAfterMin: 90,
      sunStops: null,
      sunDistanceDeg: 30,
    },
    endMs: Date.parse(end),
    offsets: { steps: world.offsetSteps, temperatureStepsPerC: world.stepsPerC },
    focusReachSteps: 5 * zoneStepsOf(setup),
  };
}

/** The same on a rig with a rotator, and a supply that tells its voltage: more that can go wrong. */
function equipped(setup: RigSetup, seed: number): { plan: RunPlan; setup: RigSetup } {
  const plan = ordinaryNight(setup, seed);
  const turned = { paDeg: 117, eitherWay: false, afterFlip: 'turn' as const };
  return {
    plan: {
      ...plan,
      legs: plan.legs.map((l) => ({ ...l, turned })),
      supply: { switched: true, closesBelowV: 11.5 },
    },
    setup: {
      ...setup,
      rotator: { afterFlip: 'turn', reachDeg: 180 },
      supply: { switched: true, closesBelowV: 11.5, battery: null },
    },
  };
}

/** Plays a night with these faults, and the same without. */
export async function playFaults(rig: RigSetup, faults: readonly Fault[], seed: number): Promise<FaultNight> {
  const { plan, setup } = equipped(rig, seed);
  const startMs = Date.parse(plan.legs[0]!.timeline.start);
  const world = { ...simulatedTruthOf(setup, seed, startMs, plan.endMs), cloud: [] };
  const drawn = drawFaults(faults, seed, startMs, plan.endMs);
  const { o, truth } = withFaults(standIns(world, setup.overheads), drawn, seed);
  const { result, state } = await play(plan, o);
  const quiet = await play(plan, standIns(world, setup.overheads));
  const count = (all: readonly { accepted: boolean }[]) => all.filter((f) => f.accepted).length;
  const codes = new Set(result.events.flatMap((e) => (e.phrase ? [e.phrase.code as Code] : [])));
  for (const e of quiet.result.events) if (e.phrase) codes.delete(e.phrase.code as Code);
  // one record for each, in its order and of its filter, and none without
  const most = Math.max(truth.readOut.length, result.frames.length);
  const lost = Array.from({ length: most }, (_, i) => i).filter(
    (i) => truth.readOut[i]?.filter !== result.frames[i]?.filter,
  ).length;
  return {
    faults,
    seed,
    done: [...codes].filter((c) => !EVERYDAY.has(c)).sort(),
    accepted: count(result.frames),
    quiet: count(quiet.result.frames),
    // an object passes the meridian once
    unsafe: [...truth.unsafe, ...(truth.flips > 1 ? [`the mount flipped ${truth.flips} times`] : [])],
    lost,
    finished: state.finished,
  };
}

/** Each by itself, and every pair. */
export const faultsAndPairs = (): Fault[][] => [
  ...FAULTS.map((f) => [f]),
  ...FAULTS.flatMap((a, i) => FAULTS.slice(i + 1).map((b) => [a, b])),
];
