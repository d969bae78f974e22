import { z } from 'zod';
import { hash32, seeded } from '../statistics/index.ts';

const share = z.number().min(0).max(1);
export const ForecastHour = z.strictObject({
  at: z.string(),
  cloudShare: share,
  airC: z.number(),
  windMS: z.number(),
  humidity: share,
});
export type ForecastHour = z.infer<typeof ForecastHour>;
export const Forecast = z.strictObject({
  /** Who says so, as it is shown beside every figure. */
  source: z.string(),
  /** Invented by a stand-in: nothing of it has to do with the weather there. */
  simulated: z.boolean(),
  hours: z.array(ForecastHour),
});
export type Forecast = z.infer<typeof Forecast>;

export interface Place {
  latitudeDeg: number;
  longitudeDeg: number;
  elevationM: number;
}
/** What is asked of a weather service; the stand-in implements it, a real one could as well. */
export interface Forecaster {
  /** Hour by hour between two moments [ms since 1970]. */
  forecast(place: Place, fromMs: number, toMs: number): Promise<Forecast>;
}

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;

/** An invented forecast: the same place and night always get the same, nights differ, and hours follow from each other. */
export const simulatedForecaster: Forecaster = {
  forecast: (place, fromMs, toMs) => {
    const seed = hash32(
      `${place.latitudeDeg.toFixed(2)} ${place.longitudeDeg.toFixed(2)} ${Math.floor(fromMs / DAY_MS)}`,
    );
    const random = seeded(seed);
    const cover = random.next();
    const passes = {
      at: fromMs + random.next() * (toMs - fromMs),
      hours: 1 + 3 * random.next(),
      deep: 0.3 + 0.7 * random.next(),
    };
    const wind = 1 + 6 * random.next();
    const damp = 0.45 + 0.4 * random.next();
    const first = Math.ceil(fromMs / HOUR_MS) * HOUR_MS;
    const hours: ForecastHour[] = [];
    for (let ms = first; ms <= toMs; ms += HOUR_MS) {
      const away = (ms - passes.at) / (passes.hours * HOUR_MS);
      const front = passes.deep * Math.exp(-(away ** 2));
      const airC =
        seasonC(place, ms) - 2.2 * Math.min(5, (ms - fromMs) / HOUR_MS) * 0.4 + 2 * (seeded(seed ^ 7).next() - 0.5);
      const settled = cover < 0.5 ? 0.05 : cover < 0.8 ? 0.25 : 0.75;
      const cloudShare = Math.min(1, Math.max(0, settled + front + 0.08 * (random.next() - 0.5)));
      hours.push({
        at: new Date(ms).toISOString(),
        cloudShare: round(cloudShare, 2),
        airC: round(airC, 1),
        windMS: round(Math.max(0, wind + 1.5 * front + 0.6 * (random.next() - 0.5)), 1),
        humidity: round(Math.min(0.99, damp + 0.03 * ((ms - fromMs) / HOUR_MS)), 2),
      });
    }
    return Promise.resolve({ source: 'stand-in forecast, invented', simulated: true, hours });
  },
};
const round = (x: number, decimals: number) => Math.round(x * 10 ** decimals) / 10 ** decimals;

/** A mild evening of the season at a latitude and height [°C]; a rough shape, invented. */
function seasonC({ latitudeDeg, elevationM }: Place, ms: number): number {
  const yearShare = (ms % (365.25 * DAY_MS)) / (365.25 * DAY_MS);
  const warm = Math.cos(2 * Math.PI * (yearShare - 0.55)) * Math.sign(latitudeDeg || 1);
  return 24 - 0.3 * Math.abs(latitudeDeg) + 0.2 * Math.abs(latitudeDeg) * warm - 0.0065 * elevationM;
}
