import { taskAtOnce } from './areas/calculations/worker.ts';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { USUAL_SEASON, type RigRecord } from '@keen/contract';
import { zoneStepsOf } from '@keen/core/observatory';
import { offsets } from '@keen/core/focus';
import { viewOf } from '@keen/core/rig';
import { USUAL_WATCHES, type PlanSettings } from '@keen/core/sequence';
import {
  addDays,
  eveningDate,
  findObjects,
  OBJECT_TYPES,
  target,
  type Catalogue,
  type CatalogueEntry,
} from '@keen/core/sky';
import { CLUB, LOOSE_PARTS, MEMBERS, PAST_NIGHTS, PROJECTS, RIGS, SITES, type DemoProject } from '@keen/demo';

import { focusService } from './areas/focus/service.ts';
import { DEMO_PASSWORD, hashPassword } from './access/index.ts';
import { partsService } from './areas/parts/service.ts';
import { plansService } from './areas/plans/service.ts';
import { projectsService } from './areas/projects/service.ts';
import { rigsService } from './areas/rigs/service.ts';
import { acceptRun } from './areas/runs/accept.ts';
import { rehearseNow } from './areas/runs/rehearse.ts';
import { sitesService } from './areas/sites/service.ts';
import { plain } from './database/index.ts';
import { seedLearning } from './seedLearning.ts';
import { seedShared } from './seedShared.ts';
import { seedGuiding } from './seedGuiding.ts';
import { tellOf } from './sharedChange.ts';
import { ALL, type Actor, type Store } from './store.ts';

/** Loads the invented club through the services themselves, and plays its last nights through on the stand-ins. */
export async function seedDemo(live: Store): Promise<void> {
  const catalogue = JSON.parse(
    readFileSync(join(import.meta.dirname, '../../data/deep-sky.json'), 'utf8'),
  ) as Catalogue;
  const today = live.now();
  let clock = new Date(today.getTime() - 30 * 86_400_000);
  const store: Store = { ...live, now: () => clock };

  const clubId = store.id();
  await store.clubs.create({ id: clubId, name: CLUB, kind: 'club', demo: 1 });
  const people = new Map<string, Actor>();
  const passwordHash = await hashPassword(DEMO_PASSWORD);
  for (const m of MEMBERS) {
    const id = store.id();
    await store.members.create({
      id,
      clubId,
      name: m.name,
      signIn: m.signIn,
      role: m.role,
      passwordHash,
      owner: 0,
      factorKey: null,
      factorStep: 0,
      sessionEpoch: 0,
      archivedAt: null,
    });
    people.set(m.key, { id, clubId, name: m.name, role: m.role });
  }
  const steward = people.get('odalys')!;
  const auditing = { ...store, audit: auditAt(store, () => clock) };

  const sites = new Map<string, string>();
  for (const { key, ...site } of SITES) sites.set(key, (await sitesService(auditing).add(steward, site)).id);

  const rigs = new Map<string, RigRecord>();
  for (const r of RIGS) {
    const setup = { ...r.build, placed: [...r.build.placed] };
    for (const [i, p] of setup.placed.entries()) {
      const known = await store.parts.findOne({ where: { clubId, name: p.name } });
      const id =
        (known ? plain(known).id : null) ??
        (
          await partsService(auditing).add(steward, {
            name: p.name,
            kind: p.kind,
            massKg: p.massKg,
            widthMm: p.widthMm,
            count: 1,
            note: '',
            ownedByClub: true,
          })
        ).id;
      setup.placed[i] = { ...p, partId: id as string };
    }
    rigs.set(r.key, await rigsService(auditing).add(steward, { name: r.name, siteId: sites.get(r.site)!, setup }));
  }
  for (const { owner, part } of LOOSE_PARTS)
    await partsService(auditing).add(people.get(owner ?? 'odalys')!, { ...part, ownedByClub: owner === null });

  const projects: { demo: DemoProject; id: string; entry: CatalogueEntry; owner: Actor }[] = [];
  for (const p of PROJECTS) {
    const entry = findObjects(catalogue, p.object, 1)[0];
    if (!entry) throw new Error(`the catalogue has no ${p.object}`);
    const owner = people.get(p.owner)!;
    const made = await projectsService(auditing).add(owner, {
      name: p.name,
      object: p.object,
      objectType: OBJECT_TYPES[entry.type] ?? '',
      raDeg: entry.raDeg,
      decDeg: entry.decDeg,
      sizeArcmin: entry.majorArcmin,
      rigId: rigs.get(p.rig)!.id,
      system: p.system ?? rigs.get(p.rig)!.systems[0]!.key,
      angleDeg: p.angleDeg,
      minimumAltitudeDeg: p.minimumAltitudeDeg,
      goals: p.goals,
      note: p.note,
      season: USUAL_SEASON,
    });
    projects.push({ demo: p, id: made.id, entry, owner });
  }

  const adopted = new Set<string>();
  let seed = 4100;
  for (const [nth, daysAgo] of PAST_NIGHTS.entries()) {
    for (const [at, r] of RIGS.entries()) {
      const rig = rigs.get(r.key)!;
      const site = SITES.find((s) => s.key === r.site)!;
      const night = addDays(eveningDate(site.timeZone, today.getTime()), -daysAgo);
      // not every rig works every night
      if ((nth + at) % 3 === 2) continue;
      const able = projects
        // the second camera rides along; its own nights are not played here
        .filter((p) => p.demo.rig === r.key && !p.demo.system)
        .map((p) => ({
          p,
          t: target({
            site,
            date: night,
            raDeg: p.entry.raDeg,
            decDeg: p.entry.decDeg,
            minimumAltitudeDeg: p.demo.minimumAltitudeDeg,
            darkness: 'astronomical',
            stepMin: 60,
          }),
        }))
        .filter(({ t }) => t.hours >= 2)
        .sort((a, b) => b.t.hours - a.t.hours);
      const chosen = able[nth % Math.max(1, Math.min(2, able.length))];
      const window = chosen?.t.windows.reduce((a, b) => (span(b) > span(a) ? b : a));
      if (!chosen || !window) continue;
      clock = new Date(Date.parse(window.start) - 3 * 3_600_000);
      const settings: PlanSettings = {
        filters: chosen.p.demo.goals.map((g) => ({ name: g.filter, exposureS: g.exposureS, quota: g.quota })),
        order: adopted.has(r.key) ? 'lagging' : 'rolling',
        dither: { everyFrames: 2, perRound: false },
        focus: adopted.has(r.key) ? { policy: 'offsets', everyMin: 60 } : { policy: 'every-change' },
        coolingCPerHour: 1.2,
      };
      const end = new Date(Math.min(Date.parse(window.end), Date.parse(window.start) + 5 * 3_600_000)).toISOString();
      const plan = await plansService(auditing).add(chosen.p.owner, {
        rigId: rig.id,
        night,
        opening: [],
        legs: [
          {
            id: 'first',
            projectId: chosen.p.id,
            panel: null,
            role: 'main',
            turnMin: null,
            from: { by: 'clock', at: window.start },
            until: { by: 'clock', at: end },
            settings,
            guiding: true,
            meridian: 'flip',
            centreWithinArcmin: 0.5,
            follower: null,
          },
        ],
        closing: [],
        watches: USUAL_WATCHES,
        locked: false,
        locks: [],
      });
      const run = await rehearseNow(auditing, taskAtOnce, chosen.p.owner, plan.id, ++seed);
      clock = new Date(Date.parse(end) + 6 * 3_600_000);
      await acceptRun(auditing, chosen.p.owner, run.id);
      // the refractor's runs wait for somebody to read them
      if (!adopted.has(r.key) && r.key !== 'refractor' && (await adopt(auditing, steward, rig))) adopted.add(r.key);
    }
  }
  await seedGuiding(auditing, steward, rigs, today, (to) => (clock = to));
  await seedLearning(auditing, people, rigs, today);
  await seedShared(auditing, people, rigs, today);
}

const span = (w: { start: string; end: string }) => Date.parse(w.end) - Date.parse(w.start);

/** Adopts what the runs so far say, as the steward would in the morning; not before the reference filter has been run. */
async function adopt(store: Store, steward: Actor, rig: RigRecord): Promise<boolean> {
  const focus = focusService(store);
  const { trainStateId } = rig.systems[0]!;
  const setup = viewOf(rig.setup);
  const runs = (await focus.list(steward, trainStateId, ALL)).filter((r) => r.usable);
  const zoneSteps = zoneStepsOf(setup);
  const reference = setup.wheel[0]!.filter;
  if (!runs.some((r) => r.filter === reference)) return false;
  const found = offsets({
    runs: runs.map((r) => ({
      filter: r.filter,
      position: r.position,
      ...(r.temperatureC === null ? {} : { temperatureC: r.temperatureC }),
      ...(r.time === null ? {} : { time: r.time }),
    })),
    reference,
    model: 'temperature',
    criticalZoneSteps: zoneSteps,
  });
  await focus.adopt(steward, {
    trainStateId,
    reference,
    model: 'temperature',
    offsets: found.offsets,
    temperatureStepsPerC: found.temperatureStepsPerC ?? null,
    zoneSteps,
    runCount: runs.length,
  });
  return true;
}

/** The audit as written at the story's own time. */
const auditAt =
  (store: Store, now: () => Date): Store['audit'] =>
  async (who, subject, text, t) => {
    await store.changes.create(
      { id: store.id(), at: now(), memberId: who.id, subject: subject.slice(0, 160), text: text.slice(0, 1000) },
      t ? { transaction: t } : {},
    );
    if (t) tellOf(t);
  };
