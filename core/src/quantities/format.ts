/** Figures as people read them: true minus signs, units always shown, thin spaces between. */

export type UnitSystem = 'metric' | 'imperial';

const MINUS = '−';
const THIN = '\u202f';

/** A number with so many decimals and a true minus; −0 reads as 0. */
export function figure(value: number, decimals: number): string {
  const text = Math.abs(value).toFixed(decimals);
  return value < 0 && Number(text) !== 0 ? MINUS + text : text;
}

/** A number with its sign always shown. */
export const signed = (value: number, decimals: number): string => {
  const text = figure(value, decimals);
  return value > 0 && Number(text) !== 0 ? `+${text}` : text;
};

export const withUnit = (value: number, decimals: number, unit: string): string =>
  `${figure(value, decimals)}${unit === '°' ? '' : THIN}${unit}`;

/** kg, or lb in the imperial system. */
export const formatMass = (kg: number, system: UnitSystem = 'metric'): string =>
  system === 'imperial' ? withUnit(kg / 0.45359237, 2, 'lb') : withUnit(kg, 2, 'kg');

export const formatLength = (mm: number, system: UnitSystem = 'metric', decimals = 0): string =>
  system === 'imperial' ? withUnit(mm / 25.4, decimals + 2, 'in') : withUnit(mm, decimals, 'mm');

export const formatTemperature = (c: number, system: UnitSystem = 'metric', decimals = 1): string =>
  system === 'imperial' ? withUnit((c * 9) / 5 + 32, decimals, '°F') : withUnit(c, decimals, '°C');

/** "4 h 05 min", "12 min", "35 s". */
export function formatDuration(seconds: number): string {
  const s = Math.round(Math.abs(seconds));
  const sign = seconds < 0 && s > 0 ? MINUS : '';
  if (s < 90) return `${sign}${s}${THIN}s`;
  const min = Math.round(s / 60);
  if (min < 60) return `${sign}${min}${THIN}min`;
  return `${sign}${Math.floor(min / 60)}${THIN}h ${String(min % 60).padStart(2, '0')}${THIN}min`;
}

const sexagesimal = (value: number): [number, number, number] => {
  const total = Math.round(Math.abs(value) * 3600);
  return [Math.floor(total / 3600), Math.floor(total / 60) % 60, total % 60];
};
const two = (v: number) => String(v).padStart(2, '0');

/** Right ascension as 22h 37m 04s. */
export function formatRa(deg: number): string {
  const [h, m, s] = sexagesimal(deg / 15);
  return `${two(h % 24)}h ${two(m)}m ${two(s)}s`;
}

/** Declination as +34° 24′ 56″. */
export function formatDec(deg: number): string {
  const [d, m, s] = sexagesimal(deg);
  return `${deg < 0 && d + m + s > 0 ? MINUS : '+'}${two(d)}° ${two(m)}′ ${two(s)}″`;
}
