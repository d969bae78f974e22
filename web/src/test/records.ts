import type {
  CalibrationNeeds,
  DuskSettingsRecord,
  FocusRunRecord,
  FrameRecord,
  GuideLogRecord,
  NightRecord,
  OffsetSetRecord,
  SetupListRecord,
} from '@keen/contract';
import { DuskSettings } from '@keen/contract';
import { LogInput, summaryOfLog, type LogSummary } from '@keen/core/guiding';
import { simulateGuiding } from '@keen/core/observatory';
import { phrase } from '@keen/core/phrases';
import { viewOf } from '@keen/core/rig';
import { defaultItems } from '@keen/core/setup';
import { rig } from './mountScreen.ts';

/** Records as a server gives them, of the rig that every test has; a test says what is different in its own. */
export const id = (n: number): string => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const AT = '2026-11-19T08:00:00.000Z';
const ofTrain = () => {
  const { key: system, trainStateId, words } = rig().systems[0]!;
  return { rigId: rig().id, system, trainStateId, words };
};
const versioned = { version: 0, updatedAt: '2026-11-01T12:00:00.000Z', updatedBy: '' };

export const nightRecord = (more: Partial<NightRecord> = {}): NightRecord => ({
  id: id(80),
  ...ofTrain(),
  kind: 'recorded',
  night: '2026-11-18',
  name: 'x',
  beside: false,
  planId: null,
  by: 'Noor Vik',
  at: AT,
  undone: false,
  taken: [{ projectId: id(50), object: 'NGC 281', filter: 'Ha', exposureS: 300, accepted: 8, rejected: 0 }],
  calibration: 0,
  ...more,
});
export const frameRecord = (n: number, more: Partial<FrameRecord> = {}): FrameRecord => ({
  id: id(200 + n),
  seq: n,
  kind: 'light',
  projectId: id(50),
  filter: 'Ha',
  exposureS: 300,
  startedAt: `2026-11-18T20:${String(n % 60).padStart(2, '0')}:00.000Z`,
  file: `f${n}.fits`,
  hash: String(n).padStart(64, '0'),
  header: {},
  accepted: true,
  reason: '',
  refusal: null,
  measures: {},
  look: null,
  judged: false,
  ...more,
});
export const focusRunRecord = (n: number, more: Partial<FocusRunRecord> = {}): FocusRunRecord => ({
  id: id(300 + n),
  trainStateId: ofTrain().trainStateId,
  filter: 'Ha',
  position: 5000,
  hfd: 2,
  error: 1,
  temperatureC: 1,
  time: '2026-11-18T21:10:00.000Z',
  points: [],
  usable: true,
  reason: '',
  source: 'file',
  excluded: false,
  by: 'Noor Vik',
  ...more,
});
let calm: LogSummary | null = null;
/** What half an hour without a fault says. */
export const calmLog = (): LogSummary =>
  (calm ??= summaryOfLog(LogInput.parse({ samples: simulateGuiding({ seed: 3, seconds: 1800 }) })));
export const guideLogRecord = (n: number, more: Partial<GuideLogRecord> = {}): GuideLogRecord => ({
  id: id(90 + n),
  ...ofTrain(),
  guider: 'off-axis guider',
  holds: true,
  night: '2026-11-18',
  name: 'the log',
  note: '',
  beganAt: null,
  by: 'Noor Vik',
  at: AT,
  summary: calmLog(),
  ...more,
});
export const offsetSetRecord = (more: Partial<OffsetSetRecord> = {}): OffsetSetRecord => ({
  id: id(70),
  trainStateId: ofTrain().trainStateId,
  reference: 'Ha',
  model: 'temperature',
  offsets: {},
  temperatureStepsPerC: null,
  zoneSteps: 40,
  runCount: 12,
  adoptedAt: AT,
  by: 'Noor Vik',
  ...more,
});
export const setupListRecord = (more: Partial<SetupListRecord> = {}): SetupListRecord => ({
  rigId: rig().id,
  items: defaultItems('backyard', viewOf(rig().setup)),
  own: false,
  ticks: [],
  ...versioned,
  ...more,
});
export const duskRecord = (settings: object = {}): DuskSettingsRecord => ({
  rigId: rig().id,
  settings: DuskSettings.parse(settings),
  kept: false,
  ...versioned,
});
export const calibrationNeeds = (more: Partial<CalibrationNeeds> = {}): CalibrationNeeds => ({
  missing: [],
  urgent: [],
  frames: 0,
  leftOut: 0,
  ...more,
});
/** A flat that is missing. */
export const missingFlat = (filter = 'Ha'): CalibrationNeeds['urgent'][number] => ({
  kind: 'flat',
  filter,
  trainRevision: 'now',
  angleDeg: 0,
  gain: 100,
  offset: null,
  binning: 1,
  frames: 20,
});

/** What a server answers of a rig on which nothing was ever kept. */
export const nothingKept = [
  {
    path: /season\/rules/,
    body: { fairDays: 90, cloudShare: 0, sentence: phrase('season.rule-fair', { fairDays: 90 }) },
  },
  { path: /\/dusk(-settings)?(\?|$)/, body: duskRecord() },
  { path: /setup-list/, body: setupListRecord() },
  { path: /\/since$/, body: { night: null, revisions: [], offsets: [], log: [] } },
  { path: /calibration-needs/, body: calibrationNeeds() },
  { path: /forecast/, body: { source: 'nobody', simulated: true, hours: [] } },
  { path: /\/api\/security/, body: { events: [], more: false } },
  { path: /clear-spells/, body: null },
  { path: /\/api\//, body: [] },
];
