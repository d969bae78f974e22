import type { Transaction } from 'sequelize';
import type { Page, PartRecord } from '@keen/contract';
import type { Part } from '@keen/core/rig';
import { plain, type PartRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { demandOwner, demandVersion, iso, pageOf, type Actor, type Store } from '../../store.ts';
import { currentRigs } from '../rigs/current.ts';

type PartBody = Part & { ownedByClub: boolean };

export function partsService(store: Store) {
  async function usage(clubId: string, t?: Transaction): Promise<Map<string, string[]>> {
    const used = new Map<string, string[]>();
    for (const { rig, revision } of await currentRigs(store, clubId, t))
      for (const p of revision.setup.placed)
        if (p.partId) used.set(p.partId, [...new Set([...(used.get(p.partId) ?? []), rig.name])]);
    return used;
  }
  const record = (p: PartRow, names: Map<string, string>, used: Map<string, string[]>): PartRecord => ({
    id: p.id,
    ...p.data,
    ownerId: p.ownerId,
    owner: p.ownerId ? (names.get(p.ownerId) ?? '') : 'Club',
    usedIn: used.get(p.id) ?? [],
    version: p.version,
    updatedAt: iso(p.updatedAt),
    updatedBy: names.get(p.updatedBy ?? '') ?? '',
  });
  async function find(who: Actor, id: string, archived = false, t?: Transaction): Promise<PartRow> {
    const row = await store.parts.findOne({
      where: { id, clubId: who.clubId },
      ...(t ? { transaction: t } : {}),
    });
    const part = row ? plain(row) : null;
    if (!part || (part.archivedAt !== null) !== archived) throw new Problem('not_found', 'There is no such part.');
    return part;
  }
  return {
    async list(who: Actor, page: Page): Promise<PartRecord[]> {
      const [names, used] = [await store.names(who.clubId), await usage(who.clubId)];
      const rows = await store.parts.findAll({
        where: { clubId: who.clubId, archivedAt: null },
        order: ['name', 'id'],
        ...pageOf(page),
      });
      return rows.map((r) => record(plain(r), names, used));
    },
    async add(who: Actor, { ownedByClub, ...data }: PartBody): Promise<PartRecord> {
      const row: PartRow = {
        id: store.id(),
        clubId: who.clubId,
        ownerId: ownedByClub ? null : who.id,
        name: data.name,
        kind: data.kind,
        data,
        version: 1,
        updatedAt: store.now(),
        updatedBy: who.id,
        archivedAt: null,
      };
      return store.change(
        who,
        ['club', who.clubId],
        async (t) => {
          await store.parts.create(row, { transaction: t });
          await store.audit(who, data.name, 'part added', t);
          return record(row, await store.names(who.clubId, t), new Map());
        },
        { tells: { what: 'parts' } },
      );
    },
    async change(
      who: Actor,
      id: string,
      { ownedByClub, version, ...data }: PartBody & { version: number },
    ): Promise<PartRecord> {
      return store.change(
        who,
        ['club', who.clubId],
        async (t) => {
          const row = await find(who, id, false, t);
          if (row.ownerId) demandOwner(who, row.ownerId, row.name);
          else if (!ownedByClub)
            throw new Problem(
              'not_allowed',
              `${row.name} is the club’s and stays the club’s; add one of your own instead.`,
            );
          const [names, used] = [await store.names(who.clubId, t), await usage(who.clubId, t)];
          await demandVersion(version, row, store, async () => record(row, names, used), t);
          const next = {
            ...row,
            name: data.name,
            kind: data.kind,
            data,
            ownerId: ownedByClub ? null : (row.ownerId ?? who.id),
            version: row.version + 1,
            updatedAt: store.now(),
            updatedBy: who.id,
          };
          await store.parts.update(next, { where: { id }, transaction: t });
          await store.audit(who, data.name, 'part changed', t);
          return record(next, names, used);
        },
        { tells: { what: 'parts' } },
      );
    },
    async archive(who: Actor, id: string): Promise<void> {
      // a rig’s save takes a turn there too: of the two the later one sees what the earlier did
      await store.change(
        who,
        ['club', who.clubId],
        async (t) => {
          const row = await find(who, id, false, t);
          demandOwner(who, row.ownerId, row.name);
          const used = (await usage(who.clubId, t)).get(id);
          if (used)
            throw new Problem('in_use', `${row.name} is part of ${used.join(' and ')}. Take it off there first.`);
          await store.parts.update({ archivedAt: store.now() }, { where: { id }, transaction: t });
          await store.audit(who, row.name, 'part archived', t);
        },
        { tells: { what: 'parts' } },
      );
    },
    async restore(who: Actor, id: string): Promise<void> {
      await store.change(
        who,
        ['club', who.clubId],
        async (t) => {
          const row = await find(who, id, true, t);
          demandOwner(who, row.ownerId, row.name);
          await store.parts.update({ archivedAt: null }, { where: { id }, transaction: t });
          await store.audit(who, row.name, 'part taken back', t);
        },
        { tells: { what: 'parts' } },
      );
    },
  };
}
