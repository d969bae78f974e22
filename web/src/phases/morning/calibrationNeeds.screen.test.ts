import { beforeEach, describe, expect, test } from '@jest/globals';
import { flushPromises } from '@vue/test-utils';
import { mountScreen } from '../../test/mountScreen.ts';
import CalibrationNeeds from './CalibrationNeeds.vue';

// whose units another file left
beforeEach(() => localStorage.clear());

const settings = { gain: 100, offset: 30, binning: 1 };
const flat = (filter: string, trainRevision: string, frames: number) => ({
  kind: 'flat',
  filter,
  trainRevision,
  angleDeg: 90,
  ...settings,
  frames,
});
const dark = { kind: 'dark', exposureS: 300, temperatureC: -10, ...settings, binning: 2, frames: 7 };
async function open(body: object) {
  const { wrapper } = await mountScreen(CalibrationNeeds as never, {
    props: { nights: 1 },
    answers: [{ path: /calibration-needs/, body }],
  });
  for (let i = 0; i < 4; i++) await flushPromises();
  const rows = wrapper.findAll('tbody tr').map((r) => r.findAll('td').map((c) => c.text().replace(/\s+/g, ' ')));
  return { wrapper, rows };
}

describe('what is still to be taken', () => {
  test('leads with the flats that are lost once the train is touched', async () => {
    const now = flat('L', 'now', 12);
    const { wrapper, rows } = await open({
      missing: [flat('R', 'old', 3), now, dark],
      urgent: [now],
      frames: 30,
      leftOut: 4,
    });
    expect(wrapper.find('[data-test="urgent"]').text()).toMatch(/^1 flat is lost once/);
    expect(rows.map((r) => [r[0], r[2], r[4], r[5]])).toEqual([
      ['flat', 'camera at 90°', '12', 'before anything is turned'],
      ['flat', 'camera at 90°', '3', 'too late: the train stands no more'],
      ['dark', '300 s, −10 °C', '7', 'any day'],
    ]);
    expect(rows[2]![3]).toBe('gain 100, offset 30, binned 2×');
    expect(wrapper.text()).toContain('4 of 30 frames are left out');
  });
  test('says when nothing is missing, and nothing at all where no frame is on record', async () => {
    const whole = await open({ missing: [], urgent: [], frames: 9, leftOut: 0 });
    expect(whole.wrapper.find('.level-good').text()).toContain('Every frame on record has its flat');
    const unsaid = await open({ missing: [], urgent: [], frames: 9, leftOut: 9 });
    expect(unsaid.wrapper.find('.level-good').exists()).toBe(false);
    const none = await open({ missing: [], urgent: [], frames: 0, leftOut: 0 });
    expect(none.wrapper.find('[data-test="needs"]').exists()).toBe(false);
  });
});
