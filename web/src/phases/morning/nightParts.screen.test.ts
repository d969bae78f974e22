import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import { nightHours } from '@keen/core/frames';
import { flushPromises } from '@vue/test-utils';
import { ref } from 'vue';
import { field, press } from '../../test/userActions.ts';
import { mountScreen } from '../../test/mountScreen.ts';
import GuidedDuring from './GuidedDuring.vue';
import GuidedNight from './GuidedNight.vue';
import HoursBar from './HoursBar.vue';

beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});
const BEGAN = Date.parse('2026-11-18T20:00:00Z');

describe('what a night’s guide logs say', () => {
  const guided = (more: object = {}) => ({
    trouble: ref(''),
    phrases: ref([]),
    shifted: ref([]),
    timeless: ref([]),
    records: ref([{}]),
    logs: ref([]),
    guiding: ref(new Map()),
    shift: jest.fn(),
    began: jest.fn(),
    ...more,
  });
  const open = (more: object, mayTell = true) =>
    mountScreen(GuidedNight, { props: { guided: guided(more), night: '2026-11-18', zone: 'Europe/Vienna', mayTell } });
  test('a clock of another zone is told with the hour it should show, and set right by one press', async () => {
    const shift = jest.fn();
    const log = { id: 'x', name: 'windy', beganAtMs: BEGAN - 3_600_000, samples: [] };
    const { wrapper } = await open({ shifted: ref([{ log, shift: { hours: 1, covered: 0.98 } }]), shift });
    expect(wrapper.text()).toMatch(
      /“windy” does not fit the frames as it stands: its clock seems to read −1\.00 h against the camera’s/,
    );
    // 20:00 UTC is 21:00 in Vienna in November
    await press(wrapper, 'Begin it at 21:00');
    expect(shift).toHaveBeenCalledWith(log, 1);
  });
  test('a log without a time of day takes the site’s evening until somebody says better', async () => {
    const began = jest.fn();
    const { wrapper } = await open({ timeless: ref([{ id: 'y', name: 'old log' }]), began });
    await press(wrapper, 'Join it');
    expect(began).toHaveBeenLastCalledWith('y', '2026-11-18T19:00:00.000Z');
    await field(wrapper, 'It began').setValue('1:30');
    await field(wrapper, 'It began').trigger('change');
    await flushPromises();
    await press(wrapper, 'Join it');
    // after midnight it is the next day
    expect(began).toHaveBeenLastCalledWith('y', '2026-11-19T00:30:00.000Z');
  });
  test('a guest is told and changes nothing; without any log the way to one is shown', async () => {
    const log = { id: 'x', name: 'windy', beganAtMs: BEGAN, samples: [] };
    const guest = await open(
      { shifted: ref([{ log, shift: { hours: 2, covered: 1 } }]), timeless: ref([{ id: 'y', name: 'old' }]) },
      false,
    );
    expect(guest.wrapper.text()).toContain('its clock seems to read −2.00 h');
    expect(guest.wrapper.findAll('button')).toHaveLength(0);
    const none = await open({ records: ref([]) });
    expect(none.wrapper.find('a[href="/morning/guiding"]').exists()).toBe(true);
  });
});

describe('guiding during one frame', () => {
  const samples = Array.from({ length: 400 }, (_, i) => ({
    timeS: i,
    raArcsec: 0.4 * Math.sin(i),
    decArcsec: 0.2,
    state: i >= 150 && i < 160 ? ('lost' as const) : ('guiding' as const),
  }));
  const guiding = {
    log: 'the log',
    logAt: 0,
    covered: 0.6,
    rmsArcsec: 0.31,
    peakArcsec: 0.42,
    peakAtS: 3,
    lostS: 10,
    movedS: 0,
    explains: 1.04,
    phrases: [],
  };
  test('the piece of the log is drawn to its own scale, broken where the star was lost', async () => {
    const { wrapper } = await mountScreen(GuidedDuring, {
      props: {
        guiding,
        log: { id: 'x', name: 'the log', beganAtMs: BEGAN, samples },
        startedAt: '2026-11-18T20:01:40.000Z',
        exposureS: 100,
      },
    });
    expect(wrapper.text()).toMatch(
      /Guided to 0\.31″, farthest 0\.4″; leaves stars 1\.04 times as long as wide\..*which knows 60\s% of it/s,
    );
    const path = wrapper.find('path.ra').attributes('d')!;
    // from 100 s to 200 s of the log, in two pieces
    expect(path.match(/M/g)).toHaveLength(2);
    expect(path.match(/[ML]/g)).toHaveLength(101 - 10);
    expect(wrapper.findAll('.unrest')).toHaveLength(10);
  });
  test('a frame of which nothing was guided says so by figures it does not have', async () => {
    const { wrapper } = await mountScreen(GuidedDuring, {
      props: {
        guiding: { ...guiding, rmsArcsec: null, peakArcsec: null, explains: null },
        log: null,
        startedAt: '2026-11-18T20:00:00.000Z',
        exposureS: 100,
      },
    });
    expect(wrapper.text()).not.toContain('Guided to');
    expect(wrapper.find('svg').exists()).toBe(false);
  });
});

test('the hours of a night stand to scale, each kind with its time and share', async () => {
  const spent = nightHours({ fromMs: BEGAN, toMs: BEGAN + 36_000_000 }, [
    { startedMs: BEGAN, exposureS: 9000, accepted: true, because: '', cloud: false },
    { startedMs: BEGAN + 9_000_000, exposureS: 9000, accepted: false, because: 'cloud', cloud: true },
  ]);
  const { wrapper } = await mountScreen(HoursBar, { props: { spent, zone: 'UTC' } });
  const rects = wrapper.findAll('g rect:not(.reach)');
  expect(rects.map((r) => [r.classes()[0], Math.round(Number(r.attributes('width')))])).toEqual([
    ['counted', 180],
    ['refused', 180],
    ['after', 360],
  ]);
  expect(wrapper.text().replace(/\s+/g, ' ')).toMatch(
    /10 h 00 of dark.*after the last frame 5 h 00 50 %.*frames that count 2 h 30 25 %.*frames refused: cloud 2 h 30 25 %.*clear for 7 h 30/,
  );
  // full hours on the site's clock, both ends among them
  expect(wrapper.findAll('svg text')).toHaveLength(11);
});
