import { figure, signed, type UnitSystem } from '../quantities/index.ts';

/** How a value named with a unit's suffix is shown: unit, factor and offset, decimals when none are asked for. */
interface Shown {
  unit: string;
  factor: number;
  offset?: number;
  decimals: number;
}
type Suffix = readonly [suffix: string, metric: Shown, imperial?: Shown];

const LB = 0.45359237;
const IN = 25.4;
/** Longest suffix first: `KgMm` before `Mm`. Units without an imperial form read alike for everybody. */
const SUFFIXES: readonly Suffix[] = [
  ['StepsPerC', { unit: 'steps/°C', factor: 1, decimals: 2 }, { unit: 'steps/°F', factor: 1 / 1.8, decimals: 2 }],
  ['KgM2', { unit: 'kg·m²', factor: 1, decimals: 2 }, { unit: 'lb·ft²', factor: 1 / LB / 0.3048 ** 2, decimals: 1 }],
  ['CPerHour', { unit: '°C/h', factor: 1, decimals: 1 }, { unit: '°F/h', factor: 1.8, decimals: 1 }],
  ['DeltaC', { unit: '°C', factor: 1, decimals: 1 }, { unit: '°F', factor: 1.8, decimals: 1 }],
  ['KgMm', { unit: 'kg·mm', factor: 1, decimals: 0 }, { unit: 'in·lb', factor: 1 / LB / IN, decimals: 2 }],
  ['KgCm', { unit: 'kg·cm', factor: 1, decimals: 1 }, { unit: 'in·lb', factor: 10 / LB / IN, decimals: 2 }],
  ['Arcsec', { unit: '″', factor: 1, decimals: 2 }],
  ['Arcmin', { unit: '′', factor: 1, decimals: 1 }],
  ['Percent', { unit: '%', factor: 1, decimals: 0 }],
  ['Hours', { unit: 'h', factor: 1, decimals: 1 }],
  ['Steps', { unit: 'steps', factor: 1, decimals: 0 }],
  ['Deg', { unit: '°', factor: 1, decimals: 0 }],
  ['Min', { unit: 'min', factor: 1, decimals: 0 }],
  ['Mag', { unit: 'mag', factor: 1, decimals: 1 }],
  ['Um', { unit: 'µm', factor: 1, decimals: 0 }],
  ['Mm', { unit: 'mm', factor: 1, decimals: 0 }, { unit: 'in', factor: 1 / IN, decimals: 2 }],
  ['Kg', { unit: 'kg', factor: 1, decimals: 2 }, { unit: 'lb', factor: 1 / LB, decimals: 2 }],
  ['Nm', { unit: 'N·m', factor: 1, decimals: 2 }, { unit: 'ft·lb', factor: 0.737562149, decimals: 2 }],
  ['Px', { unit: 'px', factor: 1, decimals: 1 }],
  ['MS', { unit: 'm/s', factor: 1, decimals: 0 }, { unit: 'mph', factor: 1 / 0.44704, decimals: 0 }],
  ['Ms', { unit: 'ms', factor: 1, decimals: 0 }],
  ['C', { unit: '°C', factor: 1, decimals: 0 }, { unit: '°F', factor: 1.8, offset: 32, decimals: 0 }],
  ['M', { unit: 'm', factor: 1, decimals: 0 }, { unit: 'ft', factor: 1 / 0.3048, decimals: 0 }],
  ['S', { unit: 's', factor: 1, decimals: 0 }],
  ['N', { unit: 'N', factor: 1, decimals: 2 }],
];
/** The unit a value of this name is shown in, for the head of a column or an axis. */
export function unitOf(name: string, system: UnitSystem): string {
  const [, metric, imperial] = suffixOf(name) ?? [];
  return ((system === 'imperial' && imperial) || metric)?.unit ?? '';
}

/** The bare figure in the reader's unit, for a chart or a column with the unit at its head. */
export function inReadersUnit(name: string, value: number, system: UnitSystem): number {
  const [, metric, imperial] = suffixOf(name) ?? [];
  const shown = (system === 'imperial' && imperial) || metric;
  return shown ? value * shown.factor + (shown.offset ?? 0) : value;
}

/** The imperial form of a metric unit that may stand before a remark ("mm without rings"); °C is a difference here. */
const imperialOf = (unit: string) => {
  const [, metric, imperial] =
    SUFFIXES.find(([, m, i]) => i && (unit === m.unit || unit.startsWith(`${m.unit} `))) ?? [];
  return metric && imperial ? { from: metric.unit, ...imperial } : null;
};

/** A figure of a working in the reader's unit. Its formula stays as it is, in metric. */
export function readersFigure(value: number, unit: string, system: UnitSystem): { value: number; unit: string } {
  const to = system === 'imperial' ? imperialOf(unit) : null;
  return to ? { value: value * to.factor, unit: unit.replace(to.from, to.unit) } : { value, unit };
}
const THIN = '\u202f';
/** Signs that stand against the number. */
const TIGHT = new Set(['°', '″', '′']);

const suffixOf = (name: string) => SUFFIXES.find(([s]) => name.endsWith(s) && name !== s.toLowerCase());

export interface Wording {
  /** Decimals in the metric unit; a smaller imperial unit shows as much as its size calls for. */
  decimals?: number | undefined;
  signed?: boolean | undefined;
  /** Without the unit, for the first of a pair. */
  bare?: boolean | undefined;
}

/** A number in the reader's unit, which the suffix of its name tells: `massKg`, `slideMm`, `airC`. */
export function quantityText(name: string, value: number, system: UnitSystem, w: Wording = {}): string {
  const write = w.signed ? signed : figure;
  const found = suffixOf(name);
  if (!found) return write(value, w.decimals ?? (Number.isInteger(value) ? 0 : 2));
  const [suffix, metric, imperial] = found;
  const shown = system === 'imperial' && imperial ? imperial : metric;
  const more = shown === metric ? 0 : shown.decimals - metric.decimals;
  // half a second is not one second
  const own =
    suffix === 'S' && !Number.isInteger(value) && Math.abs(value) < 10
      ? 1 + Number(Math.abs(value) < 1)
      : metric.decimals;
  const number = write(value * shown.factor + (shown.offset ?? 0), Math.max(0, (w.decimals ?? own) + more));
  return w.bare ? number : `${number}${TIGHT.has(shown.unit) ? '' : THIN}${shown.unit}`;
}
