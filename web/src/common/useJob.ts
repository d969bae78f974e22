import { api, type JobRecord, type JobResult, type JobWithResult } from '@keen/contract';
import { computed, ref, shallowRef, watch, type Ref } from 'vue';
import { call } from '../api/client.ts';
import { useLive } from '../stores/live.ts';
import { problemText, type Outcome } from './outcome.ts';

/** A job of which nothing was heard for so long is asked about: its line may be cut, or its server gone [ms]. */
const ASK_MS = 4000;

/**
 * One job at a time of this screen: asked for, followed, cancelled. It goes on when the screen is left, and is found again by
 * what it is about.
 * @param done  given what came of it, and of which job
 */
export function useJob(done: (result: JobResult, jobId: string) => void) {
  const live = useLive();
  const id = ref('');
  const asking = ref(false);
  const trouble = ref('');
  const here = shallowRef<JobRecord | null>(null);
  const job = computed(() => (id.value ? (live.jobs.get(id.value) ?? here.value) : null));
  const busy = computed(() => asking.value || (job.value !== null && job.value.endedAt === null));
  let timer: ReturnType<typeof setTimeout> | undefined;

  async function look(): Promise<void> {
    const mine = id.value;
    if (!mine) return;
    const got = await call(api.job, { params: { id: mine } });
    if (mine !== id.value) return;
    if (got.ok) {
      here.value = got.value;
      if (got.value.endedAt) return end(got.value);
    } else if (got.problem.code === 'not_found') {
      trouble.value = problemText(got.problem);
      return forget();
    }
    wait();
  }
  function wait(): void {
    clearTimeout(timer);
    timer = setTimeout(() => void look(), ASK_MS);
  }
  function forget(): void {
    clearTimeout(timer);
    [id.value, here.value] = ['', null];
  }
  function end(job: JobWithResult): void {
    forget();
    if (job.problem) trouble.value = problemText(job.problem);
    if (job.result) done(job.result, job.id);
  }
  watch(job, (now, was) => {
    if (!now || now === was) return;
    if (now.endedAt) void look();
    else wait();
  });
  function take(asked: JobRecord): void {
    here.value = asked;
    id.value = asked.id;
    live.follow(asked);
    if (asked.endedAt) void look();
    else wait();
  }
  return {
    job: job as Readonly<Ref<JobRecord | null>>,
    busy,
    trouble,
    async ask(send: () => Promise<Outcome<JobRecord>>): Promise<void> {
      forget();
      asking.value = true;
      trouble.value = '';
      const got = await send();
      asking.value = false;
      if (got.ok) take(got.value);
      else trouble.value = problemText(got.problem);
    },
    /** Goes on with one that was asked for before, on this screen or another. */
    take,
    leave: forget,
    async cancel(): Promise<void> {
      const mine = id.value;
      if (!mine) return;
      const got = await call(api.cancelJob, { params: { id: mine } });
      if (mine !== id.value) return;
      if (!got.ok && got.problem.code !== 'already_done') trouble.value = problemText(got.problem);
      await look();
    },
  };
}
