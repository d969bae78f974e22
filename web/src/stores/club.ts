import {
  api,
  type OffsetSetRecord,
  type PlanRecord,
  type ProjectRecord,
  type RigRecord,
  type SiteRecord,
} from '@keen/contract';
import { addDays, eveningDate } from '@keen/core/sky';
import { useLocalStorage } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import { call, said } from '../api/client.ts';

/** What every screen shares: the club's records, and which site, rig and night are being looked at. */
export const useClub = defineStore('club', () => {
  const sites = shallowRef<SiteRecord[]>([]);
  const rigs = shallowRef<RigRecord[]>([]);
  const projects = shallowRef<ProjectRecord[]>([]);
  const plans = shallowRef<PlanRecord[]>([]);
  const offsetSets = shallowRef<OffsetSetRecord[]>([]);
  const loaded = ref(false);
  const trouble = ref('');
  const rigId = useLocalStorage('keen.rig', '');
  /** Evening date chosen by hand; empty: tonight at the site. */
  const chosenNight = ref('');
  const now = ref(Date.now());
  setInterval(() => (now.value = Date.now()), 30_000);

  const rig = computed(() => rigs.value.find((r) => r.id === rigId.value) ?? rigs.value[0] ?? null);
  const site = computed(() => sites.value.find((s) => s.id === rig.value?.siteId) ?? sites.value[0] ?? null);
  const tonight = computed(() => (site.value ? eveningDate(site.value.timeZone, now.value) : ''));
  const night = computed(() => chosenNight.value || tonight.value);
  const rigProjects = computed(() => projects.value.filter((p) => p.rigId === rig.value?.id && !p.archived));
  /** Offsets in force for the rig's present train state. */
  const offsets = computed(() => offsetSets.value[0] ?? null);
  const nightPlans = computed(() => plans.value.filter((p) => p.night === night.value));

  const keep = <T>(
    target: { value: T },
    got: { ok: true; value: T } | { ok: false; problem: Parameters<typeof said>[0] },
  ) => {
    if (got.ok) target.value = got.value;
    else trouble.value = said(got.problem);
    return got.ok;
  };
  const loadRigs = async () => keep(rigs, await call(api.rigs));
  const loadSites = async () => keep(sites, await call(api.sites));
  const loadProjects = async () => keep(projects, await call(api.projects));
  const loadPlans = async () => keep(plans, await call(api.plans, { query: {} }));
  let turn = 0;
  async function loadOffsets() {
    const mine = ++turn;
    const state = rig.value?.trainStateId;
    if (!state) return;
    const got = await call(api.offsetSets, { query: { trainStateId: state } });
    if (mine === turn && got.ok) offsetSets.value = got.value;
  }
  async function load() {
    trouble.value = '';
    await Promise.all([loadSites(), loadRigs(), loadProjects(), loadPlans()]);
    await loadOffsets();
    loaded.value = true;
  }
  function stepNight(days: number) {
    const next = addDays(night.value, days);
    chosenNight.value = next === tonight.value ? '' : next;
  }
  watch(
    () => rig.value?.trainStateId,
    () => {
      offsetSets.value = [];
      void loadOffsets();
    },
  );
  return {
    sites, rigs, projects, plans, offsetSets, loaded, trouble, rigId, chosenNight, now,
    rig, site, tonight, night, rigProjects, offsets, nightPlans,
    load, loadRigs, loadSites, loadProjects, loadPlans, loadOffsets, stepNight,
  }; // prettier-ignore
});
