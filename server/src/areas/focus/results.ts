import type { FocusRunFields, OffsetSetFields } from '@keen/contract';
import { calculations, InvalidInput } from '@keen/core';
import type { CurveOutput, OffsetsOutput } from '@keen/core/focus';
import { Problem } from '../../problems.ts';
import type { Actor } from '../../store.ts';
import { DEADLINE_MS, type Calculate } from '../calculations/pool.ts';

/** One calculation of the registry; what the input lacks is thrown as InvalidInput. */
export type Compute = (who: Actor, name: string, input: object) => Promise<unknown>;

/** In this thread: for the demo, which nobody else waits beside. */
export const computeHere: Compute = async (_who, name, input) => calculations.get(name)!.run(input);

/** In the pool, in a member's turn. */
export const computeIn =
  (calculate: Calculate): Compute =>
  async (who, name, input) => {
    const got = await calculate(name, input, { key: who.id, deadlineMs: DEADLINE_MS.member });
    const answer = JSON.parse(got.json) as { error?: { issues: { path: string; message: string }[] } };
    if (got.status === 400) throw new InvalidInput(answer.error!.issues);
    return answer;
  };

/** A run as its own points say, whatever was sent beside them. */
export async function runFromPoints(compute: Compute, who: Actor, r: FocusRunFields): Promise<FocusRunFields> {
  if (r.points.length === 0) return r;
  try {
    const fit = (await compute(who, 'focus.curve', { points: r.points })) as CurveOutput;
    const { position, minHfd: hfd, positionError: error, usable, reason } = fit;
    return { ...r, position, hfd, error, usable, reason };
  } catch (e) {
    if (!(e instanceof InvalidInput)) throw e;
    const first = r.points[0]!.position;
    return { ...r, position: first, hfd: null, error: null, usable: false, reason: e.message.slice(0, 500) };
  }
}

interface Kept {
  filter: string;
  position: number;
  temperatureC: number | null;
  time: Date | null;
}
const close = (a: number, b: number) => Math.abs(a - b) <= 1e-6 * (1 + Math.abs(a));

/**
 * The offsets that the runs on record give.
 * @throws Problem stale where what was looked at came from other runs
 */
export async function offsetsFrom(
  compute: Compute,
  who: Actor,
  runs: readonly Kept[],
  sent: OffsetSetFields,
): Promise<Pick<OffsetSetFields, 'offsets' | 'temperatureStepsPerC' | 'runCount'>> {
  const got = (await compute(who, 'focus.offsets', {
    runs: runs.map((r) => ({
      filter: r.filter,
      position: r.position,
      ...(r.temperatureC === null ? {} : { temperatureC: r.temperatureC }),
      ...(r.time === null ? {} : { time: r.time.toISOString() }),
    })),
    reference: sent.reference,
    model: sent.model,
    ...(sent.zoneSteps ? { criticalZoneSteps: sent.zoneSteps } : {}),
  })) as OffsetsOutput;
  const filters = Object.keys(got.offsets);
  const same =
    filters.length === Object.keys(sent.offsets).length &&
    filters.every((f) => sent.offsets[f] && close(got.offsets[f]!.steps, sent.offsets[f].steps));
  if (!same)
    throw new Problem(
      'stale',
      'Other focus runs are on record than those these offsets came from; look at them again.',
    );
  return { offsets: got.offsets, temperatureStepsPerC: got.temperatureStepsPerC ?? null, runCount: runs.length };
}
