import { z } from 'zod';
import { FAULTS } from '../observatory/index.ts';
import { COMMANDS, type Happened } from './events.ts';
import { EVERYDAY } from './everyday.ts';
import { play } from './play.ts';
import { equipmentOf, type Rehearsal } from './rehearse.ts';
import type { RunState } from './state.ts';
import { step } from './step.ts';

/** What came of faults that somebody put into a night. */
export const DebriefSchema = z.strictObject({
  faults: z.array(
    z.strictObject({
      fault: z.enum(FAULTS),
      atMs: z.number(),
      forMs: z.number(),
      /** The first that was written down of it, or a frame that was refused; null: nothing was. */
      noticedMs: z.number().nullable(),
      /** What was done by itself, by codes, in order. */
      done: z.array(z.string()),
      /** The first that somebody at the controls asked for after it; null: nobody did anything. */
      askedMs: z.number().nullable(),
      asked: z.array(z.enum(COMMANDS)),
    }),
  ),
  accepted: z.int().min(0),
  refused: z.int().min(0),
  /** Good frames of the same night with nothing put in, and with the same put in and nobody at the controls. */
  quiet: z.int().min(0),
  alone: z.int().min(0),
});
export type Debrief = z.infer<typeof DebriefSchema>;

/** Beyond a fault’s end what is done still belongs to it for so long [ms]. */
const AFTER_MS = 900_000;
const isCommand = (e: Happened): e is Happened & { code: (typeof COMMANDS)[number] } =>
  (COMMANDS as readonly string[]).includes(e.code);

/**
 * Looks back at a night into which faults were put: when each came to light, what was done, and what it cost against the same
 * night in peace and the same night left to itself. Where several come close together, what was done is told of each.
 */
export async function debrief(events: readonly Happened[], rehearsal: Rehearsal): Promise<Debrief> {
  const thrown = events.flatMap((e) => (e.code === 'thrown' ? [e] : []));
  let state: RunState | null = null;
  const signs: { atMs: number; code: string }[] = [];
  let [accepted, refused] = [0, 0];
  for (const e of events) {
    const stepped = step(state, e);
    state = stepped.state;
    for (const s of stepped.says) {
      if (s.said === 'event' && s.phrase && !EVERYDAY.has(s.phrase.code))
        signs.push({ atMs: Math.max(Date.parse(s.start), s.kind === 'note' ? state.nowMs : 0), code: s.phrase.code });
      if (s.said !== 'frame') continue;
      if (s.accepted) accepted++;
      else {
        refused++;
        signs.push({ atMs: state.nowMs, code: `refused ${s.refusal ?? ''}`.trim() });
      }
    }
  }
  const goodOf = async (faults: typeof thrown): Promise<number> => {
    const { o, put } = equipmentOf(rehearsal);
    faults.forEach(put);
    return (await play(rehearsal.plan, o)).result.frames.filter((f) => f.accepted).length;
  };
  return {
    faults: thrown.map(({ fault, atMs, forMs }) => {
      const own = signs.filter((s) => s.atMs >= atMs && s.atMs <= atMs + forMs + AFTER_MS);
      const asked = events.flatMap((e) => (isCommand(e) && e.at >= atMs && e.at <= atMs + forMs + AFTER_MS ? [e] : []));
      return {
        fault,
        atMs,
        forMs,
        noticedMs: own.length ? Math.min(...own.map((s) => s.atMs)) : null,
        done: [...new Set(own.map((s) => s.code))],
        askedMs: asked[0]?.at ?? null,
        asked: asked.map((e) => e.code),
      };
    }),
    accepted,
    refused,
    quiet: await goodOf([]),
    alone: await goodOf(thrown),
  };
}
