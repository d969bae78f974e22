import { beforeEach, describe, expect, test } from '@jest/globals';
import { FrameFields } from '@keen/contract';
import { readFramesCsv, type ReadFrame } from '@keen/core/exchange';
import { flushPromises } from '@vue/test-utils';
import { workWith } from '../../test/doubles/worker.ts';
import { mountScreen, project, me, rig } from '../../test/mountScreen.ts';
import { calibrationNeeds } from '../../test/records.ts';
import BringInView from './BringInView.vue';
import { fieldsOf, incomingOf } from './bringIn.ts';
import { frameGroups, matchFrames, openQuestions } from '@keen/core/frames';

const frame = (more: Partial<ReadFrame> = {}): ReadFrame => ({
  kind: 'light',
  kindSaid: true,
  object: 'NGC 281',
  raDeg: 13.2,
  decDeg: 56.6,
  filter: 'H-alpha',
  exposureS: 300,
  startedAt: '2026-11-18T20:00:00.000Z',
  setPointC: -10,
  sensorC: -9.9,
  gain: 100,
  offset: 30,
  binning: 1,
  pixelUm: 3.76,
  focalLengthMm: 840,
  focuserPosition: 9000,
  focuserC: 4,
  rotationDeg: null,
  bayer: null,
  widthPx: 6248,
  heightPx: 4176,
  ...more,
});
/** What the worker would read of each file, by its name. */
const files: Record<string, ReadFrame | string> = {};
const handed: number[] = [];
const hashOf = (name: string) => Buffer.from(name).toString('hex').padStart(64, '0').slice(-64);
workWith(() => ({
  frameFiles: async (list: File[], _mapping: unknown, progress: (done: number) => boolean) => {
    handed.push(list.length);
    progress(list.length);
    return list.map((f) => {
      const got = files[f.name];
      return typeof got === 'object'
        ? { ok: true, file: f.name, hash: hashOf(f.name), frame: got, keywords: ['FILTER', 'EXPTIME'] }
        : { ok: false, file: f.name, reason: got ?? 'This is not a FITS file.' };
    });
  },
  readFramesCsv: async (text: string) => readFramesCsv(text),
}));

beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
  for (const k of Object.keys(files)) delete files[k];
});
const nothing = [
  { path: /nights$/, body: [] },
  { path: /calibration-needs/, body: calibrationNeeds() },
  { path: /calibration/, body: [] },
];
async function drop(wrapper: Awaited<ReturnType<typeof mountScreen>>['wrapper'], names: string[]) {
  const field = wrapper.find('[data-test="night-files"]').element as HTMLInputElement;
  Object.defineProperty(field, 'files', { value: names.map((n) => new File(['x'], n)), configurable: true });
  await wrapper.find('[data-test="night-files"]').trigger('change');
  await flushPromises();
}

describe('bringing in a night', () => {
  test('frames are matched to project and filter, sent with header and hash, and nothing of their pixels', async () => {
    Object.assign(files, {
      'a.fits': frame(),
      'b.fits': frame({ startedAt: '2026-11-18T20:06:00.000Z' }),
      'broken.fits': 'cut short',
    });
    const { wrapper, sent } = await mountScreen(BringInView, {
      projects: [project()],
      answers: [
        ...nothing,
        { method: 'POST', path: /nights$/, body: { night: null, added: 2, known: 0 } },
        { path: /projects/, body: [] },
      ],
    });
    await drop(wrapper, ['a.fits', 'b.fits', 'broken.fits']);
    expect(wrapper.find('[data-test="verdict"]').text()).toContain('2 light frames');
    expect(wrapper.find('[data-test="bad-files"]').text()).toContain('cut short');
    await wrapper
      .findAll('button')
      .find((b) => b.text().startsWith('Bring in 2'))!
      .trigger('click');
    await flushPromises();
    const post = sent.find((s) => s.method === 'POST')!.body as { night: string; system: string; frames: unknown[] };
    expect([post.night, post.frames.length]).toEqual(['2026-11-18', 2]);
    for (const f of post.frames) expect(FrameFields.safeParse(f).error?.issues ?? []).toEqual([]);
    expect(post.frames[0]).toMatchObject({
      projectId: project().id,
      filter: 'Ha',
      header: { gain: 100, focuserPosition: 9000 },
    });
    expect(wrapper.find('[data-test="verdict"]').text()).toContain('2 frames brought in');
  });
  test('a great folder is handed over by the handful, and every file of it comes back in its place', async () => {
    const names = Array.from({ length: 401 }, (_, i) => `many-${i}.fits`);
    for (const [i, n] of names.entries())
      files[n] = frame({ startedAt: new Date(Date.parse('2026-11-18T18:00:00Z') + 60_000 * i).toISOString() });
    files['many-250.fits'] = 'cut short';
    handed.length = 0;
    const { wrapper } = await mountScreen(BringInView, { projects: [project()], answers: nothing });
    await drop(wrapper, names);
    expect(handed).toEqual([200, 200, 1]);
    expect(wrapper.find('[data-test="verdict"]').text()).toContain('400 light frames');
    expect(wrapper.find('[data-test="bad-files"]').text()).toMatch(/many-250\.fits.*cut short/);
  });
  test('what was brought in is looked through at once, by evening, lights alone; undone or typed, nothing is offered', async () => {
    Object.assign(files, {
      'a.fits': frame(),
      'b.fits': frame({ startedAt: '2026-11-17T20:06:00.000Z' }),
      'c.fits': frame(),
      'flat.fits': frame({ kind: 'flat' }),
    });
    const { wrapper, router, club } = await mountScreen(BringInView, {
      rigs: [rig(), rig(undefined, 4)],
      projects: [project()],
      answers: [
        ...nothing,
        { method: 'POST', path: /nights$/, body: { night: null, added: 2, known: 0 } },
        { path: /projects/, body: [] },
      ],
    });
    const { useHandOver } = await import('../../stores/handOver.ts');
    await drop(wrapper, ['a.fits', 'b.fits', 'c.fits', 'flat.fits']);
    expect(wrapper.find('[data-test="brought"]').exists()).toBe(false);
    await wrapper
      .findAll('button')
      .find((b) => b.text().startsWith('Bring in 4'))!
      .trigger('click');
    await flushPromises();
    const offered = wrapper.findAll('[data-test="brought"] button');
    expect(offered.map((b) => b.text()).sort()).toEqual([
      'Look through the 1 frame of 17 Nov',
      'Look through the 2 frames of 18 Nov',
    ]);
    await offered.find((b) => b.text().includes('18 Nov'))!.trigger('click');
    await flushPromises();
    expect(router.currentRoute.value.path).toBe('/morning/frames');
    const given = useHandOver().takePictures()!;
    expect([given.evening, given.files.map((f) => f.name)]).toEqual(['2026-11-18', ['a.fits', 'c.fits']]);
    // once
    expect(useHandOver().takePictures()).toBeNull();
    // another rig has nothing of them
    club.selectRig('00000000-0000-4000-8000-000000000004');
    await flushPromises();
    expect(wrapper.find('[data-test="brought"]').exists()).toBe(false);
  });
  test('a refusal of the server is said with its night, and what was read stays', async () => {
    files['a.fits'] = frame();
    const problem = {
      type: 'x',
      title: 'no',
      status: 400,
      code: 'invalid_input',
      issues: [{ path: 'night', message: 'must not lie in the future' }],
    };
    const { wrapper } = await mountScreen(BringInView, {
      projects: [project()],
      answers: [...nothing, { method: 'POST', path: /nights$/, status: 400, body: problem }],
    });
    await drop(wrapper, ['a.fits']);
    await wrapper
      .findAll('button')
      .find((b) => b.text().startsWith('Bring in 1'))!
      .trigger('click');
    await flushPromises();
    expect(wrapper.text()).toContain('Night of 2026-11-18: must not lie in the future');
    expect(wrapper.find('[data-test="groups"]').exists()).toBe(true);
  });
  test('a guest looks on: nothing to drop, nothing to undo; without a rig the way to one is shown', async () => {
    const guest = await mountScreen(BringInView, { member: me({ role: 'guest', clubKind: 'club' }), answers: nothing });
    expect(guest.wrapper.find('[data-test="night-files"]').exists()).toBe(false);
    const bare = await mountScreen(BringInView, { rigs: [] });
    expect(bare.wrapper.find('[data-test="empty"] a').attributes('href')).toBe('/first-evening');
  });
});

describe('what is set by hand', () => {
  const m = {
    projects: [{ id: 'p', object: 'NGC 281', raDeg: 13.2, decDeg: 56.6 }],
    filters: ['Ha', 'OIII'],
    reachDeg: 1,
    aliases: {},
  };
  const incoming = (more: object = {}, read: Partial<ReadFrame> = {}) => ({
    file: 'x',
    hash: null,
    read: frame(read),
    accepted: true,
    reason: '',
    ...more,
  });
  test('wins over the header, and settles what waited', () => {
    const [odd] = matchFrames([incoming({}, { raDeg: 90, decDeg: 0, filter: 'Tri' })], m);
    expect(openQuestions(odd!).sort()).toEqual(['no-filter', 'no-project']);
    const [set] = matchFrames(
      [incoming({ projectId: null, filter: 'Ha' }, { raDeg: 90, decDeg: 0, filter: 'Tri' })],
      m,
    );
    expect(openQuestions(set!)).toEqual([]);
    expect(fieldsOf(set!)).toMatchObject({ projectId: null, filter: 'Ha' });
  });
  test('a light frame called a dark belongs to no project and keeps no filter', () => {
    const [dark] = matchFrames([incoming({ kind: 'dark' })], m);
    expect(fieldsOf(dark!)).toMatchObject({ kind: 'dark', projectId: null, filter: '' });
  });
  test('alike frames stand together, lights first', () => {
    const list = matchFrames(
      [incoming({}, { kind: 'dark' }), incoming(), incoming({}, { filter: 'Hα' }), incoming({}, { exposureS: 60 })],
      m,
    );
    expect(frameGroups(list).map((g) => [g.kind, g.frames.length])).toEqual([
      ['light', 2],
      ['light', 1],
      ['dark', 1],
    ]);
  });
  test('a row for twelve is twelve frames without a file', () => {
    const twelve = incomingOf({ filter: 'Ha', exposureS: 300, count: 12 });
    expect([twelve.length, new Set(twelve.map((f) => f.hash)).size, twelve[0]!.hash]).toEqual([12, 1, null]);
  });
});
