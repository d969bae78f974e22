import { api, type RigRecord } from '@keen/contract';
import { viewOf, withView, type RigSetup } from '@keen/core/rig';
import { call } from '../api/client.ts';
import { useDraft } from './draft.ts';
import { useSaving } from './savedDraft.ts';
import { useClub } from '../stores/club.ts';
import { plainCopy } from '../workers/index.ts';

export interface RigDraft {
  name: string;
  siteId: string;
  setup: RigSetup;
}

/** The chosen rig, through the chosen system, as an editable draft shared by the screens of the bench. */
export function useRigDraft() {
  const club = useClub();
  const fieldsOf = (r: RigRecord): RigDraft => ({
    name: r.name,
    siteId: r.siteId,
    setup: viewOf(r.setup, club.rig?.system.key),
  });
  const record = () => club.records.find((r) => r.id === club.rig?.id) ?? null;
  /** The first system keeps the name drafts had before rigs had several. */
  const slot = () => {
    const first = club.rig?.systems[0]?.key === club.rig?.system.key;
    return `rig.${club.rig?.id ?? ''}${first ? '' : `.${club.rig?.system.key}`}`;
  };
  const kept = useDraft<RigDraft>(
    slot,
    () => {
      const r = record();
      return r ? { value: fieldsOf(r), version: r.version } : null;
    },
    // drafts from before rigs could be marked for practice
    (d) => ({ ...d, setup: { ...d.setup, practice: d.setup.practice ?? false } }),
  );
  /** Word pair before the save, to tell whether the train state changed. */
  let words = '';
  /** Somebody's newer save: what mine is laid over, so that their other systems stay. */
  let theirs: RigRecord | null = null;
  const stateOf = (r: RigRecord, key: string) => r.systems.find((s) => s.key === key)?.words ?? '';
  const saving = useSaving<RigRecord>(
    kept,
    async (version) => {
      const { id, system } = club.rig!;
      const base = theirs?.id === id && theirs.version === version ? theirs : record()!;
      const draft = plainCopy(kept.draft.value!);
      const setup = withView(base.setup, system.key, draft.setup);
      const got = await call(api.reviseRig, { params: { id }, body: { ...draft, setup, version } });
      if (!got.ok && got.problem.code === 'stale') theirs = got.problem.current as RigRecord;
      return got;
    },
    (r) => {
      words = club.rig?.words ?? '';
      club.putRig(r);
    },
    (r) => {
      const now = stateOf(r, club.rig?.system.key ?? '');
      return `Saved as revision ${r.revision}.${now === words ? '' : ` New train state: ${now}.`}`;
    },
  );
  return { ...kept, ...saving, fieldsOf, record };
}
