import type { HandoverRecord } from '@keen/contract';
import type { Transaction } from 'sequelize';
import { plain, type HandoverRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { demandOwner, iso, type Actor, type Store } from '../../store.ts';
import { addEntry } from '../logbook/entries.ts';
import { rigOf } from '../rigs/current.ts';

/** Of one rig so many are told. */
const TOLD = 20;
interface State {
  inOrder: boolean;
  note: string;
}

/** Who has which rig, as they found it and as they left it. */
export function handoverService(store: Store) {
  const record = (r: HandoverRow, names: Map<string, string>): HandoverRecord => ({
    id: r.id,
    rigId: r.rigId,
    memberId: r.memberId,
    member: names.get(r.memberId) ?? '',
    takenAt: iso(r.takenAt),
    takenInOrder: r.takenInOrder === 1,
    takenNote: r.takenNote,
    givenAt: r.givenAt ? iso(r.givenAt) : null,
    givenInOrder: r.givenInOrder === null ? null : r.givenInOrder === 1,
    givenNote: r.givenNote,
  });
  async function newest(rigId: string, t: Transaction): Promise<HandoverRow | null> {
    const found = await store.handovers.findOne({
      where: { rigId },
      order: [
        ['takenAt', 'DESC'],
        ['id', 'DESC'],
      ],
      transaction: t,
    });
    return found ? plain(found) : null;
  }
  const atRig = (who: Actor, rigId: string, work: (name: string, t: Transaction) => Promise<HandoverRow>) =>
    store.change(
      who,
      ['rig', rigId],
      async (t) => {
        const { name } = await rigOf(store, who.clubId, rigId, t);
        return record(await work(name, t), await store.names(who.clubId, t));
      },
      {
        tells: [
          { what: 'upkeep', rigId },
          { what: 'logbook', rigId },
        ],
      },
    );
  /** What is wrong is a fault like any other: whoever comes next reads it in the logbook. */
  async function note(who: Actor, rigId: string, name: string, said: string, state: State, t: Transaction) {
    await store.audit(who, name, `${said}, ${state.inOrder ? 'in order' : 'not in order'}`, t);
    if (!state.inOrder) await addEntry(store, who, { rigId, problem: state.note }, t);
  }

  return {
    async list(who: Actor): Promise<HandoverRecord[]> {
      const rows = await store.read<HandoverRow>(
        `SELECT id, rig_id AS rigId, member_id AS memberId, taken_at AS takenAt, taken_in_order AS takenInOrder, taken_note AS takenNote,
           given_at AS givenAt, given_in_order AS givenInOrder, given_note AS givenNote FROM (
           SELECT h.*, ROW_NUMBER() OVER (PARTITION BY h.rig_id ORDER BY h.taken_at DESC, h.id DESC) AS place
           FROM handovers h JOIN rigs g ON g.id = h.rig_id WHERE g.club_id = ? AND g.archived_at IS NULL) x
         WHERE place <= ${TOLD} ORDER BY taken_at DESC, id DESC`,
        [who.clubId],
      );
      const names = await store.names(who.clubId);
      return rows.map((r) => record(r, names));
    },
    takeOver: (who: Actor, rigId: string, state: State) =>
      atRig(who, rigId, async (name, t) => {
        const last = await newest(rigId, t);
        const now = store.now();
        if (last && last.givenAt === null) {
          if (last.memberId === who.id) throw new Problem('already_done', 'You have this rig already.');
          // whoever forgot to hand it back does not have it any more
          await store.handovers.update({ givenAt: now }, { where: { id: last.id }, transaction: t });
        }
        const row: HandoverRow = {
          id: store.id(),
          rigId,
          memberId: who.id,
          takenAt: now,
          takenInOrder: state.inOrder ? 1 : 0,
          takenNote: state.note,
          givenAt: null,
          givenInOrder: null,
          givenNote: '',
        };
        await store.handovers.create(row, { transaction: t });
        await note(who, rigId, name, 'taken over', state, t);
        return row;
      }),
    handBack: (who: Actor, rigId: string, state: State) =>
      atRig(who, rigId, async (name, t) => {
        const last = await newest(rigId, t);
        if (!last || last.givenAt !== null)
          throw new Problem('not_found', 'Nobody has this rig: it need not be handed back.');
        demandOwner(who, last.memberId, `${name}, as long as they have it`);
        const next = { ...last, givenAt: store.now(), givenInOrder: state.inOrder ? 1 : 0, givenNote: state.note };
        await store.handovers.update(next, { where: { id: last.id }, transaction: t });
        await note(who, rigId, name, 'handed back', state, t);
        return next;
      }),
  };
}
