import { randomUUID } from 'node:crypto';
import type { Page } from '@keen/contract';
import type { Sequelize, Transaction } from 'sequelize';
import { clubNames, type ClubNames } from './clubNames.ts';
import { models, plain, read, type MemberRow, type Models } from './database/index.ts';
import { Problem } from './problems.ts';
import { changeShared, tellOf, type ChangeOptions, type Guard } from './sharedChange.ts';

/** Who is asking. */
export type Actor = Pick<MemberRow, 'id' | 'clubId' | 'name' | 'role'>;

/** What services share: the tables, the door for changes, the clock, and the audit. */
export interface Store extends Models {
  db: Sequelize;
  now: () => Date;
  /** The door for what several may change; see `changeShared`. */
  change: <T>(
    who: Actor | null,
    guards: Guard | readonly Guard[],
    work: (t: Transaction) => Promise<T>,
    options?: ChangeOptions,
  ) => Promise<T>;
  id: () => string;
  /** Something was written of which pages are told. */
  wake: () => void;
  /** Who is called then. */
  onWritten: (what: () => void) => void;
  /** Rows of a plain SELECT; see the function of that name. */
  read: <T>(sql: string, values: readonly unknown[], t?: Transaction) => Promise<T[]>;
  /** Writes down who changed what. */
  audit: (who: Actor, subject: string, text: string, t?: Transaction) => Promise<void>;
  /** Names of a club's people by id, also of those who left. In a transaction pass it: a second connection would starve everybody. */
  names: (clubId: string, t?: Transaction) => Promise<Map<string, string>>;
  sawClub: ClubNames['saw'];
}

export function makeStore(db: Sequelize, now: () => Date = () => new Date()): Store {
  const tables = models(db);
  const names = clubNames(db);
  let awake: () => void = () => undefined;
  return {
    ...tables,
    db,
    now,
    read: (sql, values, t) => read(db, sql, values, t),
    change: (who, guard, work, options) => changeShared({ db, now, wake: () => awake() }, who, guard, work, options),
    wake: () => awake(),
    onWritten: (what) => (awake = what),
    id: () => randomUUID(),
    audit: async (who, subject, text, t) => {
      await tables.changes.create(
        { id: randomUUID(), at: now(), memberId: who.id, subject: subject.slice(0, 160), text: text.slice(0, 1000) },
        t ? { transaction: t } : {},
      );
      if (t) tellOf(t);
    },
    names: names.of,
    sawClub: names.saw,
  };
}

/** The page of a list that was asked for. */
export const pageOf = ({ from, count }: Page) => ({ offset: from, limit: count });

/** All of a list at once, for what the server itself does with it. */
export const ALL: Page = { from: 0, count: 1e6 };

/** Rows by a key, in their order. */
export function groupBy<T>(rows: readonly T[], key: (row: T) => string): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const r of rows) {
    const list = groups.get(key(r));
    if (list) list.push(r);
    else groups.set(key(r), [r]);
  }
  return groups;
}

export const iso = (d: Date): string => d.toISOString();
export const isoOrNull = (d: Date | null): string | null => (d ? d.toISOString() : null);

/** Refuses a change that was based on an older version, with the record as it now stands. */
export async function demandVersion(
  sent: number,
  row: { version: number; updatedBy: string | null },
  store: Store,
  current: () => Promise<unknown>,
  t: Transaction,
): Promise<void> {
  if (sent === row.version) return;
  const saver = row.updatedBy ? await store.members.findByPk(row.updatedBy, { transaction: t }) : null;
  const by = saver ? plain(saver).name : undefined;
  throw new Problem(
    'stale',
    `${by ?? 'Somebody'} saved version ${row.version} while you were working on version ${sent}.`,
    {
      current: await current(),
    },
  );
}

/** Owner or steward, or refusal. */
export function demandOwner(who: Actor, ownerId: string | null, what: string): void {
  if (who.role !== 'steward' && who.id !== ownerId)
    throw new Problem('not_allowed', `Only the owner of ${what} or a steward may change it.`);
}
