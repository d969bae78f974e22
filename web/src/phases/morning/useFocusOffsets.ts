import { makeVerdict, phrase } from '@keen/core/phrases';
import { questions } from '../../api/questions.ts';
import { api, type FocusRunRecord } from '@keen/contract';
import type { DriftModel, OffsetsOutput } from '@keen/core/focus';
import { zoneStepsOf } from '@keen/core/observatory';
import { filtersOf } from '@keen/core/rig';
import { message } from 'ant-design-vue';
import dayjs from 'dayjs';
import { computed, ref, shallowRef, watch } from 'vue';
import { call } from '../../api/client.ts';
import { useAnswer } from '../../common/answer.ts';
import { problemText } from '../../common/outcome.ts';
import { useClub } from '../../stores/club.ts';
import { calculate } from '../../workers/index.ts';
import { latestOnly } from '../../common/latestOnly.ts';

/** Focus runs of the chosen rig's train state, the offsets they give, and adopting them. */
export function useFocusOffsets() {
  const club = useClub();
  const answer = useAnswer('The focus runs', () => (club.rig ? questions.focusRuns(club.rig.trainStateId) : null));
  const load = answer.load;
  const runs = computed({ get: () => answer.value.value ?? [], set: answer.put });
  const found = shallowRef<OffsetsOutput | null>(null);
  /** The runs it was found from. */
  const foundFrom = shallowRef<FocusRunRecord[]>([]);
  /** Reckoned anew: the former answer stays until the new one is there, so that nothing moves under the hand. */
  const reckoning = ref(false);
  const loaded = computed(() => answer.value.value !== null);
  const trouble = ref('');
  /** Runs are on their way: what is shown is about to change, and is not adopted. */
  const loading = answer.asking;
  watch(
    () => club.rig?.trainStateId,
    () => (found.value = null),
  );

  const used = computed(() => runs.value.filter((r) => r.usable && !r.excluded));
  const filters = computed(() => (club.rig ? filtersOf(club.rig.setup) : []));
  const seen = computed(() => [...new Set(used.value.map((r) => r.filter))]);
  const reference = ref('');
  watch(
    [seen, () => club.offsets],
    () => {
      if (!seen.value.includes(reference.value))
        reference.value =
          [club.offsets?.reference, ...filters.value].find((f) => f !== undefined && seen.value.includes(f)) ??
          seen.value[0] ??
          '';
    },
    { immediate: true },
  );
  const model = ref<DriftModel>('temperature');
  const zoneSteps = computed(() => (club.rig ? zoneStepsOf(club.rig.setup) : null));
  const why = ref('');
  const askOffsets = latestOnly();
  watch(
    [used, reference, model, zoneSteps],
    async () => {
      const late = askOffsets();
      if (!used.value.length || !reference.value) {
        found.value = null;
        why.value = '';
        reckoning.value = false;
        return;
      }
      reckoning.value = true;
      const from = used.value;
      const got = await calculate('focus.offsets', {
        runs: from.map((r) => ({
          filter: r.filter,
          position: r.position,
          ...(r.temperatureC === null ? {} : { temperatureC: r.temperatureC }),
          ...(r.time === null ? {} : { time: r.time }),
        })),
        reference: reference.value,
        model: model.value,
        ...(zoneSteps.value ? { criticalZoneSteps: zoneSteps.value } : {}),
      });
      if (late()) return;
      reckoning.value = false;
      foundFrom.value = from;
      found.value = got.ok ? got.value : null;
      why.value = got.ok ? '' : problemText(got.problem);
    },
    { immediate: true },
  );
  const verdict = computed(() => {
    if (!loaded.value) return null;
    if (!runs.value.length)
      return makeVerdict('caution', phrase('offsets.no-runs', { words: club.rig?.words ?? 'this train state' }));
    if (why.value) return makeVerdict('caution', phrase('offsets.none-from', { why: why.value }));
    return found.value?.verdict ?? null;
  });
  const standing = computed(() => {
    const a = club.offsets;
    if (!a) return [phrase('offsets.not-adopted', { words: club.rig?.words ?? '' })];
    const newer = used.value.length - a.runCount;
    const adopted = { day: dayjs(a.adoptedAt).format('D MMM'), by: a.by, runs: a.runCount };
    return [newer > 0 ? phrase('offsets.adopted-newer', { ...adopted, newer }) : phrase('offsets.adopted', adopted)];
  });
  const adopting = ref(false);
  /** What is shown follows from the runs on record: it may be adopted. */
  const settled = computed(() => !loading.value && !reckoning.value);
  async function adopt() {
    const f = found.value;
    if (!f || !club.rig || !settled.value) return;
    adopting.value = true;
    const got = await call(api.adoptOffsets, {
      body: {
        trainStateId: club.rig.trainStateId,
        reference: reference.value,
        model: model.value,
        offsets: f.offsets,
        temperatureStepsPerC: f.temperatureStepsPerC ?? null,
        zoneSteps: zoneSteps.value,
        runCount: used.value.length,
      },
    });
    adopting.value = false;
    if (!got.ok) {
      void message.error(problemText(got.problem));
      // others have added or left out runs: they are shown, and adopting is a decision again
      if (got.problem.code === 'stale') await load();
      return;
    }
    await club.loadOffsets();
    void message.success(`Adopted for ${club.rig.words}. Plans made for this train state use them.`);
  }
  const outlying = computed(() => new Set(found.value?.outliers.map((i) => foundFrom.value[i]?.id)));
  async function toggle(r: FocusRunRecord) {
    const got = await call(api.excludeFocusRun, { params: { id: r.id }, body: { excluded: !r.excluded } });
    if (got.ok) runs.value = runs.value.map((o) => (o.id === r.id ? { ...o, excluded: !o.excluded } : o));
    else void message.error(problemText(got.problem));
  }
  return {
    answer,
    runs,
    load,
    used,
    foundFrom,
    trouble,
    filters,
    seen,
    reference,
    model,
    zoneSteps,
    found,
    why,
    verdict,
    standing,
    adopting,
    settled,
    adopt,
    outlying,
    toggle,
  };
}
