import { api, type OffsetSetRecord, type PlanRecord, type ProjectRecord } from '@keen/contract';
import { InvalidInput, parseInput } from '@keen/core';
import {
  planHolds,
  timeline,
  TimelineInput,
  timelineInputOf,
  type PlanSettings,
  type TimelineOutput,
} from '@keen/core/sequence';
import type { TargetOutput } from '@keen/core/sky';
import { computed, type ComputedRef } from 'vue';
import { call } from '../../api/client.ts';
import { useDraft } from '../../common/draft.ts';
import { useSaving } from '../../common/savedDraft.ts';
import { useClub, type RigView } from '../../stores/club.ts';
import { plainCopy } from '../../workers/index.ts';

export interface PlanDraft {
  start: string;
  end: string;
  locked: boolean;
  settings: PlanSettings;
  /** A second way, for comparing; only the first is saved. */
  other: PlanSettings | null;
}
export type Laid = { ok: true; value: TimelineOutput } | { ok: false; message: string };

const minute = (iso: string) => new Date(Math.round(Date.parse(iso) / 60_000) * 60_000).toISOString();

/**
 * What a careful person would begin with: all goals, lagging once something is there, offsets where they are adopted. Without
 * offsets every change costs a focus run, so one filter after the other; with one filter the clock says when to focus.
 */
export function firstSettings(project: ProjectRecord, offsets: OffsetSetRecord | null): PlanSettings {
  const covered = offsets !== null && project.goals.every((g) => g.filter in offsets.offsets);
  const begun = Object.values(project.done).some((n) => n > 0);
  const one = project.goals.length === 1;
  const everyC = refocusEveryC(offsets);
  return {
    filters: project.goals.map((g) => ({ name: g.filter, exposureS: g.exposureS, quota: g.quota })),
    order: begun ? 'lagging' : covered || one ? 'rolling' : 'block',
    dither: { everyFrames: 2, perRound: false },
    focus: covered
      ? { policy: 'offsets', everyMin: 90, ...(everyC === null ? {} : { everyC: Math.round(everyC * 10) / 10 }) }
      : one
        ? { policy: 'every-change-and-time', everyMin: 60 }
        : { policy: 'every-change' },
    coolingCPerHour: 1,
  };
}

/** Largest change of temperature that stays inside half the critical zone [°C]. */
export const refocusEveryC = (o: OffsetSetRecord | null): number | null =>
  o?.zoneSteps && o.temperatureStepsPerC ? Math.max(0.1, o.zoneSteps / 2 / Math.abs(o.temperatureStepsPerC)) : null;

/** Longest stretch of a window that no other plan holds. */
function freeSpan(t: TargetOutput, taken: readonly PlanRecord[]): { start: string; end: string } | null {
  let best: [number, number] | null = null;
  for (const w of t.windows) {
    let cursor = Date.parse(w.start);
    const end = Date.parse(w.end);
    const inside = taken.map((p) => [Date.parse(p.start), Date.parse(p.end)] as const).sort((a, b) => a[0] - b[0]);
    for (const [a, b] of [...inside, [end, end] as const]) {
      const stop = Math.min(end, a);
      if (stop > cursor && (!best || stop - cursor > best[1] - best[0])) best = [cursor, stop];
      cursor = Math.max(cursor, b);
    }
  }
  return best && { start: new Date(best[0]).toISOString(), end: new Date(best[1]).toISOString() };
}

/** What of a saved plan is edited. */
export const planDraftOf = ({ start, end, locked, settings }: PlanRecord): PlanDraft => ({
  start,
  end,
  locked,
  settings,
  other: null,
});

/** One project's plan for the chosen night: the saved one or a first proposal, laid out live. */
export function usePlan(
  project: ComputedRef<ProjectRecord | null>,
  target: ComputedRef<TargetOutput | null>,
  plans: ComputedRef<PlanRecord[]>,
  suggestion: ComputedRef<{ start: string; end: string } | null>,
) {
  const club = useClub();
  const existing = computed(
    () => plans.value.find((p) => p.projectId === project.value?.id && p.status === 'planned') ?? null,
  );
  const others = computed(() => plans.value.filter((p) => p.id !== existing.value?.id));
  const proposal = computed(() => suggestion.value ?? (target.value ? freeSpan(target.value, others.value) : null));

  const kept = useDraft<PlanDraft>(
    () => `plan.${club.rig?.id ?? ''}.${club.night}.${project.value?.id ?? ''}`,
    () => {
      if (existing.value) {
        return { value: planDraftOf(existing.value), version: existing.value.version };
      }
      if (!project.value || !proposal.value) return null;
      const { start, end } = proposal.value;
      return {
        value: {
          start: minute(start),
          end: minute(end),
          locked: false,
          settings: firstSettings(project.value, club.offsets),
          other: null,
        },
        version: 0,
      };
    },
  );
  const flipAt = computed(() => {
    const [d, flip] = [kept.draft.value, target.value?.flip];
    return d && flip && flip > d.start && flip < d.end ? flip : null;
  });
  function laidOut(settings: PlanSettings, rig: RigView, p: ProjectRecord, d: PlanDraft): Laid {
    try {
      const input = timelineInputOf({
        settings: plainCopy(settings),
        start: d.start,
        end: d.end,
        flipAt: flipAt.value,
        overheads: rig.setup.overheads,
        done: p.done,
      });
      return { ok: true, value: timeline(parseInput(TimelineInput, input)) };
    } catch (e) {
      if (e instanceof InvalidInput) return { ok: false, message: e.message };
      throw e;
    }
  }
  const laid = computed(() => {
    const [d, rig, p] = [kept.draft.value, club.rig, project.value];
    return d && rig && p ? laidOut(d.settings, rig, p, d) : null;
  });
  const laidOther = computed(() => {
    const [d, rig, p] = [kept.draft.value, club.rig, project.value];
    return d?.other && rig && p ? laidOut(d.other, rig, p, d) : null;
  });

  const saving = useSaving<PlanRecord>(
    kept,
    (version) => {
      const d = kept.draft.value!;
      const body = {
        projectId: project.value!.id,
        rigId: club.rig!.id,
        night: club.night,
        start: d.start,
        end: d.end,
        flipAt: flipAt.value,
        settings: plainCopy(d.settings),
        locked: d.locked,
      };
      return existing.value
        ? call(api.changePlan, { params: { id: existing.value.id }, body: { ...body, version } })
        : call(api.addPlan, { body });
    },
    club.putPlan,
    () => 'Plan saved.',
  );
  /** What the saved plan was made for and no longer is. */
  const stale = computed(() => {
    const [p, rig] = [existing.value, club.rig];
    if (!p || !rig) return [];
    return planHolds(p.madeFor, { aspects: rig.system.aspects, offsetSetId: club.offsets?.id ?? null }, p.settings);
  });
  return { ...kept, saving, existing, stale, others, flipAt, laid, laidOther };
}
