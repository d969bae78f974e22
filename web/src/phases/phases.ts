/** The day as navigation: phases in the order of the light, with their tasks. */
export interface Task {
  path: string;
  title: string;
  /** Kept from everybody else. */
  stewards?: true;
}
export interface Phase {
  key: 'bench' | 'dusk' | 'night' | 'morning' | 'season' | 'club';
  title: string;
  path: string;
  tasks: Task[];
}

export const PHASES: Phase[] = [
  {
    key: 'bench',
    title: 'Bench',
    path: '/bench',
    tasks: [
      { path: '/bench', title: 'Summary' },
      { path: '/bench/rigs', title: 'Rigs' },
      { path: '/bench/balance', title: 'Balance' },
      { path: '/bench/train', title: 'Train' },
      { path: '/bench/off-axis', title: 'Off-axis' },
      { path: '/bench/focuser', title: 'Focuser travel' },
      { path: '/bench/cables', title: 'Cables' },
      { path: '/bench/cards', title: 'Bench cards' },
    ],
  },
  {
    key: 'dusk',
    title: 'Dusk',
    path: '/dusk',
    tasks: [
      { path: '/dusk', title: 'Summary' },
      { path: '/dusk/setup', title: 'Set-up list' },
      { path: '/dusk/pole', title: 'Pole' },
      { path: '/dusk/guider', title: 'Guider' },
      { path: '/dusk/dither', title: 'Dither' },
    ],
  },
  {
    key: 'night',
    title: 'Night',
    path: '/night',
    tasks: [
      { path: '/night', title: 'Tonight' },
      { path: '/night/target', title: 'Target' },
      { path: '/night/exposures', title: 'Exposures' },
      { path: '/night/plan', title: 'Plan' },
      { path: '/night/run', title: 'Run' },
      { path: '/night/moon', title: 'Moon' },
    ],
  },
  {
    key: 'morning',
    title: 'Morning',
    path: '/morning',
    tasks: [
      { path: '/morning', title: 'Summary' },
      { path: '/morning/night', title: 'Bring in a night' },
      { path: '/morning/frames', title: 'Frames' },
      { path: '/morning/focus', title: 'Focus runs' },
      { path: '/morning/guiding', title: 'Guide log' },
      { path: '/morning/calibration', title: 'Calibration' },
      { path: '/morning/report', title: 'Report' },
      { path: '/morning/log', title: 'Log' },
      { path: '/morning/drills', title: 'Drills' },
    ],
  },
  {
    key: 'season',
    title: 'Season',
    path: '/season',
    tasks: [
      { path: '/season', title: 'Projects' },
      { path: '/season/board', title: 'Coming nights' },
      { path: '/season/bookings', title: 'Bookings' },
      { path: '/season/ledger', title: 'Ledger' },
    ],
  },
  {
    key: 'club',
    title: 'Club',
    path: '/club',
    tasks: [
      { path: '/club', title: 'Members' },
      { path: '/club/equipment', title: 'Equipment' },
      { path: '/club/upkeep', title: 'Upkeep' },
      { path: '/club/sites', title: 'Sites' },
      { path: '/club/settings', title: 'Settings' },
      { path: '/club/changes', title: 'Changes' },
      { path: '/club/security', title: 'Security', stewards: true },
      { path: '/club/account', title: 'Your account' },
    ],
  },
];

/** A person alone has a household, not a club: the same screens under the words that fit. */
const HOUSEHOLD: Phase = {
  key: 'club',
  title: 'Household',
  path: '/club/equipment',
  tasks: [
    { path: '/club/equipment', title: 'Equipment' },
    { path: '/club/upkeep', title: 'Upkeep' },
    { path: '/club/sites', title: 'Sites' },
    { path: '/club/settings', title: 'Settings' },
    { path: '/club/changes', title: 'Changes' },
    { path: '/club', title: 'People' },
    { path: '/club/security', title: 'Security', stewards: true },
    { path: '/club/account', title: 'Your account' },
  ],
};
/** Alone, hours are kept for oneself. */
const ALONE_TITLES: Record<string, string> = { '/season/bookings': 'Kept hours' };
/** The phases as one person sees them. */
export const phasesFor = (of: { alone: boolean; isSteward: boolean; watchesOnly?: boolean }): Phase[] =>
  of.watchesOnly ? WATCHED : tasksFor(of);
/** What somebody sees who only watches. */
export const WATCHED_PATHS: readonly string[] = ['/night/run', '/club/account'];
/** A run that goes on has an address of its own. */
export const isWatched = (path: string): boolean => WATCHED_PATHS.includes(path) || path.startsWith('/night/live/');
const WATCHED: Phase[] = PHASES.flatMap((p) => {
  const tasks = p.tasks.filter((t) => WATCHED_PATHS.includes(t.path));
  return tasks.length ? [{ ...p, path: tasks[0]!.path, tasks }] : [];
});
const tasksFor = ({ alone, isSteward }: { alone: boolean; isSteward: boolean }): Phase[] =>
  PHASES.map((p) => (alone && p.key === 'club' ? HOUSEHOLD : p))
    .map((p) => (alone ? { ...p, tasks: p.tasks.map((t) => ({ ...t, title: ALONE_TITLES[t.path] ?? t.title })) } : p))
    .map((p) => (isSteward ? p : { ...p, tasks: p.tasks.filter((t) => !t.stewards) }));
