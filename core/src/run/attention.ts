import type { Verdict } from '../calculation/index.ts';
import { makeVerdict, phrase, type Code } from '../phrases/index.ts';
import type { Said } from './events.ts';
import { isRoofShut, shutBecause } from './shut.ts';
import type { RunState } from './state.ts';

/** What cannot be mended without somebody: said until the run is over, and after. */
const NEEDS_SOMEBODY: ReadonlySet<string> = new Set<Code>([
  'run.device-fault',
  'run.device-absent',
  'run.interlock-stays',
  'run.not-parked',
  'run.roof-left-open',
  'run.no-room',
  'run.refused-ground',
  'run.refused-sun',
  'run.stopped-ground',
  'run.stopped-sun',
]);
/** A frame of the last so many that was refused is worth a word when most were. */
const LAST = 5;

/** How a run stands, in one sentence; bad where somebody has to do something. */
export function standing(s: RunState, says: readonly Said[]): Verdict {
  const frames = says.filter((x) => x.said === 'frame');
  const good = frames.filter((x) => x.said === 'frame' && x.accepted).length;
  const values = { good, rejected: frames.length - good };
  const lasting = says.findLast((x) => x.said === 'event' && NEEDS_SOMEBODY.has(x.phrase?.code ?? ''));
  if (lasting?.said === 'event' && lasting.phrase) return makeVerdict('bad', phrase('standing.needs'), lasting.phrase);
  if (s.finished)
    return good
      ? makeVerdict('good', phrase('standing.over', values))
      : makeVerdict('caution', phrase('standing.over-none', values));
  if (!s.readings.safe && !isRoofShut(s)) return makeVerdict('bad', phrase('standing.interlock'));
  if (s.closed) return makeVerdict('caution', phrase('standing.closing', values));
  if (s.paused) return makeVerdict('caution', phrase('standing.paused', values));
  const shut = shutBecause(s);
  if (shut && shut !== 'interlock') return makeVerdict('caution', phrase(`standing.shut-${shut}`, values));
  const waits = s.tasks.find((t) => t.t === 'took' && t.what.code === 'run.wait-device');
  if (waits?.t === 'took') return makeVerdict('caution', phrase('standing.device', waits.what.values));
  const last = frames.slice(-LAST);
  const refused = last.filter((x) => x.said === 'frame' && !x.accepted).length;
  if (last.length === LAST && refused > LAST / 2)
    return makeVerdict('caution', phrase('standing.refused', { ...values, refused, last: LAST }));
  return makeVerdict('good', phrase(s.working ? 'standing.working' : 'standing.waiting', values));
}
/** Whether somebody has to come, now. */
export const isLoud = (v: Verdict): boolean => v.level === 'bad';
