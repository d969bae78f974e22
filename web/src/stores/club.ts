import { questions } from '../api/questions.ts';
import {
  api,
  type OffsetSetRecord,
  type PlanRecord,
  type ProjectRecord,
  type RigRecord,
  type SiteRecord,
  type SystemState,
} from '@keen/contract';
import { viewOf, type RigBuild, type RigSetup } from '@keen/core/rig';
import { addDays, eveningDate } from '@keen/core/sky';
import { useIntervalFn } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import { z } from 'zod';
import { call, callAll } from '../api/client.ts';
import { problemText } from '../common/outcome.ts';
import { useAnswer } from '../common/answer.ts';
import { Texts, useStored } from '../common/stored.ts';

/** A rig as it is looked at: through one of its systems. */
export interface RigView extends Omit<RigRecord, 'setup'> {
  /** Everything the rig is; `setup` is what one system sees of it. */
  build: RigBuild;
  setup: RigSetup;
  system: SystemState;
  trainStateId: string;
  words: string;
}
export function rigView(record: RigRecord, key?: string): RigView {
  const system = record.systems.find((s) => s.key === key) ?? record.systems[0]!;
  const { setup: build, ...rest } = record;
  return {
    ...rest,
    build,
    setup: viewOf(build, system.key),
    system,
    trainStateId: system.trainStateId,
    words: system.words,
  };
}

/** What every screen shares: the club's records, and which site, rig and night are being looked at. */
export const useClub = defineStore('club', () => {
  const sites = shallowRef<SiteRecord[]>([]);
  const records = shallowRef<RigRecord[]>([]);
  const projects = shallowRef<ProjectRecord[]>([]);
  const plans = shallowRef<PlanRecord[]>([]);
  const loaded = ref(false);
  /** Records that never came: no screen claims anything without them. */
  const missing = ref<string[]>([]);
  const trouble = ref('');
  const rigId = useStored('keen.rig', z.string(), '');
  /** Which system of a rig is looked at, by rig. */
  const systemKeys = useStored('keen.systems', Texts, {});
  const rigs = computed(() => records.value.map((r) => rigView(r, systemKeys.value[r.id])));
  /** Evening date chosen by hand; empty: tonight at the site. */
  const chosenNight = ref('');
  const now = ref(Date.now());
  useIntervalFn(() => (now.value = Date.now()), 30_000);

  const rig = computed(() => rigs.value.find((r) => r.id === rigId.value) ?? rigs.value[0] ?? null);
  const site = computed(() => sites.value.find((s) => s.id === rig.value?.siteId) ?? sites.value[0] ?? null);
  const tonight = computed(() => (site.value ? eveningDate(site.value.timeZone, now.value) : ''));
  const night = computed(() => chosenNight.value || tonight.value);
  /** What is offered for tonight begins here, to the next whole minute [ms]; null where another night is looked at. */
  const nightNow = computed(() => (night.value === tonight.value ? Math.ceil(now.value / 60_000) * 60_000 : null));
  const rigProjects = computed(() =>
    projects.value.filter((p) => p.rigId === rig.value?.id && p.system === rig.value.system.key && !p.archived),
  );
  /** Offset sets of the rig's present train state, newest first. */
  const offsetsAnswer = useAnswer('The focus offsets', () =>
    rig.value ? questions.offsetSets(rig.value.trainStateId) : null,
  );
  const offsetSets = computed<OffsetSetRecord[]>({
    get: () => offsetsAnswer.value.value ?? [],
    set: offsetsAnswer.put,
  });
  /** Offsets in force for the rig's present train state; null too while they are not there. */
  const offsets = computed(() => offsetSets.value[0] ?? null);
  const nightPlans = computed(() => plans.value.filter((p) => p.night === night.value));

  /** Counts who sat here: what was asked for by the one before is not kept when it comes. */
  let sitting = 0;
  type Got<T> = { ok: true; value: T } | { ok: false; problem: Parameters<typeof problemText>[0] };
  async function read<T>(target: { value: T }, answer: Promise<Got<T>>): Promise<boolean> {
    const person = sitting;
    const got = await answer;
    if (person !== sitting) return false;
    if (got.ok) target.value = got.value;
    else trouble.value = problemText(got.problem);
    return got.ok;
  }
  const loadRigs = () => read(records, call(api.rigs));
  const loadSites = () => read(sites, call(api.sites));
  const loadProjects = () => read(projects, callAll(api.projects));
  /** The newest page of them: older nights are looked at under Morning. */
  const loadPlans = () => read(plans, call(api.plans));
  /** A record as the server just gave it: in its old place, or as a new one. */
  function put<T extends { id: string }>(list: { value: T[] }, record: T): void {
    const there = list.value.some((r) => r.id === record.id);
    list.value = there ? list.value.map((r) => (r.id === record.id ? record : r)) : [...list.value, record];
  }
  function putRig(record: RigRecord): void {
    put(records, record);
    records.value = [...records.value].sort((a, b) => a.name.localeCompare(b.name));
  }
  const putSite = (record: SiteRecord) => put(sites, record);
  const putProject = (record: ProjectRecord) => put(projects, record);
  /** The plan just saved comes first: the list is newest first. */
  const putPlan = (record: PlanRecord) => {
    plans.value = [record, ...plans.value.filter((p) => p.id !== record.id)];
  };
  /** Looks at a rig, or at one of its systems. */
  function selectRig(id: string, system?: string): void {
    rigId.value = id;
    if (system) systemKeys.value = { ...systemKeys.value, [id]: system };
  }
  const loadOffsets = offsetsAnswer.load;
  /** Another person sits here: nothing of the one before is shown, also where their own records fail to come. */
  function forget(): void {
    sitting++;
    [sites.value, records.value, projects.value, plans.value] = [[], [], [], []];
    [loaded.value, missing.value, trouble.value, chosenNight.value] = [false, [], '', ''];
  }
  async function load() {
    trouble.value = '';
    const person = sitting;
    const came = await Promise.all([loadSites(), loadRigs(), loadProjects(), loadPlans()]);
    if (person !== sitting) return;
    const known = ['sites', 'rigs', 'projects', 'plans'];
    // what came once is still there when a second reading fails
    missing.value = known.filter((k, i) => !came[i] && (!loaded.value || missing.value.includes(k)));
    await loadOffsets();
    loaded.value = true;
  }
  function stepNight(days: number) {
    const next = addDays(night.value, days);
    chosenNight.value = next === tonight.value ? '' : next;
  }
  /** Looks at one night. */
  const goToNight = (date: string) => void (chosenNight.value = date === tonight.value ? '' : date);
  return {
    sites,
    records,
    rigs,
    projects,
    plans,
    offsetSets,
    offsetsAnswer,
    loaded,
    missing,
    trouble,
    rigId,
    chosenNight,
    now,
    rig,
    site,
    tonight,
    night,
    nightNow,
    rigProjects,
    offsets,
    nightPlans,
    load,
    forget,
    loadRigs,
    loadSites,
    loadProjects,
    loadPlans,
    loadOffsets,
    stepNight,
    goToNight,
    putRig,
    putSite,
    putProject,
    putPlan,
    selectRig,
  };
});
