import { goalKey, pointingOf } from '@keen/core/record';
import type { ProjectRecord } from '@keen/contract';
import { goalLayers, type Leg, type NightPlan, type Template } from '@keen/core/sequence';
import type { TargetOutput } from '@keen/core/sky';
import { useLocalStorage } from '@vueuse/core';
import { computed, ref, watch, type ComputedRef, type Ref } from 'vue';
import { panelsOfProject } from '../../common/records.ts';
import { personalKey } from '../../common/personal.ts';
import { useClub } from '../../stores/club.ts';
import { plainCopy } from '../../workers/index.ts';
import { firstLegs, freeId, legName, TURN_MIN, unplannedGoals } from '@keen/core/sequence';
import type { usePlan } from './usePlan.ts';

const HALF_HOUR_MS = 30 * 60_000;
/** A way of a night as it was kept aside. */
interface KeptWay {
  name: string;
  legs: Leg[];
}
/** Versions of a night kept aside at most, and nights of which any are kept. */
const MOST_WAYS = 8;
const MOST_NIGHTS = 20;
const FREE = { by: 'free', offsetMin: 0 } as const;

/** The legs of a plan in a person’s hands: which is looked at, added, moved, taken out, and the other way beside it. */
export function useLegEditor(
  plan: Pick<ReturnType<typeof usePlan>, 'draft' | 'schedule'>,
  projectId: ComputedRef<string>,
  targets: Readonly<Ref<Map<string, TargetOutput>>>,
) {
  const club = useClub();
  const { draft } = plan;
  const projectOf = (id: string): ProjectRecord | undefined => club.rigProjects.find((p) => p.id === id);
  const which = ref<'A' | 'B'>('A');
  /** The legs that are looked at: the plan’s own, or those of the other way. */
  const legs = computed<Leg[]>(() => (which.value === 'B' && draft.value?.other) || draft.value?.legs || []);
  /** What of the night is looked at: a leg, its opening, its closing or its watches. */
  const part = ref('');
  const leg = computed(() => legs.value.find((l) => l.id === part.value) ?? null);
  watch(
    [legs, projectId],
    ([list, id], was) => {
      const around = ['opening', 'closing', 'watches'].includes(part.value);
      if (id !== was[1] || (!around && !leg.value))
        part.value = (list.find((l) => l.projectId === id) ?? list[0])?.id ?? '';
    },
    { immediate: true },
  );
  /** The leg whose figures are shown while the opening or closing is looked at. */
  const shown = computed(() => leg.value ?? legs.value[0] ?? null);
  const legIndex = computed(() => legs.value.findIndex((l) => l.id === shown.value?.id));
  const shownProject = computed(() => projectOf(shown.value?.projectId ?? '') ?? null);
  const shownTarget = computed(() => (shown.value ? (targets.value.get(goalKey(shown.value)) ?? null) : null));
  const names = computed(() => legs.value.map((l) => legName(l, club.rigProjects)));

  /** Where each leg points: at its panel, where the framing was pinned, or at the object itself. */
  const pointings = computed(() =>
    legs.value.map((l) => {
      const p = projectOf(l.projectId);
      const setup = club.rig?.setup;
      if (!p || !setup) return null;
      return pointingOf<{ raDeg: number; decDeg: number; angleDeg: number }>(p, l.panel, panelsOfProject(p, setup));
    }),
  );

  function compare() {
    const d = draft.value!;
    const b = plainCopy(d.legs);
    for (const { settings: s } of b) {
      s.order = s.order === 'rolling' ? 'block' : 'rolling';
      if (s.order !== 'rolling') s.dither.perRound = false;
    }
    d.other = b;
    which.value = 'B';
  }
  function drop() {
    draft.value!.other = null;
    which.value = 'A';
  }
  function takeB() {
    const d = draft.value!;
    d.legs = plainCopy(d.other!);
    drop();
  }
  /** Ways of this night that were kept aside, to look at beside the plan; in this browser only. */
  const allKept = useLocalStorage<Record<string, KeptWay[]>>(personalKey('ways'), {});
  const nightKey = computed(() => `${club.rig?.id ?? ''}.${club.night}`);
  const kept = computed(() => allKept.value[nightKey.value] ?? []);
  const setKept = (ways: KeptWay[]) => {
    const { [nightKey.value]: _old, ...others } = allKept.value;
    // nights long gone make room
    const newest = Object.entries(others).slice(-MOST_NIGHTS);
    allKept.value = { ...Object.fromEntries(newest), ...(ways.length ? { [nightKey.value]: ways } : {}) };
  };
  function keep(name: string) {
    const plain = name.trim() || `way ${kept.value.length + 1}`;
    setKept(
      [...kept.value.filter((w) => w.name !== plain), { name: plain, legs: plainCopy(legs.value) }].slice(-MOST_WAYS),
    );
  }
  const forget = (name: string) => setKept(kept.value.filter((w) => w.name !== name));
  /** A kept way beside the plan: compared as another way is, and taken like one. */
  function beside(name: string) {
    const way = kept.value.find((w) => w.name === name);
    if (!way || !draft.value) return;
    draft.value.other = plainCopy(way.legs);
    which.value = 'B';
  }
  /** Other legs take the place of those that stand here; undo brings them back. */
  function replace(made: Leg[], more: Partial<NightPlan> = {}) {
    if (made.length === 0) return;
    Object.assign(draft.value!, { ...more, legs: made, other: null });
    which.value = 'A';
    part.value = made[0]!.id;
  }
  function add(id: string, panel: number | null | 'all') {
    const p = projectOf(id);
    const t = p && targets.value.get(typeof panel === 'number' ? goalKey({ projectId: id, panel }) : id);
    if (!p || !t) return;
    // after the last leg, as long as it stands free; in the person’s hands from there
    const ends = plan.schedule.value?.ok ? plan.schedule.value.value.legs.flatMap((l) => l.endMs ?? []) : [];
    const window = t.windows.at(-1);
    const startMs = window ? Math.max(Date.parse(window.start), ...ends) : 0;
    const fits = window && ends.length > 0 && Date.parse(window.end) > startMs + HALF_HOUR_MS;
    const span = { start: new Date(startMs).toISOString(), end: window?.end ?? new Date(startMs).toISOString() };
    const made = firstLegs(legs.value, p, club.offsets, span, panel);
    legs.value.push(...(fits ? made : made.map((l) => ({ ...l, from: FREE, until: FREE }))));
    part.value = made[0]?.id ?? part.value;
  }
  /** Goals of a leg's project that no leg works for: legs of their own beside it, in turns in its hours. */
  function addLengths(id: string) {
    const i = legs.value.findIndex((l) => l.id === id);
    const like = legs.value[i];
    const p = like && projectOf(like.projectId);
    if (!p) return;
    for (const goals of goalLayers(unplannedGoals(legs.value, p, like.panel))) {
      const filters = goals.map((g) => ({ name: g.filter, exposureS: g.exposureS, quota: g.quota }));
      const made = { ...plainCopy(like), id: freeId(legs.value), follower: null, turnMin: like.turnMin ?? TURN_MIN };
      legs.value.splice(i + 1, 0, { ...made, settings: { ...made.settings, filters } });
      like.turnMin = made.turnMin;
      part.value = made.id;
    }
  }
  function takeTemplate(t: Template) {
    const anyHour = { start: `${club.night}T18:00:00Z`, end: `${club.night}T19:00:00Z` };
    replace(
      t.legs.reduce<Leg[]>((made, l) => {
        const p = projectOf(l.projectId);
        const own = p ? firstLegs(made, p, club.offsets, anyHour) : [];
        return [...made, ...own.map((leg) => ({ ...leg, from: l.from, until: l.until }))];
      }, []),
    );
  }
  const takeFile = (read: NightPlan) => replace(plainCopy(read.legs), plainCopy(read));
  function move(id: string, by: -1 | 1) {
    const list = legs.value;
    const i = list.findIndex((l) => l.id === id);
    const j = i + by;
    if (j < 0 || j >= list.length) return;
    [list[i], list[j]] = [list[j]!, list[i]!];
  }
  /** Puts a leg where another stands; those between move up. */
  function reorder(from: number, to: number) {
    const list = legs.value;
    const [leg] = list.splice(from, 1);
    if (leg) list.splice(to, 0, leg);
  }
  function remove(id: string) {
    const list = legs.value;
    if (list.length > 1)
      list.splice(
        list.findIndex((l) => l.id === id),
        1,
      );
  }
  watch(
    () => leg.value?.settings.order,
    (order) => {
      if (order && order !== 'rolling' && leg.value) leg.value.settings.dither.perRound = false;
    },
  );
  return {
    kept,
    keep,
    forget,
    beside,
    which,
    legs,
    part,
    leg,
    shown,
    legIndex,
    shownProject,
    shownTarget,
    names,
    pointings,
    compare,
    drop,
    takeB,
    add,
    addLengths,
    takeTemplate,
    takeFile,
    move,
    reorder,
    remove,
  };
}
