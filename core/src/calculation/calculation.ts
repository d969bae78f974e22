import { z } from 'zod';
import type { Solver } from './solver.ts';
import type { StarSource } from './starSource.ts';

/** One line of the working: what was put in, by which rule, and what came out. */
export const WorkingStep = z.strictObject({
  label: z.string(),
  formula: z.string(),
  value: z.union([z.number(), z.string(), z.null()]),
  unit: z.string(),
  source: z.string().optional(),
});
export type WorkingStep = z.infer<typeof WorkingStep>;

export const VerdictLevel = z.enum(['good', 'caution', 'bad']);
export type VerdictLevel = z.infer<typeof VerdictLevel>;

const plainValues = [z.string(), z.number(), z.array(z.string())] as const;
/** A sentence as code and values, for the wire; it may hold a list of sentences, these hold none. */
export const PlainPhraseSchema = z.strictObject({
  code: z.string(),
  values: z.record(z.string(), z.union([...plainValues])),
});
export const PhraseSchema = z.strictObject({
  code: z.string(),
  values: z.record(z.string(), z.union([...plainValues, z.array(PlainPhraseSchema)])),
});
/** `text` is metric, for shell and HTTP; `said` is the same as codes and values, for readers of other units. */
export const Verdict = z.strictObject({
  level: VerdictLevel,
  text: z.string(),
  phrases: z.array(PhraseSchema).optional(),
});
export type Verdict = z.infer<typeof Verdict>;
/** What is worked out now always has its codes; only a verdict kept from long ago may lack them. */
export const SpokenVerdict = Verdict.required({ phrases: true });
export type SpokenVerdict = z.infer<typeof SpokenVerdict>;

/** What every output carries beside its own fields. */
export const explained = { working: z.array(WorkingStep), verdict: SpokenVerdict };

export interface Issue {
  path: string;
  message: string;
}

/** Complaints in one answer; a file of nonsense would bring back more text than it had. */
export const MOST_ISSUES = 20;

/** Malformed or contradictory input. Carries the complaints, each with the place it belongs to, and how many more there are. */
export class InvalidInput extends Error {
  readonly code = 'invalid_input';
  readonly issues: readonly Issue[];
  constructor(all: readonly Issue[]) {
    const issues =
      all.length <= MOST_ISSUES
        ? all
        : [...all.slice(0, MOST_ISSUES - 1), { path: '', message: `and ${all.length - MOST_ISSUES + 1} more` }];
    super(issues.map((i) => (i.path ? `${i.path}: ${i.message}` : i.message)).join('; '));
    this.name = 'InvalidInput';
    this.issues = issues;
  }
  static at(path: string, message: string): InvalidInput {
    return new InvalidInput([{ path, message }]);
  }
  /** The wire form, the same in the shell and over HTTP. */
  toJSON() {
    return { error: { code: this.code, issues: this.issues } };
  }
}

/** A registered calculation: a pure function between two schemas. */
export interface Calculation {
  name: string;
  summary: string;
  /** Where the formulas come from; practice without a source says so. */
  sources: readonly string[];
  input: z.ZodType;
  output: z.ZodType;
  /** It is handed a solver. */
  needsSolver?: boolean;
  /** Validates, then computes. @throws InvalidInput */
  run: (input: unknown, context?: CalculationContext) => unknown;
}

/** What a door hands in beside the input: things too large to send with a question. The craft itself reads no files. */
export interface CalculationContext {
  /** The shipped star catalogue. */
  stars?: StarSource;
  /** The bytes of a file that a question names; left out where no path is taken. @throws InvalidInput */
  file?: (path: string) => Uint8Array;
  /** What solves programmes; loading it takes time, so a door that has one hands it in. */
  solver?: Solver;
  /** Longest a search may take here [s]. */
  mostSeconds?: number;
}

/** `masses.0.name` for a Zod path. */
export const dottedPath = (path: readonly PropertyKey[]): string => path.map(String).join('.');

/** A few names for a message, and how many more there are. */
function listed(names: readonly string[]): string {
  const shown = names.slice(0, 5).map((k) => `“${k.slice(0, 60)}”`);
  return shown.join(', ') + (names.length > shown.length ? ` and ${names.length - shown.length} more` : '');
}

/** Says what is wrong in words a person can act on; null leaves the library's own message. */
export function plainMessage(issue: z.core.$ZodRawIssue): string | undefined {
  switch (issue.code) {
    case 'invalid_type':
      if (issue.input === undefined) return `is required (${issue.expected})`;
      return `must be ${/^[aeiou]/.test(issue.expected) ? 'an' : 'a'} ${issue.expected}, not ${issue.input === null ? 'null' : typeof issue.input === 'number' ? String(issue.input) : Array.isArray(issue.input) ? 'a list' : typeof issue.input}`;
    case 'too_small':
      if (issue.origin === 'array') return `needs at least ${issue.minimum} item${issue.minimum === 1 ? '' : 's'}`;
      if (issue.origin === 'string')
        return issue.minimum === 1 ? 'must not be empty' : `needs at least ${issue.minimum} characters`;
      return `must be ${issue.inclusive ? 'at least' : 'more than'} ${issue.minimum}`;
    case 'too_big':
      if (issue.origin === 'array') return `may have at most ${issue.maximum} items`;
      if (issue.origin === 'string') return `may have at most ${issue.maximum} characters`;
      return `must be ${issue.inclusive ? 'at most' : 'less than'} ${issue.maximum}`;
    case 'invalid_value':
      return `must be one of ${issue.values.map((v) => JSON.stringify(v)).join(', ')}`;
    case 'unrecognized_keys':
      return `${listed(issue.keys)} ${issue.keys.length > 1 ? 'are' : 'is'} not a known field`;
    case 'invalid_format':
      if (issue.format === 'datetime') return 'must be an instant such as 2026-11-24T20:15:00Z';
      if (issue.format === 'date') return 'must be a day that exists, as YYYY-MM-DD';
      return undefined;
    default:
      return undefined;
  }
}

/** Parses with a schema. @throws InvalidInput listing the complaints */
export function parseInput<S extends z.ZodType>(schema: S, input: unknown): z.output<S> {
  const got = schema.safeParse(input, { error: plainMessage });
  if (got.success) return got.data;
  throw new InvalidInput(got.error.issues.map((i) => ({ path: dottedPath(i.path), message: i.message })));
}

/** Ties a schema pair to its function for the registry. */
export function define<const N extends string, I extends z.ZodType, O extends z.ZodType>(c: {
  name: N;
  summary: string;
  sources: readonly string[];
  input: I;
  output: O;
  needsSolver?: boolean;
  compute: (input: z.output<I>, context: CalculationContext) => z.input<O>;
}): Calculation & { name: N; input: I; output: O; compute: typeof c.compute } {
  return { ...c, run: (input, context = {}) => c.compute(parseInput(c.input, input), context) };
}
