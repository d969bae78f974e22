import { z } from 'zod';
import { define, explained, latitudeDeg, quantity, within } from '../calculation/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';
import { Moment, STANDARD_GRAVITY } from './schemas.ts';
import { RAD } from '../quantities/index.ts';

export const PierSide = z.enum(['east', 'west']);
export type PierSide = z.infer<typeof PierSide>;

export const TorqueInput = z.strictObject({
  momentKgMm: Moment,
  latitudeDeg,
  hourAngleDeg: quantity('deg', 'Hour angle of the place pointed at, west positive'),
  decDeg: within('deg', -90, 90, 'Declination of the place pointed at'),
  pierSide: PierSide,
});
export type TorqueInput = z.infer<typeof TorqueInput>;

export const TorqueOutput = z.strictObject({ raNm: z.number(), decNm: z.number(), ...explained });

/**
 * Gravity's torque about both axes for one pointing. Vectors in east-north-up.
 * x̂ lies along the declination axis to the tube; the form used stays defined at the pole.
 * @returns raNm positive drives the tube eastward; decNm positive turns +z toward −y
 */
export function torqueAt(
  moment: z.infer<typeof Moment>,
  latDeg: number,
  hourAngleDeg: number,
  decDeg: number,
  pierSide: PierSide,
): { raNm: number; decNm: number } {
  const sinLat = Math.sin(latDeg * RAD);
  const cosLat = Math.cos(latDeg * RAD);
  const sinH = Math.sin(hourAngleDeg * RAD);
  const cosH = Math.cos(hourAngleDeg * RAD);
  const sinD = Math.sin(decDeg * RAD);
  const cosD = Math.cos(decDeg * RAD);
  const sign = pierSide === 'east' ? 1 : -1;
  // unit vectors: tube side, sky, and the third
  const xe = sign * cosH;
  const xn = sign * -sinLat * sinH;
  const xu = sign * cosLat * sinH;
  const ze = -cosD * sinH;
  const zn = sinD * cosLat - cosD * cosH * sinLat;
  const zu = sinD * sinLat + cosD * cosH * cosLat;
  const ye = zn * xu - zu * xn;
  const yn = zu * xe - ze * xu;
  const mx = moment.x / 1000;
  const my = moment.y / 1000;
  const mz = moment.z / 1000;
  const g = STANDARD_GRAVITY;
  // M × (0,0,−g) = (−M_n g, M_e g, 0)
  const me = mx * xe + my * ye + mz * ze;
  const raNm = me * g * cosLat;
  const be = my * ye + mz * ze;
  const bn = my * yn + mz * zn;
  const decNm = -bn * g * xe + be * g * xn;
  return { raNm, decNm };
}

export const balanceTorque = define({
  name: 'balance.torque',
  summary: 'Torque about both axes for one pointing and side of the pier',
  sources: ['Textbook statics'],
  input: TorqueInput,
  output: TorqueOutput,
  compute: (input): z.input<typeof TorqueOutput> => {
    const { raNm, decNm } = torqueAt(
      input.momentKgMm,
      input.latitudeDeg,
      input.hourAngleDeg,
      input.decDeg,
      input.pierSide,
    );
    const worst = Math.max(Math.abs(raNm), Math.abs(decNm));
    const toward = Math.abs(raNm) < 1e-9 ? 'neither way' : raNm > 0 ? 'eastward' : 'westward';
    return {
      raNm,
      decNm,
      working: [
        { label: 'Torque about the polar axis', formula: 'p · (M × (0, 0, −g))', value: raNm, unit: 'N·m' },
        {
          label: 'Torque about the declination axis',
          formula: 'x̂ · ((My ŷ + Mz ẑ) × (0, 0, −g))',
          value: decNm,
          unit: 'N·m',
        },
      ],
      verdict: makeVerdict(
        worst < 0.05 ? 'good' : worst < 0.5 ? 'caution' : 'bad',
        phrase('balance.released', { toward, raNm: Math.abs(raNm), decNm: Math.abs(decNm) }),
      ),
    };
  },
});
