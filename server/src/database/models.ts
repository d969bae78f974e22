import { DataTypes, Model, type ModelAttributes, type ModelStatic, type Sequelize } from 'sequelize';
import type { RigSetup, Part } from '@keen/core/rig';
import type { HorizonPoint } from '@keen/core/sky';
import type { DuskSettings, Framing } from '@keen/contract';
import type { LogSummary } from '@keen/core/guiding';
import type { SetupItem } from '@keen/core/setup';
import type { PlanSettings } from '@keen/core/sequence';

interface Stamps {
  version: number;
  updatedAt: Date;
  updatedBy: string | null;
  archivedAt: Date | null;
}
export interface ClubRow {
  id: string;
  name: string;
  demo: number;
}
export interface MemberRow {
  id: string;
  clubId: string;
  name: string;
  signIn: string;
  role: 'steward' | 'member' | 'guest';
  passwordHash: string;
  archivedAt: Date | null;
}
export interface SiteRow extends Stamps {
  id: string;
  clubId: string;
  name: string;
  kind: 'backyard' | 'club' | 'remote';
  latitudeDeg: number;
  longitudeDeg: number;
  elevationM: number;
  timeZone: string;
  skyMag: number;
  horizon: HorizonPoint[];
  horizonNote: string;
}
export interface PartRow extends Stamps {
  id: string;
  clubId: string;
  ownerId: string | null;
  name: string;
  kind: string;
  data: Part;
}
export interface RigRow extends Stamps {
  id: string;
  clubId: string;
  siteId: string;
  name: string;
}
export interface TrainStateRow {
  id: string;
  rigId: string;
  fingerprint: string;
  words: string;
  createdAt: Date;
}
export interface RevisionRow {
  id: string;
  rigId: string;
  number: number;
  setup: RigSetup;
  changes: string[];
  trainStateId: string;
  byId: string;
  at: Date;
}
/** A framing as stored; who pinned it is kept by id. */
export type StoredFraming = Omit<Framing, 'by'> & { byId: string };
export interface SetupListRow extends Stamps {
  id: string;
  rigId: string;
  items: SetupItem[];
}
export interface DuskSettingsRow extends Stamps {
  id: string;
  rigId: string;
  settings: DuskSettings;
}
export interface SetupTickRow {
  id: string;
  rigId: string;
  night: string;
  item: string;
  byId: string;
  at: Date;
}
export interface GuideLogRow {
  id: string;
  rigId: string;
  trainStateId: string;
  night: string;
  name: string;
  note: string;
  summary: LogSummary;
  csv: string;
  byId: string;
  at: Date;
  archivedAt: Date | null;
}
export interface ProjectRow extends Stamps {
  id: string;
  clubId: string;
  ownerId: string;
  rigId: string;
  name: string;
  object: string;
  objectType: string;
  raDeg: number;
  decDeg: number;
  sizeArcmin: number | null;
  angleDeg: number;
  minimumAltitudeDeg: number;
  note: string;
  framing: StoredFraming | null;
}
export interface GoalRow {
  id: string;
  projectId: string;
  place: number;
  filter: string;
  exposureS: number;
  quota: number;
}
export interface PlanRow extends Stamps {
  id: string;
  projectId: string;
  rigId: string;
  ownerId: string;
  night: string;
  start: Date;
  end: Date;
  flipAt: Date | null;
  settings: PlanSettings;
  locked: number;
  status: 'planned' | 'done' | 'cancelled';
}
export interface RunRow {
  id: string;
  planId: string;
  trainStateId: string;
  seed: number;
  state: 'rehearsed' | 'accepted' | 'discarded';
  offsetsUsed: number;
  result: string;
  byId: string;
  at: Date;
  /** The plan's id once accepted: unique, so that a plan is counted once. */
  acceptedPlan: string | null;
}
export interface FrameCountRow {
  id: string;
  runId: string;
  projectId: string;
  night: string;
  filter: string;
  exposureS: number;
  accepted: number;
  rejected: number;
}
export interface FocusRunRow {
  id: string;
  trainStateId: string;
  filter: string;
  position: number;
  hfd: number | null;
  error: number | null;
  temperatureC: number | null;
  time: Date | null;
  points: { position: number; hfd: number }[];
  usable: number;
  reason: string;
  source: 'typed' | 'file' | 'run';
  runId: string | null;
  excluded: number;
  byId: string;
  createdAt: Date;
}
export interface OffsetSetRow {
  id: string;
  trainStateId: string;
  reference: string;
  model: 'temperature' | 'time' | 'both' | 'none';
  offsets: Record<string, { steps: number; error: number; runs: number }>;
  temperatureStepsPerC: number | null;
  zoneSteps: number | null;
  runCount: number;
  byId: string;
  adoptedAt: Date;
}
export interface ChangeRow {
  id: string;
  at: Date;
  memberId: string;
  subject: string;
  text: string;
}

type Table<R extends object> = ModelStatic<Model<R>>;

const text = DataTypes.STRING;
const real = DataTypes.DOUBLE;
const whole = DataTypes.INTEGER;
const json = DataTypes.JSON;
const when = DataTypes.DATE(3);
const stamps = { version: whole, updatedAt: when, updatedBy: text, archivedAt: when };

/** The tables as Sequelize models; the schema itself is made by migrations only. */
export function models(db: Sequelize) {
  const table = <R extends object>(name: string, columns: Record<Exclude<keyof R, 'id'>, unknown>): Table<R> => {
    const attributes = Object.fromEntries(
      Object.entries(columns as Record<string, unknown>).map(([k, type]) => [k, { type, field: snake(k) }]),
    );
    return db.define(name, { id: { type: DataTypes.CHAR(36), primaryKey: true }, ...attributes } as ModelAttributes<
      Model<R>
    >);
  };
  return {
    clubs: table<ClubRow>('clubs', { name: text, demo: whole }),
    members: table<MemberRow>('members', {
      clubId: text,
      name: text,
      signIn: text,
      role: text,
      passwordHash: text,
      archivedAt: when,
    }),
    sites: table<SiteRow>('sites', {
      clubId: text,
      name: text,
      kind: text,
      latitudeDeg: real,
      longitudeDeg: real,
      elevationM: real,
      timeZone: text,
      skyMag: real,
      horizon: json,
      horizonNote: text,
      ...stamps,
    }),
    parts: table<PartRow>('parts', { clubId: text, ownerId: text, name: text, kind: text, data: json, ...stamps }),
    rigs: table<RigRow>('rigs', { clubId: text, siteId: text, name: text, ...stamps }),
    trainStates: table<TrainStateRow>('train_states', { rigId: text, fingerprint: text, words: text, createdAt: when }),
    revisions: table<RevisionRow>('rig_revisions', {
      rigId: text,
      number: whole,
      setup: json,
      changes: json,
      trainStateId: text,
      byId: text,
      at: when,
    }),
    projects: table<ProjectRow>('projects', {
      clubId: text,
      ownerId: text,
      rigId: text,
      name: text,
      object: text,
      objectType: text,
      raDeg: real,
      decDeg: real,
      sizeArcmin: real,
      angleDeg: real,
      minimumAltitudeDeg: real,
      note: DataTypes.TEXT,
      framing: json,
      ...stamps,
    }),
    goals: table<GoalRow>('project_goals', {
      projectId: text,
      place: whole,
      filter: text,
      exposureS: real,
      quota: whole,
    }),
    plans: table<PlanRow>('plans', {
      projectId: text,
      rigId: text,
      ownerId: text,
      night: DataTypes.DATEONLY,
      start: when,
      end: when,
      flipAt: when,
      settings: json,
      locked: whole,
      status: text,
      ...stamps,
    }),
    runs: table<RunRow>('runs', {
      planId: text,
      trainStateId: text,
      seed: whole,
      state: text,
      offsetsUsed: whole,
      result: DataTypes.TEXT('long'),
      byId: text,
      at: when,
      acceptedPlan: text,
    }),
    frameCounts: table<FrameCountRow>('frame_counts', {
      runId: text,
      projectId: text,
      night: DataTypes.DATEONLY,
      filter: text,
      exposureS: real,
      accepted: whole,
      rejected: whole,
    }),
    focusRuns: table<FocusRunRow>('focus_runs', {
      trainStateId: text,
      filter: text,
      position: real,
      hfd: real,
      error: real,
      temperatureC: real,
      time: when,
      points: json,
      usable: whole,
      reason: text,
      source: text,
      runId: text,
      excluded: whole,
      byId: text,
      createdAt: when,
    }),
    offsetSets: table<OffsetSetRow>('offset_sets', {
      trainStateId: text,
      reference: text,
      model: text,
      offsets: json,
      temperatureStepsPerC: real,
      zoneSteps: real,
      runCount: whole,
      byId: text,
      adoptedAt: when,
    }),
    setupLists: table<SetupListRow>('setup_lists', { rigId: text, items: json, ...stamps }),
    duskSettings: table<DuskSettingsRow>('dusk_settings', { rigId: text, settings: json, ...stamps }),
    setupTicks: table<SetupTickRow>('setup_ticks', {
      rigId: text,
      night: DataTypes.DATEONLY,
      item: text,
      byId: text,
      at: when,
    }),
    guideLogs: table<GuideLogRow>('guide_logs', {
      rigId: text,
      trainStateId: text,
      night: DataTypes.DATEONLY,
      name: text,
      note: text,
      summary: json,
      csv: DataTypes.TEXT('medium'),
      byId: text,
      at: when,
      archivedAt: when,
    }),
    changes: table<ChangeRow>('changes', { at: when, memberId: text, subject: text, text }),
  };
}
export type Models = ReturnType<typeof models>;

const snake = (k: string) => k.replace(/[A-Z]/g, (c) => `_${c.toLowerCase()}`);

/** A row as a plain object. */
export const plain = <R extends object>(m: Model<R>): R => m.get({ plain: true }) as R;
