import { z } from 'zod';
import { phrase, type Phrase } from '../phrases/index.ts';
import { hash32, seeded, type Random } from '../statistics/index.ts';
import { GUIDER } from './atTheGuider.ts';
import { CAUSES, CURES, type Cause, type Cure } from './choices.ts';
import { BENCH } from './onTheBench.ts';
import type { Exhibit, Field, Level, Situation } from './situation.ts';
import { NIGHT } from './throughTheNight.ts';
export { CAUSES, CURES, type Cause, type Cure } from './choices.ts';
export { Level, type Cell, type Exhibit, type Field } from './situation.ts';

const ALL = { ...BENCH, ...GUIDER, ...NIGHT };
export type SituationKey = keyof typeof ALL;
export const SITUATIONS: Readonly<Record<SituationKey, Situation>> = ALL;
export const SITUATION_KEYS = Object.keys(ALL) as SituationKey[];

/** What a person answered in one drill. */
export const DrillAnswer = z.strictObject({
  situation: z.enum(SITUATION_KEYS),
  seed: z
    .int()
    .min(0)
    .max(2 ** 31),
  cause: z.enum(CAUSES),
  cure: z.enum(CURES),
});
export type DrillAnswer = z.infer<typeof DrillAnswer>;

/** A situation as it is put before somebody: what there is to see, and what it may be. */
export interface Drill {
  key: SituationKey;
  seed: number;
  field: Field;
  level: Level;
  tale: Phrase;
  exhibits: Exhibit[];
  causes: Cause[];
  cures: Cure[];
}
const streamOf = (key: SituationKey, seed: number) => seeded(hash32(`${key} ${seed}`));
function shuffled<T>(all: readonly T[], r: Random): T[] {
  const list = [...all];
  for (let i = list.length - 1; i > 0; i--) {
    const k = Math.floor((i + 1) * r.next());
    [list[i], list[k]] = [list[k]!, list[i]!];
  }
  return list;
}

/** The same situation and seed are the same drill, on every machine. */
export function drillOf(key: SituationKey, seed: number): Drill {
  const s = SITUATIONS[key];
  const stream = streamOf(key, seed);
  const { exhibits, values } = s.make(stream.fork('seen'), seed);
  return {
    key,
    seed,
    field: s.field,
    level: s.level,
    tale: phrase(`drill.${key}-tale`, values),
    exhibits,
    causes: shuffled([s.cause, ...s.otherCauses], stream.fork('causes')),
    cures: shuffled([s.cure, ...s.otherCures], stream.fork('cures')),
  };
}

export interface DrillJudgement {
  level: 'good' | 'caution' | 'bad';
  causeRight: boolean;
  cureRight: boolean;
  rightCause: Cause;
  rightCure: Cure;
  /** Why, with the numbers of this drill. */
  why: Phrase;
  /** What was named instead would have shown otherwise. */
  instead: Phrase[];
  /** Where the product deals with it. */
  at: string;
}
/** Holds an answer against the situation. */
export function judgeDrill(answer: DrillAnswer): DrillJudgement {
  const s = SITUATIONS[answer.situation];
  const { values } = s.make(streamOf(answer.situation, answer.seed).fork('seen'), answer.seed);
  const [causeRight, cureRight] = [answer.cause === s.cause, answer.cure === s.cure];
  return {
    level: causeRight && cureRight ? 'good' : causeRight || cureRight ? 'caution' : 'bad',
    causeRight,
    cureRight,
    rightCause: s.cause,
    rightCure: s.cure,
    why: phrase(`drill.${answer.situation}`, values),
    instead: causeRight ? [] : [phrase(`cause.${answer.cause}-shows`)],
    at: s.at,
  };
}

/** How somebody stands with a situation: tries, and whether the latest were right. */
export interface Standing {
  tries: number;
  /** Right both ways, the latest first. */
  latest: readonly boolean[];
}
/** Right so many times running: known. */
export const KNOWN_AFTER = 2;
export const isKnown = (s: Standing | undefined): boolean =>
  s !== undefined && s.latest.length >= KNOWN_AFTER && s.latest.slice(0, KNOWN_AFTER).every(Boolean);

/** How often each is chosen against the others; by judgement. */
const WEIGHT = { missed: 6, fresh: 3, once: 2, known: 0.4 } as const;
/**
 * The situation to put next: missed ones most often, known ones now and then, of those never tried the easy ones first;
 * never the same twice running.
 * @param level easiest to hardest; null: all
 */
export function nextSituation(
  standing: Readonly<Partial<Record<SituationKey, Standing>>>,
  level: Level | null,
  last: SituationKey | null,
  r: Random,
): SituationKey {
  const open = SITUATION_KEYS.filter((k) => k !== last && (level === null || SITUATIONS[k].level === level));
  const weight = (k: SituationKey) => {
    const s = standing[k];
    // the harder, the later
    if (!s || s.tries === 0) return WEIGHT.fresh / (level === null ? SITUATIONS[k].level ** 2 : 1);
    return isKnown(s) ? WEIGHT.known : s.latest[0] ? WEIGHT.once : WEIGHT.missed;
  };
  let at = r.next() * open.reduce((sum, k) => sum + weight(k), 0);
  for (const k of open) {
    at -= weight(k);
    if (at < 0) return k;
  }
  return open.at(-1)!;
}
