import { beforeEach, describe, expect, test } from '@jest/globals';
import type { CalibrationNeeds, FrameRecord, GuideLogRecord, NightRecord } from '@keen/contract';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { frameLook, measurePicture } from '@keen/core/frames';
import { summaryOfLog, LogInput } from '@keen/core/guiding';
import { simulateGuiding } from '@keen/core/observatory';
import { flushPromises } from '@vue/test-utils';
import { mountScreen } from '../../test/mountScreen.ts';
import {
  calibrationNeeds,
  frameRecord,
  guideLogRecord,
  id,
  missingFlat,
  nightRecord,
  nothingKept,
} from '../../test/records.ts';
import MorningSummary from './MorningSummary.vue';

type Taken = NightRecord['taken'][number];
const taken = (more: Partial<Taken> = {}): Taken => ({
  projectId: id(50),
  filter: 'Ha',
  exposureS: 300,
  object: 'NGC 281',
  accepted: 10,
  rejected: 1,
  ...more,
});
const night = (more: Partial<NightRecord> = {}) => nightRecord({ taken: [taken()], ...more });
const frame = (n: number, more: Partial<FrameRecord> = {}) => frameRecord(n, more);
const log = () =>
  guideLogRecord(0, {
    name: 'a gusty night',
    summary: summaryOfLog(LogInput.parse({ samples: simulateGuiding({ seed: 3, seconds: 1800, fault: 'cloud' }) })),
  });

const seen = async (of: {
  nights?: NightRecord[];
  frames?: object[];
  logs?: GuideLogRecord[];
  urgent?: CalibrationNeeds['urgent'];
  missing?: CalibrationNeeds['missing'];
  onRecord?: number;
}) => {
  const { wrapper } = await mountScreen(MorningSummary, {
    answers: [
      { path: /nights\/.*frames/, body: of.frames ?? [] },
      { path: /guide-logs/, body: of.logs ?? [] },
      {
        path: /calibration-needs/,
        body: calibrationNeeds({ missing: of.missing ?? [], urgent: of.urgent ?? [], frames: of.onRecord ?? 0 }),
      },
      { path: /nights/, body: of.nights ?? [] },
      ...nothingKept,
    ],
  });
  await flushPromises();
  await flushPromises();
  return wrapper;
};
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});

describe('the morning of a rig', () => {
  test('what could not be read is said in its own place, and leaves the rest standing', async () => {
    const broken = {
      status: 500,
      body: { type: '/docs/problems#internal', title: 'broken', status: 500, code: 'internal' },
    };
    const { wrapper } = await mountScreen(MorningSummary, {
      answers: [
        { path: /nights\/.*frames/, body: [] },
        { path: /guide-logs/, ...broken },
        { path: /calibration-needs/, ...broken },
        { path: /nights/, body: [night()] },
        ...nothingKept,
      ],
    });
    for (let i = 0; i < 4; i++) await flushPromises();
    expect(wrapper.find('[data-test="verdict"]').text()).toContain('NGC 281, night of');
    expect(wrapper.find('table').text()).toContain('Ha');
    const failed = wrapper.findAll('[data-test="failed"]').map((f) => f.text());
    expect(failed).toEqual([
      expect.stringMatching(/^What calibration is missing could not be read/),
      expect.stringMatching(/^The guide logs could not be read/),
    ]);
    // nothing is claimed of what failed
    expect(wrapper.text()).not.toMatch(/No guide log is kept|No frame on record wants a flat/);
  });
  test('without anything leads to the night’s folder, the focus runs and a rehearsal', async () => {
    const wrapper = await seen({});
    expect(wrapper.find('[data-test="empty"]').text()).toContain('Nothing came back yet');
    expect(wrapper.findAll('[data-test="empty"] a').map((a) => a.attributes('href'))).toEqual([
      '/morning/night',
      '/morning/focus',
      '/night/run',
    ]);
  });
  test('with logs alone says that no frame is on record, and how frames come', async () => {
    const wrapper = await seen({ logs: [log()] });
    expect(wrapper.find('[data-test="verdict"]').text()).toContain('No night is on record for this rig yet');
    expect(wrapper.text()).toContain('No frame is on record');
    expect(wrapper.find('[data-test="guiding"]').text()).toMatch(/″ in all/);
  });
  test('sums the newest night by filter, and gives the reasons of what was refused', async () => {
    const frames = [
      frame(1),
      frame(2, { accepted: false, reason: 'stars 1.6 times as wide as they should be', refusal: 'wide' }),
      frame(3, { accepted: false, reason: 'stars 2.1 times as wide as they should be', refusal: 'wide' }),
      frame(4, { accepted: false, reason: '' }),
      frame(5, { kind: 'dark', accepted: false, reason: 'not a light' }),
    ];
    const wrapper = await seen({
      nights: [
        night({
          taken: [taken(), taken({ accepted: 5, rejected: 2 }), taken({ filter: 'OIII', accepted: 7, rejected: 0 })],
        }),
        night({ id: id(81), night: '2026-11-10' }),
      ],
      frames,
    });
    expect(wrapper.find('[data-test="verdict"]').text()).toMatch(/NGC 281, night of .*: 22 good frames, 3 refused/);
    const rows = wrapper
      .findAll('.cards tbody tr')
      .slice(0, 2)
      .map((r) =>
        r
          .findAll('td')
          .slice(1)
          .map((c) => c.text()),
      );
    expect(rows).toEqual([
      ['15', '3'],
      ['7', '0'],
    ]);
    expect(wrapper.text()).toContain('2 refused: stars too wide');
    expect(wrapper.text()).toContain('1 refused: without a reason');
    expect(wrapper.text()).not.toContain('not a light');
  });
  test('says what most measured frames show, and asks for the corners of those nobody measured', async () => {
    const shaded = frameLook(measurePicture(readFileSync(join(process.cwd(), 'examples/frames/prism-shadow.fits'))));
    const looked = [1, 2, 3].map((n) => frame(n, { filter: 'Ha', exposureS: 300, look: n === 3 ? null : shaded }));
    const told = await seen({ nights: [night()], frames: looked });
    expect(told.find('[data-test="verdict"]').text()).toMatch(
      /10 good frames, 1 refused\. 2 of 2 measured show prism shadow\./,
    );
    expect(told.text()).toContain('Its frames, 2 of 3 measured');
    expect((await seen({ nights: [night()], frames: [frame(1)] })).text()).toContain(
      'Look at every frame before anything is taken apart',
    );
  });
  test('names the flats that are lost once the train is touched; those of a train that stands no more are not asked for', async () => {
    const urgent = ['L', 'R', 'L'].map((filter) => missingFlat(filter));
    const missing = await seen({ nights: [night()], urgent });
    expect(missing.find('[data-test="flats-missing"]').text()).toMatch(/^Flats of L, R are still missing/);
    const none = await seen({ nights: [night()] });
    expect(none.find('[data-test="flats-missing"]').exists()).toBe(false);
    // what stand-ins took wants none
    expect(none.text()).not.toMatch(/[Ff]lats? /);
    const lost = await seen({
      nights: [night()],
      onRecord: 9,
      missing: [{ ...missingFlat(), trainRevision: 'of last year' }],
    });
    expect(lost.text()).toContain('No frame on record wants a flat of the train as it stands');
    expect(lost.text()).toContain('Flats of Ha are missing for frames of an earlier train');
    expect(none.findAll('a').map((a) => a.attributes('href'))).toEqual(
      expect.arrayContaining(['/morning/frames', '/morning/report']),
    );
  });
  test('does not tell of a night that was undone', async () => {
    const wrapper = await seen({ nights: [night({ undone: true })] });
    expect(wrapper.find('[data-test="empty"]').exists()).toBe(true);
  });
  test('of calibration only says so, and one of many refusals is a caution', async () => {
    const only = await seen({ nights: [night({ taken: [], calibration: 40 })] });
    expect(only.find('[data-test="verdict"]').text()).toContain('Calibration only');
    expect(only.text()).toContain('40 for calibration');
    const poor = await seen({ nights: [night({ taken: [taken({ accepted: 6, rejected: 4 })] })] });
    expect(poor.find('[data-test="verdict"]').classes()).toContain('is-caution');
  });
});
