import { api, type PlanRecord, type RunRecord } from '@keen/contract';
import type { Fault } from '@keen/core/observatory';
import { message } from 'ant-design-vue';
import { computed, ref, shallowRef, watch, type Ref } from 'vue';
import { call } from '../../api/client.ts';
import { problemText } from '../../common/outcome.ts';
import { useJob } from '../../common/useJob.ts';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { latestOnly } from '../../common/latestOnly.ts';

/** A run begins so many times as fast as the world; whoever is at the controls changes it. */
const FIRST_SPEED = 60;

/** The runs of one plan: the accepted or newest one is shown, another is rehearsed, one is counted. */
export function useRun(plan: Readonly<Ref<PlanRecord | null>>) {
  const club = useClub();
  const session = useSession();
  const run = shallowRef<RunRecord | null>(null);
  const trouble = ref('');
  const busy = ref(false);
  const seed = ref(1);
  /** What is to go wrong in the next rehearsal. */
  const faults = ref<Fault[]>([]);
  const [ask, found] = [latestOnly(), latestOnly()];
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

  const job = useJob(async (result) => {
    if (result.kind !== 'rehearsal') return;
    await Promise.all([show(result.runId), club.loadPlans()]);
  });
  async function rehearse() {
    const p = plan.value;
    if (!p) return;
    trouble.value = '';
    await job.ask(() =>
      call(api.rehearse, { params: { id: p.id }, body: { seed: seed.value, faults: [...faults.value] } }),
    );
  }
  // one that was asked for before, and left: it went on meanwhile
  watch(
    () => plan.value?.id,
    async (id) => {
      job.leave();
      const late = found();
      if (!id || !mayRun.value) return;
      const got = await call(api.jobs, { query: { count: 20 } });
      if (late() || !got.ok || job.job.value) return;
      const going = got.value.find((j) => j.subjectId === id && j.kind === 'rehearsal' && !j.endedAt);
      if (going) job.take(going);
    },
    { immediate: true },
  );
  /** Is driven by the server from now on, for all to watch. */
  async function begin(bridge: string, wholeFrames: boolean): Promise<string | null> {
    const p = plan.value;
    if (!p) return null;
    trouble.value = '';
    busy.value = true;
    const got = await call(api.startRun, {
      params: { id: p.id },
      body: { seed: seed.value, speed: FIRST_SPEED, bridge, wholeFrames },
    });
    busy.value = false;
    if (got.ok) return got.value.id;
    trouble.value = problemText(got.problem);
    return null;
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
  return {
    run,
    trouble: computed(() => trouble.value || job.trouble.value),
    busy: computed(() => busy.value || job.busy.value),
    job: job.job,
    cancel: job.cancel,
    seed,
    faults,
    mayRun,
    rehearse,
    begin,
    accept,
  };
}
