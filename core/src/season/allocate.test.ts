import { describe, expect, test } from '@jest/globals';
import { InvalidInput } from '../calculation/index.ts';
import { highsSolver } from '../solver/index.ts';
import { seeded, type Random } from '../statistics/index.ts';
import { seasonAllocate } from './allocate.ts';
import type { AllocateInput } from './schemas.ts';

const solver = await highsSolver();
const run = (input: object) => seasonAllocate.run(input, { solver }) as ReturnType<typeof seasonAllocate.compute>;
const refused = (input: object) => {
  try {
    run(input);
  } catch (e) {
    if (e instanceof InvalidInput) return e.issues[0]!;
    throw e;
  }
  throw new Error('was taken');
};

/** Everything that can be allocated, one by one, by the words of the rules: shares nothing with what is tested. */
function bruteForce(input: AllocateInput): number | null {
  const { slots, projects } = input;
  const key = (n: string, r: string, o: number) => `${n}|${r}|${o}`;
  const byPlace = new Map(slots.map((s) => [key(s.night, s.rig, s.order), s.id]));
  const nextOf = new Map(slots.map((s) => [s.id, byPlace.get(key(s.night, s.rig, s.order + 1))]));
  const previousOf = new Map(slots.map((s) => [s.id, byPlace.get(key(s.night, s.rig, s.order - 1))]));
  const quality = new Map(projects.map((p) => [p.id, new Map(p.eligible.map((e) => [e.slot, e.quality]))]));
  const locked = new Map(input.locked.map((l) => [l.slot, l.project]));
  if (input.locked.some((l) => locked.get(l.slot) !== l.project)) return null;
  const minutes = new Map(slots.map((s) => [s.id, s.minutes]));
  const given = new Map<string, string>();
  let best: number | null = null;
  const count = () => {
    let worth = 0;
    for (const p of projects) {
      const mine = [...given].filter(([, id]) => id === p.id).map(([s]) => s);
      if (mine.reduce((s, id) => s + minutes.get(id)!, 0) > p.needMinutes) return;
      for (const s of mine) worth += p.weight * quality.get(p.id)!.get(s)! * minutes.get(s)!;
    }
    for (const [member, most] of Object.entries(input.memberMaxMinutes ?? {})) {
      const of = new Set(projects.filter((p) => p.member === member).map((p) => p.id));
      if ([...given].reduce((s, [id, p]) => s + (of.has(p) ? minutes.get(id)! : 0), 0) > most) return;
    }
    for (const [slot, id] of given) {
      const next = nextOf.get(slot);
      if (next && given.has(next) && given.get(next) !== id) worth -= input.switchPenalty;
      const previous = previousOf.get(slot);
      if (previous && given.get(previous) === id) continue;
      let length = 0;
      for (let at: string | undefined = slot; at && given.get(at) === id; at = nextOf.get(at)) length++;
      if (length < input.minimumBlockSlots) return;
    }
    if (best === null || worth > best) best = worth;
  };
  const choose = (i: number): void => {
    if (i === slots.length) return count();
    const { id } = slots[i]!;
    const lock = locked.get(id);
    if (!lock) choose(i + 1);
    for (const p of projects) {
      if ((lock && lock !== p.id) || !quality.get(p.id)!.has(id)) continue;
      given.set(id, p.id);
      choose(i + 1);
      given.delete(id);
    }
  };
  choose(0);
  return best;
}

/** A small club with every rule mixed in. */
function drawn(r: Random): AllocateInput {
  const below = (n: number) => Math.floor(n * r.next());
  const slots: AllocateInput['slots'] = [];
  for (const night of ['2026-11-01', '2026-11-02'].slice(0, 1 + below(2)))
    for (const rig of ['A', 'B'].slice(0, 1 + below(2)))
      for (let order = 1, n = 2 + below(3); order <= n && slots.length < 7; order++) {
        // now and then one is missing: those beside it are no neighbours
        if (r.next() < 0.12) continue;
        slots.push({ id: `${rig}${night.slice(-1)}${order}`, night, rig, order, minutes: 30 + 15 * below(4) });
      }
  const members = ['ida', 'jon', 'kim'];
  const projects = Array.from({ length: 2 + below(2) }, (_, i) => ({
    id: `p${i}`,
    member: members[below(3)]!,
    weight: 0.5 * (1 + below(6)),
    needMinutes: 15 * below(20),
    eligible: slots
      .filter(() => r.next() < 0.75)
      .map((s) => ({ slot: s.id, quality: r.next() < 0.1 ? 0 : Math.round(100 * r.next()) / 100 })),
  }));
  const locked = projects
    .flatMap((p) => p.eligible.map((e) => ({ slot: e.slot, project: p.id })))
    .filter(() => r.next() < 0.06)
    .slice(0, 2);
  return {
    slots,
    projects,
    ...(r.next() < 0.6 ? { memberMaxMinutes: { ida: 30 * below(6), jon: 30 * below(8) } } : {}),
    locked,
    switchPenalty: r.next() < 0.6 ? below(30) : 0,
    minimumBlockSlots: 1 + below(3),
    timeLimitS: 20,
    gap: 0,
  };
}

describe('an allocation', () => {
  test('is worth what trying everything finds, in 300 small clubs with every rule mixed', () => {
    const r = seeded(20_261_201);
    const seen = { taken: 0, refused: 0, blocks: 0, locks: 0, maxima: 0, changes: 0, better: 0 };
    for (let n = 0; seen.taken < 300; n++) {
      const input = drawn(r);
      const best = bruteForce(input);
      if (best === null) {
        expect([n, refused(input).path]).toEqual([n, expect.stringMatching(/^locked\.\d+/)]);
        seen.refused++;
        continue;
      }
      const got = run(input);
      expect([n, got.objective]).toEqual([n, expect.closeTo(best, 6)]);
      expect(got.bound).toBeGreaterThanOrEqual(best - 1e-6);
      expect(got.gap).toBeLessThan(1e-6);
      for (const { slot, project } of input.locked) expect(got.assignments).toContainEqual({ slot, project });
      // what was assigned, counted again by the words of the rules
      expect(bruteForce({ ...input, locked: got.assignments })).toBeCloseTo(best, 6);
      seen.taken++;
      if (input.minimumBlockSlots > 1) seen.blocks++;
      if (input.locked.length) seen.locks++;
      if (input.memberMaxMinutes) seen.maxima++;
      if (input.switchPenalty) seen.changes++;
      if (got.objective > got.greedyObjective + 1e-6) seen.better++;
    }
    // the draw has met what it is there for
    expect(seen.refused).toBeGreaterThan(5);
    for (const n of [seen.blocks, seen.locks, seen.maxima, seen.changes, seen.better]) expect(n).toBeGreaterThan(25);
  }, 120_000);

  const slot = (order: number, more: object = {}) => ({
    id: `s${order}`,
    night: '2026-11-13',
    rig: 'dome',
    order,
    minutes: 60,
    ...more,
  });
  const project = (id: string, qualities: Record<string, number>, more: object = {}) => ({
    id,
    member: 'ida',
    weight: 1,
    needMinutes: 600,
    eligible: Object.entries(qualities).map(([s, quality]) => ({ slot: s, quality })),
    ...more,
  });
  test.each([
    ['an unknown slot', { locked: [{ slot: 's9', project: 'a' }] }, 'locked.0.slot', 'there is no such slot'],
    ['an unknown project', { locked: [{ slot: 's1', project: 'z' }] }, 'locked.0.project', 'there is no such project'],
    ['a slot it may not have', { locked: [{ slot: 's3', project: 'b' }] }, 'locked.0.slot', 'not among those'],
    [
      'one slot for two',
      { locked: ['a', 'b'].map((p) => ({ slot: 's1', project: p })) },
      'locked.1.slot',
      'locked for “a” already',
    ],
    [
      'more than it needs',
      {
        projects: [project('a', { s1: 1, s2: 1 }, { needMinutes: 100 })],
        locked: ['s1', 's2'].map((s) => ({ slot: s, project: 'a' })),
      },
      'locked.1.project',
      'it needs 100',
    ],
    [
      'more than the member may have',
      {
        memberMaxMinutes: { ida: 60 },
        locked: [
          { slot: 's1', project: 'a' },
          { slot: 's2', project: 'b' },
        ],
      },
      'locked.1.project',
      'the most is 60',
    ],
    [
      'a run that is too short',
      { minimumBlockSlots: 4, locked: [{ slot: 's1', project: 'a' }] },
      'locked.0.slot',
      'its run can be 3 slots',
    ],
    [
      'two that leave no room for each other’s runs',
      {
        minimumBlockSlots: 2,
        locked: [
          { slot: 's1', project: 'b' },
          { slot: 's2', project: 'a' },
        ],
      },
      'locked.0.slot',
      'its run can be 1',
    ],
    [
      'a run that needs more than there is need for',
      {
        minimumBlockSlots: 2,
        projects: [project('a', { s1: 1, s2: 1, s3: 1 }, { needMinutes: 100 })],
        locked: [{ slot: 's2', project: 'a' }],
      },
      'locked.0',
      'no allocation can keep the lock of “s2” for “a”',
    ],
    ['a slot twice', { slots: [slot(1), slot(1)] }, 'slots.1', 'stands twice'],
    ['a place twice', { slots: [slot(1), slot(1, { id: 's2' }), slot(3)] }, 'slots.1', '2026-11-13, dome, 1'],
    ['a project twice', { projects: [project('a', {}), project('a', {})] }, 'projects.1', 'stands twice'],
    [
      'an eligible slot twice',
      { projects: [{ ...project('a', {}), eligible: [0, 1].map(() => ({ slot: 's1', quality: 1 })) }] },
      'projects.0.eligible.1',
      'stands twice',
    ],
    [
      'an eligible slot that is none',
      { projects: [project('a', { s7: 1 })] },
      'projects.0.eligible.0.slot',
      'there is no slot “s7”',
    ],
    ['a quality above 1', { projects: [project('a', { s1: 1.2 })] }, 'projects.0.eligible.0.quality', 'at most 1'],
    ['a slot of no length', { slots: [slot(1, { minutes: 0 }), slot(2), slot(3)] }, 'slots.0.minutes', 'more than 0'],
  ])('refuses %s, and says where', (_what, more, path, said) => {
    const input = {
      slots: [slot(1), slot(2), slot(3)],
      projects: [project('a', { s1: 1, s2: 1, s3: 1 }), project('b', { s1: 0.5, s2: 0.5 })],
      ...more,
    };
    expect(refused(input)).toEqual({ path, message: expect.stringContaining(said) });
  });

  test.each([
    ['nothing is needed', { projects: [project('a', { s1: 1 }, { needMinutes: 0 })] }, 'season.why-met'],
    ['it has all', { projects: [project('a', { s1: 1 }, { needMinutes: 60 })] }, 'season.why-met'],
    ['it may have none', { projects: [project('a', {})] }, 'season.why-nowhere'],
    ['it has every one', { projects: [project('a', { s1: 1, s2: 1 })] }, 'season.why-all'],
    [
      'the rest is shorter than any',
      { projects: [project('a', { s1: 1, s2: 1 }, { needMinutes: 100 })] },
      'season.why-remainder',
    ],
    [
      'the member has the most',
      { projects: [project('a', { s1: 1, s2: 1 })], memberMaxMinutes: { ida: 60 } },
      'season.why-maximum',
    ],
    ['others have them', { projects: [project('a', { s1: 0.5 }), project('b', { s1: 1 })] }, 'season.why-others'],
    ['no run is long enough', { projects: [project('a', { s1: 1, s3: 1 })], minimumBlockSlots: 2 }, 'season.why-block'],
    ['it is worth nothing', { projects: [project('a', { s1: 0, s2: 1 })] }, 'season.why-worthless'],
    [
      'the change costs more',
      { projects: [project('a', { s2: 0.1 }), project('b', { s1: 1, s3: 1 })], switchPenalty: 10 },
      'season.why-switch',
    ],
  ])('says why there is no more: %s', (_what, more, code) => {
    const got = run({ slots: [slot(1), slot(2), slot(3)], ...more });
    expect(got.perProject.a).toMatchObject({ because: { code } });
  });

  test('gives more weight never less worth, and a locked optimum the same', () => {
    const r = seeded(77);
    for (let n = 0; n < 60; n++) {
      const input = { ...drawn(r), locked: [] };
      const got = run(input);
      expect(run({ ...input, locked: got.assignments }).objective).toBeCloseTo(got.objective, 6);
      const id = input.projects[0]!.id;
      const heavier = input.projects.map((p) => (p.id === id ? { ...p, weight: 3 * p.weight } : p));
      const quality = (o: typeof got) =>
        o.assignments
          .filter((a) => a.project === id)
          .reduce(
            (s, a) =>
              s +
              input.projects[0]!.eligible.find((e) => e.slot === a.slot)!.quality *
                input.slots.find((x) => x.id === a.slot)!.minutes,
            0,
          );
      // what is sure is the sum of quality and minutes: one fine hour may be worth more than two poor ones
      expect(quality(run({ ...input, projects: heavier }))).toBeGreaterThanOrEqual(quality(got) - 1e-6);
    }
  }, 60_000);
  test('that is cut short is what greedy found at least, with a limit that holds, and says so', () => {
    const r = seeded(5);
    const slots = Array.from({ length: 24 }, (_, i) =>
      slot((i % 8) + 1, { id: `s${i}`, night: `2026-11-0${1 + Math.floor(i / 8)}` }),
    );
    const projects = Array.from({ length: 6 }, (_, i) =>
      project(`p${i}`, Object.fromEntries(slots.map((s) => [s.id, r.next()])), {
        weight: 1 + r.next(),
        needMinutes: 200 + 40 * i,
        member: `m${i % 4}`,
      }),
    );
    const input = { slots, projects, switchPenalty: 17, minimumBlockSlots: 2, gap: 0 };
    const hurried = run({ ...input, timeLimitS: 0.001 });
    const free = run({ ...input, timeLimitS: 20 });
    expect(hurried.objective).toBeGreaterThanOrEqual(hurried.greedyObjective - 1e-9);
    expect(hurried.bound).toBeGreaterThanOrEqual(free.objective - 1e-6);
    expect([hurried.verdict.level, hurried.verdict.text]).toEqual(['caution', expect.stringContaining('cut short')]);
  }, 60_000);
});
