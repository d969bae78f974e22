import type { RevisionInfo, RigRecord, TrainStateInfo } from '@keen/contract';
import { phrase, words, type Phrase } from '@keen/core/phrases';
import {
  aspectsOf,
  changesBetween,
  spoiledBy,
  trainFingerprint,
  viewOf,
  wordPair,
  type Aspect,
  type RigBuild,
} from '@keen/core/rig';
import type { Transaction } from 'sequelize';
import { plain, type RevisionRow, type TrainStateRow, heldUnder } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import type { Guard } from '../../sharedChange.ts';
import { demandVersion, iso, type Actor, type Store } from '../../store.ts';
import { aspectsAt, currentRig, type CurrentRig, currentRigs, demandRig } from './current.ts';

interface RigBody {
  name: string;
  siteId: string;
  setup: RigBuild;
}

/** What changed from one state of a whole rig to the next, and what of it must be measured again. */
export function changesOf(before: RigBuild, after: RigBuild): Phrase[] {
  const changes: Phrase[] = [];
  const spoiled = new Set<Aspect>();
  const many = after.systems.length > 1;
  for (const s of before.systems)
    if (!after.systems.some((o) => o.key === s.key)) changes.push(phrase('rig.system-removed', { name: s.name }));
  after.systems.forEach((s, i) => {
    if (!before.systems.some((o) => o.key === s.key)) {
      changes.push(phrase('rig.system-added', { name: s.name }));
      return;
    }
    const [was, is] = [viewOf(before, s.key), viewOf(after, s.key)];
    const own = changesBetween(was, is).filter((c) => c.code !== 'rig.notes');
    // what the rig carries is told once, with its first system
    const ofThisSystem =
      i === 0 ? own : own.filter((c) => !changes.some((o) => JSON.stringify(o) === JSON.stringify(c)));
    for (const c of ofThisSystem)
      changes.push(many && c.code in OF_SYSTEM ? phrase('rig.of-system', { name: s.name, changes: [c] }) : c);
    for (const a of spoiledBy(aspectsOf(was), aspectsOf(is))) spoiled.add(a);
  });
  if (changes.length === 0) changes.push(phrase('rig.notes'));
  return [...changes, ...[...spoiled].map((a) => phrase(`redo.${a}`))];
}
/** Changes that belong to one system where a rig has several. */
const OF_SYSTEM: Record<string, true> = {
  'rig.filters': true,
  'rig.train': true,
  'rig.camera-turned': true,
  'rig.camera': true,
  'rig.focal-length': true,
  'rig.aperture': true,
  'rig.off-axis': true,
  'rig.guide-scope': true,
  'rig.corrector': true,
  'rig.variants': true,
  'rig.overheads': true,
};

export function rigsService(store: Store) {
  const record = ({ rig, revision, states }: CurrentRig, names: Map<string, string>): RigRecord => ({
    id: rig.id,
    name: rig.name,
    siteId: rig.siteId,
    setup: revision.setup,
    revision: revision.number,
    systems: revision.setup.systems.map((s, i) => ({
      key: s.key,
      name: s.name,
      trainStateId: states[i]!.id,
      words: states[i]!.words,
      aspects: aspectsAt(revision, s.key),
    })),
    version: rig.version,
    updatedAt: iso(rig.updatedAt),
    updatedBy: names.get(rig.updatedBy ?? '') ?? '',
  });

  /** The train state of a system as it stands in a build: the one it had before, or a new one. */
  async function stateFor(rigId: string, build: RigBuild, system: string, t: Transaction): Promise<TrainStateRow> {
    const view = viewOf(build, system);
    const fingerprint = trainFingerprint(view);
    const known = await store.trainStates.findOne({ where: { rigId, system, fingerprint }, transaction: t });
    if (known) return plain(known);
    const row = {
      id: store.id(),
      rigId,
      system,
      fingerprint,
      words: wordPair(fingerprint),
      aspects: aspectsOf(view),
      createdAt: store.now(),
    };
    await store.trainStates.create(row, { transaction: t });
    return row;
  }

  async function demandSite(who: Actor, siteId: string): Promise<void> {
    if (!(await store.sites.findOne({ where: { id: siteId, clubId: who.clubId, archivedAt: null } })))
      throw new Problem('not_found', 'There is no such site.');
  }

  const partsIn = (setup: RigBuild): string[] => {
    const places = [...setup.placed, ...setup.systems.flatMap((s) => s.variants.flatMap((v) => v.extra))];
    return [...new Set(places.flatMap((p) => (p.partId ? [p.partId] : [])))];
  };
  /** Every part of the drawer that a rig names is there; in a turn at the club, where parts are put away. */
  async function demandParts(who: Actor, setup: RigBuild, t: Transaction): Promise<void> {
    const ids = partsIn(setup);
    if (!ids.length) return;
    const found = await store.parts.findAll({
      where: { id: ids, clubId: who.clubId, archivedAt: null },
      attributes: ['id'],
      transaction: t,
    });
    const there = new Set(found.map((p) => plain(p).id));
    const at = setup.placed.findIndex((p) => p.partId && !there.has(p.partId));
    if (there.size < ids.length)
      throw new Problem(
        'in_use',
        'A part of this rig is not in the drawer any more; take it off, or take it back under Equipment.',
        {
          issues: [{ path: at < 0 ? 'setup.systems' : `setup.placed.${at}`, message: 'is not in the drawer any more' }],
        },
      );
  }

  async function revise(who: Actor, rigId: string, number: number, setup: RigBuild, changes: Phrase[], t: Transaction) {
    const states: TrainStateRow[] = [];
    for (const s of setup.systems) states.push(await stateFor(rigId, setup, s.key, t));
    const row: RevisionRow = {
      id: store.id(),
      rigId,
      number,
      setup,
      changes,
      trainStateId: states[0]!.id,
      trainStates: Object.fromEntries(setup.systems.map((s, i) => [s.key, states[i]!.id])),
      byId: who.id,
      at: store.now(),
    };
    await store.revisions.create(row, { transaction: t });
    return { revision: row, states };
  }

  return {
    async list(who: Actor): Promise<RigRecord[]> {
      const names = await store.names(who.clubId);
      return (await currentRigs(store, who.clubId)).map((c) => record(c, names));
    },
    async add(who: Actor, body: RigBody): Promise<RigRecord> {
      await demandSite(who, body.siteId);
      return store.change(
        who,
        ['club', who.clubId],
        async (t) => {
          if (await store.rigs.findOne({ where: { clubId: who.clubId, name: body.name }, transaction: t }))
            throw new Problem('already_exists', `A rig called “${body.name}” is there already.`);
          const rig = {
            id: store.id(),
            clubId: who.clubId,
            siteId: body.siteId,
            name: body.name,
            version: 1,
            updatedAt: store.now(),
            updatedBy: who.id,
            archivedAt: null,
          };
          await demandParts(who, body.setup, t);
          await store.rigs.create(rig, { transaction: t });
          const made = await revise(who, rig.id, 1, body.setup, [phrase('rig.built')], t);
          const words = made.states.map((s) => s.words).join(', ');
          await store.audit(who, body.name, `rig built, train state ${words}`, t);
          return record({ rig, ...made }, await store.names(who.clubId, t));
        },
        { tells: { what: 'rigs' } },
      );
    },
    async revise(who: Actor, id: string, body: RigBody & { version: number }): Promise<RigRecord> {
      await demandSite(who, body.siteId);
      const guards: Guard[] = [['rig', id]];
      if (partsIn(body.setup).length) guards.push(['club', who.clubId]);
      return store.change(
        who,
        guards,
        async (t) => {
          const now = await currentRig(store, who.clubId, id, t);
          const names = await store.names(who.clubId, t);
          await demandVersion(body.version, now.rig, store, async () => record(now, names), t);
          // what no longer holds is written down with the change, for whoever comes next
          const changes = [
            ...(body.name === now.rig.name ? [] : [phrase('rig.renamed', { name: body.name })]),
            ...changesOf(now.revision.setup, body.setup),
          ];
          const rig = {
            ...now.rig,
            name: body.name,
            siteId: body.siteId,
            version: now.rig.version + 1,
            updatedAt: store.now(),
            updatedBy: who.id,
          };
          await demandParts(who, body.setup, t);
          await store.rigs.update(rig, { where: { id }, transaction: t });
          const made = await revise(who, id, now.revision.number + 1, body.setup, changes, t);
          const before = new Set(now.states.map((s) => s.id));
          const fresh = made.states.filter((s) => !before.has(s.id)).map((s) => s.words);
          await store.audit(
            who,
            body.name,
            `${words(changes, 'metric', '; ')}${fresh.length ? `. Train state now ${fresh.join(', ')}` : ''}`,
            t,
          );
          return record({ rig, ...made }, names);
        },
        { tells: { what: 'rigs', rigId: id } },
      );
    },
    async revisions(who: Actor, id: string): Promise<RevisionInfo[]> {
      await demandRig(store, who.clubId, id);
      const names = await store.names(who.clubId);
      const states = new Map(
        (await store.trainStates.findAll({ where: { rigId: id } })).map(plain).map((s) => [s.id, s.words]),
      );
      const rows = await store.revisions.findAll({ where: { rigId: id }, order: [['number', 'DESC']], limit: 200 });
      return rows.map(plain).map((r) => ({
        id: r.id,
        number: r.number,
        at: iso(r.at),
        by: names.get(r.byId) ?? '',
        changes: r.changes as RevisionInfo['changes'],
        words: r.setup.systems.map((s) => states.get(r.trainStates[s.key] ?? r.trainStateId) ?? ''),
        setup: r.setup,
      }));
    },
    async trainStates(who: Actor, id: string): Promise<TrainStateInfo[]> {
      await demandRig(store, who.clubId, id);
      const rows = await store.trainStates.findAll({ where: { rigId: id }, order: [['createdAt', 'DESC']] });
      return Promise.all(
        rows.map(plain).map(async (s) => ({
          id: s.id,
          rigId: s.rigId,
          system: s.system,
          words: s.words,
          since: iso(s.createdAt),
          focusRuns: await store.focusRuns.count({
            where: heldUnder(s, 'focus'),
          }),
        })),
      );
    },
  };
}
