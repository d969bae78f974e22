import { api, type CablesRecord } from '@keen/contract';
import { CableSheet, checkCables } from '@keen/core/cables';
import { computed, ref, shallowRef, watch } from 'vue';
import { call } from '../../api/client.ts';
import { darkHours } from '../../common/darkHours.ts';
import { useDraft } from '../../common/draft.ts';
import { latestOnly } from '../../common/latestOnly.ts';
import { outcomeOf, problemText } from '../../common/outcome.ts';
import { useSaving } from '../../common/savedDraft.ts';
import { useClub } from '../../stores/club.ts';
import { plainCopy } from '../../workers/index.ts';

/** Setting up and taking down beside the dark hours [h]; common practice, no source. */
const AROUND_H = 2;
/** A white night still wants its hours. */
const LEAST_H = 4;

/** The chosen rig’s cables as a draft, and what they hold. */
export function useCables() {
  const club = useClub();
  const record = shallowRef<CablesRecord | null>(null);
  const trouble = ref('');
  const ask = latestOnly();
  watch(
    () => club.rig?.id,
    async (id) => {
      const late = ask();
      record.value = null;
      if (!id) return;
      const got = await call(api.cables, { params: { id } });
      if (late()) return;
      trouble.value = got.ok ? '' : problemText(got.problem);
      if (got.ok) record.value = got.value;
    },
    { immediate: true },
  );
  const kept = useDraft<CableSheet>(
    () => `cables.${club.rig?.id ?? ''}`,
    () => (record.value ? { value: record.value.sheet, version: record.value.version } : null),
  );
  const saving = useSaving<CablesRecord>(
    kept,
    (version) =>
      call(api.keepCables, { params: { id: club.rig!.id }, body: { sheet: plainCopy(kept.draft.value!), version } }),
    (r) => (record.value = r),
    () => 'Kept for everybody who uses this rig.',
  );
  const nightHours = computed(() => {
    const dark = club.site ? darkHours(club.site, club.night) : null;
    return AROUND_H + Math.max(LEAST_H, dark ? (dark.toMs - dark.fromMs) / 3_600_000 : 0);
  });
  /** What is wrong with the sheet as typed, or what it holds. */
  const outcome = computed(() => {
    const sheet = kept.draft.value;
    if (!sheet) return null;
    const read = CableSheet.safeParse(plainCopy(sheet));
    if (!read.success) return { ok: false as const, text: read.error.issues.map((i) => i.message).join(' ') };
    const got = outcomeOf(() => checkCables(read.data, club.site?.latitudeDeg ?? 50, nightHours.value));
    return got.ok ? { ok: true as const, value: got.value } : { ok: false as const, text: problemText(got.problem) };
  });
  return { record, trouble, kept, saving, nightHours, outcome };
}
