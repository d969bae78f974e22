import { z } from 'zod';
import { atLeastZero, define, explained, positive, type WorkingStep } from '../calculation/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';

/** Exposures people set [s]; common practice, no source. */
export const HABITUAL_S = [1, 2, 5, 10, 15, 20, 30, 60, 90, 120, 180, 240, 300, 420, 600, 900, 1200] as const;
/** Rules by multiples of RN²/sky; common practice, no source. */
const SCHOOLS = [
  { id: '3x', times: 3 },
  { id: '5x', times: 5 },
  { id: '10x', times: 10 },
] as const;

export const SubInput = z.strictObject({
  readNoiseE: positive('e⁻', 'Read noise'),
  skyEPerSPx: positive('e⁻/s', 'Sky in a pixel'),
  darkEPerSPx: atLeastZero('e⁻/s', 'Dark current in a pixel').default(0),
  noiseIncrease: z
    .number()
    .min(1e-6)
    .max(10)
    .meta({ description: 'Noise accepted beyond what the sky alone gives' })
    .default(0.05),
  fullWellE: positive('e⁻', 'Full well').optional(),
  starEPerSPeak: atLeastZero('e⁻/s', 'The star alone in its brightest pixel').optional(),
});
export type SubInput = z.infer<typeof SubInput>;
export const SubOutput = z.strictObject({
  minimumS: z.number(),
  schools: z.array(z.strictObject({ id: z.enum(['3x', '5x', '10x']), seconds: z.number() })),
  clipS: z.number().optional(),
  recommendedS: z.number(),
  ...explained,
});

/** How much read noise adds to the noise of sky and dark in a frame of so many seconds. */
export const addedNoise = (i: Pick<SubInput, 'readNoiseE' | 'skyEPerSPx' | 'darkEPerSPx'>, seconds: number): number =>
  Math.sqrt(1 + i.readNoiseE ** 2 / ((i.skyEPerSPx + i.darkEPerSPx) * seconds)) - 1;

/** Shortest frame in which read noise hardly counts, and the longest before a star fills its pixel. */
export function sub(i: SubInput): z.input<typeof SubOutput> {
  const rate = i.skyEPerSPx + i.darkEPerSPx;
  const minimumS = i.readNoiseE ** 2 / (rate * ((1 + i.noiseIncrease) ** 2 - 1));
  const schools = SCHOOLS.map(({ id, times }) => ({ id, seconds: (times * i.readNoiseE ** 2) / i.skyEPerSPx }));
  const clipS = i.fullWellE === undefined ? undefined : i.fullWellE / ((i.starEPerSPeak ?? 0) + rate);
  const wanted = HABITUAL_S.find((s) => s >= minimumS) ?? HABITUAL_S.at(-1)!;
  const recommendedS =
    clipS !== undefined && wanted > clipS ? (HABITUAL_S.findLast((s) => s <= clipS) ?? HABITUAL_S[0]) : wanted;
  const addedPercent = 100 * addedNoise(i, recommendedS);
  const working: WorkingStep[] = [
    {
      label: 'Shortest useful',
      formula: 'RN²/((sky + dark)·((1 + ε)² − 1))',
      value: minimumS,
      unit: 's',
      source: 'textbook',
    },
    ...schools.map((s) => ({
      label: `School ${s.id}`,
      formula: `${s.id.slice(0, -1)}·RN²/sky`,
      value: s.seconds,
      unit: 's',
      source: 'common practice, no source',
    })),
  ];
  if (clipS !== undefined)
    working.push({
      label: 'A star fills its pixel',
      formula: 'full well/(star + sky + dark)',
      value: clipS,
      unit: 's',
    });
  working.push({
    label: 'Read noise adds',
    formula: '√(1 + RN²/((sky + dark)·t)) − 1',
    value: addedPercent,
    unit: '%',
  });
  const verdict =
    clipS !== undefined && clipS < minimumS
      ? makeVerdict('caution', phrase('exposure.clips-first', { clipS, minimumS, recommendedS, addedPercent }))
      : minimumS > recommendedS && clipS === undefined
        ? makeVerdict('caution', phrase('exposure.beyond-habit', { minimumS, recommendedS, addedPercent }))
        : makeVerdict('good', phrase('exposure.sub', { recommendedS, addedPercent }));
  return { minimumS, schools, ...(clipS === undefined ? {} : { clipS }), recommendedS, working, verdict };
}

export const exposureSub = define({
  name: 'exposure.sub',
  summary: 'How long one frame should be: read noise against the sky, by the schools, and where stars clip',
  sources: ['Sum of noise squares: textbook', 'Schools and habitual exposures: common practice, no source'],
  input: SubInput,
  output: SubOutput,
  compute: sub,
});
