import { InvalidInput } from '../calculation/index.ts';
import { mean } from '../statistics/index.ts';
import type { FocusRunPoint, OffsetsInput } from './offsetSchemas.ts';

/** Share of a covariate's sum of squares that must be left after taking off each filter's own mean. */
const LEFT_WITHIN_FILTERS = 0.02;
/** Beyond this correlation temperature and time cannot be told apart. */
const INSEPARABLE = 0.995;

/** Values less their own filter's mean. */
export function withinFilters(values: number[], filters: string[]): number[] {
  const groups = new Map<string, number[]>();
  filters.forEach((f, i) => groups.set(f, [...(groups.get(f) ?? []), values[i]!]));
  const means = new Map([...groups].map(([f, v]) => [f, mean(v)]));
  return values.map((v, i) => v - means.get(filters[i]!)!);
}

export const squares = (v: readonly number[]) => v.reduce((s, x) => s + x * x, 0);

/** What moves the focus beside the filter. */
export interface Covariate {
  name: 'temperature' | 'time';
  /** Centred values: °C, or hours. */
  values: number[];
  mean: number;
}

function covariate(name: Covariate['name'], raw: number[], filters: string[]): Covariate {
  const m = mean(raw);
  const values = raw.map((v) => v - m);
  const total = squares(values);
  const left = squares(withinFilters(values, filters));
  const spread = Math.max(...values) - Math.min(...values);
  if (spread < 1e-9 || left < LEFT_WITHIN_FILTERS * total)
    throw InvalidInput.at(
      'runs',
      spread < 1e-9
        ? `${name} is the same in every run, so its effect cannot be found: choose model "none"`
        : `${name} and filter cannot be told apart: every filter was taken at its own ${name}. Return to an earlier filter later in the night, or choose another model`,
    );
  return { name, values, mean: m };
}

/** What the model asks for, once it can be told from the filters and from one another. */
export function covariates(input: Pick<OffsetsInput, 'runs' | 'model'>, filters: string[]): Covariate[] {
  const wants = (name: Covariate['name']) => input.model === name || input.model === 'both';
  const need = <T>(name: string, get: (r: FocusRunPoint) => T | undefined): T[] =>
    input.runs.map((r, i) => {
      const v = get(r);
      if (v === undefined) throw InvalidInput.at(`runs.${i}`, `has no ${name}, which the model "${input.model}" needs`);
      return v;
    });
  const list: Covariate[] = [];
  if (wants('temperature'))
    list.push(
      covariate(
        'temperature',
        need('temperatureC', (r) => r.temperatureC),
        filters,
      ),
    );
  if (wants('time'))
    list.push(
      covariate(
        'time',
        need('time', (r) => r.time).map((t) => Date.parse(t) / 3_600_000),
        filters,
      ),
    );
  if (list.length === 2) {
    const [a, b] = list.map((c) => withinFilters(c.values, filters)) as [number[], number[]];
    const r = a.reduce((s, v, i) => s + v * b[i]!, 0) / Math.sqrt(squares(a) * squares(b));
    if (Math.abs(r) > INSEPARABLE)
      throw InvalidInput.at(
        'model',
        `temperature and time moved together (correlation ${r.toFixed(4)}): choose one of them`,
      );
  }
  return list;
}
