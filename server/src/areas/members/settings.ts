import { ClubSettings, USUAL_SETTINGS } from '@keen/contract';
import type { Transaction } from 'sequelize';
import type { Actor, Store } from '../../store.ts';

/** What a club begins with everywhere; what is kept by an earlier version has had the rest since. */
export async function settingsOf(store: Store, clubId: string, t?: Transaction): Promise<ClubSettings> {
  const [row] = await store.read<{ settings: string | object | null }>(
    'SELECT settings FROM clubs WHERE id = ?',
    [clubId],
    t,
  );
  return settingsIn(row?.settings ?? null);
}
/** The same as a row of a query has it. */
export function settingsIn(kept: string | object | null): ClubSettings {
  const said = typeof kept === 'string' ? (JSON.parse(kept) as object | null) : kept;
  // what does not fit any more is as if it had not been said: nobody is kept out for it
  return ClubSettings.safeParse({ ...USUAL_SETTINGS, ...said }).data ?? USUAL_SETTINGS;
}

export const changeSettings = (store: Store, who: Actor, settings: ClubSettings): Promise<ClubSettings> =>
  store.change(
    who,
    ['club', who.clubId],
    async (t) => {
      await store.db.query('UPDATE clubs SET settings = :settings WHERE id = :id', {
        replacements: { settings: JSON.stringify(settings), id: who.clubId },
        transaction: t,
      });
      await store.audit(who, 'Settings', 'what the club begins with was changed', t);
      return settings;
    },
    { tells: { what: 'settings' } },
  );
