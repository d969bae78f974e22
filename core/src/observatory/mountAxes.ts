import { SIDEREAL_ARCSEC_PER_S } from '../quantities/index.ts';
import type { PierSide } from './devices.ts';

const RAD = Math.PI / 180;
/** An angle between -180 and 180 [deg]. */
const turn = (deg: number): number => ((((deg + 180) % 360) + 360) % 360) - 180;

/** Where a tube looks, by hour angle and declination [deg], and on which side of the pier it is. */
export interface Pointing {
  haDeg: number;
  decDeg: number;
  side: PierSide;
}
/** Where a tube that looked there at a moment looks now: one that follows turns with the sky. */
export const turnedWith = <P extends Pointing>(p: P, of: { follows: boolean; sinceMs: number }): P => ({
  ...p,
  haDeg: turn(p.haDeg + (of.follows ? (SIDEREAL_ARCSEC_PER_S * of.sinceMs) / 3_600_000 : 0)),
});
/** Side of the pier from which a place is looked at: west of it what stands east of the meridian. */
export const sideOf = (haDeg: number): PierSide => (turn(haDeg) < 0 ? 'west' : 'east');
/** Whether two look at the same place, as closely as is worth telling [deg]. */
export const alike = (a: Pointing, b: Pointing): boolean =>
  a.side === b.side && Math.abs(turn(a.haDeg - b.haDeg)) < 0.5 && Math.abs(a.decDeg - b.decDeg) < 0.1;

/**
 * The two axes of an equatorial mount [deg]: west of its pier the tube looks where they stand, east of it past the pole that is
 * above the horizon.
 */
export interface Axes {
  first: number;
  second: number;
}
export const axesOf = ({ haDeg, decDeg, side }: Pointing, latitudeDeg: number): Axes => {
  const ha = turn(haDeg);
  return side === 'west'
    ? { first: ha, second: decDeg }
    : { first: ha - 180, second: (latitudeDeg < 0 ? -180 : 180) - decDeg };
};
export const pointingOf = ({ first, second }: Axes): Pointing =>
  Math.abs(second) <= 90
    ? { haDeg: turn(first), decDeg: second, side: 'west' }
    : { haDeg: turn(first + 180), decDeg: Math.sign(second) * 180 - second, side: 'east' };

/**
 * How much further the sky may turn before a tube that follows it is so far past the meridian that its mount stops [deg]; below
 * zero where it is past that already. West of its pier the first axis stands between half a turn back and that limit, east of it
 * between half a turn and that limit back, and nothing.
 */
export const beforeLimitDeg = (p: Pointing, pastMeridianDeg: number): number =>
  pastMeridianDeg - (p.side === 'west' ? turn(p.haDeg) : turn(p.haDeg - 180));
/** Where the axes are on their way, both at an even speed, after a share of it. */
export const onTheWay = (from: Axes, to: Axes, share: number): Axes => ({
  first: from.first + share * (to.first - from.first),
  second: from.second + share * (to.second - from.second),
});

/** Counterweight down, tube at the pole: nothing moves by its weight. */
export const parkedAxes = (latitudeDeg: number): Axes => ({ first: -90, second: latitudeDeg < 0 ? -90 : 90 });

/**
 * Height above a flat horizon, and azimuth from north through east [deg], without refraction.
 * Source: spherical trigonometry of the pole, zenith and star.
 */
export function horizontalOf(haDeg: number, decDeg: number, latitudeDeg: number) {
  const [h, d, b] = [haDeg * RAD, decDeg * RAD, latitudeDeg * RAD];
  const north = Math.cos(b) * Math.sin(d) - Math.sin(b) * Math.cos(d) * Math.cos(h);
  const east = -Math.cos(d) * Math.sin(h);
  const up = Math.sin(b) * Math.sin(d) + Math.cos(b) * Math.cos(d) * Math.cos(h);
  return {
    altitudeDeg: Math.asin(Math.max(-1, Math.min(1, up))) / RAD,
    azimuthDeg: (Math.atan2(east, north) / RAD + 360) % 360,
  };
}
/** The way back: hour angle and declination of a place above the horizon [deg]. */
export function equatorialOf(altitudeDeg: number, azimuthDeg: number, latitudeDeg: number) {
  const [a, z, b] = [altitudeDeg * RAD, azimuthDeg * RAD, latitudeDeg * RAD];
  const sinDec = Math.sin(b) * Math.sin(a) + Math.cos(b) * Math.cos(a) * Math.cos(z);
  const west = -Math.cos(a) * Math.sin(z);
  const south = Math.cos(b) * Math.sin(a) - Math.sin(b) * Math.cos(a) * Math.cos(z);
  return { haDeg: Math.atan2(west, south) / RAD, decDeg: Math.asin(Math.max(-1, Math.min(1, sinDec))) / RAD };
}
