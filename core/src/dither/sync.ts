import { z } from 'zod';
import { atLeastZero, define, explained, positive } from '../calculation/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';

/** Follower frames between two dithers that are still worked out one by one. */
const MOST_FRAMES = 100_000;
export const SyncInput = z
  .strictObject({
    lead: z.strictObject({
      exposureS: positive('s', 'Exposure of the lead camera'),
      downloadS: atLeastZero('s', 'Its read-out'),
      framesPerDither: z.int().min(1),
    }),
    follower: z.strictObject({
      exposureS: positive('s', 'Exposure of the other camera'),
      downloadS: atLeastZero('s', 'Its read-out'),
      weight: atLeastZero('', 'Worth of its open shutter beside the lead’s; 0: it takes what comes').default(1),
    }),
    ditherSettleS: atLeastZero('s', 'Dither with settling'),
    leadWeight: positive('', 'Worth of the lead’s open shutter').default(1),
  })
  .superRefine(({ lead, follower }, ctx) => {
    const frames = leadSpanS(lead) / (follower.exposureS + follower.downloadS);
    if (frames <= MOST_FRAMES) return;
    ctx.addIssue({
      code: 'custom',
      path: ['follower', 'exposureS'],
      message: `is so short that ${frames.toExponential(0)} frames fit between two dithers; at most ${MOST_FRAMES.toLocaleString('en')} are worked out`,
    });
  });
export type SyncInput = z.infer<typeof SyncInput>;

export const SyncOutput = z.strictObject({
  followerFrames: z.int(),
  cycleS: z.number(),
  leadIdleS: z.number(),
  followerIdleS: z.number(),
  leadDuty: z.number(),
  followerDuty: z.number(),
  suggestions: z.array(
    z.strictObject({ followerExposureS: z.number(), followerFrames: z.int(), followerDuty: z.number() }),
  ),
  ...explained,
});

/** Shares this near are equal: rounding decides nothing. */
const TIE = 1e-9;
const MOST_SUGGESTIONS = 5;

/** The lead's frames of one cycle with the read-outs between them [s]. */
function leadSpanS(lead: { exposureS: number; downloadS: number; framesPerDither: number }): number {
  return lead.framesPerDither * lead.exposureS + (lead.framesPerDither - 1) * lead.downloadS;
}

/** Two cameras on one mount that dither together: nobody's exposure is cut, the dither waits for both. */
export function sync(i: SyncInput): z.input<typeof SyncOutput> {
  const { lead, follower } = i;
  const leadS = leadSpanS(lead);
  const at = (frames: number, exposureS: number) => {
    const followerS = frames * exposureS + (frames - 1) * follower.downloadS;
    const cycleS = Math.max(
      Math.max(leadS, followerS) + i.ditherSettleS,
      leadS + lead.downloadS,
      followerS + follower.downloadS,
    );
    const worth =
      (i.leadWeight * lead.framesPerDither * lead.exposureS + follower.weight * frames * exposureS) / cycleS;
    return { frames, followerS, cycleS, worth, duty: (frames * exposureS) / cycleS };
  };
  let best = at(1, follower.exposureS);
  for (let k = 2, last = best; last.followerS < leadS - TIE * leadS; k++) {
    last = at(k, follower.exposureS);
    if (last.worth > best.worth * (1 + TIE)) best = last;
  }
  const longer = Math.max(leadS, best.followerS);
  const leadDuty = (lead.framesPerDither * lead.exposureS) / best.cycleS;
  const suggestions = [];
  for (let k = 1; ; k++) {
    const exposureS = (leadS - (k - 1) * follower.downloadS) / k;
    if (exposureS < follower.exposureS / 2) break;
    if (exposureS > 2 * follower.exposureS) continue;
    const got = at(k, exposureS);
    if (got.worth > best.worth * (1 + TIE))
      suggestions.push({ followerExposureS: exposureS, followerFrames: k, followerDuty: got.duty });
  }
  suggestions.sort(
    (a, b) => Math.abs(a.followerExposureS - follower.exposureS) - Math.abs(b.followerExposureS - follower.exposureS),
  );
  suggestions.splice(MOST_SUGGESTIONS);
  const idle = { lead: longer - leadS, follower: longer - best.followerS };
  const first = suggestions[0];
  return {
    followerFrames: best.frames,
    cycleS: best.cycleS,
    leadIdleS: idle.lead,
    followerIdleS: idle.follower,
    leadDuty,
    followerDuty: best.duty,
    suggestions,
    working: [
      { label: 'Lead', formula: 'n·e + (n − 1)·download', value: leadS, unit: 's' },
      { label: 'Follower', formula: 'k·e + (k − 1)·download', value: best.followerS, unit: 's' },
      { label: 'Cycle', formula: 'the longer + dither, or the last read-out', value: best.cycleS, unit: 's' },
    ],
    verdict: makeVerdict(
      best.duty < 0.75 || leadDuty < 0.75 ? 'caution' : 'good',
      phrase('dither.cycle', { frames: best.frames, leadPercent: 100 * leadDuty, followerPercent: 100 * best.duty }),
      ...(first
        ? [
            phrase('dither.suggestion', {
              exposureS: first.followerExposureS,
              followerPercent: 100 * first.followerDuty,
            }),
          ]
        : []),
    ),
  };
}

export const ditherSync = define({
  name: 'dither.sync',
  summary: 'How two cameras on one mount share their dithers with least idle time',
  sources: ['Bookkeeping of exposures'],
  input: SyncInput,
  output: SyncOutput,
  compute: sync,
});
