import { z } from 'zod';
import { atLeastZero, count, define, explained, positive, quantity, type WorkingStep } from '../calculation/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';
import { sameExposure } from '../record/index.ts';

const gain = quantity('', 'Gain as the camera counts it');
const offset = quantity('', 'Offset as the camera counts it').optional();
const binning = z.int().min(1).max(16).default(1);
const name = z.string().trim().min(1).max(200);
const exposureS = positive('s', 'Exposure').max(86_400);
const temperatureC = quantity('°C', 'Temperature of the sensor').min(-120).max(80);
const angleDeg = quantity('deg', 'Angle of the camera');

export const CalibratedFrames = z.strictObject({
  filter: name,
  exposureS,
  gain,
  offset,
  temperatureC,
  /** The state of the optical train, in words or by its mark: what was set up anew is another. */
  trainRevision: name,
  angleDeg,
  binning,
  count: count('Frames').default(1),
});
export type CalibratedFrames = z.infer<typeof CalibratedFrames>;
export const FlatHeld = z.strictObject({
  filter: name,
  exposureS,
  gain,
  offset,
  temperatureC: temperatureC.optional(),
  trainRevision: name,
  angleDeg,
  binning,
});
export type FlatHeld = z.infer<typeof FlatHeld>;
export const DarkHeld = z.strictObject({ exposureS, gain, offset, temperatureC, binning });
export const DarkFlatHeld = DarkHeld.extend({ temperatureC: temperatureC.optional() });

/** Kinds of frames, flats and darks of one question at most. */
const MOST = 2000;
export const NeedsInput = z.strictObject({
  frames: z.array(CalibratedFrames).max(MOST),
  library: z
    .strictObject({
      flats: z.array(FlatHeld).max(MOST).default([]),
      darks: z.array(DarkHeld).max(MOST).default([]),
      darkFlats: z.array(DarkFlatHeld).max(MOST).default([]),
    })
    .prefault({}),
  changing: z.array(name).max(MOST).default([]),
  angleToleranceDeg: atLeastZero('deg', 'Angle within which a flat holds').max(180).default(2),
  temperatureToleranceC: atLeastZero('°C', 'Temperature within which a dark holds').max(50).default(1),
});
export type NeedsInput = z.infer<typeof NeedsInput>;

const settings = { gain: z.number(), offset: z.number().nullable(), binning: z.int(), frames: z.int() };
export const MissingFlat = z.strictObject({
  kind: z.literal('flat'),
  filter: z.string(),
  trainRevision: z.string(),
  angleDeg: z.number(),
  ...settings,
});
export type MissingFlat = z.infer<typeof MissingFlat>;
export const MissingDark = z.strictObject({
  kind: z.enum(['dark', 'darkFlat']),
  exposureS: z.number(),
  temperatureC: z.number().nullable(),
  ...settings,
});
export type MissingDark = z.infer<typeof MissingDark>;
export const NeedsOutput = z.strictObject({
  missing: z.array(z.union([MissingFlat, MissingDark])),
  urgent: z.array(MissingFlat),
  ...explained,
});
export type NeedsOutput = z.input<typeof NeedsOutput>;

/** Limits are included, whatever decimals do in the last digit. */
const SLACK = 1e-9;

interface Settings {
  gain: number;
  offset?: number | undefined;
  binning: number;
}
const sameSettings = (a: Settings, b: Settings) =>
  a.gain === b.gain &&
  a.binning === b.binning &&
  (a.offset === undefined || b.offset === undefined || a.offset === b.offset);
/** Angle between two directions on the full circle: turned by half, dust and vignetting lie on the other side. */
const turnedBy = (a: number, b: number) => Math.abs(((((a - b) % 360) + 540) % 360) - 180);

/** Whether a flat holds for a frame. */
export const flatServes = (
  flat: FlatHeld,
  frame: Omit<CalibratedFrames, 'count'>,
  angleToleranceDeg: number,
): boolean =>
  flat.filter === frame.filter &&
  flat.trainRevision === frame.trainRevision &&
  sameSettings(flat, frame) &&
  turnedBy(flat.angleDeg, frame.angleDeg) <= angleToleranceDeg + SLACK;

/** What the frames lack before they can be calibrated, and which of it is lost once the train is changed. */
export function needs(input: NeedsInput): Pick<NeedsOutput, 'missing' | 'urgent'> {
  const { frames, library, angleToleranceDeg, temperatureToleranceC } = input;
  const within = (a: number, b: number) => Math.abs(a - b) <= temperatureToleranceC + SLACK;
  const darkFlatOf = (flat: FlatHeld) =>
    library.darkFlats.some(
      (d) =>
        sameSettings(d, flat) &&
        sameExposure(d.exposureS, flat.exposureS) &&
        (d.temperatureC === undefined || flat.temperatureC === undefined || within(d.temperatureC, flat.temperatureC)),
    );
  const flats: MissingFlat[] = [];
  const darks: MissingDark[] = [];
  const darkFlats: MissingDark[] = [];
  const settingsOf = (s: Settings) => ({ gain: s.gain, offset: s.offset ?? null, binning: s.binning });
  const like = (a: Omit<MissingDark | MissingFlat, 'frames'>, s: Settings) =>
    a.gain === s.gain && a.binning === s.binning && a.offset === (s.offset ?? null);
  const wantDark = (
    list: MissingDark[],
    kind: MissingDark['kind'],
    of: Settings & { exposureS: number; temperatureC?: number | undefined },
    waiting: number,
  ) => {
    const temperature = of.temperatureC ?? null;
    const near = (t: number | null) =>
      t === null || temperature === null ? t === temperature : within(t, temperature);
    const there = list.find((d) => like(d, of) && d.exposureS === of.exposureS && near(d.temperatureC));
    if (there) there.frames += waiting;
    else list.push({ kind, exposureS: of.exposureS, temperatureC: temperature, ...settingsOf(of), frames: waiting });
  };
  for (const f of frames) {
    const serving = library.flats.filter((flat) => flatServes(flat, f, angleToleranceDeg));
    if (serving.length === 0) {
      const there = flats.find(
        (m) =>
          like(m, f) &&
          m.filter === f.filter &&
          m.trainRevision === f.trainRevision &&
          turnedBy(m.angleDeg, f.angleDeg) <= angleToleranceDeg + SLACK,
      );
      if (there) there.frames += f.count;
      else
        flats.push({
          kind: 'flat',
          filter: f.filter,
          trainRevision: f.trainRevision,
          angleDeg: f.angleDeg,
          ...settingsOf(f),
          frames: f.count,
        });
    } else if (!serving.some(darkFlatOf)) wantDark(darkFlats, 'darkFlat', serving[0]!, f.count);
    const hasDark = library.darks.some(
      (d) => sameSettings(d, f) && sameExposure(d.exposureS, f.exposureS) && within(d.temperatureC, f.temperatureC),
    );
    if (!hasDark) wantDark(darks, 'dark', f, f.count);
  }
  return {
    missing: [...flats, ...darks, ...darkFlats],
    urgent: flats.filter((m) => input.changing.includes(m.trainRevision)),
  };
}

export const calibrationNeeds = define({
  name: 'calibration.needs',
  summary: 'Which flats, darks and dark flats frames still lack, and which must be taken before the train is touched',
  sources: ['Common practice, no source'],
  input: NeedsInput,
  output: NeedsOutput,
  compute: (input) => {
    const found = needs(input);
    const of = (kind: string) => found.missing.filter((m) => m.kind === kind).length;
    const [flats, darks, darkFlats] = [of('flat'), of('dark'), of('darkFlat')];
    const working: WorkingStep[] = [
      { label: 'Frames looked at', formula: 'Σ count', value: input.frames.reduce((s, f) => s + f.count, 0), unit: '' },
      { label: 'Flats missing', formula: 'by filter, train, angle and settings', value: flats, unit: '' },
      { label: 'Darks missing', formula: 'by exposure, temperature and settings', value: darks, unit: '' },
      { label: 'Dark flats missing', formula: 'for the flats that are there', value: darkFlats, unit: '' },
    ];
    const plural = (n: number, one: string) => (n ? [`${n} ${one}${n === 1 ? '' : 's'}`] : []);
    const kinds = [...plural(flats, 'flat'), ...plural(darks, 'dark'), ...plural(darkFlats, 'dark flat')];
    const missing = kinds.length ? phrase('calibration.missing', { kinds }) : phrase('calibration.complete');
    const verdict = found.urgent.length
      ? makeVerdict('bad', missing, phrase('calibration.urgent', { flats: found.urgent.length }))
      : makeVerdict(kinds.length ? 'caution' : 'good', missing);
    return { ...found, working, verdict };
  },
});
