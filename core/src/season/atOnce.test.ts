import { expect, test } from '@jest/globals';
import { highsSolver } from '../solver/index.ts';
import { seeded } from '../statistics/index.ts';
import { atOnce } from './atOnce.ts';
import { workOutBoard, type Board, type BoardTask } from './board.ts';

const solver = await highsSolver();
const site = { latitudeDeg: 47, longitudeDeg: 8, elevationM: 0, timeZone: 'UTC', horizon: [] };
function boardOf(seed: number): { task: BoardTask; board: Board } {
  const r = seeded(seed);
  const rigs = ['dome', 'pier'];
  const task: BoardTask = {
    from: '2026-12-05',
    nights: 3,
    slotMinutes: 90,
    switchPenalty: seed % 2 ? 0 : 20 * r.next(),
    minimumBlockSlots: 1 + Math.floor(2 * r.next()),
    clearFraction: 0.5,
    fairDays: r.next() < 0.5 ? 90 : null,
    rigs: rigs.map((id) => ({ id, site })),
    projects: Array.from({ length: 7 }, (_, i) => ({
      id: `p${i}`,
      member: `m${i % 3}`,
      weight: 1 + i / 10,
      rigs: [rigs[i % 2]!],
      raDeg: 360 * r.next(),
      decDeg: 20 + 40 * r.next(),
      minimumAltitudeDeg: 25,
      narrowMinutes: 0,
      broadMinutes: 60 + 500 * r.next(),
    })),
    names: {},
    taken: {},
    promised: [],
    received: { m0: 300 * r.next() },
    locked: [],
    standing: [],
    barred: {},
    timeLimitS: 20,
  };
  return { task, board: workOutBoard(task, solver, () => Date.now()) };
}
/** Counted again from the board itself: worth less changes between neighbours. */
function worthOf(board: Board, holder: (slot: string) => string | null): number {
  const at = new Map(board.slots.map((s) => [`${s.night} ${s.rigId} ${s.order}`, s]));
  return board.slots.reduce((sum, s) => {
    const id = holder(s.id);
    if (!id) return sum;
    const p = board.projects.find((x) => x.projectId === id)!;
    const quality = p.eligible.find((e) => e.slot === s.id)!.quality;
    const next = at.get(`${s.night} ${s.rigId} ${s.order + 1}`);
    const other = next && holder(next.id);
    const price = other && other !== id ? board.settings.switchPenalty * board.settings.clearFraction : 0;
    return sum + p.weight * quality * s.minutes - price;
  }, 0);
}

test('a wish is kept at once, within everybody’s need, and its cost is what it says', () => {
  let [moved, wishes] = [0, 0];
  for (let seed = 1; seed <= 4; seed++) {
    const { board } = boardOf(seed);
    const before = new Map(board.slots.map((s) => [s.id, s.projectId]));
    for (const p of board.projects)
      for (const { slot } of p.eligible.slice(0, 3)) {
        if (before.get(slot) === p.projectId) continue;
        const got = atOnce(board, { slot, project: p.projectId })!;
        const holder = (id: string) => (got.slots.has(id) ? got.slots.get(id)! : before.get(id)!);
        wishes++;
        expect(holder(slot)).toBe(p.projectId);
        for (const q of board.projects) {
          const minutes = board.slots.filter((s) => holder(s.id) === q.projectId).reduce((a, s) => a + s.minutes, 0);
          const was = board.slots.filter((s) => s.projectId === q.projectId).reduce((a, s) => a + s.minutes, 0);
          // one wished slot may be more than it needs, nothing else
          if (q !== p) expect(minutes).toBeLessThanOrEqual(Math.max(was, q.wantedMinutes) + 1e-6);
          expect(got.minutes[q.projectId] ?? 0).toBeCloseTo(minutes - was, 6);
        }
        expect(got.worth).toBeCloseTo(worthOf(board, holder) - worthOf(board, (id) => before.get(id)!), 6);
        moved += got.slots.size;
      }
  }
  expect(wishes).toBeGreaterThan(15);
  // little else moves
  expect(moved / wishes).toBeLessThan(6);
}, 60_000);

test('what a project may not have it is not given', () => {
  const { board } = boardOf(3);
  const p = board.projects[0]!;
  const other = board.slots.find((s) => !p.eligible.some((e) => e.slot === s.id))!;
  expect(atOnce(board, { slot: other.id, project: p.projectId })).toBeNull();
  expect(atOnce(board, { slot: other.id, project: 'nobody' })).toBeNull();
});
