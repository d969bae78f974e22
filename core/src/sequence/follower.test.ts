import { describe, expect, test } from '@jest/globals';
import { parseInput } from '../calculation/index.ts';
import { fittingExposure, followingOverheads, followLead, movingSpells } from './follower.ts';
import { TimelineInput } from './schemas.ts';
import { timeline } from './timeline.ts';

const [start, end] = ['2026-11-19T18:00:00.000Z', '2026-11-20T00:00:00.000Z'];
const plan = (filters: object[], more: object = {}) =>
  parseInput(TimelineInput, { start, end, filters, order: 'rolling', overheads: { downloadS: 2, filterChangeS: 5, autofocusS: 120, ditherS: 10, slewCentreS: 60, flipS: 90, guideStartS: 15 }, focus: { policy: 'offsets', everyMin: 90 }, ...more }); // prettier-ignore
const lead = timeline(plan([{ name: 'L', exposureS: 180 }], { dither: { everyFrames: 2 }, flipAt: '2026-11-19T21:00:00.000Z' })); // prettier-ignore
const beside = (exposureS: number, quota?: number) => {
  const input = plan([{ name: 'Ha', exposureS, ...(quota ? { quota } : {}) }], {
    dither: { everyFrames: 0 },
    flipAt: null,
  });
  return followLead({ ...input, overheads: followingOverheads({ ...input.overheads, downloadS: 5 }) }, lead);
};

describe('a second camera', () => {
  test('exposes only while the mount stands still for the lead', () => {
    const moving = movingSpells(lead.events, Date.parse(start), Date.parse(end));
    // by hand: slewing and starting to guide, then a dither after every second frame
    expect(moving[0]).toEqual([Date.parse(start), Date.parse(start) + 60_000]);
    const frames = beside(100).events.filter((e) => e.kind === 'expose');
    expect(frames.length).toBeGreaterThan(100);
    for (const f of frames) {
      const hit = moving.filter(([a, b]) => a < Date.parse(f.end) && b > Date.parse(f.start));
      expect(hit).toEqual([]);
    }
  });
  test('wastes least with the exposure that fills the lead’s blocks', () => {
    const settings = { filters: [{ name: 'L', exposureS: 180, quota: 99 }], dither: { everyFrames: 2, perRound: false }, order: 'rolling' as const }; // prettier-ignore
    const fit = fittingExposure(settings, { leadDownloadS: 2, downloadS: 5, wishedS: 110 })!;
    // 2 × (180 + 2) s hold three of 116 s with 5 s of read-out
    expect(fit).toEqual({ blockS: 364, frames: 3, exposureS: 116 });
    const open = (s: number) => beside(s).openShutterS;
    for (const s of [fit.exposureS + 10, fit.exposureS - 25]) expect(open(fit.exposureS)).toBeGreaterThan(open(s));
    expect(fittingExposure({ ...settings, dither: { everyFrames: 0, perRound: false } }, { leadDownloadS: 2, downloadS: 5, wishedS: 110 })).toBeNull(); // prettier-ignore
    const round = fittingExposure({ ...settings, filters: [...settings.filters, { name: 'R', exposureS: 300, quota: 9 }], dither: { everyFrames: 1, perRound: true } }, { leadDownloadS: 2, downloadS: 5, wishedS: 60 })!; // prettier-ignore
    expect(round.blockS).toBe(484);
    expect(round.frames * (round.exposureS + 5)).toBeLessThanOrEqual(484);
  });
  test('keeps to its quota, and takes nothing whose frames never fit', () => {
    expect(beside(100, 7).frames).toEqual({ Ha: 7 });
    expect(beside(900).frames).toEqual({ Ha: 0 });
  });
  test('focuses in one pause of the lead and exposes in the next; a filter that hardly ever fits does not hold up the others', () => {
    // focus and a frame that fills the block do not fit together
    const full = beside(358);
    const first = full.events.find((e) => e.kind === 'expose')!;
    expect(Date.parse(first.start) - Date.parse(start)).toBeLessThan(20 * 60_000);
    expect(full.events.findIndex((e) => e.kind === 'focus')).toBeLessThan(full.events.indexOf(first));
    expect(full.frames.Ha!).toBeGreaterThan(45);
    const input = plan([{ name: 'Ha', exposureS: 900, quota: 50 }, { name: 'L', exposureS: 100, quota: 300 }], { order: 'lagging', dither: { everyFrames: 0 }, flipAt: null }); // prettier-ignore
    const both = followLead({ ...input, overheads: followingOverheads(input.overheads) }, lead);
    expect(both.frames.Ha).toBe(0);
    expect(both.frames.L!).toBeGreaterThan(100);
  });
});
