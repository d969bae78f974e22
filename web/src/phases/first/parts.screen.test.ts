import { beforeEach, describe, expect, test } from '@jest/globals';
import { MOUNTS, RigBuild, SENSORS, TUBES, viewOf } from '@keen/core/rig';
import { nextTick, ref } from 'vue';
import { button, card, cards, press, type } from '../../test/userActions.ts';
import { mountScreen } from '../../test/mountScreen.ts';
import TubeStep from './TubeStep.vue';
import RidersStep from './RidersStep.vue';
import FiltersStep from './FiltersStep.vue';
import FirstRig from './FirstRig.vue';
import { blank, buildOfChoices, missing } from './useFirstEvening.ts';

beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});
const start = (more: object = {}) => ref({ ...blank(), ...structuredClone(more) });
type Draft = ReturnType<typeof start>;
const step = async (component: object, draft: Draft, more: object = {}) =>
  (await mountScreen(component as never, { props: { evening: { draft, ...more } } })).wrapper;
const kit = (kind: string) => TUBES.find((t) => t.kind === kind)!;

describe('the tube', () => {
  test('is chosen by kind, then by size', async () => {
    const draft = start();
    const wrapper = await step(TubeStep, draft);
    for (const [name, kind] of [
      ['Newtonian', 'newtonian'],
      ['Camera lens', 'lens'],
      ['Two mirrors', 'two-mirror'],
    ] as const) {
      await card(wrapper, 'Kind', name);
      expect(cards(wrapper, 'Size; take the nearest')).toEqual(
        TUBES.filter((t) => t.kind === kind).map((t) => t.label),
      );
    }
    expect(draft.value.tube).toBeNull();
    await card(wrapper, 'Size; take the nearest', kit('two-mirror').label);
    expect(draft.value.tube?.key).toBe(kit('two-mirror').key);
  });
  test('corrected is one’s own: the kit it began from stays as it was', async () => {
    const draft = start({ tube: kit('refractor') });
    const wrapper = await step(TubeStep, draft);
    const before = kit('refractor').focalLengthMm;
    await type(wrapper, 'Focal length', '612 mm');
    expect([draft.value.tube!.focalLengthMm, kit('refractor').focalLengthMm]).toEqual([612, before]);
    await type(wrapper, 'Focal length', 'long');
    expect(draft.value.tube!.focalLengthMm).toBe(612);
    expect(wrapper.find('[role="alert"]').exists()).toBe(true);
  });
  test('says where its corrector wants the sensor, in the reader’s unit', async () => {
    const draft = start({ tube: { ...kit('refractor'), backFocusMm: 55 } });
    expect((await step(TubeStep, draft)).text()).toMatch(/A usual corrector wants\s+55\smm to the sensor/);
    localStorage.setItem('keen.units', 'imperial');
    const inches = (await step(TubeStep, draft)).text();
    expect(inches).toMatch(/wants\s+2\.\d+\sin to the sensor/);
    draft.value.tube!.backFocusMm = null;
    expect((await step(TubeStep, draft)).text()).not.toContain('to the sensor');
  });
});

describe('what rides on it', () => {
  test('a colour camera begins without filters, a monochrome one with a wheel of them', async () => {
    const draft = start();
    const wrapper = await step(RidersStep, draft);
    await card(wrapper, 'Its sensor sees', 'Colour');
    expect([draft.value.bayer, draft.value.holder, draft.value.filters]).toEqual(['RGGB', 'none', []]);
    const other = start();
    const mono = await step(RidersStep, other);
    await card(mono, 'Its sensor sees', 'Monochrome');
    expect([other.value.bayer, other.value.holder]).toEqual(['mono', 'wheel']);
    expect(other.value.filters.length).toBeGreaterThan(3);
  });
  test('a holder once chosen stays; its filters follow the kind of sensor', async () => {
    const draft = start();
    const wrapper = await step(RidersStep, draft);
    await card(wrapper, 'Filters sit in', 'A drawer');
    const mono = [...draft.value.filters];
    await card(wrapper, 'Its sensor sees', 'Colour');
    expect(draft.value.holder).toBe('drawer');
    expect(draft.value.filters).not.toEqual(mono);
    await card(wrapper, 'Filters sit in', 'Nothing');
    expect(draft.value.filters).toEqual([]);
  });
  test('a sensor is a copy to correct, and the cells are asked for of a colour camera alone', async () => {
    const draft = start({ bayer: 'mono' });
    const wrapper = await step(RidersStep, draft);
    await card(wrapper, 'Camera, by its sensor', SENSORS[0]!.label);
    await type(wrapper, 'Pixel', '4.5');
    expect(draft.value.sensor!.pixelUm).toBe(4.5);
    expect(SENSORS[0]!.pixelUm).not.toBe(4.5);
    expect(wrapper.text()).not.toContain('Order of its cells');
    await card(wrapper, 'Its sensor sees', 'Colour');
    expect(wrapper.text()).toContain('Order of its cells');
  });
});

describe('filters by slot', () => {
  test('begin with a set, grow to twelve slots and can be taken out again', async () => {
    const draft = start({ bayer: 'mono', holder: 'wheel' });
    const wrapper = await step(FiltersStep, draft);
    const sets = wrapper.findAll('.row.small button');
    await sets.at(-1)!.trigger('click');
    const begun = draft.value.filters.length;
    expect(begun).toBeGreaterThan(0);
    while (wrapper.findAll('button').some((b) => b.text() === 'Add a slot')) await press(wrapper, 'Add a slot');
    expect(draft.value.filters).toHaveLength(12);
    await press(wrapper, 'Remove slot 12');
    expect(draft.value.filters).toHaveLength(11);
    expect(button(wrapper, 'Add a slot')).toBeTruthy();
  });
  test('one name in two slots is said, blank slots are not', async () => {
    const draft = start({ bayer: 'mono', holder: 'wheel', filters: ['L', 'blank', 'blank', ''] });
    const wrapper = await step(FiltersStep, draft);
    expect(wrapper.find('.level-caution').exists()).toBe(false);
    await type(wrapper, 'Slot 4', ' L ');
    expect(wrapper.find('.level-caution').text()).toContain('L stands in two slots');
  });
});

describe('what the choices are good for', () => {
  const mount = MOUNTS[0]!;
  test('nothing is claimed before there is something to say', async () => {
    const wrapper = await step(FirstRig, start(), { rig: ref(null), view: ref(null) });
    expect(wrapper.text()).toContain('as soon as their parts are chosen');
  });
  test('mount and tube alone give the load and what the tube resolves', async () => {
    const draft = start({
      mount: { ...mount, ratedLoadKg: 20 },
      tube: { ...kit('refractor'), apertureMm: 116, massKg: 4, ringsKg: 0.5, focuserKg: 0.5 },
    });
    const wrapper = await step(FirstRig, draft, { rig: ref(null), view: ref(null) });
    expect(wrapper.text()).toMatch(/5\.00\skg of 20\.00\skg, 25 %/);
    expect(wrapper.text()).toContain('resolved to about 1.0″');
    expect(wrapper.find('.bar').classes()).toContain('good');
    draft.value.mount!.ratedLoadKg = 8;
    await nextTick();
    expect(wrapper.find('.bar').classes()).toContain('caution');
    draft.value.mount!.ratedLoadKg = 4;
    await nextTick();
    expect(wrapper.text()).toContain('More than the mount is rated for');
  });
  test('the whole rig gives field, balance and the assumption that matters, and is one the server takes', async () => {
    const draft = start({
      mount,
      tube: kit('refractor'),
      sensor: SENSORS[0],
      bayer: 'mono',
      guider: 'guide-scope',
      holder: 'wheel',
      filters: ['L', 'R'],
    });
    expect(
      missing({ ...draft.value, place: { ...draft.value.place, latitudeDeg: 47, longitudeDeg: 8, timeZone: 'UTC' } }),
    ).toBeNull();
    const build = buildOfChoices(draft.value)!;
    expect(RigBuild.safeParse(build).error?.issues ?? []).toEqual([]);
    const wrapper = await step(FirstRig, draft, { rig: ref(null), view: ref(viewOf(build)) });
    expect(
      wrapper
        .findAll('p[class^="level-"]')
        .map((p) => p.text())
        .join(' '),
    ).toMatch(/ by [\d.]+\skg·cm.*the wanted distance/);
    expect(wrapper.find('[data-test="assumed"]').text()).toMatch(/assumed/i);
    expect(wrapper.text()).toMatch(/f\/\d/);
  });
});
