import { readFileSync } from 'node:fs';
import { expect, test } from '@jest/globals';
import { z } from 'zod';
import { nightHours } from './night/nightHours.ts';
import { nightReport, NightReport, type NightFacts } from './report.ts';

const look = (hfdPx: number, stars = 100) => ({ hfdPx, stars, eccentricity: 0.6 }) as never;
const frame = (more: Partial<NightFacts['frames'][number]> = {}) => ({
  object: 'M 33',
  filter: 'L',
  exposureS: 120,
  accepted: true,
  because: '',
  look: look(3),
  findings: ['round'],
  ...more,
});
const facts: NightFacts = {
  site: 'Yard',
  rig: 'refractor',
  night: '2026-11-18',
  by: 'Noor',
  flatsBeforeAnythingIsTurned: 1,
  frames: [
    frame(),
    frame({ look: look(3.4, 120) }),
    frame({ look: look(3.2), findings: ['prism-shadow'] }),
    frame({ accepted: false, because: 'cloud', look: null, findings: [] }),
    frame({ filter: 'Ha', exposureS: 300, look: null, findings: [] }),
  ],
  focusRuns: [
    { filter: 'L', usable: true },
    { filter: 'L', usable: false },
    { filter: 'Ha', usable: true },
  ],
  guiding: [{ log: 'first', raArcsec: 0.4, decArcsec: 0.3, totalArcsec: 0.5, found: [] }],
  guidedFrames: ['Guide logs cover 4 of 5 frames.', '1 lost the guide star.'],
  hours: nightHours({ fromMs: 0, toMs: 36_000_000 }, [
    { startedMs: 3_600_000, exposureS: 7200, accepted: true, because: '', cloud: false },
    { startedMs: 14_400_000, exposureS: 3600, accepted: false, because: 'cloud', cloud: true },
  ]),
};

test('a report sums up what was taken, by object, filter and exposure, and what it lost', () => {
  const r = nightReport(facts);
  // by hand: three of four luminance frames count, their middle width 3.2, long over short 1/0.8
  expect(r.taken).toEqual([
    {
      object: 'M 33',
      filter: 'L',
      exposureS: 120,
      accepted: 3,
      refused: 1,
      openS: 360,
      hfdPx: 3.2,
      longOverShort: 1.25,
      stars: 100,
    },
    {
      object: 'M 33',
      filter: 'Ha',
      exposureS: 300,
      accepted: 1,
      refused: 0,
      openS: 300,
      hfdPx: null,
      longOverShort: null,
      stars: null,
    },
  ]);
  expect(r.refused).toEqual([{ because: 'cloud', frames: 1, lostS: 120 }]);
  expect(r.shown).toEqual([
    { finding: 'round', frames: 2, of: 3 },
    { finding: 'prism-shadow', frames: 1, of: 3 },
  ]);
  expect(r.focus).toEqual([
    { filter: 'L', runs: 2, usable: 1 },
    { filter: 'Ha', runs: 1, usable: 1 },
  ]);
  // before 1 h, counted 2 h, an hour beside cloud, cloud 1 h, after 5 h
  expect(r.hours).toMatchObject({ darkS: 36_000, clearS: 36_000 - 7200, countedS: 7200 });
  expect(r.hours!.went.reduce((s, w) => s + w.seconds, 0)).toBe(36_000);
  expect(NightReport.parse(r)).toEqual(r);
});
test('the note for whoever takes over says what is unusual, and nothing that is as ever', () => {
  const { handOver } = nightReport(facts);
  expect(handOver.split('\n')).toEqual([
    expect.stringMatching(/^M 33: 4 frames count, 0\.18\sh of open shutter; 1 refused\.$/),
    expect.stringMatching(
      /^2\.0\sh of 10\.0\sh dark went into frames that count; most of the rest: after the last frame, 5\.0\sh\.$/,
    ),
    'Refused: cloud (1).',
    'L: 1 of 2 focus runs was of no use.',
    expect.stringMatching(/^Guiding \(first\): 0\.50″ in all\.$/),
    '1 lost the guide star.',
    'Take 1 flat before anything is turned.',
  ]);
  const shadowed = nightReport({
    ...facts,
    frames: facts.frames.map((f) => ({ ...f, findings: f.look ? ['prism-shadow'] : [] })),
  });
  expect(shadowed.handOver).toContain('3 of 3 measured frames show prism shadow.');
  const calm = nightReport({
    ...facts,
    frames: [frame()],
    focusRuns: [],
    guiding: [],
    guidedFrames: [],
    hours: null,
    flatsBeforeAnythingIsTurned: 0,
  });
  expect(calm.handOver.split('\n')).toHaveLength(1);
});
test('a night without frames is an empty report, and its numbers stay whole', () => {
  const r = nightReport({ ...facts, frames: [], focusRuns: [], guiding: [] });
  expect([r.taken, r.refused, r.shown, r.focus]).toEqual([[], [], [], []]);
  expect(NightReport.safeParse(r).success).toBe(true);
});
test('its published form is the one it is written in', () => {
  const published = JSON.parse(
    readFileSync(new URL('../../../docs/schema/night-report.json', import.meta.url), 'utf8'),
  ) as object;
  expect(published).toEqual(JSON.parse(JSON.stringify(z.toJSONSchema(NightReport, { io: 'input' }))));
});

test('frames nobody looked at are as wide as the run itself measured them', () => {
  const measured = facts.frames.map((f) => ({ ...f, look: null, findings: [], hfdPx: f.accepted ? 2.5 : 9 }));
  expect(nightReport({ ...facts, frames: measured }).taken.map((t) => t.hfdPx)).toEqual(expect.arrayContaining([2.5]));
});
