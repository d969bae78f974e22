export type Dimension =
  | 'mass'
  | 'length'
  | 'distance'
  | 'temperature'
  | 'degrees'
  | 'duration'
  | 'angle'
  | 'force'
  | 'speed'
  | 'number';

export interface Unit {
  /** Stored value = typed · factor (+ shift). */
  factor: number;
  shift?: number;
}
const named = (factor: number, ...names: string[]): [string, Unit][] => names.map((n) => [n, { factor }]);
const FAHRENHEIT: Unit = { factor: 5 / 9, shift: -32 * (5 / 9) };
const POUND = 0.45359237;

/** Stored units: kg, mm, m, °C, s, deg, N. Keys are lower case without dots; both Greek letters stand for micro. */
export const UNITS: Readonly<Record<Dimension, ReadonlyMap<string, Unit>>> = {
  mass: new Map([
    ...named(1, 'kg', 'kilogram', 'kilograms'),
    ...named(1e-3, 'g', 'gram', 'grams'),
    ...named(POUND, 'lb', 'lbs', 'pound', 'pounds'),
    ...named(POUND / 16, 'oz', 'ounce', 'ounces'),
  ]),
  length: new Map([
    ...named(1, 'mm'),
    ...named(10, 'cm'),
    ...named(1000, 'm'),
    ...named(1e-3, 'µm', 'μm', 'um'),
    ...named(25.4, 'in', 'inch', 'inches', '"', '″', '”'),
    ...named(304.8, 'ft', 'foot', 'feet', "'", '′', '’'),
  ]),
  // heights and far things: stored in metres
  distance: new Map([...named(1, 'm'), ...named(1000, 'km'), ...named(0.3048, 'ft', 'foot', 'feet', "'", '′', '’')]),
  temperature: new Map<string, Unit>([
    ...named(1, '°c', 'c'),
    ['°f', FAHRENHEIT],
    ['f', FAHRENHEIT],
    ['k', { factor: 1, shift: -273.15 }],
  ]),
  // a difference of temperatures: no shift
  degrees: new Map([...named(1, '°c', 'c', 'k'), ...named(5 / 9, '°f', 'f')]),
  duration: new Map([
    ...named(3600, 'h', 'hr', 'hrs', 'hour', 'hours'),
    ...named(60, 'min', 'm', 'mins', 'minute', 'minutes'),
    ...named(1, 's', 'sec', 'secs', 'second', 'seconds'),
    ...named(1e-3, 'ms'),
  ]),
  angle: new Map([
    ...named(15, 'h', 'hr', 'hrs', 'hour', 'hours'),
    ...named(1, '°', 'deg', 'd', 'degree', 'degrees', 'º'),
    ...named(1 / 60, "'", '′', '’', 'm', 'arcmin'),
    ...named(1 / 3600, '"', '″', '”', "''", 's', 'arcsec'),
  ]),
  force: new Map([
    ...named(1, 'n'),
    // a spring scale is read in what it shows: the weight of a mass
    ...named(9.80665, 'kgf', 'kg', 'kp'),
    ...named(0.00980665, 'gf', 'g', 'p'),
    ...named(4.4482216152605, 'lbf', 'lb', 'lbs'),
    ...named(4.4482216152605 / 16, 'oz', 'ozf'),
  ]),
  speed: new Map([
    ...named(1, 'm/s', 'ms'),
    ...named(1 / 3.6, 'km/h', 'kmh', 'kph'),
    ...named(0.44704, 'mph'),
    ...named(1852 / 3600, 'kn', 'kt', 'kts', 'knot', 'knots'),
  ]),
  number: new Map([...named(1, ''), ...named(0.01, '%')]),
};

/** Unit that a bare number is taken in, and the one stored. */
export const STORED_UNIT: Record<Dimension, string> = {
  mass: 'kg',
  length: 'mm',
  distance: 'm',
  temperature: '°C',
  degrees: '°C',
  duration: 's',
  angle: '°',
  force: 'N',
  speed: 'm/s',
  number: '',
};

/** What a complaint names: the short ways to write a unit. */
export const knownUnits = (dimension: Dimension): string =>
  [...UNITS[dimension].keys()].filter((k) => /^(°?[a-zµ]{1,3}|[a-z]{1,2}\/[hs]|%|°)$/.test(k)).join(', ');
