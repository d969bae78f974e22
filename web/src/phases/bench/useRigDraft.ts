import { api, type RigRecord } from '@keen/contract';
import type { RigSetup } from '@keen/core/rig';
import { message } from 'ant-design-vue';
import { computed, ref } from 'vue';
import { call, said } from '../../api/client.ts';
import { useDraft } from '../../common/draft.ts';
import { useClub } from '../../stores/club.ts';
import { plainCopy } from '../../workers/index.ts';

export interface RigDraft {
  name: string;
  siteId: string;
  setup: RigSetup;
}

/** The chosen rig as an editable draft, shared by Rigs and Balance, with its save and its conflict. */
export function useRigDraft() {
  const club = useClub();
  const busy = ref(false);
  const trouble = ref('');
  const conflict = ref<{ detail: string; theirs: RigRecord } | null>(null);
  const kept = useDraft<RigDraft>(
    () => `rig.${club.rig?.id ?? ''}`,
    () =>
      club.rig
        ? { value: { name: club.rig.name, siteId: club.rig.siteId, setup: club.rig.setup }, version: club.rig.version }
        : null,
  );
  const draftOf = (r: RigRecord): RigDraft => ({ name: r.name, siteId: r.siteId, setup: r.setup });

  async function save(): Promise<void> {
    const rig = club.rig;
    const draft = kept.draft.value;
    if (!rig || !draft) return;
    busy.value = true;
    trouble.value = '';
    const got = await call(api.reviseRig, {
      params: { id: rig.id },
      body: { ...plainCopy(draft), version: kept.version.value },
    });
    busy.value = false;
    if (got.ok) {
      kept.saved();
      const changed = got.value.words !== rig.words;
      club.rigs = club.rigs.map((r) => (r.id === rig.id ? got.value : r));
      void message.success(
        changed ? `Saved as revision ${got.value.revision}. New train state: ${got.value.words}.` : `Saved as revision ${got.value.revision}.`,
      );
    } else if (got.problem.code === 'stale')
      conflict.value = { detail: said(got.problem), theirs: got.problem.current as RigRecord };
    else trouble.value = said(got.problem) + (got.problem.issues?.length ? ` (${got.problem.issues.map((i) => i.path).slice(0, 3).join(', ')})` : '');
  }
  async function keepMine(): Promise<void> {
    if (!conflict.value) return;
    kept.rebase(conflict.value.theirs.version);
    conflict.value = null;
    await save();
  }
  function takeTheirs(): void {
    const theirs = conflict.value?.theirs;
    if (!theirs) return;
    kept.saved();
    conflict.value = null;
    club.rigs = club.rigs.map((r) => (r.id === theirs.id ? theirs : r));
    kept.discard();
  }
  return {
    ...kept,
    busy,
    trouble,
    conflict,
    theirs: computed(() => (conflict.value ? draftOf(conflict.value.theirs) : null)),
    save,
    keepMine,
    takeTheirs,
  };
}
