import { beforeEach, describe, expect, test } from '@jest/globals';
import { RigBuild } from '@keen/core/rig';
import { RIGS } from '@keen/demo';
import { flushPromises } from '@vue/test-utils';
import { field, pick, press, type } from '../../test/userActions.ts';
import { ownWorker } from '../../test/ownWorker.ts';
import { mountScreen, me, project, rig } from '../../test/mountScreen.ts';
import { calmLog, guideLogRecord } from '../../test/records.ts';
import ExposuresView from './ExposuresView.vue';

await ownWorker();

const build = RIGS[0]!.build;
const goals = [{ filter: 'Ha', exposureS: 600, quota: 20 }];
const mine = project({ goals, system: build.systems[0]!.key });
async function open(options: { member?: object; answers?: object[]; rigs?: ReturnType<typeof rig>[] } = {}) {
  const at = await mountScreen(ExposuresView, {
    projects: [mine],
    rigs: options.rigs ?? [rig()],
    member: me(options.member),
    answers: (options.answers ?? []) as never,
  });
  at.club.now = Date.parse('2026-11-19T14:00:00Z');
  for (let i = 0; i < 5; i++) await flushPromises();
  const row = (filter: string) =>
    at.wrapper
      .find('[data-test="filters"]')
      .findAll('tbody tr')
      .find((r) => r.text().startsWith(filter))!
      .findAll('td')
      .map((c) => c.text().replace(/\s+/g, ' '));
  const verdict = () => at.wrapper.find('[data-test="verdict"]').text();
  return { ...at, row, verdict };
}
const seconds = (text: string) => parseFloat(text);
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});

describe('the sky of a frame of one’s own', () => {
  const card = (key: string, value: string | number) => `${key.padEnd(8)}= ${String(value).padStart(20)}`.padEnd(80);
  /** The test’s browser knows no arrayBuffer of a file. */
  const fileOf = (name: string, bytes: Uint8Array<ArrayBuffer>) =>
    Object.assign(new File([bytes], name), { arrayBuffer: async () => bytes.buffer });
  const picture = (level: number, more: [string, string | number][] = []) => {
    const cards = [
      card('SIMPLE', 'T'),
      card('BITPIX', 8),
      card('NAXIS', 2),
      card('NAXIS1', 40),
      card('NAXIS2', 40),
      ...more.map(([k, v]) => card(k, v)),
      'END'.padEnd(80),
    ];
    const header = cards.join('').padEnd(2880);
    const bytes = new Uint8Array(header.length + 1600).fill(level);
    bytes.set([...header].map((c) => c.charCodeAt(0)));
    return fileOf('frame.fits', bytes);
  };
  const give = async (w: Awaited<ReturnType<typeof open>>['wrapper'], what: string, file: File) => {
    const input = w.find<HTMLInputElement>(`[data-test="${what}-file"]`);
    Object.defineProperty(input.element, 'files', { value: [file], configurable: true });
    await input.trigger('change');
    for (let i = 0; i < 5; i++) await flushPromises();
  };
  test('is its background less the bias, in electrons a second, with the night it was taken', async () => {
    const { wrapper, row } = await open();
    await give(
      wrapper,
      'light',
      picture(160, [
        ['EXPTIME', 120],
        ['FILTER', "'Ha      '"],
        ['DATE-OBS', "'2026-11-10T22:00:00'"],
        ['EGAIN', 0.25],
      ]),
    );
    expect(wrapper.find('[data-test="sky-from-frame"]').text()).toContain('The bias level and what a count stands for');
    await give(wrapper, 'bias', picture(100));
    // by hand: 60 counts of a quarter electron in two minutes
    expect(wrapper.find('[data-test="found"]').text()).toContain('0.125 e⁻/s');
    await press(wrapper, 'Use it for Ha');
    expect(row('Ha')[2]).toMatch(/^0\.13 m$/);
    expect(wrapper.find('[title="From a frame, entered on 2026-11-10"]').exists()).toBe(true);
  });
  test('is refused for a frame that was binned, is broken, or lies below its bias', async () => {
    const { wrapper } = await open();
    await give(
      wrapper,
      'light',
      picture(160, [
        ['EXPTIME', 120],
        ['XBINNING', 2],
      ]),
    );
    expect(wrapper.text()).toContain('read out 2 × 2');
    await give(wrapper, 'light', fileOf('x.fits', new Uint8Array(3000)));
    expect(wrapper.find('[data-test="sky-from-frame"] [role="alert"]').text()).toContain(
      'x.fits: This is not a FITS file',
    );
    await give(
      wrapper,
      'light',
      picture(90, [
        ['EXPTIME', 120],
        ['EGAIN', 1],
      ]),
    );
    await give(wrapper, 'bias', picture(100));
    expect(wrapper.text()).toContain('at or below the bias');
  });
});

describe('how long for how deep', () => {
  test('a fainter surface takes longer, four times the signal to noise sixteen times as long', async () => {
    const { wrapper } = await open();
    const frames = () =>
      Number(
        wrapper
          .find('[data-test="depth"]')
          .findAll('tbody tr')
          .find((r) => r.text().startsWith('L'))!
          .findAll('td')[3]!
          .text(),
      );
    await type(wrapper, 'Signal to noise', '20');
    const begun = frames();
    await type(wrapper, 'Signal to noise', '80');
    expect(Math.abs(frames() / begun / 16 - 1)).toBeLessThan(0.05);
    await type(wrapper, 'A surface as faint as', '20');
    expect(frames()).toBeLessThan(begun);
  });
});

describe('exposures', () => {
  test('without a rig say what they hang on', async () => {
    const { wrapper } = await open({ rigs: [] });
    expect(wrapper.find('[data-test="empty"]').text()).toContain('How long a frame should be');
  });
  test('every filter has a line; what is only taken from its name or from the sky’s brightness is marked so', async () => {
    const { wrapper, row, verdict } = await open();
    expect(wrapper.find('[data-test="filters"]').findAll('tbody tr').length).toBe(7);
    expect(row('Ha')[1]).toBe('6 ?');
    expect(row('Ha')[2]).toMatch(/\?$/);
    expect(wrapper.text()).toMatch(/Not entered, so taken as quantum efficiency 0\.80, read noise/);
    expect(verdict()).toMatch(/Set .* read noise adds at most \d+\s% to the noise of the sky/);
    expect(verdict()).toContain('mag a square arcsecond');
  });
  test('more read noise asks for longer frames; the figure is kept with the rig and spoils nothing measured', async () => {
    const { wrapper, row, sent } = await open({ answers: [{ method: 'POST', path: /rigs/, body: rig() }] });
    const before = seconds(row('Ha')[3]!);
    await type(wrapper, 'Read noise', '8');
    expect(seconds(row('Ha')[3]!)).toBeGreaterThan(10 * before);
    expect(wrapper.text()).not.toMatch(/taken as .*read noise/);
    expect(wrapper.find('[data-test="invalidated"]').exists()).toBe(false);
    await press(wrapper, 'Save');
    const { setup } = sent.find((s) => s.method === 'POST')!.body as { setup: RigBuild };
    expect(RigBuild.parse(setup).systems[0]!.camera.sensor).toEqual({ readNoiseE: 8 });
  });
  test('how well it sees is typed in per cent and kept as a share', async () => {
    const { wrapper, row } = await open();
    const before = parseFloat(row('L')[2]!);
    await type(wrapper, 'Quantum efficiency', '40');
    expect(parseFloat(row('L')[2]!)).toBeCloseTo(before / 2, 1);
    expect(field(wrapper, 'Quantum efficiency').element.value).toBe('40');
    await type(wrapper, 'Quantum efficiency', '180');
    expect(wrapper.text()).toMatch(/At most 100 %/);
    expect(parseFloat(row('L')[2]!)).toBeCloseTo(before / 2, 1);
  });
  test('a figure that is emptied leaves the record as it was', async () => {
    const { wrapper } = await open();
    await type(wrapper, 'Read noise', '8');
    await type(wrapper, 'Read noise', '');
    expect(wrapper.text()).not.toContain('Unsaved changes');
  });
  test('a band and a measured sky go before the estimate, with the day it was entered', async () => {
    const { wrapper, row } = await open();
    await type(wrapper, 'Band of Ha', '3');
    expect(row('Ha')[1]).toBe('3');
    await type(wrapper, 'Sky through Ha', '0.5');
    expect(row('Ha')[2]).toBe('0.50 m');
    const mark = wrapper
      .find('[data-test="filters"]')
      .findAll('.mark')
      .find((m) => m.text() === 'm')!;
    expect(mark.attributes('title')).toBe('From a frame, entered on 2026-11-19');
    await type(wrapper, 'Sky through Ha', '');
    expect(row('Ha')[2]).toMatch(/\?$/);
  });
  test('the goal’s own length is told what read noise adds to it', async () => {
    const { row } = await open();
    expect(row('Ha')[7]).toMatch(/^600 s, \+\d+ %$/);
    expect(row('L')[7]).toBe('–');
  });
  test('tonight’s Moon brightens the sky and shortens the frames', async () => {
    const { wrapper, row, verdict } = await open();
    const before = seconds(row('L')[2]!);
    expect(verdict()).toMatch(/Tonight the Moon would take \d\.\d\smag of it/);
    await press(wrapper, 'tonight’s');
    expect(seconds(row('L')[2]!)).toBeGreaterThan(before);
    expect(verdict()).toContain('with tonight’s Moon');
  });
  test('several short for one long is told as time, not as an opinion', async () => {
    const { wrapper } = await open();
    const text = () => wrapper.find('[data-test="compare"]').text().replace(/\s+/g, ' ');
    await pick(wrapper, 'Through', 'Ha');
    await flushPromises();
    const percent = parseFloat(/want ([\d.]+) % more/.exec(text())![1]!);
    expect(percent).toBeGreaterThan(5);
    await type(wrapper, 'Short', '300');
    expect(text()).toContain('want 0.0 % more');
    await type(wrapper, 'Short', '900');
    expect(text()).toMatch(/want [\d.]+ % less/);
  });
  test('a guide scope that bends forbids what it would trail', async () => {
    const bent: RigBuild = JSON.parse(JSON.stringify(build)) as RigBuild;
    const system = bent.systems[0]!;
    delete system.offAxis;
    system.guideScope = {
      ...(system.guideScope ?? { focalLengthMm: 200, pixelUm: 3.75 }),
      flexureArcsecPerMin: 0.9,
    } as never;
    const { verdict } = await open({ rigs: [rig(bent)] });
    expect(verdict()).toMatch(/the guide scope bends: after \d+\ss stars trail by a pixel/);
  });
  test('a guide log says how wide stars become, and what creeps forbids long frames', async () => {
    const log = (ra: number) =>
      guideLogRecord(1, {
        night: '2026-11-11',
        summary: {
          ...calmLog(),
          rms: { ra: 0.9, dec: 0.4, total: 1 },
          driftArcsecPerMin: { ra, dec: 0 },
          spanS: 3600,
        },
      });
    const opened = (ra: number) => open({ answers: [{ path: /guide-logs/, body: [log(ra)] }] });
    const calm = await opened(0.01);
    const rows = () => calm.wrapper.findAll('[data-test="long-frame"] tr').map((r) => r.findAll('td')[1]!.text());
    // by hand: hypot(3, 2.355 · 0.9) and hypot(3, 2.355 · 0.4)
    expect(rows().slice(1)).toEqual(['nothing that shows', '3.4″ instead of 3.0″, 1.17 times as long as wide']);
    expect(calm.verdict()).not.toContain('crept');
    const creeping = await opened(3);
    expect(creeping.verdict()).toMatch(/stars crept in the last guide log: after \d+\ss/);
  });
  test('a guest tries figures and keeps none', async () => {
    const { wrapper } = await open({ member: { role: 'guest', clubKind: 'club' } });
    expect(field(wrapper, 'Read noise').element.disabled).toBe(true);
    expect(wrapper.text()).not.toContain('Make these the goals');
    expect(field(wrapper, 'Brightest star kept').element.disabled).toBe(false);
  });
});

describe('hours into frames', () => {
  test('a palette shares the hours; the project gets them as its goals, with nothing else of it changed', async () => {
    const { wrapper, sent } = await open({ answers: [{ method: 'PUT', path: /projects/, body: mine }] });
    await pick(wrapper, 'Palette', 'hoo');
    await type(wrapper, 'Open shutter in all', '4');
    await press(wrapper, 'just long enough');
    await press(wrapper, /^Make these the goals of/);
    const body = sent.find((s) => s.method === 'PUT')!.body as {
      goals: { filter: string; exposureS: number; quota: number }[];
    };
    expect(body.goals.map((g) => g.filter).sort()).toEqual(['Ha', 'OIII']);
    for (const g of body.goals) expect(Math.abs(g.quota * g.exposureS - 7200)).toBeLessThanOrEqual(g.exposureS / 2);
    expect(body).toMatchObject({ name: mine.name, raDeg: mine.raDeg, version: mine.version, archived: false });
    expect(body).not.toHaveProperty('done');
  });
  test('long frames are fewer, for the same hours', async () => {
    const { wrapper } = await open();
    await pick(wrapper, 'Palette', 'sho');
    await flushPromises();
    const frames = () =>
      parseInt(
        wrapper
          .find('[data-test="goals"]')
          .findAll('tbody tr')
          .find((r) => r.text().startsWith('SII'))!
          .findAll('td')[2]!
          .text(),
        10,
      );
    const long = frames();
    await press(wrapper, 'just long enough');
    expect(frames()).toBeGreaterThanOrEqual(long);
  });
  test('a share of one’s own makes it one’s own mix; a refused change says why', async () => {
    const no = { type: 'x', title: 'x', status: 409, code: 'stale', detail: 'Odalys saved it at 21:40.' };
    const { wrapper } = await open({ answers: [{ method: 'PUT', path: /projects/, status: 409, body: no }] });
    await type(wrapper, 'Share of OIII', '2');
    expect(wrapper.find('[data-test="goals"]').text()).toContain('my own mix');
    await press(wrapper, /^Make these the goals of/);
    expect(wrapper.find('[data-test="goals"] [role="alert"]').text()).toBe('Odalys saved it at 21:40.');
  });
  test('a member gives goals only to a project of their own', async () => {
    const { wrapper } = await open({
      member: { id: '00000000-0000-4000-8000-000000000009', role: 'member', clubKind: 'club' },
    });
    expect(wrapper.text()).not.toContain('Make these the goals');
  });
});
