import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { CalibrationGroup, FrameRecord, NightRecord } from '@keen/contract';
import type { ReadFrame } from '@keen/core/exchange';
import { RIGS } from '@keen/demo';
import { flushPromises } from '@vue/test-utils';
import { ref } from 'vue';
import { button, field, pick, press, pressOutside, type } from '../../test/userActions.ts';
import { mountScreen, me, project } from '../../test/mountScreen.ts';
import { frameRecord, nightRecord } from '../../test/records.ts';
import FrameKeywords from './FrameKeywords.vue';
import NightsList from './NightsList.vue';
import CalibrationRecord from './CalibrationRecord.vue';
import BringInGroups from './BringInGroups.vue';
import NightsAgainst from './NightsAgainst.vue';
import GuideFocus from './GuideFocus.vue';
import TypedNight from './TypedNight.vue';
import FocusTyped from './FocusTyped.vue';
import { frameGroups, matchFrames } from '@keen/core/frames';

beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});
const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;

describe('keywords of headers', () => {
  const mounted = (mapping = {}) =>
    mountScreen(FrameKeywords, { props: { keywords: ['FILTER', 'MYFILT', 'EXPTIME'], mapping } });
  const options = (w: Awaited<ReturnType<typeof mounted>>['wrapper'], label: string) =>
    (
      w.findAllComponents({ name: 'PickOne' }).find((p) => p.props('label') === label)!.vm.$attrs as {
        options: { label: string }[];
      }
    ).options.map((o) => o.label);
  test('say what is taken without a choice, and what is not found at all', async () => {
    const { wrapper } = await mounted();
    expect(options(wrapper, 'Filter')[0]).toBe('as usual: FILTER');
    expect(options(wrapper, 'Exposure')[0]).toBe('as usual: EXPTIME');
    expect(options(wrapper, 'Gain')[0]).toBe('as usual: none found');
    expect(options(wrapper, 'Gain').slice(1)).toEqual(['FILTER', 'MYFILT', 'EXPTIME']);
  });
  test('a choice is added to the others, and taken back leaves them', async () => {
    const { wrapper } = await mounted({ gain: 'EXPTIME' });
    await pick(wrapper, 'Filter', 'MYFILT');
    await pick(wrapper, 'Gain', '');
    expect(wrapper.emitted('map')).toEqual([[{ gain: 'EXPTIME', filter: 'MYFILT' }], [{}]]);
  });
});

describe('offsets once adopted', () => {
  const adopted = {
    id: id(90),
    trainStateId: id(300),
    reference: 'L',
    model: 'temperature',
    offsets: { L: { steps: 0, error: 1 }, Ha: { steps: 42, error: 1 } },
    temperatureStepsPerC: -6,
    zoneSteps: 30,
    runCount: 12,
    adoptedAt: '2026-11-01T12:00:00.000Z',
    by: 'Noor Vik',
  };
  const runs = (night: string, ha: number) =>
    Array.from({ length: 8 }, (_, k) => {
      const temperatureC = 9 - k;
      const filter = k % 2 ? 'Ha' : 'L';
      return {
        id: id(100 + k),
        filter,
        time: `${night}T2${k % 4}:0${k}:00.000Z`,
        temperatureC,
        error: 2,
        position: 8000 + (k % 2 ? ha : 0) - 6 * temperatureC,
      };
    });
  test('a night that disagrees is named with its filter, one that agrees is not', async () => {
    const { wrapper } = await mountScreen(NightsAgainst, {
      props: {
        runs: [...runs('2026-11-10', 42), ...runs('2026-11-12', 90)],
        adopted,
        scatterSteps: 3,
        timeZone: 'UTC',
      },
    });
    expect(wrapper.find('[data-test="alarm"]').text()).toMatch(/^12 Nov disagrees: look whether/);
    const rows = wrapper.findAll('tbody tr').map((r) => r.text().replace(/\s+/g, ' '));
    expect(rows[0]).toMatch(/^12 Nov.*Ha \+24.*disagrees$/);
    expect(rows[1]).toMatch(/^10 Nov.*\dagrees$/);
  });
  test('the guide camera off axis is told by how much each filter blurs it, and which to focus it with', async () => {
    const { setup } = RIGS.find((r) => r.setup.offAxis)!;
    const three = { ...adopted, offsets: { ...adopted.offsets, R: { steps: 20, error: 1 } } };
    const { wrapper } = await mountScreen(GuideFocus, { props: { setup, adopted: three } });
    expect(
      wrapper
        .findAll('tbody tr')
        .find((r) => r.text().startsWith('R'))!
        .text(),
    ).toContain('0.0 px wider');
    await pick(wrapper, 'Guide camera focused with', 'L');
    expect(wrapper.text()).toContain('Focused with R the worst is least.');
    const off = Number(
      /([\d.]+) px wider/.exec(
        wrapper
          .findAll('tbody tr')
          .find((r) => r.text().startsWith('Ha'))!
          .text(),
      )![1],
    );
    const blur = (42 * setup.focuserStepUm) / (setup.focalLengthMm / setup.apertureMm) / setup.offAxis!.camera.pixelUm;
    expect(off).toBeCloseTo(blur, 1);
  });
});

describe('nights on record', () => {
  const taken = { projectId: id(50), object: 'NGC 281', exposureS: 300 };
  const night = (more: Partial<NightRecord> = {}) =>
    nightRecord({
      calibration: 12,
      taken: [
        { ...taken, filter: 'Ha', accepted: 10, rejected: 2 },
        { ...taken, filter: 'OIII', accepted: 4, rejected: 0 },
      ],
      ...more,
    });
  const frame = (more: Partial<FrameRecord> = {}) =>
    frameRecord(1, { startedAt: '2026-11-18T20:00:00.000Z', file: 'a_001.fits', ...more });
  const answers = [
    { path: /frames/, body: [frame()] },
    {
      method: 'PUT',
      path: /frames/,
      body: [frame({ accepted: false, reason: 'refused by hand', refusal: 'by-hand' })],
    },
  ];
  test('each says what it brought, its object once', async () => {
    const { wrapper } = await mountScreen(NightsList, { props: { nights: [night()] } });
    const taken = wrapper.findAll('.taken').map((t) => t.text().replace(/\s+/g, ' '));
    expect(taken[0]).toMatch(/NGC 281.*10 × 300 s, 2 refused/);
    expect(taken[1]).toMatch(/4 × 300 s$/);
    expect(taken[1]).not.toContain('NGC 281');
    expect(wrapper.text()).toContain('12 for calibration');
  });
  test('a frame refused by hand is sent as such, and the page is told to count again', async () => {
    const { wrapper, sent } = await mountScreen(NightsList, { props: { nights: [night()] }, answers });
    await press(wrapper, 'Frames');
    expect(wrapper.find('.frames').text()).toContain('a_001.fits');
    await wrapper.find('.frames input').setValue(false);
    await flushPromises();
    expect(sent.at(-1)).toMatchObject({
      method: 'PUT',
      body: { frames: [id(201)], accepted: false, reason: 'refused by hand', refusal: 'by-hand', judged: true },
    });
    expect(wrapper.emitted('judged')).toHaveLength(1);
    expect(wrapper.find('.frames').text()).toContain('refused by hand');
    await press(wrapper, 'Close');
    expect(wrapper.find('.frames').exists()).toBe(false);
  });
  test('undoing asks first', async () => {
    const { wrapper } = await mountScreen(NightsList, { props: { nights: [night()] } });
    await press(wrapper, 'Undo');
    expect(wrapper.emitted('undo')).toBeUndefined();
    await pressOutside('Undo it');
    expect(wrapper.emitted('undo')).toEqual([[id(80)]]);
  });
  test('what was undone, or taken on stand-ins, cannot be undone; a guest changes nothing', async () => {
    for (const n of [night({ undone: true }), night({ kind: 'live' })]) {
      const { wrapper } = await mountScreen(NightsList, { props: { nights: [n] } });
      expect(wrapper.findAll('button').map((b) => b.text())).toEqual(['Frames']);
    }
    const { wrapper } = await mountScreen(NightsList, {
      props: { nights: [night()] },
      answers,
      member: me({ role: 'guest', clubKind: 'club' }),
    });
    expect(wrapper.findAll('button').map((b) => b.text())).toEqual(['Frames']);
    await press(wrapper, 'Frames');
    expect(wrapper.find<HTMLInputElement>('.frames input').element.disabled).toBe(true);
  });
  test('frames that cannot be fetched are not shown as none', async () => {
    const { wrapper } = await mountScreen(NightsList, { props: { nights: [night()] }, answers: [] });
    await press(wrapper, 'Frames');
    expect(wrapper.find('.frames').exists()).toBe(false);
    expect(wrapper.find('[data-test="failed"]').text()).toMatch(
      /^The frames of this night could not be read: .*Try again$/,
    );
  });
});

test('calibration on record says of flats alone whether they hold, and leaves out what a header did not tell', async () => {
  const of = (more: object) =>
    ({
      kind: 'dark',
      filter: '',
      exposureS: 300,
      gain: null,
      setPointC: -10,
      binning: 1,
      frames: 30,
      newest: '2026-11-01',
      holds: true,
      ...more,
    }) as CalibrationGroup;
  const groups = [
    of({}),
    of({ kind: 'flat', filter: 'Ha', setPointC: null }),
    of({ kind: 'flat', filter: 'OIII', holds: false }),
  ];
  const { wrapper } = await mountScreen(CalibrationRecord, { props: { groups } });
  const rows = wrapper.findAll('tbody tr').map((r) => r.findAll('td').map((c) => c.text()));
  expect(rows.map((r) => r[8])).toEqual(['any train', 'still', 'no more: camera, train or filters changed']);
  expect([rows[0]![3], rows[0]![4], rows[1]![4]]).toEqual(['–', expect.stringMatching(/−10\s°C/), '–']);
  localStorage.setItem('keen.units', 'imperial');
  const { wrapper: imperial } = await mountScreen(CalibrationRecord, { props: { groups } });
  expect(imperial.text()).toMatch(/14\s°F/);
  expect((await mountScreen(CalibrationRecord, { props: { groups: [] } })).wrapper.text()).toBe('');
});

describe('what was found', () => {
  const read = (more: Partial<ReadFrame> = {}): ReadFrame => ({
    kind: 'light',
    kindSaid: true,
    object: 'NGC 281',
    raDeg: 13.2,
    decDeg: 56.6,
    filter: 'H-alpha',
    exposureS: 300,
    startedAt: '2026-11-18T20:00:00.000Z',
    setPointC: null,
    sensorC: null,
    gain: null,
    offset: null,
    binning: 1,
    pixelUm: null,
    focalLengthMm: null,
    focuserPosition: null,
    focuserC: null,
    rotationDeg: null,
    bayer: null,
    widthPx: null,
    heightPx: null,
    ...more,
  });
  const incoming = (r: Partial<ReadFrame> = {}, more: object = {}) => ({
    file: 'x.fits',
    hash: null,
    read: read(r),
    accepted: true,
    reason: '',
    ...more,
  });
  const night = (frames: ReturnType<typeof incoming>[], more: object = {}) => {
    const matched = matchFrames(frames, { projects: [project()], filters: ['Ha', 'OIII'], reachDeg: 1, aliases: {} });
    const legEditor = {
      clear: jest.fn(),
      store: jest.fn(),
      setKind: jest.fn(),
      setProject: jest.fn(),
      setFilter: jest.fn(),
      accept: jest.fn(),
      acceptOne: jest.fn(),
    };
    return {
      ...legEditor,
      matched: ref(matched),
      groups: ref(frameGroups(matched)),
      ready: ref(matched),
      busy: ref(false),
      drift: ref(null),
      filters: ref(['Ha', 'OIII']),
      ...more,
    };
  };
  const mounted = async (of: ReturnType<typeof night>) =>
    (await mountScreen(BringInGroups, { projects: [project()], props: { night: of } })).wrapper;
  test('alike frames are one row: the spelling of the file beside the filter it became', async () => {
    const wrapper = await mounted(night([incoming(), incoming(), incoming({}, { accepted: false })]));
    const cells = wrapper
      .findAll('tbody tr')[0]!
      .findAll('td')
      .map((c) => c.text().replace(/\s+/g, ' '));
    expect(cells[2]).toContain('“H-alpha”');
    expect([cells[3], cells[4], cells[5]]).toEqual(['300 s', '2 of 3', '']);
    expect(wrapper.text()).toContain('Bring in 3 frames');
  });
  test('what waits is said, and each hand reaches its group', async () => {
    const of = night([incoming({ raDeg: 200, decDeg: -10, object: 'comet', filter: 'Tri' })]);
    const wrapper = await mounted(of);
    expect(wrapper.find('tbody .level-caution').text()).toMatch(/name is not one of this rig.*no project of this rig/);
    expect(wrapper.text()).toContain('“comet”');
    await pick(wrapper, 'Filter', 'OIII');
    await pick(wrapper, 'Project', project().id);
    await pick(wrapper, 'Project', '');
    await pick(wrapper, 'Kind', 'dark');
    const group = of.groups.value[0];
    expect(of.setFilter.mock.calls).toEqual([[group, 'OIII']]);
    expect(of.setProject.mock.calls).toEqual([
      [group, project().id],
      [group, null],
    ]);
    expect(of.setKind.mock.calls).toEqual([[group, 'dark']]);
  });
  test('frames are refused one by one by their place in the whole, or all at once', async () => {
    const of = night([incoming({ kind: 'dark' }), incoming(), incoming({ startedAt: null })]);
    const wrapper = await mounted(of);
    expect(wrapper.text()).toContain('Frames without a time go with the evening chosen above');
    await press(wrapper, 'Frames');
    await wrapper.findAll('.frames input')[1]!.setValue(false);
    expect(of.acceptOne.mock.calls).toEqual([[2, false]]);
    await press(wrapper, 'Refuse all');
    await press(wrapper, 'Accept all');
    expect(of.accept.mock.calls.map((c) => c[1])).toEqual([false, true]);
  });
  test('the night’s focuser moves are set against the adopted drift by their own error', async () => {
    const drift = (adopted: number | null) => ({ drift: ref({ stepsPerC: -20, error: 1, settings: 6, adopted }) });
    const told = async (adopted: number | null) =>
      (await mounted(night([incoming()], drift(adopted)))).find('[data-test="drift"]').text();
    const [near, far, none] = [await told(-18), await told(-12), await told(null)];
    expect(near).not.toBe(far);
    for (const text of [near, far]) expect(text.startsWith(none)).toBe(true);
    expect(none).toMatch(/20.*1/);
  });
});

describe('what is typed', () => {
  test('a line of frames goes to its project, is emptied when it was read, and stays when it was not', async () => {
    const add = jest.fn((text: string, _project: string) => (text.includes('300 s') ? '' : 'Say it as 12 × 300 s Ha.'));
    const other = project({ id: id(51), name: 'another' });
    const { wrapper } = await mountScreen(TypedNight, {
      props: { projects: [project(), other], filters: ['Ha'], night: '2026-11-18', add },
    });
    const line = () => field(wrapper, 'Frames taken').element.value;
    expect(button(wrapper, 'Add').attributes('disabled')).toBeDefined();
    await type(wrapper, 'Frames taken', 'a dozen of something');
    await wrapper.find('form').trigger('submit');
    expect([wrapper.find('[role="alert"]').text(), line()]).toEqual([
      'Say it as 12 × 300 s Ha.',
      'a dozen of something',
    ]);
    await pick(wrapper, 'Project', other.id);
    await type(wrapper, 'Frames taken', '12 × 300 s Ha');
    await wrapper.find('form').trigger('submit');
    expect([wrapper.find('[role="alert"]').exists(), line()]).toEqual([false, '']);
    expect(add.mock.calls.at(-1)).toEqual(['12 × 300 s Ha', other.id, null]);
    await wrapper.setProps({ projects: [project()] });
    await type(wrapper, 'Frames taken', '1 × 300 s Ha');
    await wrapper.find('form').trigger('submit');
    expect(add.mock.calls.at(-1)![1]).toBe(project().id);
  });
  test('a focus run says what it lacks, one thing at a time, and keeps what was typed until it is stored', async () => {
    const store = jest.fn(async (_run: object) => store.mock.calls.length > 1);
    const { wrapper } = await mountScreen(FocusTyped, { props: { filters: ['L', 'Ha'], busy: false, store } });
    const lacks = async () => {
      await press(wrapper, /Add|Store/);
      return wrapper.find('[role="alert"]').text();
    };
    expect(await lacks()).toBe('Choose the filter.');
    await pick(wrapper, 'Filter', 'Ha');
    expect(await lacks()).toBe('Type the focuser position.');
    await type(wrapper, 'Best position', '9 120');
    await type(wrapper, 'Time', 'half past eight');
    expect(await lacks()).toContain('“half past eight” is not a time');
    expect(store).not.toHaveBeenCalled();
    await type(wrapper, 'Time', '2026-11-24 20:15');
    await press(wrapper, /Add|Store/);
    expect(field(wrapper, 'Best position').element.value).toMatch(/^9\s?120/);
    await press(wrapper, /Add|Store/);
    expect(store.mock.calls[1]![0]).toEqual({
      filter: 'Ha',
      position: 9120,
      points: [],
      line: 0,
      time: '2026-11-24T20:15:00.000Z',
    });
    expect(field(wrapper, 'Best position').element.value).toBe('');
  });
});
