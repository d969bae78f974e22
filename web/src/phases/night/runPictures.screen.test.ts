import { beforeEach, expect, test } from '@jest/globals';
import type { DrawnSize, PracticeFrame } from '@keen/core/frames';
import { flushPromises } from '@vue/test-utils';
import { press } from '../../test/userActions.ts';
import { lookWith } from '../../test/doubles/looking.ts';
import { mountScreen, project, rig } from '../../test/mountScreen.ts';
import RunPictures from './RunPictures.vue';

const drawn: PracticeFrame[] = [];
const saved: { frame: PracticeFrame; cards: readonly (readonly [string, unknown])[]; size?: DrawnSize | undefined }[] =
  [];
let failing = false;
lookWith({
  lookAtPractice: async (frames: PracticeFrame[], each: (l: object) => boolean) => {
    if (failing) throw new Error('the tiles could not be read');
    // workers answer in any order
    for (const f of [...frames].reverse()) {
      drawn.push(f);
      if (!each({ id: f.id, small: { widthPx: 2, heightPx: 1, tones: new Uint8Array(2) } })) return;
    }
  },
  practiceFits: async (frame: PracticeFrame, cards: (typeof saved)[number]['cards'], size?: DrawnSize) => {
    if (failing) throw new Error('out of memory');
    saved.push({ frame, cards, size });
    return new Uint8Array(2880);
  },
});

const frame = (i: number, more: object = {}) => ({
  leg: 0,
  filter: 'Ha',
  frame: i,
  start: `2026-11-18T20:${String(i % 60).padStart(2, '0')}:00.000Z`,
  exposureS: 300,
  hfdPx: 2.5,
  eccentricity: 0.3,
  stars: 200,
  background: 1.2,
  focusPosition: 1,
  temperatureC: 4,
  accepted: true,
  reason: '',
  refusal: null,
  ...more,
});
const run = (frames: object[]) => ({ id: '00000000-0000-4000-8000-000000000777', result: { frames } });
const open = (frames: object[]) =>
  mountScreen(RunPictures, {
    projects: [project()],
    props: { run: run(frames), plan: { legs: [{ projectId: project().id }] }, projects: [project()], timeZone: 'UTC' },
  });
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
  [drawn.length, saved.length, failing] = [0, 0, false];
  URL.createObjectURL = () => 'blob:x';
  URL.revokeObjectURL = () => undefined;
});

test('nothing is drawn until it is wished; then in the order they were taken, where the object is, as wide and clouded as told', async () => {
  const { wrapper } = await open([
    frame(0),
    frame(1, { stars: 50, background: 3, accepted: false }),
    frame(2, { hfdPx: 4 }),
  ]);
  expect(drawn).toHaveLength(0);
  await press(wrapper, 'Draw 3 of 3');
  await flushPromises();
  const { raDeg, decDeg } = project();
  const told = [...drawn].reverse();
  expect(told.map((d) => [d.raDeg, d.decDeg, d.hfdPx, d.starShare, d.skyShare])).toEqual([
    [raDeg, decDeg, 2.5, 1, 1.2],
    [raDeg, decDeg, 2.5, 0.25, 3],
    [raDeg, decDeg, 4, 1, 1.2],
  ]);
  expect(wrapper.findAll('li').map((l) => l.text())).toEqual(['20:00 Ha', '20:01 Ha ✕', '20:02 Ha']);
  expect(wrapper.text()).not.toContain('Draw the next');
  await wrapper.findAll('li button')[1]!.trigger('click');
  await flushPromises();
  expect(Object.fromEntries(saved[0]!.cards)).toMatchObject({
    OBJECT: 'NGC 281',
    FILTER: 'Ha',
    EXPTIME: 300,
    'DATE-OBS': '2026-11-18T20:01:00',
    RA: raDeg,
    DEC: decDeg,
  });
  expect(saved[0]!.size).toBeUndefined();
  const { widthPx, heightPx } = rig().setup.systems[0]!.camera;
  await wrapper.find('input[type="checkbox"]').setValue(true);
  expect(wrapper.text()).toContain(`the whole chip, ${widthPx} × ${heightPx} pixels`);
  await wrapper.findAll('li button')[1]!.trigger('click');
  await flushPromises();
  expect(saved[1]!.size).toEqual({ widthPx, heightPx });
  failing = true;
  await wrapper.findAll('li button')[0]!.trigger('click');
  await flushPromises();
  expect(wrapper.find('[role="alert"]').text()).toBe('This frame could not be saved: out of memory');
});
test('a long night is drawn some at a time; what fails says so and can be tried again', async () => {
  const { wrapper } = await open(Array.from({ length: 60 }, (_, i) => frame(i)));
  await press(wrapper, 'Draw 48 of 60');
  await flushPromises();
  expect(wrapper.findAll('li')).toHaveLength(48);
  failing = true;
  await press(wrapper, 'Draw the next 12 of 60');
  await flushPromises();
  expect(wrapper.find('[role="alert"]').text()).toContain('the tiles could not be read');
  failing = false;
  await press(wrapper, 'Draw the next 12 of 60');
  await flushPromises();
  expect(wrapper.findAll('li')).toHaveLength(60);
  expect(wrapper.find('[role="alert"]').exists()).toBe(false);
});
test('a run without a frame says so', async () => {
  const { wrapper } = await open([]);
  expect(wrapper.text()).toContain('No frame was taken');
});
