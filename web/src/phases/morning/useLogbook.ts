import { api, LogFields, type LogRecord } from '@keen/contract';
import { StorageSerializers, useDebounceFn, useLocalStorage } from '@vueuse/core';
import { message } from 'ant-design-vue';
import { computed, ref, shallowRef, watch } from 'vue';
import { call, callAll } from '../../api/client.ts';
import { latestOnly } from '../../common/latestOnly.ts';
import { problemText } from '../../common/outcome.ts';
import { personalKey } from '../../common/personal.ts';
import { useClub } from '../../stores/club.ts';

/** An entry as it is being written, kept in this browser until it is saved. */
export interface LogDraft extends LogFields {
  /** The entry that is changed, and the version it was begun on; null: a new one. */
  id: string | null;
  version: number;
}
/** Typing rests so long before the book is searched [ms]. */
const REST_MS = 250;

/** The logbook of a club: found by words, written, changed, put away and brought back. */
export function useLogbook() {
  const club = useClub();
  const entries = shallowRef<LogRecord[]>([]);
  const loaded = ref(false);
  const trouble = ref('');
  const find = ref('');
  /** Of the chosen rig alone, or of all. */
  const ofRig = useLocalStorage('keen.log.rig', false);
  const draft = useLocalStorage<LogDraft | null>(personalKey('draft.log'), null, {
    deep: true,
    serializer: StorageSerializers.object,
  });
  // one that was begun before faults could stop a rig
  if (draft.value && !('stops' in draft.value)) (draft.value as LogDraft).stops = null;
  const saving = ref(false);
  const ask = latestOnly();
  async function load(): Promise<void> {
    const late = ask();
    const rig = ofRig.value ? club.rig?.id : undefined;
    const got = await callAll(api.logbook, { query: { find: find.value, ...(rig ? { rig } : {}) } });
    if (late()) return;
    trouble.value = got.ok ? '' : problemText(got.problem);
    if (got.ok) entries.value = got.value;
    // what failed is not empty
    loaded.value = got.ok;
  }
  watch([ofRig, () => club.rig?.id], load, { immediate: true });
  watch(find, useDebounceFn(load, REST_MS));

  function begin(more: Partial<LogFields> = {}): void {
    if (!club.rig) return;
    draft.value = {
      id: null,
      version: 0,
      rigId: club.rig.id,
      aspect: null,
      night: club.night,
      problem: '',
      cause: '',
      cure: '',
      finding: '',
      stops: null,
      ...more,
    };
  }
  const edit = (e: LogRecord) =>
    (draft.value = {
      id: e.id,
      version: e.version,
      rigId: e.rigId,
      aspect: e.aspect,
      night: e.night,
      problem: e.problem,
      cause: e.cause,
      cure: e.cure,
      finding: e.finding,
      stops: e.stops,
    });
  const mayKeep = computed(() => (draft.value?.problem.trim() ?? '') !== '');
  async function keep(): Promise<void> {
    const d = draft.value;
    if (!d || !mayKeep.value) return;
    const { id, version, ...fields } = d;
    saving.value = true;
    const got = id
      ? await call(api.changeLog, { params: { id }, body: { ...fields, version } })
      : await call(api.addLog, { body: fields });
    saving.value = false;
    if (!got.ok) {
      // what somebody else wrote meanwhile is shown; saving again writes over it knowingly
      if (got.problem.code === 'stale' && got.problem.current) d.version = (got.problem.current as LogRecord).version;
      trouble.value = problemText(got.problem);
      if (got.problem.code === 'stale')
        await load().then(
          () => (trouble.value = `${problemText(got.problem)} It is shown below; keep again to write over it.`),
        );
      return;
    }
    trouble.value = '';
    draft.value = null;
    await load();
    void message.success('Written down.');
  }
  const dropped = shallowRef<LogRecord | null>(null);
  async function drop(e: LogRecord): Promise<void> {
    const got = await call(api.dropLog, { params: { id: e.id } });
    trouble.value = got.ok ? '' : problemText(got.problem);
    if (!got.ok) return;
    dropped.value = e;
    await load();
  }
  async function bringBack(): Promise<void> {
    if (!dropped.value) return;
    const got = await call(api.restoreLog, { params: { id: dropped.value.id }, body: {} });
    trouble.value = got.ok ? '' : problemText(got.problem);
    if (got.ok) dropped.value = null;
    await load();
  }
  return { entries, loaded, trouble, find, ofRig, draft, saving, begin, edit, mayKeep, keep, drop, dropped, bringBack };
}
