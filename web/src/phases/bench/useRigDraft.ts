import { api, type RigRecord } from '@keen/contract';
import type { RigSetup } from '@keen/core/rig';
import { call } from '../../api/client.ts';
import { useDraft } from '../../common/draft.ts';
import { useSaving } from '../../common/savedDraft.ts';
import { useClub } from '../../stores/club.ts';
import { plainCopy } from '../../workers/index.ts';

export interface RigDraft {
  name: string;
  siteId: string;
  setup: RigSetup;
}

export const rigDraftOf = (r: RigRecord): RigDraft => ({ name: r.name, siteId: r.siteId, setup: r.setup });

/** The chosen rig as an editable draft, shared by the screens of the bench, with its save and its conflict. */
export function useRigDraft() {
  const club = useClub();
  const kept = useDraft<RigDraft>(
    () => `rig.${club.rig?.id ?? ''}`,
    () => (club.rig ? { value: rigDraftOf(club.rig), version: club.rig.version } : null),
  );
  /** Word pair before the save, to tell whether the train state changed. */
  let words = '';
  const saving = useSaving<RigRecord>(
    kept,
    (version) =>
      call(api.reviseRig, { params: { id: club.rig!.id }, body: { ...plainCopy(kept.draft.value!), version } }),
    (r) => {
      words = club.rigs.find((o) => o.id === r.id)?.words ?? '';
      club.rigs = club.rigs.map((o) => (o.id === r.id ? r : o));
    },
    (r) => `Saved as revision ${r.revision}.` + (r.words === words ? '' : ` New train state: ${r.words}.`),
  );
  return { ...kept, ...saving };
}
