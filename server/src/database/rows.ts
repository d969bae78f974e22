import type { Phrase } from '@keen/core/phrases';
import type { Aspect, AspectHashes, RigBuild, Part } from '@keen/core/rig';
import type { HorizonPoint } from '@keen/core/sky';
import type {
  DuskSettings,
  FrameFields,
  FrameHeader,
  Framing,
  MasterFields,
  RunKind,
  SecurityKind,
} from '@keen/contract';
import type { CableSheet } from '@keen/core/cables';
import type { FrameMeasures } from '@keen/core/frames';
import type { LogSummary } from '@keen/core/guiding';
import type { SetupItem } from '@keen/core/setup';
import type { ClosingStep, Leg, OpeningStep, PlanLock, Watches } from '@keen/core/sequence';

/** What a shared record carries beside its own fields. */
export interface Stamps {
  version: number;
  updatedAt: Date;
  updatedBy: string | null;
  archivedAt: Date | null;
}
export interface ClubRow {
  id: string;
  name: string;
  kind: 'alone' | 'club' | 'remote';
  demo: number;
}
export interface MemberRow {
  id: string;
  clubId: string;
  name: string;
  signIn: string;
  role: 'steward' | 'member' | 'guest';
  passwordHash: string;
  /** Set this installation up. */
  owner: number;
  /** Key of the second factor, sealed; null without one. */
  factorKey: string | null;
  /** The last half minute whose code was used: no code is taken twice. */
  factorStep: number;
  /** Grows with every reset: a session of an earlier epoch is over. */
  sessionEpoch: number;
  archivedAt: Date | null;
}
export interface InvitationRow {
  id: string;
  clubId: string;
  /** Hash of what the link carries. */
  token: string;
  name: string;
  role: MemberRow['role'];
  byId: string;
  expiresAt: Date;
  usedAt: Date | null;
}
export interface SecurityEventRow {
  id: string;
  clubId: string | null;
  subject: string;
  kind: SecurityKind;
  at: Date;
  times: number;
  memberId: string | null;
  byId: string | null;
  address: string;
  detail: string;
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
  system: string;
  fingerprint: string;
  words: string;
  aspects: AspectHashes | null;
  createdAt: Date;
}
export interface RevisionRow {
  id: string;
  rigId: string;
  number: number;
  setup: RigBuild;
  changes: Phrase[];
  /** State of the first system. */
  trainStateId: string;
  /** State of every system by its key. */
  trainStates: Record<string, string>;
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
  system: string;
  trainStateId: string;
  night: string;
  name: string;
  note: string;
  beganAt: Date | null;
  summary: LogSummary;
  csv: string;
  byId: string;
  at: Date;
  archivedAt: Date | null;
}
export interface DrillAnswerRow {
  id: string;
  memberId: string;
  situation: string;
  seed: number;
  cause: string;
  cure: string;
  causeRight: boolean;
  cureRight: boolean;
  at: Date;
}
export interface CablesRow extends Stamps {
  id: string;
  rigId: string;
  sheet: CableSheet;
}
export interface MasterRow {
  id: string;
  rigId: string;
  trainStateId: string;
  flatsAspect: string | null;
  data: MasterFields;
  byId: string;
  at: Date;
  archivedAt: Date | null;
}
export interface LogRow extends Stamps {
  id: string;
  rigId: string;
  aspect: Aspect | null;
  night: string | null;
  problem: string;
  cause: string;
  cure: string;
  finding: string;
  byId: string;
}
export interface ProjectRow extends Stamps {
  id: string;
  clubId: string;
  ownerId: string;
  rigId: string;
  system: string;
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
/** A leg as it is kept: with its hours of the night when it was saved. */
export type PlanLegRow = Leg & { start: string | null; end: string | null; flipAt: string | null };
export interface PlanRow extends Stamps {
  id: string;
  rigId: string;
  ownerId: string;
  night: string;
  start: Date;
  end: Date;
  opening: OpeningStep[];
  legs: PlanLegRow[];
  closing: ClosingStep[];
  watches: Watches;
  locked: number;
  /** Closed fields, by whom. */
  locks: (PlanLock & { byId: string })[];
  /** The protected plan it was made from. */
  fromPlanId: string | null;
  status: 'planned' | 'done' | 'cancelled';
  madeFor: { aspects: AspectHashes; offsetSetId: string | null; revision: number } | null;
}
export interface RunRow {
  id: string;
  kind: RunKind;
  /** Null for a night that was brought in. */
  planId: string | null;
  rigId: string;
  system: string;
  night: string;
  name: string;
  trainStateId: string;
  aspects: AspectHashes | null;
  offsetSetId: string | null;
  planVersion: number | null;
  seed: number | null;
  state: 'rehearsed' | 'accepted' | 'discarded';
  offsetsUsed: number;
  result: string | null;
  byId: string;
  at: Date;
  /** The plan's id once accepted: unique, so that a plan is counted once. */
  acceptedPlan: string | null;
  /** Of a second camera’s night: the run of its lead, beside which it was taken. */
  besideId: string | null;
}
export interface FrameRow {
  id: string;
  runId: string;
  seq: number;
  kind: FrameFields['kind'];
  projectId: string | null;
  /** Of its project’s mosaic; null: one field, or beside all panels. */
  panel: number | null;
  filter: string;
  exposureS: number;
  startedAt: Date | null;
  file: string;
  header: FrameHeader;
  measures: Record<string, number>;
  /** What was measured in its picture; null where nobody looked. */
  look: FrameMeasures | null;
  accepted: number;
  /** A person said whether it counts. */
  judged: number;
  reason: string;
  refusal: FrameFields['refusal'];
  /** Club and file while the frame counts: unique, so that a file counts once. */
  countedHash: string | null;
  fileHash: string | null;
}
/** A small picture of a frame, by the frame’s id: a data URL. */
export interface FramePictureRow {
  id: string;
  picture: string;
}
export interface FocusRunRow {
  id: string;
  rigId: string;
  system: string;
  /** The focus aspect it holds for. */
  aspect: string | null;
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
  rigId: string;
  system: string;
  aspect: string | null;
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
