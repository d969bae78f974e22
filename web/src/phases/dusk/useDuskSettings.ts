import { api, DuskSettings, type DuskSettingsRecord } from '@keen/contract';
import { defineStore } from 'pinia';
import { computed, markRaw, ref, shallowRef, watch } from 'vue';
import { call } from '../../api/client.ts';
import { problemText } from '../../common/outcome.ts';
import { carryChanges } from '../../common/carryChanges.ts';
import { useDraft } from '../../common/draft.ts';
import { useSaving } from '../../common/savedDraft.ts';
import { useClub } from '../../stores/club.ts';
import { plainCopy } from '../../workers/index.ts';

/**
 * What was told about the chosen rig's evenings, one draft for all of Dusk's screens: the phone at the mount reckons with
 * what was entered at the desk, and changes stay in this browser until they are kept for everybody.
 */
export const useDuskSettings = defineStore('duskSettings', () => {
  const club = useClub();
  const record = shallowRef<DuskSettingsRecord | null>(null);
  const missing = ref('');
  const rigId = computed(() => club.rig?.id ?? '');
  async function load(): Promise<void> {
    const id = rigId.value;
    if (!id) return;
    const got = await call(api.duskSettings, { params: { id } });
    if (id !== rigId.value) return;
    missing.value = got.ok ? '' : problemText(got.problem);
    if (got.ok && got.value.version !== record.value?.version) record.value = got.value;
  }
  watch(
    rigId,
    () => {
      record.value = null;
      void load();
    },
    { immediate: true },
  );
  const kept = useDraft<DuskSettings>(
    () => `dusk.${rigId.value}`,
    () => (record.value ? { value: record.value.settings, version: record.value.version } : null),
    (draft) => DuskSettings.safeParse(draft).data ?? draft,
  );
  const saving = useSaving<DuskSettingsRecord>(
    kept,
    (version) =>
      call(api.keepDuskSettings, {
        params: { id: rigId.value },
        body: { settings: plainCopy(kept.draft.value!), version },
      }),
    (r) => (record.value = r),
    () => 'Kept for everybody who uses this rig.',
  );
  /** Common values until the draft has come; what is typed onto them goes over to it. */
  const early = ref(DuskSettings.parse({}));
  watch([rigId, kept.draft], ([rig, draft], [before]) => {
    if (draft && rig === before) carryChanges(DuskSettings.parse({}), early.value, draft);
    if (draft || rig !== before) early.value = DuskSettings.parse({});
  });
  const settings = computed(() => kept.draft.value ?? early.value);
  /** Once it is known what was kept, or that it cannot be read: then common values are used, and the save bar says so. */
  const answer = markRaw({
    what: 'What was kept of these evenings',
    trouble: ref(''),
    there: computed(() => !rigId.value || record.value !== null || missing.value !== ''),
    load,
  });
  // raw: their refs stay refs, as every draft's do
  return { answer, record, missing, load, kept: markRaw(kept), saving: markRaw(saving), settings };
});
