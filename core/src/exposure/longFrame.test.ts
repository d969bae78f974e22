import { describe, expect, test } from '@jest/globals';
import { seeded } from '../statistics/index.ts';
import { longFrame } from './longFrame.ts';

const rig = { scaleArcsecPerPx: 1, fwhmArcsec: 3, flexureArcsecPerMin: null, guided: null };
const guided = (more: object) => ({ raArcsec: 0.5, decArcsec: 0.5, creepArcsecPerMin: 0, spanS: 3600, ...more });

describe('a long frame', () => {
  test('ends where what bends or creeps moves a pixel', () => {
    expect(longFrame({ ...rig, flexureArcsecPerMin: 0.2 })).toMatchObject({ flexureS: 300, creepS: null, limitS: 300 });
    expect(longFrame({ ...rig, flexureArcsecPerMin: 0.2, guided: guided({ creepArcsecPerMin: 0.5 }) })).toMatchObject({
      creepS: 120,
      limitS: 120,
    });
    expect(longFrame(rig)).toEqual({ flexureS: null, creepS: null, limitS: null, widthArcsec: null, aspect: null });
  });
  test('takes no creep from a short log, nor from what a log cannot tell from noise', () => {
    expect(longFrame({ ...rig, guided: guided({ creepArcsecPerMin: 0.5, spanS: 600 }) }).creepS).toBeNull();
    expect(longFrame({ ...rig, guided: guided({ creepArcsecPerMin: 0.02 }) }).creepS).toBeNull();
  });
  test('is as wide as stars drawn with that scatter are', () => {
    const random = seeded(11);
    const [ra, dec] = [0.9, 0.4];
    const sigma = 3 / 2.354820045;
    const moments = [ra, dec].map((rms) => {
      let sum = 0;
      for (let i = 0; i < 40_000; i++) sum += (sigma * random.normal() + rms * random.normal()) ** 2;
      return 2.354820045 * Math.sqrt(sum / 40_000);
    });
    const got = longFrame({ ...rig, guided: guided({ raArcsec: ra, decArcsec: dec }) });
    expect(got.widthArcsec! / Math.sqrt(moments[0]! * moments[1]!)).toBeCloseTo(1, 1);
    expect(got.aspect!).toBeCloseTo(moments[0]! / moments[1]!, 1);
  });
});
