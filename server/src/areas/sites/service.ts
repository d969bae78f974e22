import type { Transaction } from 'sequelize';
import type { SiteFields, SiteRecord } from '@keen/contract';
import { plain, type SiteRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { demandVersion, iso, type Actor, type Store } from '../../store.ts';

const columns = (f: SiteFields) => ({
  name: f.name,
  kind: f.kind,
  latitudeDeg: f.latitudeDeg,
  longitudeDeg: f.longitudeDeg,
  elevationM: f.elevationM,
  timeZone: f.timeZone,
  skyMag: f.skyMagArcsec2,
  horizon: f.horizon ?? [],
  horizonNote: f.horizonNote,
});

export function sitesService(store: Store) {
  const record = (s: SiteRow, names: Map<string, string>): SiteRecord => ({
    id: s.id,
    name: s.name,
    kind: s.kind,
    latitudeDeg: s.latitudeDeg,
    longitudeDeg: s.longitudeDeg,
    elevationM: s.elevationM,
    timeZone: s.timeZone,
    skyMagArcsec2: s.skyMag,
    horizon: s.horizon,
    horizonNote: s.horizonNote,
    version: s.version,
    updatedAt: iso(s.updatedAt),
    updatedBy: names.get(s.updatedBy ?? '') ?? '',
  });
  async function held(who: Actor, id: string, t: Transaction): Promise<SiteRow> {
    const where = { id, clubId: who.clubId, archivedAt: null };
    const row = await store.sites.findOne({ where, transaction: t });
    if (!row) throw new Problem('not_found', 'There is no such site.');
    return plain(row);
  }
  return {
    async list(who: Actor): Promise<SiteRecord[]> {
      const names = await store.names(who.clubId);
      const rows = await store.sites.findAll({ where: { clubId: who.clubId, archivedAt: null }, order: ['name'] });
      return rows.map((r) => record(plain(r), names));
    },
    async add(who: Actor, f: SiteFields): Promise<SiteRecord> {
      const row: SiteRow = {
        id: store.id(),
        clubId: who.clubId,
        ...columns(f),
        version: 1,
        updatedAt: store.now(),
        updatedBy: who.id,
        archivedAt: null,
      };
      return store.change(
        who,
        ['club', who.clubId],
        async (t) => {
          if (await store.sites.findOne({ where: { clubId: who.clubId, name: f.name }, transaction: t }))
            throw new Problem('already_exists', `A site called “${f.name}” is there already.`);
          await store.sites.create(row, { transaction: t });
          await store.audit(who, f.name, 'site added', t);
          return record(row, await store.names(who.clubId, t));
        },
        { tells: { what: 'sites' } },
      );
    },
    async change(who: Actor, id: string, f: SiteFields & { version: number }): Promise<SiteRecord> {
      return store.change(
        who,
        ['club', who.clubId],
        async (t) => {
          const row = await held(who, id, t);
          const names = await store.names(who.clubId, t);
          await demandVersion(f.version, row, store, async () => record(row, names), t);
          const next = { ...row, ...columns(f), version: row.version + 1, updatedAt: store.now(), updatedBy: who.id };
          await store.sites.update(next, { where: { id }, transaction: t });
          await store.audit(who, f.name, 'site changed', t);
          return record(next, names);
        },
        { tells: { what: 'sites' } },
      );
    },
  };
}
