import { api, type Board, type BoardQuestion } from '@keen/contract';
import { useLocalStorage } from '@vueuse/core';
import { computed, ref, shallowRef, watch } from 'vue';
import { atOnce, type AtOnce } from '@keen/core/season';
import { call } from '../../api/client.ts';
import { problemText } from '../../common/outcome.ts';
import { useJob } from '../../common/useJob.ts';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { useClearNights } from './useClearNights.ts';

/** To begin with; a guess without source where the site’s own nights say nothing yet. */
const FIRST = {
  nights: 14,
  slotMinutes: 60,
  switchPenalty: 15,
  minimumBlockSlots: 1,
};
type Lock = BoardQuestion['locked'][number];

/** The coming nights given out: asked for with what is wished, and held beside the board before. */
export function useBoard() {
  const club = useClub();
  const session = useSession();
  const settings = useLocalStorage('keen.board', { ...FIRST }, { mergeDefaults: true });
  const fair = useLocalStorage('keen.board.fair', true);
  const board = shallowRef<Board | null>(null);
  /** What stood before the last wish; null where nothing did. */
  const before = shallowRef<Board | null>(null);
  const weights = ref<Record<string, number>>({});
  const locked = ref<Lock[]>([]);
  /** Hours that the rules gave before are open again. */
  const movesPromises = ref(false);
  /** Of which job a board is: that one is promised. */
  const jobs = new WeakMap<Board, string>();
  const promising = ref(false);
  const promiseTrouble = ref('');
  /** What a wish does at once; null once the search has answered. */
  const quick = shallowRef<AtOnce | null>(null);
  const looked = ref(false);
  const lookTrouble = ref('');
  const job = useJob((result, jobId) => {
    if (result.kind !== 'board') return;
    jobs.set(result.board, jobId);
    take(result.board, board.value);
  });
  function take(found: Board, was: Board | null): void {
    board.value = found;
    quick.value = null;
    before.value = was && sameNights(was, found) ? was : null;
    weights.value = Object.fromEntries(
      found.projects.filter((p) => p.weight !== 1).map((p) => [p.projectId, p.weight]),
    );
    locked.value = found.locked as Lock[];
  }

  const { percent: clearPercent, learntPercent, spells } = useClearNights(computed(() => club.site?.id ?? null));
  const rigIds = computed(() => club.rigs.map((r) => r.id));
  const from = computed(() => club.tonight || null);

  /** @param keeping  what stands is kept as far as it can be */
  async function work(
    wish: { locked?: Lock[]; weights?: Record<string, number> } | null,
    keeping = wish !== null,
  ): Promise<void> {
    if (!from.value) return;
    const { nights, slotMinutes, switchPenalty, minimumBlockSlots } = settings.value;
    await job.ask(() =>
      call(api.workOutBoard, {
        body: {
          nights,
          slotMinutes,
          switchPenalty,
          minimumBlockSlots,
          from: from.value!,
          clearFraction: clearPercent.value / 100,
          // left out it is the club’s rule
          ...(fair.value && !session.alone ? {} : { fairDays: null }),
          rigIds: rigIds.value,
          weights: wish?.weights ?? weights.value,
          locked: wish ? (wish.locked ?? locked.value) : [],
          standing: keeping ? standing() : [],
          movesPromises: movesPromises.value,
        },
      }),
    );
  }
  const standing = (): Lock[] =>
    (board.value?.slots ?? []).flatMap((s) => (s.projectId ? [{ slot: s.id, project: s.projectId }] : []));
  const others = (slot: string) => locked.value.filter((l) => l.slot !== slot);

  /** The newest one that was worked out, on this screen or another, or is being worked out. */
  async function look(): Promise<void> {
    const id = session.member?.id;
    [looked.value, lookTrouble.value] = [false, ''];
    if (!id) return;
    const got = await call(api.jobs, { query: { count: 50 } });
    if (id !== session.member?.id) return;
    const own = got.ok ? got.value.filter((j) => j.kind === 'board') : [];
    const going = own.find((j) => !j.endedAt);
    if (going && !job.job.value) job.take(going);
    const done = own.find((j) => j.state === 'done');
    const found = done && (await call(api.job, { params: { id: done.id } }));
    if (id !== session.member?.id) return;
    if (!got.ok) lookTrouble.value = problemText(got.problem);
    else if (found && !found.ok) lookTrouble.value = problemText(found.problem);
    else looked.value = true;
    if (found?.ok && found.value.result?.kind === 'board' && !board.value) {
      jobs.set(found.value.result.board, found.value.id);
      take(found.value.result.board, null);
    }
  }
  watch(
    () => session.member?.id,
    () => {
      board.value = before.value = null;
      job.leave();
      void look();
    },
    { immediate: true },
  );

  /** Promises what the board gives up to a night, and works the rest out anew. @returns how many stretches */
  async function promise(until: string): Promise<number | null> {
    const jobId = board.value && jobs.get(board.value);
    if (!jobId) return null;
    promising.value = true;
    const got = await call(api.promise, { body: { jobId, until } });
    promising.value = false;
    promiseTrouble.value = got.ok ? '' : problemText(got.problem);
    if (!got.ok) return null;
    movesPromises.value = false;
    await work(null);
    return got.value.length;
  }

  return {
    movesPromises,
    promise,
    promiseTrouble,
    promising,
    settings,
    fair,
    board,
    before,
    locked,
    looked,
    lookTrouble,
    look,
    clearPercent,
    learntPercent,
    spells,
    job: job.job,
    busy: job.busy,
    trouble: job.trouble,
    cancel: job.cancel,
    work: () => work(null),
    /** The wishes stand, everything else is open. */
    openAll: () => work({}, false),
    give: async (slot: string, project: string) => {
      quick.value = board.value && atOnce(board.value, { slot, project });
      await work({ locked: [...others(slot), { slot, project }] });
    },
    quick,
    /** What giving a slot to a project would do, before it is done. */
    preview: (slot: string, project: string) => board.value && atOnce(board.value, { slot, project }),
    release: (slot: string) => work({ locked: others(slot) }),
    weigh: (project: string, weight: number) => work({ weights: { ...weights.value, [project]: weight } }),
    /** Back to what stood before the last wish. */
    undo: () => {
      const was = before.value;
      if (was) take(was, null);
    },
  };
}

/** Two boards can be held beside each other where they are of the same hours. */
const sameNights = (a: Board, b: Board): boolean =>
  a.slots.length === b.slots.length && a.slots.every((s, i) => s.id === b.slots[i]!.id);
