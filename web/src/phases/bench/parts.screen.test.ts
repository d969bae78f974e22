import { beforeEach, describe, expect, test } from '@jest/globals';
import type { PartRecord } from '@keen/contract';
import { RIGS } from '@keen/demo';
import { viewOf, type Origin, type RigSetup } from '@keen/core/rig';
import { flushPromises } from '@vue/test-utils';
import { nextTick, reactive } from 'vue';
import { field, pick, press, pressOutside, type } from '../../test/userActions.ts';
import { mountScreen, me } from '../../test/mountScreen.ts';
import RigParts from './RigParts.vue';
import RigMount from './RigMount.vue';
import OriginMark from '../../common/OriginMark.vue';

beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});
const setupOf = (): RigSetup => reactive(structuredClone(viewOf(RIGS[0]!.build)));
const drawn = (more: object = {}) =>
  ({
    id: '00000000-0000-4000-8000-000000000700',
    name: 'dew ring',
    kind: 'other',
    massKg: 0.21,
    lengthMm: null,
    widthMm: null,
    usedIn: [],
    ...more,
  }) as unknown as PartRecord;
async function parts(off = false, drawer: PartRecord[] = []) {
  const setup = setupOf();
  const screen = await mountScreen(RigParts, { props: { setup, parts: drawer, off } });
  const row = (i: number) => screen.wrapper.findAll('[data-test="parts"] tbody tr')[i]!;
  const put = async (i: number, nth: number, text: string) => {
    const input = row(i).findAll('input.mono')[nth]!;
    await input.setValue(text);
    await input.trigger('change');
    await nextTick();
  };
  return { setup, row, put, ...screen };
}

describe('parts of a rig', () => {
  test('a place that is typed asks where it is from, and what a ruler said of it goes', async () => {
    const { setup, put, wrapper } = await parts();
    const p = setup.placed[0]!;
    const massFrom = { ...p.massFrom };
    p.ruler = { fromMm: 10 } as never;
    await put(0, 1, '142 mm');
    expect(p.xMm).toBe(142);
    expect(p.placeFrom).toBeUndefined();
    const asks = wrapper.get('[data-test="where-from"]');
    expect(asks.text()).toContain(`Where is the place of ${p.name} from?`);
    await asks
      .findAll('button')
      .find((b) => b.text() === 'Measured by me')!
      .trigger('click');
    expect(p.placeFrom).toMatchObject({ kind: 'measured', by: 'Noor Vik' });
    expect(wrapper.find('[data-test="where-from"]').exists()).toBe(false);
    expect(p.ruler).toBeUndefined();
    expect({ ...p.massFrom }).toEqual(massFrom);
  });
  test('its outline says nothing of where it lies, and the same number again nothing at all', async () => {
    const { setup, put } = await parts();
    const p = setup.placed[0]!;
    const before = structuredClone({ ...p });
    await put(0, 0, `${p.massKg} kg`);
    await put(0, 1, `${p.xMm} mm`);
    expect({ ...p }).toEqual(before);
    await put(0, 4, '333 mm');
    expect(p.lengthMm).toBe(333);
    expect(p.placeFrom).toEqual(before.placeFrom);
  });
  test('a number that cannot be read changes neither the part nor its origin', async () => {
    const { setup, put, wrapper } = await parts();
    const before = structuredClone({ ...setup.placed[0]! });
    for (const wrong of ['heavy', '-3 kg', '9000 kg']) {
      await put(0, 0, wrong);
      expect({ ...setup.placed[0]! }).toEqual(before);
      expect(wrapper.find('[role="alert"]').exists()).toBe(true);
    }
  });
  test('from the drawer comes with its mass, under a name of its own the second time', async () => {
    const { setup, wrapper } = await parts(false, [
      drawn(),
      drawn({ id: '00000000-0000-4000-8000-000000000701', name: 'finder', massKg: 0.4, lengthMm: 0, widthMm: 80 }),
    ]);
    const begun = setup.placed.length;
    await pick(wrapper, 'Add a part from the drawer', drawn().id);
    await pick(wrapper, 'Add a part from the drawer', drawn().id);
    await pick(wrapper, 'Add a part from the drawer', '00000000-0000-4000-8000-000000000701');
    await pick(wrapper, 'Add a part from the drawer', 'nobody’s');
    const added = setup.placed.slice(begun);
    expect(added.map((p) => [p.name, p.massKg])).toEqual([
      ['dew ring', 0.21],
      ['dew ring (2)', 0.21],
      ['finder', 0.4],
    ]);
    expect(added.map((p) => p.lengthMm! > 0 && p.widthMm! > 0)).toEqual([true, true, true]);
    await press(wrapper, 'Take off dew ring');
    expect(setup.placed.map((p) => p.name)).not.toContain('dew ring');
    expect(setup.placed.map((p) => p.name)).toContain('dew ring (2)');
  });
  test('who may not change them sees them, and no hand to change them with', async () => {
    const { wrapper } = await parts(true, [drawn()]);
    expect(wrapper.findAll('input').every((i) => i.element.disabled)).toBe(true);
    expect(wrapper.text()).not.toContain('Ruler');
    expect(wrapper.text()).not.toContain('Add a part from the drawer');
  });
});

describe('where a number comes from', () => {
  const mark = async (origin: Origin | undefined, more: object = {}, member = me()) =>
    (await mountScreen(OriginMark, { member, props: { origin, what: 'Mass', dimension: 'mass', ...more } })).wrapper;
  const shown = async (origin: Origin | undefined, more: object = {}) => {
    const b = (await mark(origin, more)).find('button');
    return [b.text(), b.attributes('title')];
  };
  test('is a letter and a sentence', async () => {
    expect(await shown(undefined)).toEqual(['?', 'Mass: nobody said where it is from']);
    expect(await shown({ kind: 'documented' })).toEqual(['d', 'Mass: documented']);
    expect(await shown({ kind: 'measured', by: 'Ilse', at: '2026-03-04' })).toEqual([
      'm',
      'Mass: measured (Ilse, 4 Mar 2026)',
    ]);
    expect((await shown({ kind: 'assumed', spread: 0.1 }))[1]).toMatch(/^Mass: assumed, ±0\.10\skg$/);
    expect((await shown({ kind: 'assumed', spread: 20 }, { what: 'Place', dimension: 'length' }))[1]).toMatch(
      /±20\smm$/,
    );
    localStorage.setItem('keen.units', 'imperial');
    expect((await shown({ kind: 'assumed', spread: 0.1 }))[1]).toMatch(/±0\.2\d?\slb$/);
  });
  test('is said anew by the person, with their name and the day; an assumption keeps its width', async () => {
    const wrapper = await mark({ kind: 'assumed', spread: 0.3 });
    await wrapper.find('button').trigger('click');
    await pressOutside('Measured by me, today');
    await pressOutside('As documented');
    await pressOutside('Assumed');
    const [measured, documented, assumed] = wrapper.emitted('change')!.map((e) => e[0] as Origin);
    expect(measured).toMatchObject({
      kind: 'measured',
      by: 'Noor Vik',
      at: expect.stringMatching(/^\d{4}-\d\d-\d\d$/),
    });
    expect(documented).toEqual({ kind: 'documented', at: (measured as { at: string }).at });
    expect(assumed).toEqual({ kind: 'assumed', spread: 0.3 });
  });
});

describe('the mount', () => {
  const mounted = async (off = false) => {
    const setup = setupOf();
    const { wrapper } = await mountScreen(RigMount, { props: { setup, off } });
    await flushPromises();
    return { setup, wrapper };
  };
  test('takes pounds and inches into what is kept in kilograms and millimetres', async () => {
    const { setup, wrapper } = await mounted();
    await type(wrapper, 'Rated load', '44 lb');
    await type(wrapper, 'Weights from', '4 in');
    expect(setup.mount.ratedLoadKg).toBeCloseTo(19.958, 3);
    expect(setup.shaft.minMm).toBeCloseTo(101.6, 6);
  });
  test('a worm’s turn may be left empty, the rated load may not', async () => {
    const { setup, wrapper } = await mounted();
    await type(wrapper, 'Worm’s turn', '8 min');
    expect(setup.mount.wormPeriodS).toBe(480);
    await type(wrapper, 'Worm’s turn', '');
    expect('wormPeriodS' in setup.mount).toBe(false);
    const before = setup.mount.ratedLoadKg;
    await type(wrapper, 'Rated load', '');
    expect(setup.mount.ratedLoadKg).toBe(before);
  });
  test('times of a night are read as people say them', async () => {
    const { setup, wrapper } = await mounted();
    await type(wrapper, 'Meridian flip', '3m20s');
    await type(wrapper, 'Focus run', '2 min');
    expect([setup.overheads.flipS, setup.overheads.autofocusS]).toEqual([200, 120]);
    await type(wrapper, 'Read-out', '-4 s');
    expect(setup.overheads.downloadS).toBeGreaterThanOrEqual(0);
    const off = await mounted(true);
    expect(field(off.wrapper, 'Rated load').element.disabled).toBe(true);
  });
});
