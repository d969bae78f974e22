import type { Sequelize, Transaction } from 'sequelize';
import { read, type MemberRow } from './database/index.ts';

/** Transactions that take a club’s turn: what they do to its people is not remembered yet. */
const changing = new WeakSet<Transaction>();
export const changesClub = (t: Transaction): void => void changing.add(t);

/** Clubs whose names are remembered; beyond that all are forgotten. */
const MOST_CLUBS = 200;

/**
 * Names of a club’s people, which nearly every answer holds. Who joins or leaves takes the club’s turn, and every request reads
 * that number with its session: while it stands the names stand too, on whichever server they were changed.
 */
export function clubNames(db: Sequelize) {
  const turns = new Map<string, number>();
  const held = new Map<string, { turn: number; names: Map<string, string> }>();
  async function ask(clubId: string, t?: Transaction): Promise<Map<string, string>> {
    const sql = 'SELECT id, name FROM members WHERE club_id = ?';
    const found = await read<Pick<MemberRow, 'id' | 'name'>>(db, sql, [clubId], t);
    return new Map(found.map((m) => [m.id, m.name]));
  }
  return {
    /** A request has read the club’s turn: of several at once the latest counts. */
    saw(clubId: string, turn: number): void {
      if (turns.size > MOST_CLUBS) {
        turns.clear();
        held.clear();
      }
      turns.set(clubId, Math.max(turn, turns.get(clubId) ?? 0));
    },
    async of(clubId: string, t?: Transaction): Promise<Map<string, string>> {
      const turn = turns.get(clubId);
      if (turn === undefined || (t && changing.has(t))) return ask(clubId, t);
      const known = held.get(clubId);
      if (known?.turn === turn) return known.names;
      const names = await ask(clubId, t);
      held.set(clubId, { turn, names });
      return names;
    },
  };
}
export type ClubNames = ReturnType<typeof clubNames>;
