import { practiceFile, practiceFrame } from '@keen/core/frames';
import { STAND_IN_STARS } from '@keen/core/observatory';
import type { StarSource } from '@keen/core/sky';
import type { TakenFrame } from './service.ts';

/** The files of a stand-in camera: drawn from where it looked and what it told. @param scaleArcsecPerPx of its picture */
export const standInFrames =
  (stars: StarSource, scaleArcsecPerPx: number) =>
  ({ seconds, startMs, filter, place, measure, readings }: TakenFrame): Uint8Array => {
    const at = place ?? { raDeg: 0, decDeg: 90 };
    return practiceFile(practiceFrame(`bridge ${startMs}`, at, measure, STAND_IN_STARS, scaleArcsecPerPx), stars, [
      ['IMAGETYP', 'LIGHT'],
      ['FILTER', filter],
      ['EXPTIME', seconds],
      ['DATE-OBS', new Date(startMs).toISOString().slice(0, 19)],
      ['RA', at.raDeg],
      ['DEC', at.decDeg],
      ['CCD-TEMP', readings.cooler?.[0] ?? readings.temperatureC],
      ['FOCUSPOS', readings.position],
      ['INSTRUME', 'stand-in camera'],
      ...(readings.rotatorDeg === undefined ? [] : [['ROTATANG', readings.rotatorDeg] as [string, number]]),
    ]);
  };
