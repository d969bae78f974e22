import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import { MOUNTS } from '@keen/core/rig';
import { flushPromises } from '@vue/test-utils';
import { nextTick, ref } from 'vue';
import { workWith } from '../../test/doubles/worker.ts';
import { mountScreen, rig, site } from '../../test/mountScreen.ts';
import MountStep from './MountStep.vue';
import ProjectStep from './ProjectStep.vue';
import { blank } from './useFirstEvening.ts';
import { useUnits } from '../../stores/units.ts';

const of = (id: string, decDeg: number) => ({
  index: 0,
  id,
  alias: null,
  name: null,
  type: 'gc',
  raDeg: 250.4,
  decDeg,
  mag: 5.8,
  majorArcmin: 20,
  minorArcmin: 20,
  aliases: [],
  names: [],
  paDeg: null,
});
workWith(() => ({
  find: async () => [of('M 13', 36.5), of('NGC 6362', -67)],
  tonight: async () => ({ objects: [], scanned: 2, tookMs: 1 }),
}));

beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});

describe('the weights one owns', () => {
  const begin = async () => {
    const draft = ref({ ...blank(), mount: structuredClone(MOUNTS.find((m) => m.weightsKg.length === 2)!) });
    const { wrapper } = await mountScreen(MountStep, { props: { evening: { draft } } });
    const field = wrapper.find<HTMLInputElement>('input[aria-label="Weights you own"]');
    const type = async (text: string) => {
      await field.setValue(text);
      await nextTick();
    };
    return { draft, wrapper, field, type };
  };
  test('are read in any unit, one by one', async () => {
    const { draft, type } = await begin();
    await type('5 kg, 2.5');
    expect(draft.value.mount.weightsKg).toEqual([5, 2.5]);
    await type('11 lb; 7 lb 8 oz');
    expect(draft.value.mount.weightsKg.map((kg) => kg.toFixed(3))).toEqual(['4.990', '3.402']);
  });
  test('one that cannot be read is named, stays as typed and changes nothing', async () => {
    const { draft, wrapper, field, type } = await begin();
    const before = [...draft.value.mount.weightsKg];
    await type('5, heavy');
    expect(wrapper.find('[role="alert"]').text()).toContain('“heavy” is no mass of a weight');
    expect(field.element.value).toBe('5, heavy');
    expect(draft.value.mount.weightsKg).toEqual(before);
    await type('0 kg');
    expect(wrapper.find('[role="alert"]').exists()).toBe(true);
    await type('5');
    expect(wrapper.find('[role="alert"]').exists()).toBe(false);
  });
  test('are shown in pounds to who chose them, and a bare number is then pounds', async () => {
    localStorage.setItem('keen.units', 'imperial');
    const { draft, field, type } = await begin();
    expect(useUnits().system).toBe('imperial');
    expect(field.element.value).toMatch(/lb, .*lb$/);
    await type('10');
    expect(draft.value.mount.weightsKg[0]).toBeCloseTo(4.536, 3);
  });
});

test('an object whose hours have passed is no longer offered with them', async () => {
  // M 13 in August: 16° high at half past three, after hours of it above 30° since dusk
  jest.spyOn(Date, 'now').mockReturnValue(Date.parse('2026-08-10T01:30:00Z'));
  const evening = { draft: ref({ ...blank(), siteId: site().id }), rig: ref(rig()) };
  const { wrapper } = await mountScreen(ProjectStep, { props: { evening } });
  await wrapper.find('input').setValue('m 13');
  await flushPromises();
  expect(wrapper.find('[data-test="objects"] li').text()).toContain('no longer tonight: its hours have passed');
});
test('an object found by name is told with its hours of tonight, and one that does not rise is said so', async () => {
  jest.spyOn(Date, 'now').mockReturnValue(Date.parse('2026-06-19T12:00:00Z'));
  const evening = {
    draft: ref({ ...blank(), siteId: site().id }),
    rig: ref(rig()),
  };
  const { wrapper } = await mountScreen(ProjectStep, { props: { evening } });
  await wrapper.find('input').setValue('m 13');
  await flushPromises();
  const rows = wrapper.findAll('[data-test="objects"] li').map((r) => r.text());
  expect(rows).toHaveLength(2);
  expect(rows[1]).toContain('not tonight: never above 30° in the dark');
  expect(rows[0]).toMatch(/h, up to \d+°/);
});
