import { api, type PlanRecord, type ProjectRecord } from '@keen/contract';
import {
  planHolds,
  USUAL_WATCHES,
  usualClosing,
  usualOpening,
  type ClosingStep,
  type Leg,
  type OpeningStep,
  type PlanLock,
  type Watches,
} from '@keen/core/sequence';
import type { NightOutput, TargetOutput } from '@keen/core/sky';
import { computed, type ComputedRef, type Ref } from 'vue';
import { call } from '../../api/client.ts';
import { useDraft } from '../../common/draft.ts';
import { worksFor } from '../../common/records.ts';
import { useSaving } from '../../common/savedDraft.ts';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { plainCopy } from '../../workers/index.ts';
import { firstLegs, freeSpan } from '@keen/core/sequence';
import { followerFacts, schedulePlan, type Laid, type NightAtHand } from './schedulePlan.ts';

export interface PlanDraft {
  opening: OpeningStep[];
  legs: Leg[];
  closing: ClosingStep[];
  watches: Watches;
  locked: boolean;
  /** Fields closed to members. */
  locks: PlanLock[];
  /** The protected plan a new one is made from. */
  fromPlanId: string | null;
  /** The legs another way, for comparing; only the first is saved. */
  other: Leg[] | null;
}

/** A draft kept by an earlier version, with what legs and watches have had since. */
const complete = (d: PlanDraft): PlanDraft => {
  const leg = (l: Leg): Leg => ({
    ...l,
    panel: l.panel ?? null,
    turnMin: l.turnMin ?? null,
    centreWithinArcmin: l.centreWithinArcmin ?? 0.5,
    follower: l.follower ? { ...l.follower, waitedFor: l.follower.waitedFor ?? false } : null,
  });
  const watches = { ...USUAL_WATCHES, ...d.watches };
  return { ...d, watches, legs: d.legs.map(leg), other: d.other?.map(leg) ?? null };
};

/** What of a saved plan is edited. */
export const planDraftOf = ({ opening, legs, closing, watches, locked, locks }: PlanRecord): PlanDraft => ({
  opening,
  legs: legs.map(({ projectName: _n, object: _o, start: _s, end: _e, flipAt: _f, ...leg }) => leg),
  closing,
  watches,
  locked,
  locks: locks.map(({ field, reason }) => ({ field, reason })),
  fromPlanId: null,
  other: null,
});

/** The plan of the chosen night that works for one project: the saved one or a first proposal, laid out live. */
export function usePlan(
  project: ComputedRef<ProjectRecord | null>,
  at: {
    night: Readonly<Ref<NightOutput | null>>;
    targets: Readonly<Ref<Map<string, TargetOutput>>>;
    plans: ComputedRef<PlanRecord[]>;
    /** Hours of other members. */
    booked: ComputedRef<readonly { start: string; end: string }[]>;
    suggestion: ComputedRef<{ start: string; end: string } | null>;
    /** From when the rig can be at work [ms]. */
    readyMs: ComputedRef<number>;
  },
) {
  const session = useSession();
  const club = useClub();
  const { plans } = at;
  const existing = computed(() => {
    const p = project.value;
    return (p && plans.value.find((q) => worksFor(q, p.id) && q.status === 'planned')) ?? null;
  });
  const others = computed(() => plans.value.filter((p) => p.id !== existing.value?.id));
  const proposal = computed(() => {
    const target = at.targets.value.get(project.value?.id ?? '');
    return (
      at.suggestion.value ?? (target ? freeSpan(target, [...others.value, ...at.booked.value], at.readyMs.value) : null)
    );
  });

  const kept = useDraft<PlanDraft>(
    // a new plan keeps its draft when it is saved: it is called by its first leg from the beginning
    () => `night.${club.rig?.id ?? ''}.${club.night}.${existing.value?.legs[0]!.projectId ?? project.value?.id ?? ''}`,
    () => {
      if (existing.value) return { value: planDraftOf(existing.value), version: existing.value.version };
      const [p, span, rig] = [project.value, proposal.value, club.rig];
      // a first proposal rests on whether there are offsets
      if (!p || !span || !rig || !club.offsetsAnswer.there.value) return null;
      // whoever shares the night with others finds the rig open, and leaves it so
      const alone = others.value.length === 0;
      return {
        value: {
          opening: alone ? usualOpening(rig.setup.overheads.autofocusS) : [],
          legs: firstLegs([], p, club.offsets, span),
          closing: alone ? usualClosing() : [],
          watches: plainCopy(session.settings.watches),
          locked: false,
          locks: [],
          fromPlanId: null,
          other: null,
        },
        version: 0,
      };
    },
    complete,
  );
  const atHand = computed<NightAtHand | null>(() =>
    at.night.value && club.rig
      ? {
          night: at.night.value,
          targets: at.targets.value,
          projects: club.rigProjects,
          overheads: club.rig.setup.overheads,
          followerOf: followerFacts(club),
        }
      : null,
  );
  /** What is saved stands as it was saved; what is new or changed begins now, as the server will have it. */
  const fromNow = computed(() =>
    club.nightNow === null || (existing.value && !kept.dirty.value) ? undefined : club.nightNow,
  );
  /** A saved plan of tonight whose beginning has passed without a run. */
  const late = computed(() => {
    const p = existing.value;
    return (
      p !== null &&
      club.nightNow !== null &&
      p.runs.length === 0 &&
      Date.parse(p.start) < club.nightNow - 60_000 &&
      Date.parse(p.end) > club.nightNow
    );
  });
  const layout = (legs: Leg[] | null | undefined): Laid | null => {
    const [d, all] = [kept.draft.value, atHand.value];
    return d && legs && all ? schedulePlan({ ...d, legs }, { ...all, nowMs: fromNow.value }) : null;
  };
  const schedule = computed(() => layout(kept.draft.value?.legs));
  const scheduleOther = computed(() => layout(kept.draft.value?.other));

  /** The plan as it would be sent now. */
  function sent() {
    const { opening, legs, closing, watches, locked, locks } = plainCopy(kept.draft.value!);
    return { rigId: club.rig!.id, night: club.night, opening, legs, closing, watches, locked, locks };
  }
  const saving = useSaving<PlanRecord>(
    kept,
    (version) => {
      const [body, { fromPlanId }] = [sent(), kept.draft.value!];
      return existing.value
        ? call(api.changePlan, { params: { id: existing.value.id }, body: { ...body, version } })
        : call(api.addPlan, { body: { ...body, fromPlanId } });
    },
    club.putPlan,
    () => 'Plan saved.',
  );
  /** What the saved plan was made for and no longer is. */
  const stale = computed(() => {
    const [p, rig] = [existing.value, club.rig];
    if (!p || !rig) return [];
    return planHolds(p.madeFor, { aspects: rig.system.aspects, offsetSetId: club.offsets?.id ?? null }, p.legs);
  });
  return { ...kept, sent, saving, existing, late, stale, others, schedule, scheduleOther, layout };
}
