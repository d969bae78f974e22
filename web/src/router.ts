import { createRouter, createWebHistory } from 'vue-router';

/** One chunk a screen. */
export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', redirect: '/night' },
    { path: '/sign-in', component: () => import('./phases/club/SignIn.vue'), meta: { open: true } },
    { path: '/bench', component: () => import('./phases/bench/BenchSummary.vue') },
    { path: '/bench/rigs', component: () => import('./phases/bench/RigsView.vue') },
    { path: '/bench/balance', component: () => import('./phases/bench/BalanceView.vue') },
    { path: '/bench/train', component: () => import('./phases/bench/TrainView.vue') },
    { path: '/bench/off-axis', component: () => import('./phases/bench/OffAxisView.vue') },
    { path: '/bench/focuser', component: () => import('./phases/bench/FocuserView.vue') },
    { path: '/bench/cards', component: () => import('./phases/bench/CardsView.vue') },
    { path: '/dusk', component: () => import('./phases/dusk/DuskSummary.vue') },
    { path: '/dusk/pole', component: () => import('./phases/dusk/PoleView.vue') },
    { path: '/morning/guiding', component: () => import('./phases/morning/GuideLogView.vue') },
    { path: '/night', component: () => import('./phases/night/TonightView.vue') },
    { path: '/night/plan', component: () => import('./phases/night/PlanView.vue') },
    { path: '/night/run', component: () => import('./phases/night/RunView.vue') },
    { path: '/morning', component: () => import('./phases/morning/MorningSummary.vue') },
    { path: '/morning/focus', component: () => import('./phases/morning/FocusRunsView.vue') },
    { path: '/season', component: () => import('./phases/season/ProjectsView.vue') },
    { path: '/club', component: () => import('./phases/club/MembersView.vue') },
    { path: '/club/equipment', component: () => import('./phases/club/EquipmentView.vue') },
    { path: '/club/sites', component: () => import('./phases/club/SitesView.vue') },
    { path: '/club/changes', component: () => import('./phases/club/ChangesView.vue') },
    { path: '/:rest(.*)*', component: () => import('./phases/club/LostView.vue') },
  ],
});
