import { phrase, type Phrase } from '../phrases/index.ts';
import type { NightOutput } from '../sky/index.ts';
import { orderEvening, type EveningCandidate } from './evening.ts';
import type { Bound } from './nightPlan.ts';

/** A leg as a template proposes it: whose, and its hours. */
export interface TemplateLeg {
  projectId: string;
  from: Bound;
  until: Bound;
}
export interface Template {
  key: 'whole-night' | 'lines-by-moonlight' | 'until-it-sets';
  /** Empty where the night or the projects do not allow it. */
  legs: TemplateLeg[];
  /** What it would do, or what it lacks. */
  says: Phrase;
}
export interface TemplateCandidate extends EveningCandidate {
  object: string;
}

const HOUR_MS = 3_600_000;
const free: Bound = { by: 'free', offsetMin: 0 };
const clock = (ms: number): Bound => ({ by: 'clock', at: new Date(Math.round(ms / 60_000) * 60_000).toISOString() });
const endOf = (c: EveningCandidate) => Date.parse(c.windows.at(-1)!.end);
const startOf = (c: EveningCandidate) => Date.parse(c.windows[0]!.start);
const hoursOf = (c: EveningCandidate) =>
  c.windows.reduce((s, w) => s + Date.parse(w.end) - Date.parse(w.start), 0) / HOUR_MS;

/**
 * Ways to begin a night that people use again and again, filled with the projects that stand well in it. All three are
 * common practice, no source.
 * @param taken spells in which the rig is spoken for
 */
export function planTemplates(
  candidates: readonly TemplateCandidate[],
  night: NightOutput,
  taken: readonly { start: string; end: string }[] = [],
): Template[] {
  const able = candidates.filter((c) => c.needMinutes > 0 && c.windows.length > 0);
  return [wholeNight(able, night, taken), linesByMoonlight(able, night), untilItSets(able)];
}

/** The hours shared out by altitude, Moon and need. */
function wholeNight(
  able: readonly TemplateCandidate[],
  night: NightOutput,
  taken: readonly { start: string; end: string }[],
): Template {
  const picks = orderEvening(able, night.moon.illumination, taken);
  const legs = picks.map((p) => ({
    projectId: p.id,
    from: clock(Date.parse(p.start)),
    until: clock(Date.parse(p.end)),
  }));
  return {
    key: 'whole-night',
    legs,
    says: legs.length ? phrase('template.whole-night', { n: legs.length }) : phrase('template.nothing'),
  };
}

/** Two objects in narrow lines, one after the other, while the Moon is up. */
function linesByMoonlight(able: readonly TemplateCandidate[], night: NightOutput): Template {
  const moonlit = night.darkHours - night.moon.darkMoonlessHours;
  const lines = able
    .filter((c) => c.narrowband && hoursOf(c) >= 1)
    .sort((a, b) => hoursOf(b) - hoursOf(a))
    .slice(0, 2);
  const no = (says: Phrase): Template => ({ key: 'lines-by-moonlight', legs: [], says });
  if (moonlit < 1) return no(phrase('template.no-moon'));
  if (lines.length < 2) return no(phrase('template.too-few-lines', { n: lines.length }));
  const [first, second] = lines.sort((a, b) => endOf(a) - endOf(b)) as [TemplateCandidate, TemplateCandidate];
  // they change over in the middle of what they have between them
  const change = (startOf(first) + endOf(second)) / 2;
  const at = clock(Math.min(endOf(first), Math.max(startOf(second), change)));
  return {
    key: 'lines-by-moonlight',
    legs: [
      { projectId: first.id, from: free, until: at },
      { projectId: second.id, from: at, until: free },
    ],
    says: phrase('template.lines', { first: first.object, second: second.object }),
  };
}

/** What sets first until it does, then what stands longest after it. */
function untilItSets(able: readonly TemplateCandidate[]): Template {
  const first = able.filter((c) => hoursOf(c) >= 1).sort((a, b) => endOf(a) - endOf(b))[0];
  const after =
    first &&
    able
      .filter((c) => c !== first && endOf(c) - Math.max(startOf(c), endOf(first)) >= HOUR_MS)
      .sort((a, b) => endOf(b) - endOf(a))[0];
  if (!first || !after) return { key: 'until-it-sets', legs: [], says: phrase('template.nothing-after') };
  return {
    key: 'until-it-sets',
    legs: [first, after].map((c) => ({ projectId: c.id, from: free, until: free })),
    says: phrase('template.until-it-sets', { first: first.object, second: after.object }),
  };
}
