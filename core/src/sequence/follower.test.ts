import { describe, expect, test } from '@jest/globals';
import { parseInput } from '../calculation/index.ts';
import { initialState, play, rulesOf } from './index.ts';
import { companionOf } from './companion.ts';
import { fittingExposure, followingOverheads, followLead, movingSpells, waitedShare } from './follower.ts';
import { TimelineInput } from './schemas.ts';
import { recorder, summarise, timeline, type Span } from './timeline.ts';

const [start, end] = ['2026-11-19T18:00:00.000Z', '2026-11-20T00:00:00.000Z'];
const plan = (filters: object[], more: object = {}) =>
  parseInput(TimelineInput, {
    start,
    end,
    filters,
    order: 'rolling',
    overheads: {
      downloadS: 2,
      filterChangeS: 5,
      autofocusS: 120,
      ditherS: 10,
      slewCentreS: 60,
      flipS: 90,
      guideStartS: 15,
    },
    focus: { policy: 'offsets', everyMin: 90 },
    ...more,
  });
const lead = timeline(
  plan([{ name: 'L', exposureS: 180 }], { dither: { everyFrames: 2 }, flipAt: '2026-11-19T21:00:00.000Z' }),
);
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
  test('waits as long as it neither works nor moves on: what it waits for is counted by the minute', () => {
    const { events } = beside(100);
    const frames = events.filter((e) => e.kind === 'expose');
    const [from, until] = [Date.parse(events[0]!.start), Date.parse(frames.at(-1)!.end)];
    let waited = 0;
    for (let ms = from; ms < until; ms += 1000)
      if (events.some((e) => e.kind === 'wait' && Date.parse(e.start) <= ms && ms < Date.parse(e.end))) waited++;
    expect(waitedShare(events)!).toBeCloseTo(waited / ((until - from) / 1000), 2);
    expect(waitedShare([])).toBeNull();
  });
  test('wastes least with the exposure that fills the lead’s blocks', () => {
    const settings = {
      filters: [{ name: 'L', exposureS: 180, quota: 99 }],
      dither: { everyFrames: 2, perRound: false },
      order: 'rolling' as const,
    };
    const fit = fittingExposure(settings, { leadDownloadS: 2, downloadS: 5, wishedS: 110 })!;
    // 2 × (180 + 2) s hold three of 116 s with 5 s of read-out
    expect(fit).toEqual({ blockS: 364, frames: 3, exposureS: 116 });
    const open = (s: number) => beside(s).openShutterS;
    for (const s of [fit.exposureS + 10, fit.exposureS - 25]) expect(open(fit.exposureS)).toBeGreaterThan(open(s));
    expect(
      fittingExposure(
        { ...settings, dither: { everyFrames: 0, perRound: false } },
        { leadDownloadS: 2, downloadS: 5, wishedS: 110 },
      ),
    ).toBeNull();
    const round = fittingExposure(
      {
        ...settings,
        filters: [...settings.filters, { name: 'R', exposureS: 300, quota: 9 }],
        dither: { everyFrames: 1, perRound: true },
      },
      { leadDownloadS: 2, downloadS: 5, wishedS: 60 },
    )!;
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
    const input = plan(
      [
        { name: 'Ha', exposureS: 900, quota: 50 },
        { name: 'L', exposureS: 100, quota: 300 },
      ],
      { order: 'lagging', dither: { everyFrames: 0 }, flipAt: null },
    );
    const both = followLead({ ...input, overheads: followingOverheads(input.overheads) }, lead);
    expect(both.frames.Ha).toBe(0);
    expect(both.frames.L!).toBeGreaterThan(100);
  });
});

describe('a lead that waits for its second camera', () => {
  const leadInput = plan([{ name: 'L', exposureS: 180 }], {
    dither: { everyFrames: 2 },
    flipAt: '2026-11-19T21:00:00.000Z',
  });
  const bothWait = (exposureS: number) => {
    const still = plan([{ name: 'Ha', exposureS }], { dither: { everyFrames: 0 }, flipAt: null });
    const input = { ...still, overheads: followingOverheads({ ...still.overheads, downloadS: 5.1234 }) };
    const rules = rulesOf(leadInput);
    const events: Span[] = [];
    const state = play(rules, [], recorder(rules, events), {
      ...initialState(rules),
      companion: companionOf(input, rules),
    });
    const waiting = summarise(leadInput, events, state, rules.endMs - rules.startMs);
    return { waiting, beside: followLead(input, waiting) };
  };
  const waits = (t: ReturnType<typeof bothWait>['waiting']) => t.events.filter((e) => e.because);

  test('moves only once that frame is read out, and the other is seldom idle', () => {
    const { waiting, beside: second } = bothWait(200);
    // by hand: 2 × 182 s of the lead against 2 × (200 + 5.12) s and a second to spare for each: it waits 48.25 s
    const third = waits(waiting)[2]!;
    expect((Date.parse(third.end) - Date.parse(third.start)) / 1000).toBeCloseTo(48.25, 1);
    const moving = movingSpells(waiting.events, Date.parse(start), Date.parse(end));
    for (const f of second.events.filter((e) => e.kind === 'expose'))
      expect(moving.filter(([a, b]) => a < Date.parse(f.end) && b > Date.parse(f.start))).toEqual([]);
    const idle = (t: typeof second) =>
      t.events.filter((e) => e.kind === 'wait').reduce((sum, e) => sum + Date.parse(e.end) - Date.parse(e.start), 0);
    const moved = moving.reduce((sum, [a, b]) => sum + b - a, 0);
    // what is left over: a frame of which less than half would be done, and the time before meridian and end
    expect(idle(second) - moved).toBeLessThan(0.25 * (idle(beside(200)) - moved));
  });
  test('costs the lead frames and gives them to the other, against a lead that sets the pace', () => {
    for (const exposureS of [200, 900]) {
      const { waiting, beside: second } = bothWait(exposureS);
      expect(waiting.frames.L!).toBeLessThan(lead.frames.L!);
      expect(second.openShutterS).toBeGreaterThan(beside(exposureS).openShutterS);
    }
  });
  test('never waits where the frames fill its blocks', () => {
    const { waiting } = bothWait(175);
    // the turn begins with the second camera’s own focus, which takes longer than the block leaves
    expect(waits(waiting).length).toBeLessThanOrEqual(5);
    expect(waiting.frames.L!).toBeGreaterThanOrEqual(lead.frames.L! - 4);
  });
});
