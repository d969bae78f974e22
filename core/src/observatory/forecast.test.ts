import { expect, test } from '@jest/globals';
import { Forecast, simulatedForecaster } from './forecast.ts';

const yard = { latitudeDeg: 47.1, longitudeDeg: 8.2, elevationM: 500 };
const at = (day: string, hour: number) => Date.parse(`${day}T00:00:00Z`) + hour * 3_600_000;
const of = (place: typeof yard, day: string) => simulatedForecaster.forecast(place, at(day, 15), at(day, 31));

test('the stand-in forecast says that it is invented, is the same whenever it is asked, and differs from night to night', async () => {
  const one = await of(yard, '2026-11-19');
  expect(Forecast.parse(one)).toEqual(one);
  expect(one.simulated).toBe(true);
  expect(one.source).toContain('invented');
  expect(one.hours).toHaveLength(17);
  expect(await of(yard, '2026-11-19')).toEqual(one);
  expect(await of(yard, '2026-11-20')).not.toEqual(one);
  expect(await of({ ...yard, longitudeDeg: 9.9 }, '2026-11-19')).not.toEqual(one);
});
test('over a year nights are clear, broken and overcast; summers are warmer, and on the other half of the Earth in January', async () => {
  const year = await Promise.all(
    Array.from({ length: 120 }, (_, k) =>
      of(yard, new Date(Date.parse('2026-01-01') + k * 3 * 86_400_000).toISOString().slice(0, 10)),
    ),
  );
  const cover = year.map((f) => f.hours.reduce((s, h) => s + h.cloudShare, 0) / f.hours.length);
  expect(cover.filter((c) => c < 0.25).length).toBeGreaterThan(10);
  expect(cover.filter((c) => c > 0.45).length).toBeGreaterThan(10);
  const mean = async (place: typeof yard, day: string) =>
    (await of(place, day)).hours.reduce((s, h) => s + h.airC, 0) / 17;
  expect(await mean(yard, '2026-07-15')).toBeGreaterThan((await mean(yard, '2026-01-15')) + 8);
  const south = { ...yard, latitudeDeg: -33 };
  expect(await mean(south, '2026-01-15')).toBeGreaterThan(await mean(south, '2026-07-15'));
});
