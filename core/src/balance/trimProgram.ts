import { solve } from 'yalps';
import type { TrimPoint } from './schemas.ts';

/**
 * Trim weights of any mass, for a fixed choice of points, parts and weights: what hangs where is a small linear program.
 * With masses m_i ≥ 0 the sideways moment, and both ends of what the slide reaches, are linear in them. Where no masses
 * bring everything to zero, the moment left is a cone, and planes that touch it are added until they hold.
 */
export interface TubeMoments {
  /** Mass [kg] and moments [kg·mm] before trimming and sliding. */
  m: number;
  x: number;
  y: number;
  z: number;
}
export interface Slide {
  minMm: number;
  maxMm: number;
}
/** Moments about the polar axis that weights on the shaft can take up [kg·mm]. */
export interface Span {
  low: number;
  high: number;
}

/** What a linear program counts as nothing. */
const PRECISION = 1e-9;
/** Rounds of touching planes, and how far the cone may rise above them [kg·mm]. */
const MOST_ROUNDS = 60;
const CONE_GAP = 1e-6;

/** Fore-and-aft moment the slide cannot take away [kg·mm], signed; 0 when it can. */
export function beyondSlide(m: number, z: number, slide: Slide): number {
  const low = z + m * slide.minMm;
  const high = z + m * slide.maxMm;
  return low > 0 ? low : high < 0 ? high : 0;
}

/** Slide that leaves the least |z| [mm]. */
export const bestSlide = (m: number, z: number, slide: Slide): number =>
  Math.min(slide.maxMm, Math.max(slide.minMm, m > 0 ? -z / m : 0));

type Program = Map<string, Map<string, number>>;
type Bounds = Map<string, { min?: number; max?: number; equal?: number }>;

function run(objective: string, variables: Program, constraints: Bounds, points: number): number[] | null {
  const got = solve({ direction: 'minimize', objective, constraints, variables }, { precision: PRECISION });
  if (got.status !== 'optimal') return null;
  const value = new Map(got.variables);
  return Array.from({ length: points }, (_, i) => Math.max(0, value.get(`m${i}`) ?? 0));
}

function pointVariables(
  points: readonly TrimPoint[],
  slide: Slide,
  more: (p: TrimPoint) => [string, number][],
): [Program, Bounds] {
  const variables: Program = new Map();
  const constraints: Bounds = new Map();
  points.forEach((p, i) => {
    variables.set(
      `m${i}`,
      new Map<string, number>([
        ['mass', 1],
        ['y', p.yMm],
        ['x', p.xMm],
        ['low', p.zMm + slide.minMm],
        ['high', p.zMm + slide.maxMm],
        [`most${i}`, 1],
        ...more(p),
      ]),
    );
    constraints.set(`most${i}`, { max: p.maxMassKg });
  });
  return [variables, constraints];
}

/**
 * Masses that leave nothing about the declination axis, and an x within the span: the least of them, or those with the
 * least or greatest x.
 * @returns masses by point [kg], null when there are none
 */
export function exactTrim(
  points: readonly TrimPoint[],
  tube: TubeMoments,
  slide: Slide,
  span: Span | null,
  wanted: 'least-mass' | 'least-x' | 'greatest-x' = 'least-mass',
): number[] | null {
  const [variables, constraints] = pointVariables(points, slide, (p) => [['less-x', -p.xMm]]);
  constraints.set('y', { equal: -tube.y });
  constraints.set('low', { max: -(tube.z + tube.m * slide.minMm) });
  constraints.set('high', { min: -(tube.z + tube.m * slide.maxMm) });
  if (span && Number.isFinite(span.low)) constraints.set('x', { min: span.low - tube.x, max: span.high - tube.x });
  const objective = wanted === 'least-mass' ? 'mass' : wanted === 'least-x' ? 'x' : 'less-x';
  return run(objective, variables, constraints, points.length);
}

/** What is made small, and what may not be exceeded, of: dec [kg·mm], ra beyond the span [kg·mm], mass [kg]. */
export interface Aim {
  weigh: { dec: number; ra: number; mass: number };
  most?: { dec?: number; ra?: number; sum?: { dec: number; ra: number; most: number } };
}
export interface Nearest {
  masses: number[];
  decKgMm: number;
  raKgMm: number;
}

/**
 * Masses that come as near as they can, where nothing exact is to be had. The cone hypot(y, beyond the slide) is replaced
 * by planes that touch it; a plane is added where the answer lies above them, until none does.
 * @returns null when the aim’s limits cannot be met
 */
export function nearestTrim(
  points: readonly TrimPoint[],
  tube: TubeMoments,
  slide: Slide,
  span: Span,
  aim: Aim,
): Nearest | null {
  const directions = [0, 0.25, 0.5, 0.75, 1].map((k) => k * Math.PI);
  let best: Nearest | null = null;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const [variables, constraints] = pointVariables(points, slide, (p) => [
      ['aim', aim.weigh.mass],
      ['over', p.xMm],
      ['under', p.xMm],
      ...directions.map((a, k): [string, number] => [`plane${k}`, -Math.cos(a) * p.yMm]),
    ]);
    for (const v of variables.values()) {
      v.set('front', v.get('low')!);
      v.set('back', v.get('high')!);
    }
    const { most } = aim;
    const column = (entries: [string, number][]) => new Map(entries);
    // q: what the slide leaves; t: the cone; v: what the weights leave
    variables.set(
      'q',
      column([['front', -1], ['back', 1], ...directions.map((a, k): [string, number] => [`plane${k}`, -Math.sin(a)])]),
    );
    variables.set(
      't',
      column([
        ['aim', aim.weigh.dec],
        ['most-dec', 1],
        ['most-sum', most?.sum?.dec ?? 0],
        ...directions.map((_, k): [string, number] => [`plane${k}`, 1]),
      ]),
    );
    variables.set(
      'v',
      column([
        ['aim', aim.weigh.ra],
        ['most-ra', 1],
        ['most-sum', most?.sum?.ra ?? 0],
        ['over', -1],
        ['under', 1],
      ]),
    );
    constraints.set('front', { max: -(tube.z + tube.m * slide.minMm) });
    constraints.set('back', { min: -(tube.z + tube.m * slide.maxMm) });
    if (Number.isFinite(span.high)) constraints.set('over', { max: span.high - tube.x });
    if (Number.isFinite(span.low)) constraints.set('under', { min: span.low - tube.x });
    directions.forEach((a, k) => constraints.set(`plane${k}`, { min: Math.cos(a) * tube.y }));
    if (most?.dec !== undefined) constraints.set('most-dec', { max: most.dec });
    if (most?.ra !== undefined) constraints.set('most-ra', { max: most.ra });
    if (most?.sum) constraints.set('most-sum', { max: most.sum.most });
    const got = solve({ direction: 'minimize', objective: 'aim', constraints, variables }, { precision: PRECISION });
    if (got.status !== 'optimal') return null;
    const value = new Map(got.variables);
    const masses = points.map((_, i) => Math.max(0, value.get(`m${i}`) ?? 0));
    const left = leftOver(points, tube, slide, span, masses);
    best = { masses, decKgMm: left.dec, raKgMm: left.ra };
    if (left.dec - (value.get('t') ?? 0) < CONE_GAP) break;
    directions.push(Math.atan2(Math.abs(left.z), left.y));
  }
  return best;
}

/** What given masses leave about both axes [kg·mm]. */
export function leftOver(
  points: readonly TrimPoint[],
  tube: TubeMoments,
  slide: Slide,
  span: Span,
  masses: readonly number[],
): { dec: number; ra: number; y: number; z: number } {
  let { m, x, y, z } = tube;
  points.forEach((p, i) => {
    m += masses[i]!;
    x += masses[i]! * p.xMm;
    y += masses[i]! * p.yMm;
    z += masses[i]! * p.zMm;
  });
  const beyond = beyondSlide(m, z, slide);
  return { dec: Math.hypot(y, beyond), ra: Math.max(0, x - span.high, span.low - x), y, z: beyond };
}
