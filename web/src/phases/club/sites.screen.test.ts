import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { PartRecord, SiteRecord } from '@keen/contract';
import { flushPromises } from '@vue/test-utils';
import { nextTick } from 'vue';

jest.unstable_mockModule('../../common/timeZones.ts', () => ({ proposedZone: async () => 'Australia/Sydney' }));
const { mountScreen, me, site, sent } = await import('../../test/mountScreen.ts');
const { default: SitesView } = await import('./SitesView.vue');
const { default: EquipmentView } = await import('./EquipmentView.vue');
const { useUnits } = await import('../../stores/units.ts');

type Wrapper = Awaited<ReturnType<typeof mountScreen>>['wrapper'];
const button = (w: Wrapper, text: string) => w.findAll('button').find((b) => b.text() === text);
const posted = () => sent.find((s) => s.method === 'POST')?.body as SiteRecord | undefined;
const put = () => sent.find((s) => s.method === 'PUT')?.body as SiteRecord | undefined;

beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});

describe('sites', () => {
  test('the first one is added from nothing: a name, the kind of this household, no borrowed horizon', async () => {
    const made = { ...site(), name: 'New site' };
    const { wrapper, club } = await mountScreen(SitesView, {
      sites: [],
      rigs: [],
      answers: [{ method: 'POST', path: /sites/, body: made }],
    });
    await button(wrapper, 'Add a site here')!.trigger('click');
    await flushPromises();
    expect(posted()).toMatchObject({
      name: 'New site',
      kind: 'backyard',
      horizon: [{ azimuthDeg: 0, altitudeDeg: 20 }],
    });
    expect(club.sites.map((s) => s.name)).toEqual(['New site']);
  });
  test('another begins like the one looked at, under a name of its own', async () => {
    const here = { ...site(), name: 'New site' };
    const { wrapper } = await mountScreen(SitesView, {
      sites: [here],
      answers: [{ method: 'POST', path: /sites/, body: { ...here, id: '00000000-0000-4000-8000-000000000077' } }],
    });
    await button(wrapper, 'Add a site')!.trigger('click');
    await flushPromises();
    expect(posted()).toMatchObject({ name: 'New site 2', latitudeDeg: here.latitudeDeg, timeZone: here.timeZone });
  });
  test('a place pasted from a map moves it, its zone with it; nonsense moves nothing and is explained', async () => {
    const { wrapper } = await mountScreen(SitesView, { answers: [{ method: 'PUT', path: /sites/, body: site() }] });
    const field = wrapper.find('.paste-place input');
    await field.setValue('somewhere dark');
    expect(wrapper.find('[role="alert"]').text()).toContain('is no place');
    await field.setValue('33°52′S 151°12′E');
    await flushPromises();
    await button(wrapper, 'Save')!.trigger('click');
    await flushPromises();
    expect(put()!.latitudeDeg).toBeCloseTo(-33.8667, 3);
    expect(put()!.longitudeDeg).toBeCloseTo(151.2, 3);
    expect(put()!.timeZone).toBe('Australia/Sydney');
  });
  test('a pasted horizon is put in order; a line that is no point is named and nothing is taken', async () => {
    const { wrapper } = await mountScreen(SitesView, { answers: [{ method: 'PUT', path: /sites/, body: site() }] });
    await button(wrapper, 'Paste a list')!.trigger('click');
    await nextTick();
    const area = document.querySelector<HTMLTextAreaElement>('.ant-modal textarea')!;
    const write = async (text: string) => {
      area.value = text;
      area.dispatchEvent(new Event('input'));
      document.querySelector<HTMLButtonElement>('.ant-modal-footer .ant-btn-primary')!.click();
      await nextTick();
    };
    await write('# from the survey\n180 25\nnorth 12');
    expect(document.querySelector('.ant-modal [role="alert"]')!.textContent).toContain('Line 3: “north 12”');
    await write('# from the survey\n180 25\n90;12\n270, 8');
    await button(wrapper, 'Save')!.trigger('click');
    await flushPromises();
    expect(put()!.horizon).toEqual([
      { azimuthDeg: 90, altitudeDeg: 12 },
      { azimuthDeg: 180, altitudeDeg: 25 },
      { azimuthDeg: 270, altitudeDeg: 8 },
    ]);
  });
  test('a member reads them and is told who keeps them', async () => {
    const { wrapper } = await mountScreen(SitesView, { member: me({ role: 'member', clubKind: 'club' }) });
    expect(wrapper.text()).toContain('Stewards keep the sites');
    for (const text of ['Add a site', 'Paste a list', 'Put in order']) expect(button(wrapper, text)).toBeUndefined();
    expect(wrapper.findAll('input').every((i) => i.attributes('disabled') !== undefined)).toBe(true);
  });
});

describe('the drawer', () => {
  const part = (more: Partial<PartRecord>): PartRecord =>
    ({
      id: '00000000-0000-4000-8000-000000000090',
      name: 'spacer',
      kind: 'adapter',
      massKg: 0.25,
      lengthMm: 25.4,
      count: 1,
      note: '',
      ownerId: null,
      owner: 'Noor Vik',
      usedIn: [],
      version: 1,
      updatedAt: '2026-11-01T12:00:00.000Z',
      updatedBy: 'Noor Vik',
      ...more,
    }) as PartRecord;
  test('shows and names its columns in the reader’s units', async () => {
    const { wrapper } = await mountScreen(EquipmentView, {
      answers: [{ path: /parts/, body: [part({ measuredMm: 50.8 })] }],
    });
    await flushPromises();
    expect(wrapper.text()).toMatch(/Mass, kg[\s\S]*Length, mm/);
    useUnits().system = 'imperial';
    await nextTick();
    expect(wrapper.text()).toMatch(/Mass, lb[\s\S]*Length, in/);
    const cells = wrapper
      .findAll('tbody tr')[0]!
      .findAll('td')
      .map((c) => c.text());
    expect(cells).toEqual(expect.arrayContaining(['0.55', '1.000', '2.000']));
  });
});
