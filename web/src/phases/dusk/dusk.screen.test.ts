import { beforeEach, describe, expect, test } from '@jest/globals';
import { DuskSettings, type DuskSettingsRecord } from '@keen/contract';
import { cooling } from '@keen/core/setup';
import { RIGS } from '@keen/demo';
import { flushPromises } from '@vue/test-utils';
import { mountScreen, rig, slow } from '../../test/mountScreen.ts';
import { nothingKept } from '../../test/records.ts';
import DitherView from './DitherView.vue';
import CoolingPanel from './CoolingPanel.vue';
import AlignmentPanel from './AlignmentPanel.vue';
import { useDuskSettings } from './useDuskSettings.ts';
import { useUnits } from '../../stores/units.ts';

const record = (settings: object = {}): DuskSettingsRecord => ({
  rigId: twoSystems.id,
  kept: true,
  settings: DuskSettings.parse(settings),
  version: 2,
  updatedAt: '2026-11-01T12:00:00.000Z',
  updatedBy: 'Noor Vik',
});
const answers = (settings?: object) => [{ path: /dusk/, body: record(settings) }, ...nothingKept];
const twoSystems = rig(RIGS.find((r) => r.key === 'newtonian')!.build);
const other = twoSystems.systems[1]!;
const otherSetup = twoSystems.setup.systems.find((s) => s.key === other.key)!;
type Wrapper = Awaited<ReturnType<typeof mountScreen>>['wrapper'];
const button = (w: Wrapper, text: string) => w.findAll('button').find((b) => b.text().startsWith(text));

beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});

describe('two cameras on a mount', () => {
  test('the second one is the rig’s other system: its optics are not typed again', async () => {
    const { wrapper } = await mountScreen(DitherView, { rigs: [twoSystems], answers: answers() });
    await flushPromises();
    await button(wrapper, `Take “${other.name}”`)!.trigger('click');
    await flushPromises();
    const second = useDuskSettings().settings.second!;
    expect([second.focalLengthMm, second.pixelUm]).toEqual([otherSetup.focalLengthMm, otherSetup.camera.pixelUm]);
    expect(second.name).toBe(other.name.slice(0, 40));
    expect(wrapper.find('[data-test="sync-verdict"]').text()).toMatch(
      /follower frames? a dither: shutters open \d+\s%/,
    );
    expect(wrapper.text()).not.toContain('This is not the rig’s other system');
  });
  test('one that was typed before is kept, and the rig’s own is offered in its place; how it is used stays', async () => {
    const { wrapper } = await mountScreen(DitherView, {
      rigs: [twoSystems],
      answers: answers({ second: { focalLengthMm: 50, exposureS: 77 } }),
    });
    await flushPromises();
    expect(wrapper.text()).toContain('This is not the rig’s other system');
    await button(wrapper, `Take “${other.name}”`)!.trigger('click');
    expect(useDuskSettings().settings.second).toMatchObject({ focalLengthMm: otherSetup.focalLengthMm, exposureS: 77 });
  });
  test('a rig of one system begins with a common wide camera', async () => {
    const { wrapper } = await mountScreen(DitherView, { answers: answers() });
    await flushPromises();
    await button(wrapper, 'Add a second camera')!.trigger('click');
    expect(useDuskSettings().settings.second).toMatchObject({ name: 'wide camera', focalLengthMm: 135 });
  });
  test('the second tube is brought onto the first with the other system’s own scale', async () => {
    const { wrapper } = await mountScreen(AlignmentPanel, { rigs: [twoSystems], answers: answers() });
    await flushPromises();
    await button(wrapper, `Take “${other.name}”`)!.trigger('click');
    useDuskSettings().settings.second!.rightPx = 400;
    await flushPromises();
    const off = (400 * otherSetup.camera.pixelUm * 206.264806) / otherSetup.focalLengthMm / 60;
    const text = wrapper.find('[data-test="alignment-verdict"]').text();
    expect(Number(/points ([\d.]+)′/.exec(text)![1])).toBeCloseTo(off, 0);
  });
});

const cool = cooling({
  ambientC: 10,
  setPointC: -10,
  warmestNightC: 20,
  deepestBelowAmbientC: 35,
  ratePerMinC: 2,
  neededAt: '2026-11-19T17:00:00.000Z',
});

test('a set point typed before the rig’s own figures have come stays as typed, and goes over to them', async () => {
  const come = slow(record({ cooling: { ambientC: 3, ratePerMinC: 4 } }));
  const { wrapper } = await mountScreen(CoolingPanel, {
    props: { cool, neededAt: '2026-11-19T17:00:00.000Z', zone: 'UTC', coolNow: null },
    answers: [{ path: /dusk/, body: come.body }],
  });
  const dusk = useDuskSettings();
  expect(dusk.kept.draft.value).toBeNull();
  const label = wrapper.findAll('label').find((l) => l.text() === 'Set point')!;
  await wrapper.find(`#${label.attributes('for')}`).setValue('-14');
  await wrapper.find(`#${label.attributes('for')}`).trigger('blur');
  await come.come();
  expect(dusk.kept.draft.value!.cooling).toMatchObject({ setPointC: -14, ambientC: 3, ratePerMinC: 4 });
  expect(dusk.kept.dirty.value).toBe(true);
});

test('the cooler speaks degrees Fahrenheit to who chose them: temperatures shifted, differences not', async () => {
  const { wrapper } = await mountScreen(CoolingPanel, {
    props: { cool, neededAt: '2026-11-19T17:00:00.000Z', zone: 'UTC', coolNow: null },
    answers: answers({ cooling: { ambientC: 10, setPointC: -10, deepestBelowAmbientC: 35 } }),
  });
  await flushPromises();
  const value = (label: string) => {
    const at = wrapper.findAll('label').find((l) => l.text() === label)!;
    const box = at.element.parentElement!;
    return `${box.querySelector('input')!.value} ${box.querySelector('.unit')!.textContent}`;
  };
  expect([value('Set point'), value('Cooler’s reach below air')]).toEqual(['−10 °C', '35 °C']);
  useUnits().system = 'imperial';
  await flushPromises();
  expect([value('Set point'), value('Cooler’s reach below air')]).toEqual(['14 °F', '63 °F']);
  expect(wrapper.find('[data-test="cooling"] p').text()).toMatch(/14\s°F/);
});
