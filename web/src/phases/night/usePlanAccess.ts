import type { PlanRecord } from '@keen/contract';
import { PlanField } from '@keen/core/sequence';
import { computed, type Ref } from 'vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { begunFrom, FIELD_WORDS } from './planLocks.ts';
import type { usePlan } from './usePlan.ts';

type Plan = Pick<ReturnType<typeof usePlan>, 'draft' | 'existing'>;

/** Who may change what of a plan: whose it is, what a steward closed, and which protected plans one may begin from. */
export function usePlanAccess({ draft, existing }: Plan, of: { projectId: Ref<string>; zone: Ref<string> }) {
  const club = useClub();
  const session = useSession();
  const locked = computed(() => existing.value?.locked === true && !session.isSteward);
  const notMine = computed(
    () => existing.value !== null && !session.isSteward && existing.value.ownerId !== session.member?.id,
  );
  /** The protected plan this one is being made from. */
  const pattern = computed<PlanRecord | null>(() => club.plans.find((p) => p.id === draft.value?.fromPlanId) ?? null);
  const locks = computed(() => existing.value?.locks ?? pattern.value?.locks ?? []);
  const closedFields = computed<ReadonlySet<PlanField>>(
    () => new Set(session.isSteward ? [] : locks.value.map((l) => l.field)),
  );
  /** Plans of this rig that members may begin with. */
  const patterns = computed(() =>
    existing.value ? [] : club.plans.filter((p) => p.rigId === club.rig?.id && p.locks.length > 0),
  );
  /** Takes a protected plan over to this night. @returns its first leg, where there is such a plan */
  function beginFrom(id: string): string | null {
    const source = patterns.value.find((p) => p.id === id);
    if (!source) return null;
    draft.value = begunFrom(source, club.night, of.zone.value, of.projectId.value);
    return draft.value.legs[0]!.id;
  }
  const openWords = computed(() =>
    PlanField.options
      .filter((f) => !closedFields.value.has(f))
      .map((f) => FIELD_WORDS[f].label.toLowerCase())
      .join(', '),
  );
  const off = computed(() => !session.mayEdit || locked.value || notMine.value);
  /** Why nothing can be changed; nothing where it can. */
  const closed = computed(() => {
    if (!session.mayEdit) return 'Guests may look, not change.';
    if (locked.value) return `Locked by ${existing.value!.updatedBy}, a steward. Ask there to have it opened.`;
    if (notMine.value) return `${existing.value!.owner}’s plan; only the owner or a steward may change it.`;
    return undefined;
  });
  return { locks, closedFields, patterns, beginFrom, openWords, off, closed };
}
