import { z } from 'zod';
import {
  atLeastZero,
  define,
  explained,
  PhraseSchema,
  positive,
  quantity,
  type SpokenVerdict,
} from '../calculation/index.ts';
import { makeVerdict, phrase, words, type Phrase } from '../phrases/index.ts';
import { blockedFraction, prismDistance, worstShading, type PrismPlace } from './shadow.ts';
import { RAD, offAxisDeg, seenDeg } from '../quantities/index.ts';

const mm = (d: string) => positive('mm', d);
const size = (what: string) => z.strictObject({ widthMm: mm(`${what}, width`), heightMm: mm(`${what}, height`) });

export const PrismInput = z
  .strictObject({
    sensor: size('Main sensor'),
    imageCircleMm: mm('Diameter of the image circle'),
    focalRatio: positive('', 'Focal ratio of the light cone'),
    focalLengthMm: mm('Focal length'),
    exitPupilMm: mm('Exit pupil before the sensor; none: telecentric').optional(),
    prism: z.strictObject({
      widthMm: mm('Across'),
      depthMm: mm('Outward'),
      angleDeg: quantity('deg', 'Where it stands, from +X anticlockwise'),
      innerEdgeMm: atLeastZero('mm', 'Inner edge from the axis'),
    }),
    prismToSensorMm: mm('Path in air from prism to sensor'),
    guideSensor: size('Guide sensor'),
  })
  .superRefine((v, ctx) => {
    if (v.exitPupilMm !== undefined && v.exitPupilMm <= v.prismToSensorMm)
      ctx.addIssue({
        code: 'custom',
        path: ['exitPupilMm'],
        message: `must be more than prismToSensorMm, ${v.prismToSensorMm} mm`,
      });
  });
export type PrismInput = z.infer<typeof PrismInput>;

export const PrismOutput = z.strictObject({
  maxShading: z.number(),
  shadedAreaFraction: z.number(),
  clearInnerEdgeMm: z.number(),
  guideCentreRadiusMm: z.number(),
  guideCentreOffsetDeg: z.number(),
  guideFieldDeg: z.strictObject({ tangential: z.number(), radial: z.number() }),
  insideImageCircle: z.boolean(),
  guideLightFraction: z.number(),
  advice: z.array(z.string()),
  adviceSaid: z.array(PhraseSchema),
  ...explained,
});
export type PrismOutput = z.input<typeof PrismOutput>;

/** Cells of the shadow's area, more than the contract asks for at least. */
const GRID = { columns: 204, rows: 136 } as const;
/** More than this share blocked counts as shaded. */
const SHADED = 0.01;

/** Geometry every picture of the prism shares: radius of the light's disk at the prism, and the pull toward the axis. */
export function coneAt(i: Pick<PrismInput, 'prismToSensorMm' | 'focalRatio' | 'exitPupilMm'>) {
  return {
    radiusMm: i.prismToSensorMm / (2 * i.focalRatio),
    k: i.exitPupilMm === undefined ? 1 : 1 - i.prismToSensorMm / i.exitPupilMm,
  };
}
export const placeOf = (p: PrismInput['prism']): PrismPlace => ({
  angle: p.angleDeg * RAD,
  innerEdge: p.innerEdgeMm,
  depth: p.depthMm,
  width: p.widthMm,
});

/** Share of light lost to the prism over the sensor, row by row from low y, for drawing [0…1]. */
export function shadowMap(i: PrismInput, columns: number, rows: number): Float32Array {
  const { radiusMm, k } = coneAt(i);
  const place = placeOf(i.prism);
  const map = new Float32Array(columns * rows);
  const [w, h] = [i.sensor.widthMm, i.sensor.heightMm];
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++)
      map[r * columns + c] = blockedFraction(
        { x: k * w * ((c + 0.5) / columns - 0.5), y: k * h * ((r + 0.5) / rows - 0.5) },
        radiusMm,
        place,
      );
  return map;
}

/** Smallest inner edge at which no light of the sensor is touched: the distance grows steadily from the axis outward. */
function clearInnerEdge(place: PrismPlace, r: number, halfWidth: number, halfHeight: number): number {
  const clear = (innerEdge: number) => prismDistance({ ...place, innerEdge }, halfWidth, halfHeight) >= r;
  let low = -place.depth / 2;
  let high = halfWidth + halfHeight + r + place.width + place.depth;
  for (let n = 0; n < 60; n++) {
    const middle = (low + high) / 2;
    if (clear(middle)) high = middle;
    else low = middle;
  }
  return high;
}

/**
 * Whether the prism, turned to an angle with its inner edge somewhere, leaves the sensor's light alone. Its distance from
 * the light grows steadily outward: clear here means clear farther out.
 */
export function isClearAt(i: PrismInput, angleDeg: number, innerEdgeMm: number): boolean {
  const { radiusMm, k } = coneAt(i);
  const place = placeOf({ ...i.prism, angleDeg, innerEdgeMm });
  return prismDistance(place, (k * i.sensor.widthMm) / 2, (k * i.sensor.heightMm) / 2) >= radiusMm;
}

/** Light, shadow and window of an off-axis guider's prism. */
export function prism(i: PrismInput): PrismOutput {
  const { radiusMm: r, k } = coneAt(i);
  const place = placeOf(i.prism);
  const [hw, hh] = [(k * i.sensor.widthMm) / 2, (k * i.sensor.heightMm) / 2];
  const maxShading = worstShading(place, r, hw, hh);
  const map = maxShading > SHADED ? shadowMap(i, GRID.columns, GRID.rows) : new Float32Array(0);
  const shadedAreaFraction = map.reduce((n, v) => (v > SHADED ? n + 1 : n), 0) / (GRID.columns * GRID.rows);
  const clearInnerEdgeMm = clearInnerEdge(place, r, hw, hh);
  const middle = i.prism.innerEdgeMm + i.prism.depthMm / 2;
  const guideCentreRadiusMm = middle / k;
  const guideLightFraction = blockedFraction(
    { x: middle * Math.cos(place.angle), y: middle * Math.sin(place.angle) },
    r,
    place,
  );
  const field = (mmSize: number) => seenDeg(mmSize, i.focalLengthMm);
  const insideImageCircle = guideCentreRadiusMm <= i.imageCircleMm / 2 + 1e-9;
  // the nearest place without shadow has its window inside the circle
  const fits = (clearInnerEdgeMm + i.prism.depthMm / 2) / k <= i.imageCircleMm / 2 + 1e-9;
  const advice = adviceFor(i, maxShading, clearInnerEdgeMm, insideImageCircle, guideLightFraction, fits);
  return {
    maxShading,
    shadedAreaFraction,
    clearInnerEdgeMm,
    guideCentreRadiusMm,
    guideCentreOffsetDeg: offAxisDeg(guideCentreRadiusMm, i.focalLengthMm),
    guideFieldDeg: { tangential: field(i.guideSensor.widthMm), radial: field(i.guideSensor.heightMm) },
    insideImageCircle,
    guideLightFraction,
    advice: advice.map((a) => words(a)),
    adviceSaid: advice,
    working: [
      { label: 'Light’s disk at the prism', formula: 'R = path/(2N)', value: r, unit: 'mm', source: 'geometry' },
      { label: 'Chief rays at the prism', formula: 'k = 1 − path/exit pupil (1 if telecentric)', value: k, unit: '' },
      { label: 'Greatest share blocked', formula: 'area(disk ∩ prism)/area(disk)', value: 100 * maxShading, unit: '%' },
      {
        label: 'No light touched from',
        formula: 'distance(prism, k·sensor) = R',
        value: clearInnerEdgeMm,
        unit: 'mm inner edge',
      },
      {
        label: 'Window’s centre',
        formula: '(inner edge + depth/2)/k',
        value: guideCentreRadiusMm,
        unit: 'mm from the axis',
      },
    ],
    verdict: verdictOf(
      i,
      maxShading,
      shadedAreaFraction,
      clearInnerEdgeMm,
      insideImageCircle,
      guideLightFraction,
      fits,
    ),
  };
}

function verdictOf(
  i: PrismInput,
  shading: number,
  area: number,
  clear: number,
  inside: boolean,
  light: number,
  fits: boolean,
): SpokenVerdict {
  const out = clear - i.prism.innerEdgeMm;
  if (shading > SHADED)
    return makeVerdict(
      shading > 0.3 ? 'bad' : 'caution',
      phrase(fits ? 'train.prism-shades' : 'train.prism-shades-nowhere', {
        areaPercent: 100 * area,
        edgePercent: 100 * shading,
        outMm: out,
        clearMm: clear,
      }),
    );
  if (!inside)
    return makeVerdict(
      'bad',
      fits ? phrase('train.prism-outside', { inMm: -out, clearMm: clear }) : phrase('train.prism-outside-nowhere'),
    );
  if (light < 0.7) return makeVerdict('caution', phrase('train.prism-small', { lightPercent: 100 * light }));
  // less than can be seen, but more than nothing
  if (out > 0)
    return makeVerdict(
      'good',
      phrase('train.prism-touches', { edgePercent: 100 * shading, outMm: out, lightPercent: 100 * light }),
    );
  return makeVerdict('good', phrase('train.prism-clear', { spareMm: -out, lightPercent: 100 * light }));
}

function adviceFor(
  i: PrismInput,
  shading: number,
  clear: number,
  inside: boolean,
  light: number,
  fits: boolean,
): Phrase[] {
  const advice: Phrase[] = [];
  const onShortSide = Math.abs(Math.cos(i.prism.angleDeg * RAD)) > 0.71 === i.sensor.widthMm > i.sensor.heightMm;
  if (onShortSide && i.sensor.widthMm !== i.sensor.heightMm) advice.push(phrase('train.prism-short-side'));
  if (shading > SHADED) advice.push(phrase(shading > 0.3 ? 'train.prism-deep-shadow' : 'train.prism-faint-shadow'));
  else if (i.prism.innerEdgeMm - clear > 1.5 && inside)
    advice.push(phrase('train.prism-further-in', { inMm: i.prism.innerEdgeMm - clear }));
  if (!fits && (!inside || shading > SHADED)) advice.push(phrase('train.prism-no-place'));
  if (light < 0.7) advice.push(phrase('train.prism-closer'));
  return advice;
}

export const trainPrism = define({
  name: 'train.prism',
  summary: 'Shadow, light and guide window of an off-axis guider’s prism',
  sources: ['Geometry of the light cone (textbook)', 'What flats can remove: common practice, no source'],
  input: PrismInput,
  output: PrismOutput,
  compute: prism,
});
