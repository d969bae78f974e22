import { beforeEach, describe, expect, test } from '@jest/globals';
import type { FrameRecord } from '@keen/contract';
import { NightReport } from '@keen/core/frames';
import { flushPromises } from '@vue/test-utils';
import { press } from '../../test/userActions.ts';
import type { Answer } from '../../test/mountScreen.ts';
import { saved } from '../../test/doubles/download.ts';
import { mountScreen, slow } from '../../test/mountScreen.ts';
import {
  calibrationNeeds,
  calmLog,
  focusRunRecord,
  frameRecord,
  guideLogRecord,
  id,
  missingFlat,
  nightRecord,
} from '../../test/records.ts';
import ReportView from './ReportView.vue';

const night = nightRecord({
  id: id(900),
  taken: [{ projectId: id(50), object: 'NGC 281', filter: 'Ha', exposureS: 300, accepted: 2, rejected: 1 }],
});
const frame = (n: number, more: Partial<FrameRecord> = {}) =>
  frameRecord(n, { startedAt: `2026-11-18T2${n}:00:00.000Z`, hash: null, file: '', ...more });
const run = (n: number, time: string, usable: boolean) => focusRunRecord(n, { time, usable });
const log = guideLogRecord(1, {
  summary: {
    ...calmLog(),
    rms: { ra: 0.5, dec: 0.4, total: 0.64 },
    findings: calmLog().findings.map((f) => ({ ...f, code: 'gust' })),
  },
});
const figures = [
  {
    night: '2026-11-18',
    countedS: 7200,
    refusedS: 3600,
    cloudS: 1800,
    frames: 36,
    first: '2026-11-18T20:00:00.000Z',
    last: '2026-11-19T00:00:00.000Z',
    hfdPx: 2.8,
    eccentricity: 0.4,
    guidingArcsec: 0.55,
    focusRuns: 3,
    focusStepsPerC: -21.4,
  },
  {
    night: '2026-11-10',
    countedS: 3600,
    refusedS: 0,
    cloudS: 0,
    frames: 12,
    first: null,
    last: null,
    hfdPx: null,
    eccentricity: null,
    guidingArcsec: null,
    focusRuns: 0,
    focusStepsPerC: null,
  },
];
async function open(nights: object[] = [night], first: Answer[] = []) {
  const at = await mountScreen(ReportView, {
    answers: [
      ...first,
      { path: /judgements|pictures/, body: [] },
      { path: /night-figures/, body: figures },
      { path: /calibration-needs/, body: calibrationNeeds({ urgent: [missingFlat(), missingFlat()], frames: 3 }) },
      { path: /guide-logs/, body: [log, { ...log, id: id(81), night: '2026-11-01' }] },
      {
        path: /focus-runs/,
        body: [
          run(1, '2026-11-18T21:10:00.000Z', false),
          run(2, '2026-11-18T23:10:00.000Z', true),
          run(3, '2026-11-10T22:00:00.000Z', true),
        ],
      },
      { path: /\/frames/, body: [frame(0), frame(1), frame(2, { accepted: false, refusal: 'cloud', reason: 'x' })] },
      { path: /nights$|nights\?/, body: nights },
    ],
  });
  for (let i = 0; i < 8; i++) await flushPromises();
  const text = () => at.wrapper.find('[data-test="report"]').text().replace(/\s+/g, ' ');
  const note = () => at.wrapper.find('textarea').element.value;
  return { ...at, text, note };
}
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
  saved.length = 0;
});

describe('the report of a night', () => {
  test('says what was taken, lost, focused and guided that night, and of no other', async () => {
    const { text, note } = await open();
    expect(text()).toMatch(/NGC 281.*300 s\s?2\s?1/);
    expect(text()).toContain('cloud: few stars, bright sky: 1 frame, 0 h 05');
    expect(text()).toMatch(/Focus runs.*2, 1 of use/);
    expect(text()).toMatch(
      /Where the 1\d h \d\d of dark went.*frames that count 0 h 10.*frames refused: cloud: few stars, bright sky 0 h 05/,
    );
    expect(note().split('\n')).toEqual([
      expect.stringMatching(/^NGC 281: 2 frames count, 0\.17\sh/),
      expect.stringMatching(/^0\.2\sh of 1\d\.\d\sh dark went into frames that count; most of the rest: /),
      'Refused: cloud: few stars, bright sky (1).',
      'Ha: 1 of 2 focus runs was of no use.',
      expect.stringContaining('found gust'),
      'Take 2 flats before anything is turned.',
    ]);
  });
  test('goes out as a file of its published form, with the note as it was changed, which is kept', async () => {
    const { wrapper, note } = await open();
    await wrapper.find('textarea').setValue('Mind the dew heater.');
    await press(wrapper, 'Report (JSON)');
    expect(NightReport.parse(JSON.parse(saved[0]!.text)).handOver).toBe('Mind the dew heater.');
    wrapper.unmount();
    const again = await open();
    expect(again.note()).toBe('Mind the dew heater.');
    await press(again.wrapper, 'Draft it anew');
    expect(again.note()).toContain('NGC 281: 2 frames count');
    expect(note).toBeDefined();
  });
  test('night after night: hours of the dark that count, losses, widths and guiding, nights that know none left open', async () => {
    const { wrapper } = await open();
    const text = wrapper.find('[data-test="nights-over"]').text().replace(/\s+/g, ' ');
    expect(text).toMatch(
      /2 nights: 3\.0 h of 2\d\.\d h of dark count; 1\.0 h were refused, 0\.5 h of them for the sky/,
    );
    // two hours of a session of four
    expect(text).toMatch(/18 Nov2\.001\.000\.501\d\.\d1\d502\.800\.55−21\.43/);
    expect(text).toMatch(/10 Nov1\.000\.000\.001\d\.\d\d+––––0/);
  });
  test('without a night leads to bringing one in', async () => {
    const { wrapper } = await open([]);
    expect(wrapper.find('a[href="/morning/night"]').exists()).toBe(true);
  });
  test.each([
    ['guide logs', /guide-logs/],
    ['focus runs', /focus-runs/],
    ['calibration', /calibration-needs/],
  ])('claims nothing while %s are coming, nor when they failed', async (what, path) => {
    const late = slow([]);
    const waiting = await open([night], [{ path, body: late.body }]);
    expect(waiting.wrapper.find('[data-test="report"]').exists()).toBe(false);
    expect(waiting.wrapper.get('[data-test="coming"]').text()).toContain('Reading');
    waiting.wrapper.unmount();
    const problem = { code: 'internal', title: 'The server failed', status: 500, type: '', detail: 'no answer' };
    const { wrapper } = await open([night], [{ path, status: 500, body: problem }]);
    expect(wrapper.find('[data-test="report"]').exists()).toBe(false);
    expect(wrapper.get('[data-test="failed"]').text()).toContain(what);
    expect(wrapper.text()).not.toMatch(/Take \d flats/);
  });
  test('nights that could not be read are not “no night”', async () => {
    const problem = { code: 'internal', title: 'The server failed', status: 500, type: '', detail: 'no answer' };
    const { wrapper } = await open([night], [{ path: /nights$|nights\?/, status: 500, body: problem }]);
    expect(wrapper.get('[data-test="failed"]').text()).toContain('The nights of this rig could not be read');
    expect(wrapper.text()).not.toContain('No night on record');
  });
  test('frames without a time are no hours in which nothing was taken', async () => {
    const frames = [frame(0), frame(1, { startedAt: null })];
    const { wrapper } = await open([night], [{ path: /\/frames/, body: frames }]);
    expect(wrapper.get('[data-test="timeless"]').text()).toContain('1 frame carries no time');
    expect(wrapper.text()).not.toContain('nothing taken');
  });
});
