import { z } from 'zod';
import type { Scene } from '../frames/index.ts';
import type { LogSample } from '../guiding/index.ts';
import type { PhraseValue } from '../phrases/index.ts';
import type { Random } from '../statistics/index.ts';
import type { Cause, Cure } from './choices.ts';

/** The part of the day a situation belongs to. */
export type Field = 'bench' | 'dusk' | 'night' | 'morning';
/** 1: seen at once by who has met it; 2: two things have to be held together; 3: it looks like something else. */
export const Level = z.union([z.literal(1), z.literal(2), z.literal(3)]);
export type Level = z.infer<typeof Level>;

/** A figure with the unit its name ends in, as everywhere in the book; or a word. */
export type Cell = string | { name: string; value: number; decimals?: number };
/** What a person would see. */
export type Exhibit =
  | { kind: 'frame'; title: string; scene: Scene }
  | { kind: 'guide-log'; title: string; samples: LogSample[] }
  | { kind: 'table'; title: string; rows: readonly (readonly [string, Cell])[] }
  | {
      kind: 'course';
      title: string;
      along: string;
      up: string;
      series: readonly { name: string; points: readonly (readonly [number, number])[] }[];
    };

export interface Made {
  exhibits: Exhibit[];
  /** What the tale and the explanation name. */
  values: Record<string, PhraseValue>;
}
/** A thing that goes wrong, and how it looks; the tale stands in the book as `drill.KEY-tale`, the explanation as `drill.KEY`. */
export interface Situation {
  field: Field;
  level: Level;
  cause: Cause;
  cure: Cure;
  /** What it could be taken for, and what people do then. */
  otherCauses: readonly [Cause, Cause, Cause];
  otherCures: readonly [Cure, Cure, Cure];
  /** Where the product deals with it. */
  at: string;
  make: (r: Random, seed: number) => Made;
}

/** A table of figures. */
export const table = (title: string, rows: readonly (readonly [string, Cell])[]): Exhibit => ({
  kind: 'table',
  title,
  rows,
});
export const of = (name: string, value: number, decimals?: number): Cell => ({
  name,
  value,
  ...(decimals === undefined ? {} : { decimals }),
});
export const between = (r: Random, from: number, to: number): number => from + (to - from) * r.next();
export const oneOf = <T>(r: Random, all: readonly T[]): T => all[Math.floor(all.length * r.next())]!;
