import type { NightSchedule } from './scheduleNight.ts';

/** One step of a night as a row: an event of a leg, a step around the legs, or a wait. */
export interface PlanStep {
  start: string;
  end: string;
  part: 'opening' | 'leg' | 'closing' | 'wait';
  leg: string;
  what: string;
  filter: string;
  frame: number | '';
}

const iso = (ms: number) => new Date(Math.round(ms)).toISOString();

/**
 * A laid-out night step by step, in the order of time, from its first minute to its last.
 * @param names what the legs are called, in their order
 */
export function planSteps(night: NightSchedule, names: readonly string[]): PlanStep[] {
  return night.pieces.flatMap((piece): PlanStep[] => {
    const row = (part: PlanStep['part'], what: string): PlanStep => ({
      start: iso(piece.startMs),
      end: iso(piece.endMs),
      part,
      leg: '',
      what,
      filter: '',
      frame: '',
    });
    if (piece.part === 'wait')
      return [
        row(
          'wait',
          piece.why === 'spare' ? 'nothing left to do' : `until the ${piece.why === 'leg' ? 'next leg' : piece.why}`,
        ),
      ];
    if (piece.part !== 'leg') return [row(piece.part, piece.step)];
    const events = night.legs[piece.legIndex]!.schedule?.events ?? [];
    return events
      .filter((e) => Date.parse(e.start) >= piece.startMs - 1 && Date.parse(e.end) <= piece.endMs + 1)
      .map((e) => ({
        start: e.start,
        end: e.end,
        part: 'leg',
        leg: names[piece.legIndex] ?? '',
        what: e.kind,
        filter: e.filter ?? '',
        frame: e.frame ?? '',
      }));
  });
}
