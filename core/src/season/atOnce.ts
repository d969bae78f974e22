import type { Board } from './board.ts';
import { fieldOf, NOBODY, objectiveOf, type Allocation } from './field.ts';
import type { AllocateInput, Given } from './schemas.ts';
import { standingAllocation } from './standing.ts';

/** What a wish does before any search has answered. */
export interface AtOnce {
  /** Slots that go to somebody else, and to whom. */
  slots: ReadonlyMap<string, string | null>;
  /** What the whole is worth more. */
  worth: number;
  /** Minutes more, by project; those that gain or lose none are left out. */
  minutes: Record<string, number>;
}

/**
 * A wish on a board, answered by hand: the slot is given, whoever then has too much gives back what is worth least to the whole,
 * and what became free goes piece by piece to whom it is worth most. A search finds as much or more.
 * @returns null where the slot is not to be had by the project
 */
export function atOnce(board: Board, wish: Given): AtOnce | null {
  const eligible = board.projects.find((p) => p.projectId === wish.project)?.eligible;
  if (!eligible?.some((e) => e.slot === wish.slot)) return null;
  const standing = board.slots.flatMap((s) => (s.projectId ? [{ slot: s.id, project: s.projectId }] : []));
  const locked = [...board.locked.filter((l) => l.slot !== wish.slot), wish];
  const shares = board.members.filter((m) => m.most !== null);
  const most = Object.fromEntries(shares.map((m) => [m.memberId, m.most!]));
  const open = questionOf(board, locked);
  const within = shares.length ? { ...open, memberMaxMinutes: raisedFor(open, most, locked) } : open;
  const fair = standingAllocation(fieldOf(within), standing)!;
  const field = fieldOf({ ...open, locked: givenOf(within, fair) });
  const given = standingAllocation(field, standing)!;
  const before = Int32Array.from(board.slots, (s) => board.projects.findIndex((p) => p.projectId === s.projectId));
  const slots = new Map<string, string | null>();
  const minutes: Record<string, number> = {};
  const add = (place: number, by: number) => {
    if (place === NOBODY) return;
    const id = board.projects[place]!.projectId;
    minutes[id] = (minutes[id] ?? 0) + by;
  };
  given.forEach((place, i) => {
    if (place === before[i]) return;
    slots.set(board.slots[i]!.id, place === NOBODY ? null : board.projects[place]!.projectId);
    add(place, board.slots[i]!.minutes);
    add(before[i]!, -board.slots[i]!.minutes);
  });
  return {
    slots,
    worth: objectiveOf(field, given) - objectiveOf(field, before),
    minutes: Object.fromEntries(Object.entries(minutes).filter(([, m]) => Math.abs(m) > 1e-6)),
  };
}

/** The question a board answers, as far as the board itself tells it. */
function questionOf({ slots, projects, settings }: Board, locked: Given[]): AllocateInput {
  return {
    slots: slots.map(({ id, night, rigId, order, minutes }) => ({ id, night, rig: rigId, order, minutes })),
    projects: projects.map((p) => ({
      id: p.projectId,
      member: p.memberId,
      weight: p.weight,
      needMinutes: Math.max(0, p.wantedMinutes - p.promisedMinutes),
      eligible: p.eligible,
    })),
    locked,
    switchPenalty: settings.switchPenalty * settings.clearFraction,
    minimumBlockSlots: settings.minimumBlockSlots,
    timeLimitS: 1,
    gap: 0,
  };
}
/** What is locked for somebody is theirs whatever their share. */
function raisedFor({ slots, projects }: AllocateInput, most: Record<string, number>, locked: readonly Given[]) {
  const minutes = new Map(slots.map((s) => [s.id, s.minutes]));
  const memberOf = new Map(projects.map((p) => [p.id, p.member]));
  const sums: Record<string, number> = {};
  for (const l of locked) {
    const member = memberOf.get(l.project);
    if (member) sums[member] = (sums[member] ?? 0) + (minutes.get(l.slot) ?? 0);
  }
  return Object.fromEntries(Object.entries(most).map(([m, v]) => [m, Math.max(v, sums[m] ?? 0)]));
}
const givenOf = ({ slots, projects }: AllocateInput, given: Allocation): Given[] =>
  Array.from(given, (project, slot) => ({ project, slot })).flatMap(({ project, slot }) =>
    project === NOBODY ? [] : [{ slot: slots[slot]!.id, project: projects[project]!.id }],
  );
