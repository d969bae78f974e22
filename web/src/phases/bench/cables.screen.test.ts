import { beforeEach, describe, expect, test } from '@jest/globals';
import { CableSheet, typicalCables } from '@keen/core/cables';
import { viewOf } from '@keen/core/rig';
import { flushPromises } from '@vue/test-utils';
import { button, field, press } from '../../test/userActions.ts';
import { me, mountScreen, rig } from '../../test/mountScreen.ts';
import CablesView from './CablesView.vue';

const record = (more: object = {}, kept = true) => ({
  rigId: rig().id,
  sheet: CableSheet.parse({ ...typicalCables(viewOf(rig().setup)), ...more }),
  kept,
  version: kept ? 3 : 0,
  updatedAt: '2026-11-01T12:00:00.000Z',
  updatedBy: 'Teun',
});
async function open(of: object = record(), member: object = {}) {
  const at = await mountScreen(CablesView, {
    member: me(member),
    answers: [
      { method: 'PUT', path: /cables$/, body: { ...of, version: 4, kept: true } },
      { path: /cables$/, body: of },
    ],
  });
  await flushPromises();
  const part = (name: string) => at.wrapper.find(`[data-test="${name}"]`);
  const verdict = () => part('verdict').text();
  return { ...at, part, verdict };
}
async function fill(input: ReturnType<typeof field>, value: string) {
  await input.setValue(value);
  await input.trigger('blur');
  await flushPromises();
}
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});

describe('a rig’s cables', () => {
  test('begin as such rigs usually are, and say so; a figure that is put right changes what holds at once', async () => {
    const { wrapper, verdict, part, sent } = await open(record({}, false));
    expect(wrapper.text()).toContain('As such rigs usually are, from memory');
    await fill(field(wrapper, 'Main camera, most power'), '200');
    expect(verdict()).toMatch(/the fuse of 10\.0 A blows|the supply gives 10\.0 A/);
    await fill(field(wrapper, 'Main camera, most power'), '10');
    // less at most than in the mean cannot be
    expect(verdict()).toContain('must not be less than the mean');
    await fill(field(wrapper, 'Main camera, most power'), '30');
    expect(verdict()).not.toContain('must not');
    await fill(field(wrapper, 'Main camera, data rate'), '900');
    expect(part('cable-findings').text()).toMatch(
      /Hub on the tube: 9\d\d MB\/s are asked for, its way to the computer carries about 350/,
    );
    await press(wrapper, /Save|Keep/);
    expect(sent.find((s) => s.method === 'PUT')!.body).toMatchObject({
      version: 0,
      sheet: { devices: expect.arrayContaining([expect.objectContaining({ key: 'camera', megabytesPerS: 900 })]) },
    });
  });
  test('a hub that is taken out leaves its devices on the one above; devices come and go', async () => {
    const { wrapper, part } = await open();
    await press(wrapper, 'Take Hub on the tube out');
    expect(part('loads').text()).not.toContain('Hub on the tube');
    await press(wrapper, 'Add a device');
    expect(part('cables').findAll('tbody tr').length).toBeGreaterThan(5);
    await press(wrapper, 'Take Another device out');
    await press(wrapper, 'Add a hub');
    expect(part('loads').text()).toMatch(/Another hub.*ports 0 of 4/s);
  });
  test('a battery is held against the night; a bundle too short for the sky is told with the place', async () => {
    const { wrapper, verdict, part } = await open(
      record({ supply: { volts: 12, amps: 20, fuseA: 7, batteryWh: 100, chemistry: 'lead' } }),
    );
    expect(part('cable-findings').text()).toMatch(/The night needs \d+ Wh; in this cold .* the battery gives \d+/);
    await fill(field(wrapper, 'Length between'), '400');
    expect(part('cable-findings').text()).toMatch(
      /have to reach \d+\smm, at −?\d+\s?° from the meridian and −?\d+\s?° declination/,
    );
    expect(verdict()).toContain('more below');
  });
  test('the tube’s share goes into the balance as a part, once, and follows', async () => {
    const { wrapper, part } = await open();
    await press(wrapper, 'Put them into the balance');
    expect(part('bundle').text()).toContain('“cables” is a part of the rig');
    await fill(field(wrapper, 'Mass of the bundle'), '500');
    await press(wrapper, 'Bring them up to date in the balance');
    const kept = JSON.parse(Object.entries(localStorage).find(([k]) => k.includes('draft.rig.'))![1] as string) as {
      value: { setup: { placed: { name: string; massKg: number }[] } };
    };
    // half of 1.2 m at 500 g/m
    expect(kept.value.setup.placed.filter((p) => p.name === 'cables')).toEqual([
      expect.objectContaining({ massKg: 0.3 }),
    ]);
  });
  test('a guest tries figures and keeps none', async () => {
    const { wrapper } = await open(record(), { role: 'guest', clubKind: 'club' });
    expect(button(wrapper, 'Add a device').attributes('disabled')).toBeDefined();
  });
});
