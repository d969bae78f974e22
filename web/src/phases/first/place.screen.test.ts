import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import { flushPromises } from '@vue/test-utils';
import { nextTick, ref } from 'vue';

/** The table of zones answers when it is told to, so that two answers can come in either order. */
const asked: { lat: number; answer: (zone: string) => void }[] = [];
jest.unstable_mockModule('../../common/timeZones.ts', () => ({
  proposedZone: (lat: number) => new Promise<string>((answer) => asked.push({ lat, answer })),
}));
Object.defineProperty(window, 'isSecureContext', { value: true });
let locate: (done: PositionCallback, failed: PositionErrorCallback) => void = () => undefined;
Object.defineProperty(navigator, 'geolocation', {
  value: { getCurrentPosition: (d: PositionCallback, f: PositionErrorCallback) => locate(d, f) },
  configurable: true,
});
const { mountScreen } = await import('../../test/mountScreen.ts');
const { default: PlaceStep } = await import('./PlaceStep.vue');
const { blank, FREE_ABOVE } = await import('./useFirstEvening.ts');
const { useUnits } = await import('../../stores/units.ts');

async function begin() {
  asked.length = 0;
  const draft = ref(blank());
  const { wrapper } = await mountScreen(PlaceStep, { props: { evening: { draft } } });
  const type = async (text: string) => {
    await wrapper.find('input').setValue(text);
    await nextTick();
  };
  const place = () => draft.value.place;
  return { wrapper, draft, type, place };
}
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});

describe('a place', () => {
  test.each([
    ['47.07, 15.44', 47.07, 15.44],
    ['47°04′12″N 15°26′24″E', 47.07, 15.44],
    ['33°52′10″ S, 151°12′30″ E', -33.86944, 151.20833],
    ['geo:-23.31,18.2', -23.31, 18.2],
    ['−33,87; 151,21', -33.87, 151.21],
  ])('typed as “%s” is read, and its zone is proposed', async (typed, latitude, longitude) => {
    const { type, place, wrapper } = await begin();
    await type(typed);
    expect(place().latitudeDeg).toBeCloseTo(latitude, 4);
    expect(place().longitudeDeg).toBeCloseTo(longitude, 4);
    asked.at(-1)!.answer('Europe/Vienna');
    await flushPromises();
    expect(place().timeZone).toBe('Europe/Vienna');
    expect(wrapper.find('[role="alert"]').exists()).toBe(false);
  });
  test('that cannot be read stays as typed, says what would be right, and is no place', async () => {
    const { type, place, wrapper } = await begin();
    await type('47.07, 15.44');
    await type('my garden');
    expect(place()).toMatchObject({ typed: 'my garden', latitudeDeg: null, longitudeDeg: null });
    expect(wrapper.find('[role="alert"]').text()).toContain('“my garden” is no place');
    await type('95, 10');
    expect(wrapper.find('[role="alert"]').text()).toContain('beyond the pole');
    await type('');
    expect(wrapper.find('[role="alert"]').exists()).toBe(false);
  });
  test('typed later keeps its own zone, however late the answer for the first one comes', async () => {
    const { type, place } = await begin();
    await type('47.07, 15.44');
    await type('-33.87, 151.21');
    asked.find((a) => a.lat === -33.87)!.answer('Australia/Sydney');
    await flushPromises();
    asked.find((a) => a.lat === 47.07)!.answer('Europe/Vienna');
    await flushPromises();
    expect(place().timeZone).toBe('Australia/Sydney');
  });
  test('given by the browser is rounded to a hundred metres; refused, the page says what else to do', async () => {
    const { wrapper, place } = await begin();
    const press = async () => {
      await wrapper
        .findAll('button')
        .find((b) => b.text().startsWith('Ask this browser'))!
        .trigger('click');
      await flushPromises();
    };
    locate = (_, failed) => failed({ message: 'User denied' } as GeolocationPositionError);
    await press();
    expect(wrapper.find('[role="alert"]').text()).toContain('User denied');
    expect(wrapper.find('[role="alert"]').text()).toContain('paste it from a map');
    locate = (done) =>
      done({ coords: { latitude: 47.0712345, longitude: 15.4398765, altitude: 412.4 } } as GeolocationPosition);
    await press();
    expect(place()).toMatchObject({
      latitudeDeg: 47.071,
      longitudeDeg: 15.44,
      typed: '47.071, 15.44',
      elevationM: 412,
    });
    expect(wrapper.find('[role="alert"]').exists()).toBe(false);
  });
});

test('height is in feet to who chose them, stored in metres', async () => {
  localStorage.setItem('keen.units', 'imperial');
  const { wrapper, place } = await begin();
  expect(useUnits().system).toBe('imperial');
  const label = wrapper.findAll('label').find((l) => l.text() === 'Height above the sea')!;
  const box = label.element.parentElement!;
  expect(box.querySelector('.unit')!.textContent).toBe('ft');
  const input = box.querySelector('input')!;
  input.value = '1 000';
  input.dispatchEvent(new Event('input', { bubbles: true }));
  await nextTick();
  expect(place().elevationM).toBeCloseTo(304.8, 6);
});

test('the horizon is free above 20° until it is drawn, and can be freed again', async () => {
  const { wrapper, place } = await begin();
  expect(place().horizon).toEqual(FREE_ABOVE);
  expect(wrapper.text()).toContain('Free above 20° for now');
  place().horizon = [{ azimuthDeg: 90, altitudeDeg: 35 }];
  await nextTick();
  expect(wrapper.text()).toContain('As drawn.');
  await wrapper
    .findAll('button')
    .find((b) => b.text() === 'Free above 20°')!
    .trigger('click');
  expect(place().horizon).toEqual(FREE_ABOVE);
});
