import type { BookingOrigin, BookingState, Hours, HoursOutcome } from './hours.ts';

const MIN_MS = 60_000;

/** Hours somebody asked for or was given. */
export interface LedgerBooking extends Hours {
  memberId: string;
  /** Null: nothing was said of what they are for. */
  projectId: string | null;
  night: string;
  rigId: string;
  origin: BookingOrigin;
  state: BookingState;
  outcome: HoursOutcome | null;
}
/** What one night brought for one project [min of open shutter]. */
export interface LedgerNight {
  projectId: string;
  ownerId: string;
  rigId: string;
  night: string;
  openMinutes: number;
  countedMinutes: number;
}
/** One line: a member, a project, a month. All in minutes. */
export interface LedgerLine {
  memberId: string;
  projectId: string | null;
  /** `2027-01`. */
  month: string;
  /** Asked for by a member, whatever became of it. */
  asked: number;
  /** Held, to come or over. */
  promised: number;
  /** Shutter open. */
  taken: number;
  /** Of that, what counts towards goals. */
  counted: number;
  /** Held, and nothing was exposed because of cloud. */
  clouded: number;
}

const minutesOf = ({ fromMs, untilMs }: Hours) => (untilMs - fromMs) / MIN_MS;

/**
 * Minutes of each booking that cloud took: what it lasts less the open shutter of its night, where somebody said that it was clouded.
 * Of several bookings one night’s open shutter is shared out by how long each is.
 */
function cloudedOf(
  bookings: readonly LedgerBooking[],
  nights: readonly LedgerNight[],
): (booking: LedgerBooking) => number {
  const key = (...of: (string | null)[]) => JSON.stringify(of);
  const [open, held] = [new Map<string, number>(), new Map<string, number>()];
  const add = (sums: Map<string, number>, k: string, minutes: number) => sums.set(k, (sums.get(k) ?? 0) + minutes);
  for (const n of nights) {
    add(open, key(n.night, n.rigId, n.projectId), n.openMinutes);
    add(open, key(n.night, n.rigId, null, n.ownerId), n.openMinutes);
  }
  const ofHeld = (b: LedgerBooking) => key(b.night, b.rigId, b.memberId, b.projectId);
  for (const b of bookings) if (b.state === 'held') add(held, ofHeld(b), minutesOf(b));
  return (b) => {
    if (b.outcome !== 'clouded' || b.state !== 'held') return 0;
    const exposed = b.projectId === null ? key(b.night, b.rigId, null, b.memberId) : key(b.night, b.rigId, b.projectId);
    return Math.max(0, minutesOf(b) * (1 - (open.get(exposed) ?? 0) / held.get(ofHeld(b))!));
  };
}

/** Everything there is to say of hours, by member, project and month; the newest month first. */
export function ledger(bookings: readonly LedgerBooking[], nights: readonly LedgerNight[]): LedgerLine[] {
  const clouded = cloudedOf(bookings, nights);
  const lines = new Map<string, LedgerLine>();
  const line = (memberId: string, projectId: string | null, night: string): LedgerLine => {
    const month = night.slice(0, 7);
    const key = JSON.stringify([memberId, projectId, month]);
    const there = lines.get(key) ?? {
      memberId,
      projectId,
      month,
      asked: 0,
      promised: 0,
      taken: 0,
      counted: 0,
      clouded: 0,
    };
    lines.set(key, there);
    return there;
  };
  for (const b of bookings) {
    const of = line(b.memberId, b.projectId, b.night);
    if (b.origin === 'member') of.asked += minutesOf(b);
    if (b.state !== 'held') continue;
    of.promised += minutesOf(b);
    of.clouded += clouded(b);
  }
  for (const n of nights) {
    const of = line(n.ownerId, n.projectId, n.night);
    of.taken += n.openMinutes;
    of.counted += n.countedMinutes;
  }
  return [...lines.values()]
    .filter((l) => l.asked + l.promised + l.taken > 0)
    .sort((a, b) => (a.month === b.month ? 0 : a.month < b.month ? 1 : -1));
}

/**
 * Minutes each member had since a night: what counts of their projects, and of what cloud took from them the share the club
 * counts.
 */
export function hadSince(
  bookings: readonly LedgerBooking[],
  nights: readonly LedgerNight[],
  since: string,
  cloudShare: number,
): Record<string, number> {
  const had: Record<string, number> = {};
  const add = (id: string, minutes: number) => {
    if (minutes > 0) had[id] = (had[id] ?? 0) + minutes;
  };
  for (const n of nights) if (n.night >= since) add(n.ownerId, n.countedMinutes);
  const clouded = cloudedOf(bookings, nights);
  for (const b of bookings) if (b.night >= since) add(b.memberId, cloudShare * clouded(b));
  return had;
}
