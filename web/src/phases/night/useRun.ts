import { api, type PlanRecord, type RunRecord } from '@keen/contract';
import { message } from 'ant-design-vue';
import { computed, ref, shallowRef, watch, type Ref } from 'vue';
import { call } from '../../api/client.ts';
import { problemText } from '../../common/outcome.ts';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { latestOnly } from '../../common/latestOnly.ts';

/** The runs of one plan: the accepted or newest one is shown, another is rehearsed, one is counted. */
export function useRun(plan: Readonly<Ref<PlanRecord | null>>) {
  const club = useClub();
  const session = useSession();
  const run = shallowRef<RunRecord | null>(null);
  const trouble = ref('');
  const busy = ref(false);
  const seed = ref(1);
  const ask = latestOnly();
  async function show(id: string | undefined) {
    const late = ask();
    trouble.value = '';
    if (!id) {
      run.value = null;
      return;
    }
    const got = await call(api.run, { params: { id } });
    if (late()) return;
    if (got.ok) run.value = got.value;
    else trouble.value = problemText(got.problem);
  }
  watch(
    plan,
    (p, was) => {
      if (!p || (p.id === was?.id && run.value?.planId === p.id)) return;
      run.value = null;
      void show((p.runs.find((r) => r.state === 'accepted') ?? p.runs[0])?.id);
    },
    { immediate: true },
  );
  /** Rehearsing and accepting are for who planned it, and for stewards. */
  const mayRun = computed(() => session.mayEdit && (session.isSteward || plan.value?.ownerId === session.member?.id));

  async function rehearse() {
    const p = plan.value;
    if (!p) return;
    busy.value = true;
    trouble.value = '';
    const got = await call(api.rehearse, { params: { id: p.id }, body: { seed: seed.value } });
    busy.value = false;
    if (!got.ok) {
      trouble.value = problemText(got.problem);
      return;
    }
    run.value = got.value;
    await club.loadPlans();
  }
  async function accept() {
    const r = run.value;
    if (!r) return;
    busy.value = true;
    const got = await call(api.acceptRun, { params: { id: r.id } });
    busy.value = false;
    if (!got.ok) {
      trouble.value = problemText(got.problem);
      return;
    }
    run.value = got.value;
    void message.success('Counted. The project’s progress and the focus runs are up to date.');
    await Promise.all([club.loadProjects(), club.loadPlans(), club.loadOffsets()]);
  }
  return { run, trouble, busy, seed, mayRun, rehearse, accept };
}
