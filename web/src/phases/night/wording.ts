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
): { verdict: Verdict; detail: string } {
  const sky = `${darkWords(n, zone, fromMs)}.`;
  const object = (id: string) => projects.find((p) => p.id === id)?.object ?? '';
  const span = (p: { start: string; end: string }) => `${clock(p.start, zone)}–${clock(p.end, zone)}`;
  const waiting = plans.filter((p) => p.status === 'planned');
  const done = plans.filter((p) => p.status === 'done');
  const suggestion = picks.length ? picks.map((p) => `${object(p.id)} ${span(p)}`).join(', then ') : '';
  if (n.darkHours === 0)
    return {
      verdict: { level: 'bad', text: sky },
      detail: 'Narrowband in nautical twilight, or wait for later in the season.',
    };
  const others = projects.some((p) => !plans.some((q) => q.legs.some((l) => l.projectId === p.id)));
  if (plans.length)
    return {
      verdict: {
        level: 'good',
        text: `${sky} ${[...done.map((p) => `${planTitle(p)} done`), ...waiting.map((p) => `${planTitle(p)} planned ${span(p)}`)].join(', ')}.`,
      },
      detail: suggestion
        ? `Room is left for ${suggestion}.`
        : others
          ? 'No other project can use what is left of this night.'
          : 'This rig has no other project.',
    };
  const left = darkLeft(n, fromMs);
  if (left.hours === 0) return { verdict: { level: 'caution', text: sky }, detail: 'Plan the coming night instead.' };
  if (!projects.length) return { verdict: { level: 'caution', text: `${sky} No project uses this rig.` }, detail: '' };
  if (!picks.length)
    return {
      verdict: { level: 'caution', text: `${sky} No project of this rig can use them.` },
      detail:
        'Either nothing stands above its limit, or every quota is reached. Look at the list below, or at another rig.',
    };
  return {
    verdict: { level: left.moonlessHours < 1 ? 'caution' : 'good', text: `${sky} ${suggestion}.` },
    detail:
      'Suggested by altitude, Moon and what each project still needs, with a price on every change of object. Nothing is planned yet.',
  };
}
