import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import { NightReport } from '@keen/core/frames';
import { flushPromises } from '@vue/test-utils';
import { press } from '../../test/hands.ts';

jest.unstable_mockModule('../../workers/looking.ts', () => ({ lookAtFiles: async () => undefined, lookAtPractice: async () => undefined })); // prettier-ignore
const saved: string[] = [];
const times = { ...(await import('../../common/times.ts')) };
jest.unstable_mockModule('../../common/times.ts', () => ({ ...times, download: (_: string, text: string) => saved.push(text) })); // prettier-ignore
const { mountScreen, rig } = await import('../../test/mountScreen.ts');
const { default: ReportView } = await import('./ReportView.vue');

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const system = rig().systems[0]!;
const night = { id: id(900), rigId: id(3), system: system.key, kind: 'recorded', night: '2026-11-18', name: 'x', planId: null, words: '', by: 'Noor Vik', at: '2026-11-19T08:00:00.000Z', undone: false, taken: [{ projectId: id(50), object: 'NGC 281', filter: 'Ha', exposureS: 300, accepted: 2, rejected: 1 }], calibration: 0 }; // prettier-ignore
const frame = (n: number, more: object = {}) => ({ id: id(n), seq: n, kind: 'light', projectId: id(50), filter: 'Ha', exposureS: 300, startedAt: `2026-11-18T2${n}:00:00.000Z`, file: '', hash: null, header: {}, accepted: true, reason: '', refusal: null, measures: {}, look: null, judged: false, ...more }); // prettier-ignore
const run = (n: number, time: string, usable: boolean) => ({ id: id(70 + n), filter: 'Ha', time, usable, position: 1, hfd: 2, error: 1, temperatureC: 1, points: [], reason: '', source: 'file', excluded: false }); // prettier-ignore
const log = { id: id(80), system: system.key, night: '2026-11-18', name: 'the log', summary: { rms: { ra: 0.5, dec: 0.4, total: 0.64 }, findings: [{ code: 'gust' }], driftArcsecPerMin: { ra: 0, dec: 0 }, spanS: 10 } }; // prettier-ignore
async function open(nights: object[] = [night]) {
  const at = await mountScreen(ReportView, {
    answers: [
      { path: /judgements|pictures/, body: [] },
      { path: /calibration-needs/, body: { missing: [], urgent: [{}, {}], frames: 3, leftOut: 0 } },
      { path: /guide-logs/, body: [log, { ...log, id: id(81), night: '2026-11-01' }] },
      { path: /focus-runs/, body: [run(1, '2026-11-18T21:10:00.000Z', false), run(2, '2026-11-18T23:10:00.000Z', true), run(3, '2026-11-10T22:00:00.000Z', true)] }, // prettier-ignore
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
    expect(NightReport.parse(JSON.parse(saved[0]!)).handOver).toBe('Mind the dew heater.');
    wrapper.unmount();
    const again = await open();
    expect(again.note()).toBe('Mind the dew heater.');
    await press(again.wrapper, 'Draft it anew');
    expect(again.note()).toContain('NGC 281: 2 frames count');
    expect(note).toBeDefined();
  });
  test('without a night leads to bringing one in', async () => {
    const { wrapper } = await open([]);
    expect(wrapper.find('a[href="/morning/night"]').exists()).toBe(true);
  });
});
