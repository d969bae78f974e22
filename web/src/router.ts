import { core } from './workers/index.ts';
import { message } from 'ant-design-vue';
import { createRouter, createWebHistory } from 'vue-router';

/** One chunk a screen. */
export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', redirect: '/night' },
    { path: '/sign-in', component: () => import('./phases/club/SignIn.vue'), meta: { open: true, title: 'Sign in' } },
    { path: '/begin', component: () => import('./phases/club/BeginView.vue'), meta: { open: true, title: 'Begin' } },
    { path: '/join', component: () => import('./phases/club/JoinView.vue'), meta: { open: true, title: 'Join' } },
    {
      path: '/first-evening',
      component: () => import('./phases/first/FirstEvening.vue'),
      meta: { title: 'Your first evening' },
    },
    { path: '/bench', component: () => import('./phases/bench/BenchSummary.vue') },
    { path: '/bench/rigs', component: () => import('./phases/bench/RigsView.vue') },
    { path: '/bench/balance', component: () => import('./phases/bench/BalanceView.vue') },
    { path: '/bench/train', component: () => import('./phases/bench/TrainView.vue') },
    { path: '/bench/off-axis', component: () => import('./phases/bench/OffAxisView.vue') },
    { path: '/bench/focuser', component: () => import('./phases/bench/FocuserView.vue') },
    { path: '/bench/cables', component: () => import('./phases/bench/CablesView.vue') },
    { path: '/bench/cards', component: () => import('./phases/bench/CardsView.vue') },
    { path: '/dusk', component: () => import('./phases/dusk/DuskSummary.vue') },
    { path: '/dusk/setup', component: () => import('./phases/dusk/SetupView.vue') },
    { path: '/dusk/guider', component: () => import('./phases/dusk/GuiderView.vue') },
    { path: '/dusk/dither', component: () => import('./phases/dusk/DitherView.vue') },
    { path: '/dusk/pole', component: () => import('./phases/dusk/PoleView.vue') },
    { path: '/morning/guiding', component: () => import('./phases/morning/GuideLogView.vue') },
    { path: '/night', component: () => import('./phases/night/TonightView.vue') },
    { path: '/night/target', component: () => import('./phases/night/TargetView.vue') },
    { path: '/night/exposures', component: () => import('./phases/night/ExposuresView.vue') },
    { path: '/night/plan', component: () => import('./phases/night/PlanView.vue') },
    { path: '/night/moon', component: () => import('./phases/night/MoonView.vue') },
    { path: '/night/run', component: () => import('./phases/night/RunView.vue') },
    {
      path: '/night/live/:id',
      component: () => import('./phases/night/LiveRunView.vue'),
      props: true,
      meta: { title: 'A run that goes on', task: '/night/run' },
    },
    {
      path: '/night/live/:id/quiet',
      component: () => import('./phases/night/QuietRunView.vue'),
      props: true,
      meta: { title: 'A run that goes on', alone: true },
    },
    { path: '/morning', component: () => import('./phases/morning/MorningSummary.vue') },
    { path: '/morning/night', component: () => import('./phases/morning/BringInView.vue') },
    { path: '/morning/frames', component: () => import('./phases/morning/FramesView.vue') },
    { path: '/morning/calibration', component: () => import('./phases/morning/CalibrationView.vue') },
    { path: '/morning/report', component: () => import('./phases/morning/ReportView.vue') },
    { path: '/morning/log', component: () => import('./phases/morning/LogbookView.vue') },
    { path: '/morning/drills', component: () => import('./phases/morning/DrillsView.vue') },
    { path: '/morning/focus', component: () => import('./phases/morning/FocusRunsView.vue') },
    { path: '/season', component: () => import('./phases/season/ProjectsView.vue') },
    { path: '/season/bookings', component: () => import('./phases/season/BookingsView.vue') },
    { path: '/season/ledger', component: () => import('./phases/season/LedgerView.vue') },
    { path: '/season/board', component: () => import('./phases/season/BoardView.vue') },
    { path: '/club', component: () => import('./phases/club/MembersView.vue') },
    { path: '/club/equipment', component: () => import('./phases/club/EquipmentView.vue') },
    { path: '/club/settings', component: () => import('./phases/club/SettingsView.vue') },
    { path: '/club/upkeep', component: () => import('./phases/club/UpkeepView.vue') },
    { path: '/club/sites', component: () => import('./phases/club/SitesView.vue') },
    { path: '/club/changes', component: () => import('./phases/club/ChangesView.vue') },
    { path: '/club/security', component: () => import('./phases/club/SecurityView.vue') },
    { path: '/club/account', component: () => import('./phases/club/AccountView.vue') },
    { path: '/:rest(.*)*', component: () => import('./phases/club/LostView.vue'), meta: { title: 'Not found' } },
  ],
});

const RELOADED = 'keen.reloaded';
/**
 * A screen's chunk could not be had. After an upgrade the open page asks for files that are gone: one reload brings the new
 * ones, and drafts are in the browser. Without a connection, or when that was tried, it is said and the page stays.
 */
router.onError((_error, to, from) => {
  if (navigator.onLine && sessionStorage.getItem(RELOADED) !== to.fullPath) {
    sessionStorage.setItem(RELOADED, to.fullPath);
    location.assign(to.fullPath);
    return;
  }
  void message.error('This screen could not be loaded; what you typed is kept. Try again when the server answers.', 8);
  // a page that has nothing to show yet shows its phase
  const phase = `/${to.path.split('/')[1]}`;
  if (from.matched.length === 0 && to.path !== phase) void router.replace(phase);
});
router.afterEach((_to, _from, failure) => {
  if (!failure) sessionStorage.removeItem(RELOADED);
});

/** Fetches every screen while nothing else is to do: changing between them is instant, also in a field without a signal. */
export function fetchScreens(): void {
  // on a line that is paid by what goes over it nothing is fetched before it is asked for
  if ((navigator as { connection?: { saveData?: boolean } }).connection?.saveData) return;
  const loads: (() => Promise<unknown>)[] = router.getRoutes().flatMap((r) => {
    const c: unknown = r.components?.default;
    return typeof c === 'function' ? [c as () => Promise<unknown>] : [];
  });
  loads.push(() => core().readAhead());
  const next = (): void => {
    const load = loads.shift();
    if (load) void load().then(soon, soon);
  };
  // one after the other, and never in the way of what the person does
  const soon = (): void => void (window.requestIdleCallback?.(next) ?? setTimeout(next, 200));
  soon();
}
