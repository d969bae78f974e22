import { workWith } from '../../test/doubles/worker.ts';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import type { FrameRecord, NightRecord } from '@keen/contract';
import { guideToCsv, readGuideCsv, writeFits16 } from '@keen/core/exchange';
import { frameLook, lookAtPicture, renderCounts, type Scene } from '@keen/core/frames';
import { flushPromises } from '@vue/test-utils';
import { healthyScene, withFaults } from '../../../../core/src/test/faultyFrames.ts';
import { button, press } from '../../test/userActions.ts';
import type { LookedFile } from '../../workers/look.worker.ts';
import { lookWith } from '../../test/doubles/looking.ts';
import { useHandOver } from '../../stores/handOver.ts';
import { mountScreen, me, slow } from '../../test/mountScreen.ts';
import { frameRecord, guideLogRecord, id, nightRecord } from '../../test/records.ts';
import FramesView from './FramesView.vue';

/** What a worker would find in each file, by its name. */
const found: Record<string, LookedFile> = {};
/** And where its header is not asked. */
const asLight: Record<string, LookedFile> = {};
lookWith({
  lookAtFiles: async (files: File[], wanted: string | null, each: (l: LookedFile) => boolean) => {
    for (const f of files) if (!each((wanted === null && asLight[f.name]) || found[f.name]!)) return;
  },
});
const guideCsv = guideToCsv(
  Array.from({ length: 3600 }, (_, i) => ({
    timeS: i,
    raArcsec: 0.4 * Math.sin(i * 1.7),
    decArcsec: i === 100 ? 9 : 0.3 * Math.cos(i * 2.3),
    raPulseMs: 0,
    decPulseMs: 0,
    state: 'guiding' as const,
  })),
);
workWith(() => ({ readGuideCsv: async (text: string) => readGuideCsv(text) }));

const NIGHT = id(900);
const measured = (scene: Scene) => lookAtPicture(writeFits16(renderCounts(scene), scene.widthPx, scene.heightPx, []));
const scene = healthyScene(41, 480, 320);
const good = measured(scene);
const shaded = measured(withFaults(scene, ['prism-shadow']));
const record = (n: number, more: Partial<FrameRecord> = {}) =>
  frameRecord(n, { id: id(n), look: frameLook(good.measure), ...more });
const wide = frameLook({ ...good.measure, hfdPx: good.measure.hfdPx! * 1.8 });
let frames: FrameRecord[] = [];
const night = (more: Partial<NightRecord> = {}) => nightRecord({ id: NIGHT, ...more });

async function open(
  options: {
    member?: object;
    nights?: object[];
    early?: File[];
    logs?: object[];
    given?: { evening: string; files: File[] };
    before?: { method: string; path: RegExp; status: number; body: object }[];
  } = {},
) {
  const list = slow(options.nights ?? [night()]);
  const { given } = options;
  const at = await mountScreen(FramesView, {
    member: me(options.member),
    ...(given ? { before: () => useHandOver().givePictures(given.evening, given.files) } : {}),
    answers: [
      ...(options.before ?? []),
      { path: /judgements/, body: [] },
      { path: /guide-logs\/.*began$/, method: 'PUT', body: options.logs?.[0] ?? {} },
      { path: /guide-logs\//, body: { log: options.logs?.[0], csv: guideCsv } },
      { path: /guide-logs/, body: options.logs ?? [] },
      { method: 'PUT', path: /looks$/, body: { kept: 1 } },
      { method: 'PUT', path: /frames$/, body: [] },
      { path: /pictures/, body: [] },
      { path: /\/frames/, body: frames },
      { path: /nights$|nights\?/, body: list.body },
    ],
  });
  close = () => at.wrapper.unmount();
  if (options.early) await drop(at.wrapper, options.early);
  await list.come();
  for (let i = 0; i < 6; i++) await flushPromises();
  const verdict = () => at.wrapper.find('[data-test="verdict"]').text();
  const rows = () => at.wrapper.findAll('[data-test="frames"] tbody tr');
  const key = async (k: string, shiftKey = false) => {
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: k, shiftKey, bubbles: true }));
    for (let i = 0; i < 4; i++) await flushPromises();
  };
  const closeUp = () => at.wrapper.find('[data-test="close-up"]').text();
  const words = () =>
    at.sent
      .filter((s) => s.method === 'PUT' && s.path.endsWith('/frames'))
      .map(
        (s) =>
          s.body as { frames: string[]; accepted: boolean; reason: string; refusal: string | null; judged: boolean },
      );
  return { ...at, verdict, rows, key, closeUp, words };
}
async function drop(wrapper: Awaited<ReturnType<typeof open>>['wrapper'], files: File[]) {
  const field = wrapper.find<HTMLInputElement>('[data-test="night-files"]');
  Object.defineProperty(field.element, 'files', { value: files, configurable: true });
  await field.trigger('change');
  for (let i = 0; i < 6; i++) await flushPromises();
}
const looked = (name: string, of: ReturnType<typeof measured>, hash: string): LookedFile => ({
  ok: true,
  file: name,
  hash,
  frame: { filter: 'Ha', exposureS: 300, startedAt: null, focuserC: null, raDeg: null, decDeg: null } as never,
  look: frameLook(of.measure),
  stars: of.measure.list!,
  small: of.small,
  pieces: of.pieces,
  meanStars: of.stars,
  dust:
    name === 'renamed.fits'
      ? [
          { x: 1, y: 1, diameterPx: 80, depth: 0.06 },
          { x: 9, y: 9, diameterPx: 40, depth: 0.03 },
        ]
      : [],
  picture: null,
});

/** A screen that is left open would hear the keys of the next. */
let close = (): void => undefined;
afterEach(() => close());
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
  Element.prototype.scrollIntoView = () => undefined;
  frames = Array.from({ length: 8 }, (_, i) => record(i + 1));
});

describe('a night looked through', () => {
  test('what strays is better refused, with its reason and its cost; a and x decide, and each can be taken back', async () => {
    frames[2] = record(3, { look: wide });
    const { verdict, rows, key, closeUp, words, wrapper } = await open();
    expect(verdict()).toMatch(/8 of 8 frames count\. 1 is better refused: 5\smin of open shutter/);
    expect(rows()[2]!.text()).toMatch(/\? yes.*wide, usually/);
    await key('j');
    await key('j');
    expect(closeUp()).toMatch(/Better refused: stars .* wide, usually .*\. It would cost 5 min/);
    await key('x');
    expect(words()).toEqual([
      expect.objectContaining({ frames: [id(3)], accepted: false, refusal: 'wide', judged: true }),
    ]);
    expect(words()[0]!.reason).toMatch(/usually/);
    // the next one is looked at
    expect(closeUp()).toContain('f4.fits');
    await button(wrapper, 'Undo').trigger('click');
    await flushPromises();
    expect(words().at(-1)).toMatchObject({ frames: [id(3)], accepted: true, judged: false, refusal: null });
  });
  test('a range is decided at once, and refused frames of a machine get back what it said', async () => {
    frames[1] = record(2, { accepted: false, reason: 'few stars', refusal: 'few' });
    const { key, words, wrapper } = await open();
    await key('j', true);
    await key('j', true);
    await key('a');
    expect(words()).toEqual([expect.objectContaining({ frames: [id(1), id(2), id(3)], accepted: true })]);
    await button(wrapper, 'Undo').trigger('click');
    await flushPromises();
    expect(words().slice(1)).toEqual([
      expect.objectContaining({ frames: [id(1), id(3)], accepted: true }),
      expect.objectContaining({ frames: [id(2)], accepted: false, reason: 'few stars', refusal: 'few', judged: false }),
    ]);
  });
  test('a guest looks and decides nothing', async () => {
    const { key, words, wrapper } = await open({ member: { role: 'guest', clubKind: 'club' } });
    await key('x');
    expect(words()).toEqual([]);
    expect(button(wrapper, 'Counts').attributes('disabled')).toBeDefined();
  });
});

test('the first frame of a train that was changed is told to its corners before the night is trusted to it', async () => {
  frames[0] = record(1, { look: frameLook(shaded.measure) });
  const nights = [
    night({ words: 'amber-heron', trainStateId: id(701) }),
    night({ id: id(901), night: '2026-11-17', words: 'slate-wren', trainStateId: id(702) }),
  ];
  const { wrapper } = await open({ nights });
  const told = () => wrapper.find('[data-test="first-of-train"]');
  expect(told().text()).toMatch(
    /The train was changed before this night \(amber-heron\)\. Its first frame: The middle of the \w+ edge is/,
  );
  expect(told().classes()).toContain('level-bad');
  wrapper.unmount();
  const same = await open({ nights: nights.map((n) => ({ ...n, trainStateId: id(701) })) });
  expect(same.wrapper.find('[data-test="first-of-train"]').exists()).toBe(false);
});

describe('the night’s guide log', () => {
  const log = (beganAt: string | null) => guideLogRecord(1, { id: id(70), name: 'windy', beganAt });
  test('is joined to the frames by time: each tells how it was guided, and the one a gust threw off says so', async () => {
    const { rows, closeUp, wrapper } = await open({ logs: [log('2026-11-18T20:00:00.000Z')] });
    expect(wrapper.find('[data-test="guided-night"]').text()).toMatch(
      /cover 8 of 8 frames, 0\.\d\d″.*thrown off suddenly/,
    );
    // 40 s after the first frame began, and before any other did
    expect(rows().map((r) => /thrown/.test(r.text()))).toEqual([true, ...Array<boolean>(7).fill(false)]);
    expect(closeUp()).toMatch(/Guided to 0\.\d\d″, farthest 9\.0″.*thrown 9\.0″ off, 40\ss after it began/s);
    expect(wrapper.find('[data-test="guided"] path.dec').attributes('d')!.length).toBeGreaterThan(500);
  });
  test('that knows no time of day is asked for it, and what is told goes to the server', async () => {
    const { wrapper, rows, sent } = await open({ logs: [log(null)] });
    expect(rows()[0]!.text()).not.toContain('″');
    expect(wrapper.find('[data-test="guided-night"]').text()).toContain('“windy” knows no time of day');
    await press(wrapper, 'Join it');
    expect(sent.find((s) => s.path.endsWith('/began'))).toMatchObject({
      body: { beganAt: expect.stringMatching(/^2026-11-18T\d\d:00/) },
    });
  });
});

describe('pictures', () => {
  test('that are dropped before the night is read wait for it, and are found on its record', async () => {
    frames = [record(1, { look: null })];
    found['f1.fits'] = looked('f1.fits', good, '1'.padStart(64, '0'));
    const { wrapper, sent } = await open({ early: [new File([''], 'f1.fits')] });
    expect(sent.find((s) => s.path.endsWith('/looks'))).toMatchObject({ body: { looks: [{ id: id(1) }] } });
    expect(wrapper.text()).not.toContain('on no record');
  });
  test('that are dropped are measured, found on record by their hash, and kept', async () => {
    frames = [record(1, { look: null }), record(2, { look: null, hash: null }), record(3, { look: null })];
    const { verdict, wrapper, closeUp, sent } = await open();
    expect(verdict()).toContain('Nothing of this night is measured yet');
    expect(closeUp()).toContain('Not measured yet');
    Object.assign(found, {
      'renamed.fits': looked('renamed.fits', shaded, '1'.padStart(64, '0')),
      'f2.fits': looked('f2.fits', shaded, 'other'),
      'f3.fits': looked('f3.fits', good, 'another night’s'),
      'broken.fits': { ok: false, file: 'broken.fits', reason: 'is cut short' },
    });
    await drop(
      wrapper,
      ['renamed.fits', 'f2.fits', 'f3.fits', 'broken.fits', 'notes.txt'].map((n) => new File(['x'], n)),
    );
    expect(verdict()).toMatch(/2 of 3 measured frames show prism shadow\..*1 is not measured/);
    // a file of the same name from another night is not this frame
    expect(wrapper.text()).toContain('on no record');
    expect(wrapper.find('[data-test="unread"]').text()).toMatch(
      /notes.txt is no FITS picture.*broken.fits is cut short/s,
    );
    const kept = sent
      .filter((s) => s.path.endsWith('/looks'))
      .flatMap((s) => (s.body as { looks: { id: string }[] }).looks.map((l) => l.id));
    expect(kept).toEqual([id(1), id(2)]);
    expect(closeUp()).toMatch(/The middle of the \w+ edge is [\d.]+\s% darker than its ends/);
    expect(wrapper.find('a[href="/bench/off-axis"]').exists()).toBe(true);
    expect(wrapper.findAll('[data-test="pieces"] canvas')).toHaveLength(9);
    expect(wrapper.find('[data-test="dust"]').text()).toMatch(
      /^2 round dark spots as of dust, the deepest 6\.0\s%, 80\spx across/,
    );
    await press(wrapper, 'Pictures');
    expect(wrapper.findAll('[data-test="frames"] canvas')).toHaveLength(3);
  });
  test('that could not be kept at once are kept with the next ones, and a line that stays down says so', async () => {
    frames = [record(1, { look: null }), record(2, { look: null })];
    found['f1.fits'] = looked('f1.fits', good, '1'.padStart(64, '0'));
    const down = { code: 'offline', title: 'no connection', status: 500 };
    const { wrapper, sent } = await open({ before: [{ method: 'PUT', path: /looks$/, status: 500, body: down }] });
    await drop(wrapper, [new File(['x'], 'f1.fits')]);
    expect(
      sent
        .filter((s) => s.path.endsWith('/looks'))
        .map((s) => (s.body as { looks: { id: string }[] }).looks.map((l) => l.id)),
    ).toEqual([[id(1)], [id(1)]]);
    expect(wrapper.text()).toContain('Measured, but not kept: no connection');
  });
  test('just brought in are measured on their own evening, without being dropped again', async () => {
    const earlier = night({ id: id(901), night: '2026-11-17' });
    found['f1.fits'] = looked('f1.fits', shaded, '1'.padStart(64, '0'));
    const { wrapper, sent } = await open({
      nights: [night(), earlier],
      given: { evening: '2026-11-17', files: [new File(['x'], 'f1.fits')] },
    });
    expect(wrapper.find('[data-test="took"]').exists()).toBe(true);
    expect(sent.find((s) => s.method === 'PUT' && s.path.endsWith('/looks'))!.path).toContain(id(901));
  });
  test('among flats and darks are looked through alone; one brought in as a light by hand is one', async () => {
    const { wrapper, rows } = await open();
    const other = (kind: 'flat' | 'dark' | 'bias', hash: string): LookedFile => ({
      ok: false,
      file: `${kind}${hash.slice(-1)}.fits`,
      reason: `is a ${kind} by its header`,
      kind,
      hash,
    });
    for (const f of [
      other('flat', 'x1'),
      other('flat', 'x2'),
      other('bias', 'x3'),
      other('dark', '3'.padStart(64, '0')),
    ])
      found[f.file] = f;
    asLight['dark3.fits'] = looked('dark3.fits', shaded, '3'.padStart(64, '0'));
    await drop(
      wrapper,
      ['flat1.fits', 'flat2.fits', 'bias3.fits', 'dark3.fits'].map((n) => new File(['x'], n)),
    );
    expect(wrapper.find('[data-test="left-out"]').text()).toBe('Left out, as their headers say: 2 flats, 1 bias.');
    expect(wrapper.find('[data-test="unread"]').exists()).toBe(false);
    expect(rows()).toHaveLength(8);
    await rows()[2]!.trigger('click');
    expect(wrapper.find('[data-test="close-up"]').text()).toContain('darker than its ends');
    expect(wrapper.findAll('[data-test="mean-stars"] canvas').map((c) => c.attributes('aria-label'))[2]).toBe(
      'The mean star at the top right',
    );
  });
  test('measured one after the other tell how stars wander between them', async () => {
    const scattered = Array.from({ length: 40 }, (_, i) => ({
      ...good.measure.list![0]!,
      x: 100 + ((i * 137) % 900),
      y: 80 + ((i * 251) % 600),
    }));
    const files = Array.from({ length: 8 }, (_, i) => {
      const one = looked(`f${i + 1}.fits`, good, `${i + 1}`.padStart(64, '0')) as Extract<LookedFile, { ok: true }>;
      found[one.file] = { ...one, look: { ...one.look, places: scattered.map((s) => [s.x + 0.7 * i, s.y]) } };
      return new File(['x'], one.file);
    });
    const { wrapper } = await open();
    expect(wrapper.find('[data-test="wander"]').exists()).toBe(false);
    await drop(wrapper, files);
    // 0.7 px a minute, from frame to frame
    expect(wrapper.find('[data-test="wander"]').text()).toMatch(
      /stars wander \d+\.\d″ an hour by 7 undithered pairs: a pixel in 1\smin/,
    );
  });
  test('kept from another day tell it too; those measured before places were kept say nothing of it', async () => {
    const places = Array.from({ length: 30 }, (_, i): [number, number] => [
      100 + ((i * 137) % 900),
      80 + ((i * 251) % 600),
    ]);
    frames = frames.map((f, i) => ({
      ...f,
      look: { ...f.look!, places: places.map(([x, y]): [number, number] => [x, y - 0.4 * i]) },
    }));
    const { wrapper } = await open();
    expect(wrapper.find('[data-test="wander"]').text()).toMatch(/by 7 undithered pairs: a pixel in \d/);
    wrapper.unmount();
    frames = frames.map((f) => ({ ...f, look: { ...f.look!, places: undefined } }));
    const { wrapper: old } = await open();
    expect(old.find('[data-test="wander"]').exists()).toBe(false);
  });
  test('of no night are looked at to their corners, and count for nothing', async () => {
    const { wrapper, closeUp, sent, verdict } = await open({ nights: [] });
    expect(wrapper.text()).toContain('No night on record for this rig');
    found['first.fits'] = looked('first.fits', shaded, 'x');
    await drop(wrapper, [new File(['x'], 'first.fits')]);
    expect(closeUp()).toContain('On no record: looked at only');
    expect(verdict()).toContain('1 of 1 measured frames show prism shadow');
    expect(sent.filter((s) => s.method === 'PUT')).toEqual([]);
  });
});
