import { api, type FrameRecord } from '@keen/contract';
import { words } from '@keen/core/phrases';
import { byHand } from '@keen/core/record';
import { computed, ref, watch, type ComputedRef, type Ref } from 'vue';
import { call } from '../../api/client.ts';
import { problemText } from '../../common/outcome.ts';
import type { FrameRow } from './frameRow.ts';

/** What is said of frames. */
type Word = Pick<FrameRecord, 'accepted' | 'reason' | 'refusal' | 'judged'>;
interface Step {
  /** Frames by what was said of each before. */
  before: { ids: string[]; word: Word }[];
  after: { ids: string[]; word: Word };
}

/** Frames accepted and refused, one or many at once; each step can be taken back and made again. */
export function useJudging({
  changeFrames,
  rows,
  nightId,
  trouble,
}: {
  changeFrames: (changed: (f: FrameRecord) => FrameRecord) => void;
  rows: ComputedRef<FrameRow[]>;
  nightId: Ref<string>;
  trouble: Ref<string>;
}) {
  const steps = ref<Step[]>([]);
  const undone = ref<Step[]>([]);
  async function send(ids: readonly string[], word: Word): Promise<boolean> {
    const got = await call(api.judgeFrames, { params: { id: nightId.value }, body: { frames: [...ids], ...word } });
    if (!got.ok) {
      trouble.value = problemText(got.problem);
      return false;
    }
    const changed = new Map(got.value.map((g) => [g.id, g]));
    changeFrames((f) => changed.get(f.id) ?? f);
    return true;
  }
  /** Accepts or refuses frames; what was said of them is remembered, to be taken back. */
  async function judge(ids: readonly string[], accepted: boolean): Promise<void> {
    const own = rows.value.filter((r) => r.record && ids.includes(r.id));
    if (own.length === 0) return;
    const suggested = own.length === 1 ? own[0]!.suggestion : null;
    const word: Word = byHand(accepted);
    // agreed to what was suggested
    if (!accepted && suggested) [word.reason, word.refusal] = [words(suggested.reason).slice(0, 200), suggested.code];
    const before = new Map<string, Step['before'][number]>();
    for (const { record } of own) {
      const { accepted: was, reason, refusal, judged } = record!;
      const key = JSON.stringify([was, reason, refusal, judged]);
      const there = before.get(key);
      if (there) there.ids.push(record!.id);
      else before.set(key, { ids: [record!.id], word: { accepted: was, reason, refusal, judged } });
    }
    const step = { before: [...before.values()], after: { ids: own.map((r) => r.id), word } };
    if (!(await send(step.after.ids, word))) return;
    steps.value = [...steps.value, step];
    undone.value = [];
  }
  async function undo(): Promise<void> {
    const step = steps.value.at(-1);
    if (!step) return;
    for (const { ids, word } of step.before) if (!(await send(ids, word))) return;
    steps.value = steps.value.slice(0, -1);
    undone.value = [...undone.value, step];
  }
  async function redo(): Promise<void> {
    const step = undone.value.at(-1);
    if (!step || !(await send(step.after.ids, step.after.word))) return;
    undone.value = undone.value.slice(0, -1);
    steps.value = [...steps.value, step];
  }
  // what was said before of another night’s frames is not taken back here
  watch(
    nightId,
    () => {
      steps.value = [];
      undone.value = [];
    },
    { flush: 'sync' },
  );
  return {
    judge,
    undo,
    redo,
    undoable: computed(() => steps.value.length),
    redoable: computed(() => undone.value.length),
  };
}
