import { placeOfCards, readFrame, type FitsValue } from '../../exchange/index.ts';
import { z } from 'zod';

/** What the header of a measured picture says, as far as it can be read. */
export const PictureHeader = z.strictObject({
  object: z.string().optional(),
  dateObs: z.string().optional(),
  exposureS: z.number().optional(),
  filter: z.string().optional(),
  temperatureC: z.number().optional(),
  gain: z.number().optional(),
  raDeg: z.number().optional(),
  decDeg: z.number().optional(),
  binning: z.number().optional(),
  focuserPosition: z.number().optional(),
  airmass: z.number().optional(),
});
export type PictureHeader = z.infer<typeof PictureHeader>;

/** Keywords as most writers use them; the whole list that other habits use is read by the frame reader. */
export function pictureHeader(cards: ReadonlyMap<string, FitsValue>): PictureHeader {
  // where it was pointed; a solution of the picture is read where framings are
  const f = readFrame(cards);
  const pointed = placeOfCards(cards, [
    ['RA', 'DEC'],
    ['OBJCTRA', 'OBJCTDEC'],
  ]);
  const airmass = cards.get('AIRMASS');
  const date = cards.get('DATE-OBS');
  const keywords = {
    object: f.object ?? undefined,
    // as it is written: what it has of fractions is kept
    dateObs: f.startedAt === null ? undefined : instantText(String(date ?? ''), f.startedAt),
    exposureS: f.exposureS ?? undefined,
    filter: f.filter || undefined,
    temperatureC: f.sensorC ?? undefined,
    gain: f.gain ?? undefined,
    raDeg: pointed?.raDeg,
    decDeg: pointed?.decDeg,
    binning: ['XBINNING', 'BINNING', 'CCDSUM', 'CCDXBIN'].some((k) => cards.has(k)) ? f.binning : undefined,
    focuserPosition: f.focuserPosition ?? undefined,
    airmass: typeof airmass === 'number' ? airmass : undefined,
  };
  return Object.fromEntries(Object.entries(keywords).filter(([, v]) => v !== undefined));
}
const instantText = (written: string, read: string) =>
  /^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d+)?$/.test(written) ? `${written}Z` : read;
