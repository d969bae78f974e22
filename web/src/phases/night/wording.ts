import { makeVerdict, phrase, type Phrase } from '@keen/core/phrases';
import type { PlanRecord, ProjectRecord } from '@keen/contract';
import type { Verdict } from '@keen/core/calculation';
import type { EveningPick } from '@keen/core/sequence';
import { darkLeft, type NightOutput } from '@keen/core/sky';
import { darkWords } from '../../common/moonWords.ts';
import { planTitle } from '../../common/records.ts';
import { clock } from '../../common/times.ts';

/** The sentence the night screen leads with. */
export function tonightVerdict(
  n: NightOutput,
  zone: string,
  projects: readonly ProjectRecord[],
  plans: readonly PlanRecord[],
  picks: readonly EveningPick[],
  fromMs: number | null,
): { verdict: Verdict; notes: Phrase[] } {
  const sky = phrase('tonight.sky', { sky: darkWords(n, zone, fromMs) });
  const of = (level: Verdict['level'], ...more: Phrase[]) => makeVerdict(level, sky, ...more);
  const object = (id: string) => projects.find((p) => p.id === id)?.object ?? '';
  const span = (p: { start: string; end: string }) => `${clock(p.start, zone)}–${clock(p.end, zone)}`;
  const waiting = plans.filter((p) => p.status === 'planned');
  const done = plans.filter((p) => p.status === 'done');
  const suggestion = picks.length ? picks.map((p) => `${object(p.id)} ${span(p)}`).join(', then ') : '';
  if (n.darkHours === 0) return { verdict: of('bad'), notes: [phrase('tonight.wait-for-dark')] };
  const others = projects.some((p) => !plans.some((q) => q.legs.some((l) => l.projectId === p.id)));
  if (plans.length)
    return {
      verdict: of(
        'good',
        phrase('tonight.plans', {
          plans: [
            ...done.map((p) => phrase('tonight.plan-done', { plan: planTitle(p) })),
            ...waiting.map((p) => phrase('tonight.plan-waits', { plan: planTitle(p), hours: span(p) })),
          ],
        }),
      ),
      notes: [
        suggestion
          ? phrase('tonight.room-left', { picks: suggestion })
          : phrase(others ? 'tonight.none-other-can' : 'tonight.none-other'),
      ],
    };
  const left = darkLeft(n, fromMs);
  if (left.hours === 0) return { verdict: of('caution'), notes: [phrase('tonight.plan-coming')] };
  if (!projects.length) return { verdict: of('caution', phrase('tonight.no-project')), notes: [] };
  if (!picks.length)
    return {
      verdict: of('caution', phrase('tonight.none-can')),
      notes: [phrase('tonight.why-none')],
    };
  return {
    verdict: of(left.moonlessHours < 1 ? 'caution' : 'good', phrase('tonight.suggested', { picks: suggestion })),
    notes: [phrase('tonight.how-suggested')],
  };
}
