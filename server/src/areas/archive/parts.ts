/** What of a club, or of a person, goes into an archive, in an order in which it can be read in again. */
export interface Part {
  table: string;
  /** Which rows are the club’s. */
  ofClub: string;
  /** Which of those are a member’s own; null: none. */
  ofMember: string | null;
  /** Kept from archives: secrets, and counts of this installation. */
  without?: readonly string[];
  /** Read by nobody but whose it is: not in the club’s archive. */
  ownOnly?: readonly string[];
  /** Columns that name rows of other parts. */
  refs: Readonly<Record<string, string>>;
  /** Column by which rows of this part name one another: it is filled in once all of them are there. */
  self?: string;
  order?: string;
}
const RIGS = 'SELECT id FROM rigs WHERE club_id = :club';
const PROJECTS = 'SELECT id FROM projects WHERE club_id = :club';
const PLANS = `SELECT id FROM plans WHERE rig_id IN (${RIGS})`;
const RUNS = `SELECT id FROM runs WHERE rig_id IN (${RIGS})`;
const OWN_PROJECTS = 'SELECT id FROM projects WHERE owner_id = :member';
const ofRig = (column = 'rig_id') => `${column} IN (${RIGS})`;
const by = { updated_by: 'members' };

export const PARTS: readonly Part[] = [
  { table: 'clubs', ofClub: 'id = :club', ofMember: null, without: ['demo', 'turns'], refs: {} },
  {
    table: 'members',
    ofClub: 'club_id = :club',
    ofMember: 'id = :member',
    without: ['password_hash', 'factor_key', 'factor_step', 'session_epoch', 'owner', 'turns'],
    refs: { club_id: 'clubs' },
  },
  { table: 'sites', ofClub: 'club_id = :club', ofMember: null, refs: { club_id: 'clubs', ...by } },
  {
    table: 'parts',
    ofClub: 'club_id = :club',
    ofMember: 'owner_id = :member',
    refs: { club_id: 'clubs', owner_id: 'members', ...by },
  },
  {
    table: 'rigs',
    ofClub: 'club_id = :club',
    ofMember: null,
    without: ['turns'],
    refs: { club_id: 'clubs', site_id: 'sites', ...by },
  },
  { table: 'train_states', ofClub: ofRig(), ofMember: null, refs: { rig_id: 'rigs' } },
  {
    table: 'rig_revisions',
    ofClub: ofRig(),
    ofMember: null,
    refs: { rig_id: 'rigs', train_state_id: 'train_states', by_id: 'members' },
  },
  { table: 'rig_sharing', ofClub: ofRig('id'), ofMember: null, refs: { id: 'rigs', ...by } },
  { table: 'cable_sheets', ofClub: ofRig(), ofMember: null, refs: { rig_id: 'rigs', ...by } },
  { table: 'dusk_settings', ofClub: ofRig(), ofMember: null, refs: { rig_id: 'rigs', ...by } },
  { table: 'setup_lists', ofClub: ofRig(), ofMember: null, refs: { rig_id: 'rigs', ...by } },
  { table: 'setup_ticks', ofClub: ofRig(), ofMember: 'by_id = :member', refs: { rig_id: 'rigs', by_id: 'members' } },
  {
    table: 'projects',
    ofClub: 'club_id = :club',
    ofMember: 'owner_id = :member',
    refs: { club_id: 'clubs', owner_id: 'members', rig_id: 'rigs', ...by },
  },
  {
    table: 'project_goals',
    ofClub: `project_id IN (${PROJECTS})`,
    ofMember: `project_id IN (${OWN_PROJECTS})`,
    refs: { project_id: 'projects' },
  },
  {
    table: 'plans',
    ofClub: ofRig(),
    ofMember: 'owner_id = :member',
    refs: { rig_id: 'rigs', owner_id: 'members', from_plan_id: 'plans', ...by },
    self: 'from_plan_id',
  },
  {
    table: 'plan_projects',
    ofClub: `plan_id IN (${PLANS})`,
    ofMember: 'plan_id IN (SELECT id FROM plans WHERE owner_id = :member)',
    refs: { plan_id: 'plans', project_id: 'projects' },
    order: 'plan_id, project_id',
  },
  {
    table: 'runs',
    ofClub: ofRig(),
    ofMember: 'by_id = :member',
    refs: { rig_id: 'rigs', plan_id: 'plans', train_state_id: 'train_states', by_id: 'members', beside_id: 'runs' },
    self: 'beside_id',
  },
  {
    table: 'frames',
    ofClub: `run_id IN (${RUNS})`,
    ofMember: `project_id IN (${OWN_PROJECTS})`,
    refs: { run_id: 'runs', project_id: 'projects' },
  },
  {
    table: 'frame_pictures',
    ofClub: `id IN (SELECT id FROM frames WHERE run_id IN (${RUNS}))`,
    ofMember: `id IN (SELECT id FROM frames WHERE project_id IN (${OWN_PROJECTS}))`,
    refs: { id: 'frames' },
  },
  {
    table: 'focus_runs',
    ofClub: ofRig(),
    ofMember: 'by_id = :member',
    refs: { rig_id: 'rigs', train_state_id: 'train_states', run_id: 'runs', by_id: 'members' },
  },
  {
    table: 'offset_sets',
    ofClub: ofRig(),
    ofMember: 'by_id = :member',
    refs: { rig_id: 'rigs', train_state_id: 'train_states', by_id: 'members' },
  },
  {
    table: 'guide_logs',
    ofClub: ofRig(),
    ofMember: 'by_id = :member',
    refs: { rig_id: 'rigs', train_state_id: 'train_states', by_id: 'members' },
  },
  {
    table: 'masters',
    ofClub: ofRig(),
    ofMember: 'by_id = :member',
    refs: { rig_id: 'rigs', train_state_id: 'train_states', by_id: 'members' },
  },
  {
    table: 'log_entries',
    ofClub: ofRig(),
    ofMember: 'by_id = :member',
    refs: { rig_id: 'rigs', by_id: 'members', ...by },
  },
  {
    table: 'bookings',
    ofClub: 'club_id = :club',
    ofMember: 'member_id = :member',
    refs: {
      club_id: 'clubs',
      rig_id: 'rigs',
      member_id: 'members',
      project_id: 'projects',
      made_by: 'members',
      decided_by: 'members',
      outcome_by: 'members',
      ...by,
    },
  },
  { table: 'upkeep', ofClub: ofRig(), ofMember: null, refs: { rig_id: 'rigs', ...by } },
  {
    table: 'upkeep_done',
    ofClub: `upkeep_id IN (SELECT id FROM upkeep WHERE rig_id IN (${RIGS}))`,
    ofMember: 'by_id = :member',
    refs: { upkeep_id: 'upkeep', by_id: 'members' },
  },
  {
    table: 'handovers',
    ofClub: ofRig(),
    ofMember: 'member_id = :member',
    refs: { rig_id: 'rigs', member_id: 'members' },
  },
  {
    table: 'part_counts',
    ofClub: 'club_id = :club',
    ofMember: 'by_id = :member',
    refs: { club_id: 'clubs', by_id: 'members' },
  },
  {
    table: 'absences',
    ofClub: 'member_id IN (SELECT id FROM members WHERE club_id = :club)',
    ofMember: 'member_id = :member',
    ownOnly: ['title'],
    refs: { member_id: 'members' },
  },
  {
    table: 'drill_answers',
    ofClub: 'member_id IN (SELECT id FROM members WHERE club_id = :club)',
    ofMember: 'member_id = :member',
    refs: { member_id: 'members' },
  },
  {
    table: 'changes',
    ofClub: 'member_id IN (SELECT id FROM members WHERE club_id = :club)',
    ofMember: 'member_id = :member',
    refs: { member_id: 'members' },
  },
];
/** Of an installation, of who is signed in or at work just now, or secret: in no archive. What came of a run is in its record. */
export const IN_NO_ARCHIVE: readonly string[] = [
  'Sessions',
  'answered',
  'calendar_feeds',
  'counters',
  'events',
  'hits',
  'installation',
  'invitations',
  'jobs',
  'leases',
  'live_runs',
  'own_feeds',
  'recovery_codes',
  'run_commands',
  'run_events',
  'run_frames',
  'schema_migrations',
  'security_events',
  'sign_in_tries',
  'taken_places',
];
