import { mean, weightedFit } from '../statistics/index.ts';

/** One focuser position as a frame's header tells it. */
export interface FocuserReading {
  filter: string;
  position: number;
  temperatureC: number;
}

export interface FocuserDrift {
  stepsPerC: number;
  /** One standard deviation, from the scatter about the line, and never less than whole steps and tenths of a degree allow. */
  error: number;
  /** Different settings the line was laid through: a position that stayed is one. */
  settings: number;
  rangeC: number;
}

/** Fewer settings, or a smaller change of temperature, say nothing about a slope; common practice, no source. */
const LEAST = { settings: 5, rangeC: 1 };
/** Positions are written in whole steps, temperatures in tenths: scatter of what was rounded away, width/√12. */
const ROUNDED = { steps: 1 / Math.sqrt(12), c: 0.1 / Math.sqrt(12) };

/**
 * How far the focuser was moved per degree over a night, each filter about its own mean. Positions only change when
 * somebody or something focuses, so frames at one setting count once, at their mean temperature.
 * @returns null where the night cannot tell
 */
export function focuserDrift(readings: readonly FocuserReading[]): FocuserDrift | null {
  const settings = new Map<string, FocuserReading[]>();
  for (const r of readings) {
    const key = `${r.filter}\n${r.position}`;
    settings.set(key, [...(settings.get(key) ?? []), r]);
  }
  const points = [...settings.values()].map((rs) => ({
    filter: rs[0]!.filter,
    position: rs[0]!.position,
    temperatureC: mean(rs.map((r) => r.temperatureC)),
  }));
  const filters = [...new Set(points.map((p) => p.filter))];
  const temperatures = points.map((p) => p.temperatureC);
  const rangeC = points.length ? Math.max(...temperatures) - Math.min(...temperatures) : 0;
  const free = points.length - filters.length - 1;
  if (points.length < LEAST.settings || free < 1 || rangeC < LEAST.rangeC) return null;
  const of = (f: string) => points.filter((p) => p.filter === f);
  const mid = new Map(
    filters.map((f) => [f, { t: mean(of(f).map((p) => p.temperatureC)), p: mean(of(f).map((p) => p.position)) }]),
  );
  const rows = points.map((p) => [p.temperatureC - mid.get(p.filter)!.t]);
  const y = points.map((p) => p.position - mid.get(p.filter)!.p);
  const fit = weightedFit(rows, y, new Array<number>(points.length).fill(1));
  if (!fit) return null;
  const scatter = fit.residuals.reduce((s, r) => s + r * r, 0) / free;
  const variance = Math.max(scatter, ROUNDED.steps ** 2 + (fit.coefficients[0]! * ROUNDED.c) ** 2);
  return {
    stepsPerC: fit.coefficients[0]!,
    error: Math.sqrt(variance * fit.inverseNormal[0]![0]!),
    settings: points.length,
    rangeC,
  };
}
