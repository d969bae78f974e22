import type { Device, RunEvent, RunLeg, RunPlan, FrameMeasure, Standards } from '../observatory/index.ts';
import type { PlainPhrase } from '../phrases/index.ts';
import {
  legInitialState,
  rulesOf,
  turnsOf,
  type AtWork,
  type LegInNight,
  type Next,
  type Step,
} from '../sequence/index.ts';
import type { Answer, Ask, Readings } from './events.ts';

type FrameStep = Step & { do: 'frame' };
export type ShutBecause = 'cloud' | 'wind' | 'damp' | 'interlock';
export type Stage = 'night' | 'guider' | 'park' | 'closing';
type Kind = 'opening' | 'closing';

/** One thing that is still to be done. The last of the list is at hand; what it needs first is put behind it. */
export type Task =
  /** Something that takes time and is written down: its work, then what it took. */
  | {
      t: 'timed';
      kind: RunEvent['kind'];
      what: PlainPhrase;
      work: readonly Task[];
      more?: Partial<RunEvent> | undefined;
    }
  | { t: 'took'; kind: RunEvent['kind']; what: PlainPhrase; startMs: number; more?: Partial<RunEvent> | undefined }
  /** `lead`: until then, or until the lead is at something else. */
  | { t: 'until'; ms: number; lead?: true }
  | { t: 'pause'; ms: number }
  /** `over`: its way leads over the pole. */
  | { t: 'ask'; ask: Ask; forMs: number; id: number | null; over?: true }
  | { t: 'say'; code: string; values: PlainPhrase['values'] }
  /** What fails above it ends here. */
  | { t: 'guard'; stage: Stage }
  | { t: 'stage'; stage: Stage | 'end' }
  | { t: 'steps'; kind: Kind; i: number; parked: boolean }
  | { t: 'step'; kind: Kind; i: number; parked: boolean }
  | { t: 'rest-of-step'; kind: Kind; i: number; parked: boolean; untilMs: number }
  | { t: 'connect'; device: number; attempts: number; asked: boolean }
  | { t: 'opened' }
  | { t: 'night' }
  | { t: 'turn'; next: Pick<Next & { do: 'frame' }, 'legIndex' | 'left' | 'step'>; nowMs: number }
  | { t: 'after-wait'; cloud: boolean }
  | { t: 'wheel'; filter: string; first: boolean; tries?: number }
  | { t: 'wheel-stands'; filter: string; first: boolean; tries: number }
  | { t: 'safe'; untilMs: number }
  | { t: 'given-up' }
  | { t: 'back'; device: Device; untilMs: number; asked: boolean }
  | { t: 'pointed'; pointedMs: number }
  | { t: 'centre'; again: boolean }
  | { t: 'centred'; again: boolean }
  | { t: 'rotate' }
  | { t: 'rotated' }
  | { t: 'prepare'; step: FrameStep; k: number; pointedMs: number }
  | { t: 'expose'; step: FrameStep }
  | { t: 'keep-measure' }
  | { t: 'judge'; step: FrameStep; startMs: number }
  | { t: 'offset'; filter: string }
  | { t: 'focus'; filter: string; filterIndex: number | null }
  | { t: 'focused'; filterIndex: number | null }
  | { t: 'sweep'; filter: string; attempt: number }
  | { t: 'point'; centre: number; k: number; everyMs: number }
  | { t: 'keep-point' }
  | { t: 'swept'; filter: string; attempt: number; startMs: number; temperatureC: number }
  | { t: 'in-focus'; filter: string; position: number; temperatureC: number }
  | { t: 'focus-over' }
  | { t: 'shut'; because: ShutBecause; untilMs: number }
  | { t: 'look'; because: ShutBecause; untilMs: number; givenUpMs: number }
  | { t: 'air-over' }
  | { t: 'cloud-over'; givenUpMs: number }
  | { t: 'open-again'; planIndex: number };

/** One leg while it is worked. */
export interface WorkedLeg extends LegInNight, Omit<RunLeg, 'hours' | 'role' | 'goal'> {
  /** What good frames look like, by filter. */
  standards: Standards;
}

/** Where a run stands: plain data. What it needs of the world came by events. */
export interface RunState {
  plan: RunPlan;
  startMs: number;
  nowMs: number;
  legs: readonly WorkedLeg[];
  /** The leg at work; before the first one, that one. */
  legIndex: number;
  at: AtWork;
  focused: { filter: string; position: number; temperatureC: number } | null;
  /** Smallest star width the last focus run saw, in focus or not. */
  smallestPx: number | null;
  /** Set when a frame came out wide: the next one is preceded by a focus run. */
  refocus: boolean;
  /** Somebody asked to be pointed and guided anew. */
  anew: boolean;
  /** A leg is at work: what is written down belongs to it. */
  working: boolean;
  cloudSinceMs: number | null;
  /** Wind or damp keeps it closed. */
  airShut: boolean;
  /** The night was given up, or is over. */
  closed: boolean;
  paused: boolean;
  frames: number;
  readings: Readings;
  tasks: readonly Task[];
  /** The request that is out; what came of the last one. */
  waitingFor: { id: number; device: Ask['device']; do: Ask['do']; deadlineMs: number } | null;
  answer: Answer;
  acts: number;
  measure: FrameMeasure | null;
  points: readonly { position: number; hfd: number }[];
  /** How often in a row a device did not do one thing it was asked for, by both. */
  failures: Readonly<Record<string, number>>;
  /** Since when the supply is too low, and the plate at its end [ms]; null: neither. */
  supplyLowSinceMs: number | null;
  plateAtEndSinceMs: number | null;
  /** Since when the guider has no star [ms]; null: it has, or is off. */
  lostSinceMs: number | null;
  /** Trailed frames in a row. */
  trailed: number;
  /** What came of the last guard. */
  held: boolean;
  finished: boolean;
  /** What the second camera is at, in the same time; null: there is none. */
  beside: RunState | null;
}

/** Before anything was read. */
export const NOTHING_READ: Readings = {
  temperatureC: 0,
  position: 0,
  wheel: '',
  clear: true,
  windMS: 0,
  humidity: 0,
  safe: true,
  guider: 'off',
  guideArcsec: null,
  cooler: null,
  tube: null,
};

/** Before anything was done. */
export function beginRun(plan: RunPlan, nowMs: number): RunState {
  const legs = plan.legs.map((leg): WorkedLeg => {
    const rules = { ...rulesOf(leg.timeline), follows: leg.follows ?? false };
    const waitsFor = leg.waitsFor ? { input: leg.waitsFor, goal: leg.followerOf ?? '' } : null;
    return {
      ...leg,
      hours: leg.hours ?? [[rules.startMs, rules.endMs]],
      rules,
      focusAtStart: rules.focus.atStart,
      state: legInitialState(rules, nowMs, waitsFor),
      standards: {},
      ...turnsOf(leg.turnMin),
    };
  });
  return {
    plan,
    startMs: nowMs,
    nowMs,
    legs,
    legIndex: 0,
    at: { legIndex: null, turnEndsMs: -Infinity },
    focused: null,
    smallestPx: null,
    refocus: false,
    anew: false,
    working: false,
    cloudSinceMs: null,
    airShut: false,
    closed: false,
    paused: false,
    frames: 0,
    readings: NOTHING_READ,
    tasks: [{ t: 'stage', stage: 'night' }],
    waitingFor: null,
    answer: null,
    acts: 0,
    measure: null,
    points: [],
    failures: {},
    supplyLowSinceMs: null,
    plateAtEndSinceMs: null,
    lostSinceMs: null,
    trailed: 0,
    held: true,
    finished: false,
    beside: plan.beside ? besideRun(plan, plan.beside, nowMs) : null,
  };
}
/** A second camera opens and closes nothing: it works while the lead does. */
const besideRun = ({ watches, endMs }: RunPlan, beside: NonNullable<RunPlan['beside']>, nowMs: number): RunState => ({
  ...beginRun({ opening: [], closing: [], watches, endMs, ...beside }, nowMs),
  tasks: [{ t: 'night' }],
});

const ENDLESS = { '∞': Infinity, '−∞': -Infinity } as const;
/** The state as text: the same for the same state, to the last byte. */
export const stateText = (s: RunState): string =>
  JSON.stringify(s, (_, v: unknown) => (v === Infinity ? '∞' : v === -Infinity ? '−∞' : v));
export const stateOf = (text: string): RunState =>
  JSON.parse(text, (_, v: unknown) =>
    typeof v === 'string' && Object.hasOwn(ENDLESS, v) ? ENDLESS[v as keyof typeof ENDLESS] : v,
  ) as RunState;
