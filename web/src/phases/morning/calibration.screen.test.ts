import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import { flushPromises } from '@vue/test-utils';
import { button, press } from '../../test/userActions.ts';
import type { LookedFile } from '../../workers/look.worker.ts';
import { lookWith } from '../../test/doubles/looking.ts';
import { mountScreen, me } from '../../test/mountScreen.ts';
import CalibrationView from './CalibrationView.vue';

const found: Record<string, LookedFile> = {};
lookWith({
  lookAtFiles: async (files: File[], _wanted: string | null, each: (l: LookedFile) => boolean) => {
    for (const f of files) if (!each(found[f.name]!)) return;
  },
});

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const kindOfFrame = { kind: 'dark', filter: '', exposureS: 300, gain: 100, setPointC: -10, binning: 1, frames: 30 };
const group = (more: object = {}) => ({
  ...kindOfFrame,
  newest: '2026-11-01',
  holds: true,
  ...more,
});
const master = (n: number, more: object = {}) => ({
  id: id(n),
  ...kindOfFrame,
  system: 'main',
  angleDeg: null,
  madeOn: '2026-11-02',
  file: 'md.fits',
  note: '',
  rigId: id(3),
  words: 'amber-heron',
  holds: true,
  by: 'Noor Vik',
  byId: me().id,
  ...more,
});
async function open(options: { groups?: object[]; masters?: object[]; member?: object } = {}) {
  const at = await mountScreen(CalibrationView, {
    member: me(options.member),
    answers: [
      { path: /calibration-needs/, body: { missing: [], urgent: [], frames: 4, leftOut: 0 } },
      { path: /calibration/, body: options.groups ?? [] },
      { method: 'POST', path: /masters$/, body: master(9) },
      { method: 'DELETE', path: /masters\//, body: { ok: true } },
      { method: 'POST', path: /restore$/, body: { ok: true } },
      { path: /masters/, body: options.masters ?? [] },
    ],
  });
  for (let i = 0; i < 4; i++) await flushPromises();
  const part = (name: string) => at.wrapper.find(`[data-test="${name}"]`);
  return { ...at, part };
}
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});

describe('masters', () => {
  test('say what they hold for and how old they are', async () => {
    const { part } = await open({
      masters: [
        master(1),
        master(2, { madeOn: '2024-01-01' }),
        master(3, { kind: 'flat', filter: 'L', holds: false }),
        master(4, { kind: 'flat', filter: 'R', madeOn: '2024-01-01' }),
      ],
    });
    const rows = part('masters')
      .findAll('tbody tr')
      .map((r) => r.text());
    expect(rows.find((r) => r.includes('holds for any train'))).toContain('dark');
    expect(rows.filter((r) => r.includes('more than a year old'))).toHaveLength(1);
    expect(rows.filter((r) => r.includes('no more: camera, train or filters changed'))).toHaveLength(1);
    // flats do not age while the train stands
    expect(rows.find((r) => r.includes('holds for the train as it stands'))).toBeDefined();
  });
  test('are put on record from the frames they were made of, with a file; away and back', async () => {
    const { part, sent, wrapper } = await open({
      groups: [group(), group({ kind: 'flat', filter: 'L', holds: false })],
      masters: [],
    });
    // flats of another train are of no use any more
    expect(
      part('masters')
        .findAll('button')
        .filter((b) => b.text().startsWith('A master was made')),
    ).toHaveLength(1);
    await part('masters').find('input').setValue('master-dark-300.fits');
    await press(wrapper, 'A master was made of them');
    expect(sent.find((s) => s.method === 'POST')!.body).toMatchObject({
      kind: 'dark',
      exposureS: 300,
      gain: 100,
      setPointC: -10,
      frames: 30,
      file: 'master-dark-300.fits',
    });
    wrapper.unmount();
    const again = await open({ groups: [group()], masters: [master(1)] });
    expect(again.part('masters').text()).not.toContain('A master was made');
    await press(again.wrapper, 'Put away');
    await press(again.wrapper, 'Bring it back');
    expect(again.sent.map((s) => s.method)).toEqual(expect.arrayContaining(['DELETE', 'POST']));
  });
  test('a guest reads them', async () => {
    const { part } = await open({
      groups: [group()],
      masters: [master(1, { byId: id(8) })],
      member: { role: 'guest' },
    });
    expect(
      part('masters')
        .findAll('button')
        .map((b) => b.text()),
    ).not.toContain('Put away');
  });
});

describe('flats', () => {
  test('the panel’s exposure follows from one test flat; a full one says what to try', async () => {
    const { part, wrapper } = await open();
    // (0.45·65535 − 500)/(20000 − 500)·2 s
    expect(part('flats-panel').text()).toMatch(/^Flats from a panel3\.0?\d*\ss brings the panel to 45\s%|3\ss brings/);
    const level = wrapper.findAll('label').find((l) => l.text() === 'Level of a test flat')!;
    const input = wrapper.find(`#${level.attributes('for')}`);
    await input.setValue('65535');
    await input.trigger('blur');
    expect(part('flats-panel').text()).toMatch(/The test flat is full: try 0\.25\ss/);
  });
  test('those that are dropped are judged by level and straightness, and one becomes the test flat', async () => {
    const flat = (name: string, exposureS: number | null, background: number) =>
      (found[name] = { ok: true, file: name, frame: { filter: 'L', exposureS }, look: { background } } as never);
    flat('a.fits', 1, 10_500);
    flat('b.fits', 2, 20_500);
    flat('c.fits', 4, 34_000);
    flat('d.fits', null, 1);
    const { part, wrapper } = await open();
    const field = part('flats-panel').find<HTMLInputElement>('[data-test="night-files"]');
    Object.defineProperty(field.element, 'files', {
      value: ['a', 'b', 'c', 'd'].map((n) => new File(['x'], `${n}.fits`)),
    });
    await field.trigger('change');
    await flushPromises();
    expect(part('flat-readings').text()).toMatch(/L316 to 52\s%.*depart from a straight line by up to \d+\.\d/);
    expect(part('flats-panel').text()).toContain('d.fits tells no exposure');
    await button(wrapper, 'Reckon from it').trigger('click');
    expect(JSON.parse(localStorage.getItem('keen.flats.panel')!)).toMatchObject({ level: 10_500, exposureS: 1 });
  });
  test('twilight: each filter’s beginning at dusk and dawn, narrow ones first in the evening and last in the morning', async () => {
    const evening = (iso: string) => jest.spyOn(Date, 'now').mockReturnValue(Date.parse(iso));
    evening('2026-11-19T12:00:00Z');
    const { part } = await open();
    const [dusk, dawn] = part('flats-twilight')
      .findAll('table')
      .map((t) => t.findAll('tbody tr').map((r) => r.text()));
    expect(dusk!.length).toBeGreaterThan(3);
    const names = (rows: string[]) => rows.map((r) => /^[A-Za-z]+/.exec(r)![0]);
    expect(new Set(names(dusk!).slice(0, 3))).toEqual(new Set(['Ha', 'OIII', 'SII']));
    expect(new Set(names(dawn!).slice(-3))).toEqual(new Set(['Ha', 'OIII', 'SII']));
    expect([names(dusk!).at(-1), names(dawn!)[0]]).toEqual(['L', 'L']);
    for (const row of dusk!.filter((r) => !r.includes('–'))) expect(row).toMatch(/\d\d:\d\d−\d+\.\d°/);
    // at ten in the evening the dusk is over, and the dawn is not
    evening('2026-11-19T21:00:00Z');
    const late = (await open()).part('flats-twilight').text();
    expect(late).toMatch(
      /At dusk: this night’s has passed\..*\d\d:\d\d passed.*At dawn: too little time for OIII, SII\./,
    );
    expect(late.split('At dawn')[1]).not.toContain('passed');
  });
});
