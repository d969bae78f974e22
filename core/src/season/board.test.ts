import { describe, expect, test } from '@jest/globals';
import { InvalidInput } from '../calculation/index.ts';
import { phrase } from '../phrases/index.ts';
import { highsSolver } from '../solver/index.ts';
import { seeded } from '../statistics/index.ts';
import { workOutBoard as workOut, type Board, type BoardProgress, type BoardTask } from './board.ts';
import type { SeasonField, SeasonProject } from './nights.ts';
import { fairMaxima } from './shares.ts';

const solver = await highsSolver();
const workOutBoard = (of: BoardTask, by: typeof solver, progress?: BoardProgress) =>
  workOut(of, by, () => Date.now(), progress);
const site = { latitudeDeg: 47, longitudeDeg: 8, elevationM: 0, timeZone: 'UTC', horizon: [] };
const project = (id: string, member: string, raDeg: number, more: Partial<SeasonProject> = {}): SeasonProject => ({
  id,
  member,
  weight: 1,
  rigs: ['dome'],
  raDeg,
  decDeg: 35,
  minimumAltitudeDeg: 25,
  narrowMinutes: 0,
  broadMinutes: 600,
  ...more,
});
const task = (more: Partial<BoardTask> = {}): BoardTask => ({
  from: '2026-12-05',
  nights: 5,
  slotMinutes: 60,
  switchPenalty: 10,
  minimumBlockSlots: 1,
  clearFraction: 0.5,
  fairDays: null,
  rigs: [{ id: 'dome', site }],
  projects: [project('wreath', 'ida', 60), project('lantern', 'jon', 62), project('sail', 'ida', 150)],
  names: { wreath: 'NGC 1', lantern: 'NGC 2', sail: 'NGC 3', ida: 'Ida', jon: 'Jon' },
  taken: {},
  promised: [],
  received: {},
  locked: [],
  standing: [],
  barred: {},
  timeLimitS: 20,
  ...more,
});
const minutesOf = (b: Board, member: string) => b.members.find((m) => m.memberId === member)!.minutes;
const slotMin = (b: Board) => Math.max(...b.slots.map((s) => s.minutes));

describe('shares', () => {
  /** A field of nothing but minutes: who can use which. */
  const field = (slots: number[], usable: Record<string, { slots: number[]; need: number }>): SeasonField => ({
    slots: slots.map((minutes, i) => ({
      id: `s${i}`,
      night: '2026-12-05',
      rig: 'dome',
      order: i,
      minutes,
      fromMs: 0,
      untilMs: 0,
      clear: 1,
      moonlit: 0,
      moonUp: 0,
    })),
    projects: Object.entries(usable).map(([m, u]) => ({
      id: `of ${m}`,
      member: m,
      weight: 1,
      needMinutes: u.need,
      eligible: u.slots.map((i) => ({ slot: `s${i}`, quality: 1 })),
    })),
  });
  test('bring everybody to one level, as far as each can use it: held against pouring it out minute by minute', () => {
    const r = seeded(12);
    for (let n = 0; n < 100; n++) {
      const slots = Array.from({ length: 6 + Math.floor(6 * r.next()) }, () => 20 + Math.floor(40 * r.next()));
      const members = ['a', 'b', 'c', 'd'].slice(0, 2 + Math.floor(3 * r.next()));
      const usable = Object.fromEntries(
        members.map((m) => [
          m,
          { slots: slots.map((_, i) => i).filter(() => r.next() < 0.7), need: Math.floor(600 * r.next()) },
        ]),
      );
      const received = Object.fromEntries(members.map((m) => [m, Math.floor(400 * r.next() * r.next())]));
      const most = fairMaxima(field(slots, usable), received, []);
      // a minute at a time to whoever had least so far and can still use one
      const total = new Set(members.flatMap((m) => usable[m]!.slots));
      let left = [...total].reduce((s, i) => s + slots[i]!, 0);
      const can = (m: string) =>
        Math.min(
          usable[m]!.need,
          usable[m]!.slots.reduce((s, i) => s + slots[i]!, 0),
        );
      const poured = Object.fromEntries(members.map((m) => [m, 0]));
      for (; left > 0; left--) {
        const next = members
          .filter((m) => poured[m]! < can(m))
          .sort((x, y) => received[x]! + poured[x]! - received[y]! - poured[y]!)[0];
        if (!next) break;
        poured[next]!++;
      }
      const slot = Math.max(...slots);
      for (const m of members) {
        const fair = most[m]! - (most[m]! > 0 ? slot : 0);
        expect([n, m, Math.abs(fair - poured[m]!) <= members.length]).toEqual([n, m, true]);
      }
    }
  });
  test('leave what is locked to whom it is locked, whatever they had', () => {
    const f = field([60, 60, 60], { a: { slots: [0, 1, 2], need: 180 }, b: { slots: [0, 1, 2], need: 180 } });
    expect(fairMaxima(f, { a: 1000 }, []).a).toBe(0);
    expect(fairMaxima(f, { a: 1000 }, [{ slot: 's1', project: 'of a' }]).a).toBe(60);
  });
});

describe('a board', () => {
  test('gives who had less the more, and beyond the shares only what nobody else can use', () => {
    const same = { nights: 3, projects: [project('wreath', 'ida', 60), project('lantern', 'jon', 60)] };
    const alike = workOutBoard(task({ ...same, fairDays: 90 }), solver);
    expect(Math.abs(minutesOf(alike, 'ida') - minutesOf(alike, 'jon'))).toBeLessThanOrEqual(2 * slotMin(alike));
    const owed = workOutBoard(task({ ...same, fairDays: 90, received: { ida: 400 } }), solver);
    expect(minutesOf(owed, 'jon')).toBeGreaterThan(minutesOf(owed, 'ida') + 200);
    expect(owed.members.find((m) => m.memberId === 'ida')).toMatchObject({ received: 400 });
    // only one of them wants anything here
    const alone = workOutBoard(
      task({ projects: [project('wreath', 'ida', 60)], fairDays: 90, received: { ida: 5000 } }),
      solver,
    );
    expect(minutesOf(alone, 'ida')).toBeGreaterThan(300);
    // two want the same hours, and a third, who had plenty, is the only one who can use the rest
    const want = { broadMinutes: 3000 };
    const late = workOutBoard(
      task({
        projects: [
          project('wreath', 'ida', 60, want),
          project('lantern', 'jon', 60, want),
          project('sail', 'kim', 150, want),
        ],
        fairDays: 90,
        received: { kim: 5000 },
      }),
      solver,
    );
    for (const s of late.slots)
      if (s.projectId) expect([s.projectId, s.beyondShare]).toEqual([s.projectId, s.projectId === 'sail']);
    expect(late.slots.some((s) => s.beyondShare)).toBe(true);
  }, 60_000);
  test('a wish moves little beside itself; the sentences name what people call things', () => {
    const free = { switchPenalty: 0 };
    const first = workOutBoard(task(free), solver);
    const mine = first.slots.find(
      (s) => s.projectId === 'wreath' && first.projects[1]!.eligible.some((e) => e.slot === s.id),
    )!;
    const standing = first.slots.flatMap((s) => (s.projectId ? [{ slot: s.id, project: s.projectId }] : []));
    const wished = workOutBoard(task({ ...free, locked: [{ slot: mine.id, project: 'lantern' }], standing }), solver);
    expect(wished.slots.find((s) => s.id === mine.id)!.projectId).toBe('lantern');
    expect(wished.slots.filter((s, i) => s.projectId !== first.slots[i]!.projectId).length).toBeLessThanOrEqual(4);
    // what is left unproven of either is all it can gain
    expect(wished.objective).toBeLessThanOrEqual(first.bound + 1e-6);
    expect(wished.locked).toEqual([{ slot: mine.id, project: 'lantern' }]);
    const said = JSON.stringify(first.projects.map((p) => p.why.values));
    expect(said).not.toMatch(/wreath|lantern|sail|"ida"|"jon"/);
  }, 60_000);
  test('chances are those of the nights that were given: sure where it is always clear', () => {
    const clear = workOutBoard(
      task({ clearFraction: 1, projects: [project('wreath', 'ida', 60, { broadMinutes: 120 })] }),
      solver,
    );
    const p = clear.projects[0]!;
    // whole slots never reach a need to the minute
    expect(p.minutes).toBeLessThanOrEqual(120 + 1e-6);
    expect([0, 1]).toContain(p.chance);
    const given = clear.slots.filter((s) => s.projectId === 'wreath');
    expect(p.nights.p50).toBe(p.chance === 1 ? given.at(-1)!.night : null);
    const half = workOutBoard(task({ projects: [project('wreath', 'ida', 60, { broadMinutes: 60 })] }), solver);
    expect(half.projects[0]!.chance).toBeLessThan(1);
  }, 60_000);
  test('a lock of a slot that is not to be given is refused by its place', () => {
    expect(() => workOutBoard(task({ locked: [{ slot: '2020-01-01 dome 3', project: 'wreath' }] }), solver)).toThrow(
      InvalidInput,
    );
  });
  test('a search that is told to end ends with the best found', () => {
    let told = 0;
    const cut = workOutBoard(task({ nights: 14, minimumBlockSlots: 2 }), solver, () => ++told < 2);
    expect(cut.objective).toBeGreaterThanOrEqual(cut.greedyObjective - 1e-6);
  }, 60_000);
});

test('a project that is barred has no hours, and says why', () => {
  const all = task();
  const first = all.projects[0]!;
  const given = (b: Board) => b.slots.filter((s) => s.projectId === first.id).length;
  expect(given(workOutBoard(all, solver))).toBeGreaterThan(0);
  const board = workOutBoard({ ...all, barred: { [first.id]: phrase('season.why-train') } }, solver);
  expect(board.slots.filter((s) => s.projectId === first.id)).toEqual([]);
  const own = board.projects.find((p) => p.projectId === first.id)!;
  expect([own.eligible, own.why.code]).toEqual([[], 'season.why-train']);
});
