import { z } from 'zod';
import { atLeastZero, define, explained, positive, quantity, type WorkingStep } from '../calculation/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';

export const PolicyInput = z.strictObject({
  offsets: z
    .record(
      z.string().min(1).max(40),
      z.strictObject({
        steps: quantity('steps', 'Offset from the reference'),
        error: atLeastZero('steps', 'One standard error of it').optional(),
      }),
    )
    .refine((o) => Object.keys(o).length <= 60, 'may name at most 60 filters'),
  temperatureStepsPerC: quantity('steps/°C', 'How focus follows the temperature'),
  criticalZoneSteps: positive('steps', 'Depth of the critical zone'),
  coolingCPerHour: quantity('°C/h', 'How fast the night cools'),
  autofocusS: atLeastZero('s', 'One focus run'),
  filterChangesPerHour: atLeastZero('1/h', 'Filter changes').max(3600),
  hours: positive('h', 'Length of the night').max(24 * 31),
});
export type PolicyInput = z.infer<typeof PolicyInput>;

export const PolicyOutput = z.strictObject({
  everyChange: z.strictObject({ runs: z.int(), minutes: z.number() }),
  withOffsets: z.strictObject({ runs: z.int(), minutes: z.number(), everyMinutes: z.number().nullable() }),
  savedMinutes: z.number(),
  /** Change of temperature that drifts through half the zone; null when focus does not follow it. */
  everyC: z.number().nullable(),
  /** Filters whose offset is not known within half the zone, 2σ: they still need a run of their own. */
  ownRun: z.array(z.string()),
  ...explained,
});
export type PolicyOutput = z.infer<typeof PolicyOutput>;

/** A whole number of drifts that comes out a hair above a whole one is that one: 60·6.5/25 must not become 17 by rounding. */
const SLACK = 1e-9;

/** What focusing costs a night, run by run on every change or by offsets and temperature. */
export function policy(i: PolicyInput): PolicyOutput {
  const everyRuns = 1 + Math.floor(i.filterChangesPerHour * i.hours + SLACK);
  const drift = Math.abs(i.temperatureStepsPerC);
  const half = i.criticalZoneSteps / 2;
  const everyC = drift > 0 ? half / drift : null;
  const perHour = drift * Math.abs(i.coolingCPerHour);
  const everyMinutes = perHour > 0 ? (60 * half) / perHour : null;
  const runs = everyMinutes === null ? 1 : Math.max(1, Math.ceil((60 * i.hours) / everyMinutes - SLACK));
  const minutesOf = (n: number) => (n * i.autofocusS) / 60;
  const [everyChange, withOffsets] = [
    { runs: everyRuns, minutes: minutesOf(everyRuns) },
    { runs, minutes: minutesOf(runs), everyMinutes },
  ];
  const savedMinutes = everyChange.minutes - withOffsets.minutes;
  const ownRun = Object.entries(i.offsets)
    .filter(([, o]) => 2 * (o.error ?? 0) > half)
    .map(([name]) => name);
  const working: WorkingStep[] = [
    { label: 'Runs on every change', formula: '1 + ⌊changes per hour·hours⌋', value: everyRuns, unit: '' },
    ...(everyMinutes === null
      ? []
      : [
          {
            label: 'Drifts through half the zone in',
            formula: '60·(zone/2)/(|k|·|cooling|)',
            value: everyMinutes,
            unit: 'min',
          },
        ]),
    { label: 'Runs by temperature', formula: '⌈60·hours/that⌉, at least 1', value: runs, unit: '' },
    { label: 'Saved', formula: '(difference of runs)·length of one', value: savedMinutes, unit: 'min' },
  ];
  const verdict = ownRun.length
    ? makeVerdict(
        'caution',
        phrase('focus.policy-own-run', { filters: ownRun, n: ownRun.length, savedMin: Math.max(0, savedMinutes) }),
      )
    : savedMinutes > 0
      ? everyMinutes === null
        ? makeVerdict('good', phrase('focus.policy-saves-steady', { savedMin: savedMinutes }))
        : makeVerdict('good', phrase('focus.policy-saves', { savedMin: savedMinutes, everyMin: everyMinutes, runs }))
      : makeVerdict('good', phrase('focus.policy-no-gain', { runs, everyRuns }));
  return { everyChange, withOffsets, savedMinutes, everyC, ownRun, working, verdict };
}

export const focusPolicy = define({
  name: 'focus.policy',
  summary: 'Minutes a night that focusing costs: on every filter change, or by offsets and temperature',
  sources: ['Bookkeeping on the critical zone; 2σ within half the zone: common practice, no source'],
  input: PolicyInput,
  output: PolicyOutput,
  compute: policy,
});
