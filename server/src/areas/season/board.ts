import type { BoardQuestion, ProjectRecord } from '@keen/contract';
import type { AbsenceNights } from '@keen/core/absences';
import { hadSince, wayOf } from '@keen/core/booking';
import { phrase } from '@keen/core/phrases';
import { holds } from '@keen/core/rig';
import { endOfNightMs, isStopped, pointedAt, stillWanted } from '@keen/core/record';
import { weightsOf, type BoardTask, type SeasonProject } from '@keen/core/season';
import { splitFilters } from '@keen/core/sequence';
import { addDays } from '@keen/core/sky';
import { plain, type LogRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { ALL, groupBy, type Actor, type Store } from '../../store.ts';
import { absencesOf } from '../bookings/absences.ts';
import { bookingsSince, ledgerNights } from '../bookings/ledger.ts';
import { openFaults } from '../logbook/stops.ts';
import { rulesOf, sharingOf } from '../bookings/sharing.ts';
import { skySite } from '../plans/night.ts';
import { projectsService } from '../projects/service.ts';
import { aspectsAt, currentRigs } from '../rigs/current.ts';
import { hoursSpokenFor } from './spokenFor.ts';

/** Longest search for a board [s]. */
const SEARCH_S = 30;

/** The rigs of a board, all of the club’s own and in use. @throws Problem invalid_input with those that are not */
export async function demandRigs(store: Store, who: Actor, rigIds: readonly string[]) {
  const rigs = (
    await store.rigs.findAll({ where: { id: [...rigIds], clubId: who.clubId, archivedAt: null }, order: ['name'] })
  ).map(plain);
  const missing = rigIds.filter((id) => !rigs.some((r) => r.id === id));
  if (missing.length)
    throw new Problem('invalid_input', 'some of these rigs are not there, or put away', {
      issues: missing.map((id) => ({ path: `rigIds.${rigIds.indexOf(id)}`, message: 'there is no such rig in use' })),
    });
  return rigs;
}

/** Open shutter still wanted through narrow filters, and through the others [min]. */
function wanted(p: ProjectRecord): { narrowMinutes: number; broadMinutes: number } {
  const left = stillWanted(p);
  const { narrow } = splitFilters(left.map((g) => g.filter));
  const minutes = (of: typeof left) => of.reduce((s, g) => s + (g.left * g.exposureS) / 60, 0);
  return {
    narrowMinutes: minutes(left.filter((g) => narrow.includes(g.filter))),
    broadMinutes: minutes(left.filter((g) => !narrow.includes(g.filter))),
  };
}

/** When alone it may be taken: after what keeps its system from work, until its deadline’s night is over, within its spells. */
function spellsOf(
  { season }: ProjectRecord,
  timeZone: string,
  faults: readonly LogRow[],
  away: readonly AbsenceNights[],
): { spells?: [number, number][] } {
  const worksAgain = faults.map((f) => (f.stops!.until === null ? Infinity : endOfNightMs(f.stops!.until, timeZone)));
  const first = Math.max(-Infinity, ...worksAgain);
  const last = season.deadline === null ? Infinity : endOfNightMs(season.deadline, timeZone);
  if (!season.spells.length && first === -Infinity && last === Infinity && !away.length) return {};
  const named: [number, number][] = season.spells.length
    ? season.spells.map((s) => [Date.parse(s.start), Date.parse(s.end)])
    : [[-Infinity, Infinity]];
  const bounded = named.map(([from, until]): [number, number] => [Math.max(first, from), Math.min(last, until)]);
  // from noon to noon of the nights on which their owner is away
  const gone = away.map((a): [number, number] => [
    endOfNightMs(addDays(a.from, -1), timeZone),
    endOfNightMs(a.until, timeZone),
  ]);
  return { spells: gone.reduce((spells, [a, b]) => spells.flatMap((s) => without(s, a, b)), bounded) };
}

/** What is left of a spell without another. */
const without = ([from, until]: [number, number], a: number, b: number): [number, number][] =>
  b <= from || a >= until
    ? [[from, until]]
    : (
        [
          [from, a],
          [b, until],
        ] as [number, number][]
      ).filter(([x, y]) => y > x);

/** Those of some nights of which something is so, as spells from noon to noon [ms]. */
function nightsOf(from: string, nights: number, timeZone: string, are: (night: string) => boolean): [number, number][] {
  return Array.from({ length: nights }, (_, n) => addDays(from, n))
    .filter(are)
    .map((night): [number, number] => [endOfNightMs(addDays(night, -1), timeZone), endOfNightMs(night, timeZone)]);
}

/** Projects that wait for the train they were begun with. */
async function otherTrain(store: Store, who: Actor, all: readonly ProjectRecord[]): Promise<BoardTask['barred']> {
  const waiting = all.filter((p) => p.season.sameTrain && p.framing);
  if (!waiting.length) return {};
  const rigs = new Map((await currentRigs(store, who.clubId)).map((r) => [r.rig.id, r.revision]));
  return Object.fromEntries(
    waiting
      .filter((p) => {
        const revision = rigs.get(p.rigId);
        return revision && !holds({ framing: p.framing!.aspect }, aspectsAt(revision, p.system), 'framing');
      })
      .map((p) => [p.id, phrase('season.why-train')]),
  );
}

/** All a board is worked out from, as it stands now. */
export async function prepareBoard(store: Store, who: Actor, q: BoardQuestion): Promise<BoardTask> {
  const { rigIds, weights, locked, standing, movesPromises, ...settings } = q;
  const rigs = await demandRigs(store, who, rigIds);
  const siteIds = [...new Set(rigs.map((r) => r.siteId))];
  const sites = new Map((await store.sites.findAll({ where: { id: siteIds } })).map(plain).map((s) => [s.id, s]));
  const all = await projectsService(store).list(who, ALL);
  const faults = groupBy(await openFaults(store, rigIds), (f) => f.rigId);
  const away = await absencesOf(store, [...new Set(all.map((p) => p.ownerId))]);
  const zoneOf = new Map(rigs.map((r) => [r.id, sites.get(r.siteId)!.timeZone]));
  const usual = weightsOf(
    all
      .filter((p) => !p.archived && rigIds.includes(p.rigId) && stillWanted(p).length > 0)
      .map((p) => ({ id: p.id, ownerId: p.ownerId, priority: p.season.priority })),
  );
  const projects = all.flatMap((p): SeasonProject[] => {
    const [weight, left] = [weights[p.id] ?? usual.get(p.id) ?? p.season.priority, wanted(p)];
    if (p.archived || !rigIds.includes(p.rigId) || weight === 0 || left.narrowMinutes + left.broadMinutes === 0)
      return [];
    return [
      {
        id: p.id,
        member: p.ownerId,
        weight,
        rigs: [p.rigId],
        ...pointedAt(p, null, []),
        minimumAltitudeDeg: p.minimumAltitudeDeg,
        ...left,
        moon: p.season.moon,
        ...spellsOf(
          p,
          zoneOf.get(p.rigId)!,
          (faults.get(p.rigId) ?? []).filter((f) => f.stops!.system === p.system),
          away.get(p.ownerId) ?? [],
        ),
      },
    ];
  });
  const now = store.now().getTime();
  const { promised, taken } = await hoursSpokenFor(store, who, all, {
    rigIds,
    from: q.from,
    until: addDays(q.from, q.nights - 1),
    now,
    movesPromises,
  });
  const sharing = await sharingOf(store, rigIds);
  const rules = await rulesOf(store, who.clubId);
  const fairDays = q.fairDays === undefined ? rules.fairDays : q.fairDays;
  const since = addDays(q.from, -(fairDays ?? 0));
  const had = async () => {
    return hadSince(await bookingsSince(store, who.clubId, since), ledgerNights(all), since, rules.cloudShare);
  };
  const names = Object.fromEntries(await store.names(who.clubId));
  return {
    ...settings,
    rigs: rigs.map((r) => ({ id: r.id, site: skySite(sites.get(r.siteId)!) })),
    projects,
    names: { ...names, ...Object.fromEntries(projects.map((p) => [p.id, all.find((x) => x.id === p.id)!.object])) },
    taken: Object.fromEntries(
      rigs.map((r) => [
        r.id,
        [
          // what is over is given to nobody
          [0, now],
          ...(taken.get(r.id) ?? []),
          ...nightsOf(q.from, q.nights, sites.get(r.siteId)!.timeZone, (night) =>
            (faults.get(r.id) ?? []).some((f) => isStopped(f, { night })),
          ),
          // what goes by calendar is booked, not given
          ...nightsOf(
            q.from,
            q.nights,
            sites.get(r.siteId)!.timeZone,
            (night) => wayOf(sharing.get(r.id)!, night) === 'calendar',
          ),
        ],
      ]),
    ),
    promised,
    barred: await otherTrain(store, who, all),
    fairDays,
    received: fairDays === null ? {} : await had(),
    locked,
    standing,
    timeLimitS: SEARCH_S,
  };
}
