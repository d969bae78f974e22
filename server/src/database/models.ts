import { DataTypes, Model, type ModelAttributes, type ModelStatic, type Sequelize } from 'sequelize';
import type {
  ChangeRow,
  ClubRow,
  DuskSettingsRow,
  FocusRunRow,
  FrameRow,
  GoalRow,
  GuideLogRow,
  MemberRow,
  OffsetSetRow,
  PartRow,
  PlanRow,
  ProjectRow,
  RevisionRow,
  RigRow,
  RunRow,
  SetupListRow,
  SetupTickRow,
  SiteRow,
  TrainStateRow,
} from './rows.ts';

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
    clubs: table<ClubRow>('clubs', { name: text, kind: text, demo: whole }),
    members: table<MemberRow>('members', {
      clubId: text,
      name: text,
      signIn: text,
      role: text,
      passwordHash: text,
      owner: whole,
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
    trainStates: table<TrainStateRow>('train_states', {
      rigId: text,
      system: text,
      fingerprint: text,
      words: text,
      aspects: json,
      createdAt: when,
    }),
    revisions: table<RevisionRow>('rig_revisions', {
      rigId: text,
      number: whole,
      setup: json,
      changes: json,
      trainStateId: text,
      trainStates: json,
      byId: text,
      at: when,
    }),
    projects: table<ProjectRow>('projects', {
      clubId: text,
      ownerId: text,
      rigId: text,
      system: text,
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
      madeFor: json,
      ...stamps,
    }),
    runs: table<RunRow>('runs', {
      kind: text,
      planId: text,
      rigId: text,
      system: text,
      night: DataTypes.DATEONLY,
      name: text,
      trainStateId: text,
      aspects: json,
      offsetSetId: text,
      planVersion: whole,
      seed: whole,
      state: text,
      offsetsUsed: whole,
      result: DataTypes.TEXT('long'),
      byId: text,
      at: when,
      acceptedPlan: text,
    }),
    frames: table<FrameRow>('frames', {
      runId: text,
      seq: whole,
      kind: text,
      projectId: text,
      filter: text,
      exposureS: real,
      startedAt: when,
      file: text,
      header: json,
      measures: json,
      accepted: whole,
      reason: text,
      countedHash: text,
      fileHash: text,
    }),
    focusRuns: table<FocusRunRow>('focus_runs', {
      rigId: text,
      system: text,
      aspect: text,
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
      rigId: text,
      system: text,
      aspect: text,
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
      system: text,
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
