import { phrase } from '../phrases/index.ts';
import type { RunContext } from './runContext.ts';

/** How often the sky is looked at while one waits for it [ms]. */
const POLL_MS = 60_000;
const MIN_MS = 60_000;
/** Share of a limit below which it is opened again; common practice, no source. */
const AIR_SLACK = 0.85;

export type ShutBecause = 'cloud' | 'wind' | 'damp';

/** What keeps the sky shut, by the sensors on the roof and the plan’s limits; null where nothing does. */
export function shutBecause(c: RunContext): ShutBecause | null {
  const { wind, damp } = c.plan.watches;
  const now = c.o.weather.read();
  if (!now.clear) return 'cloud';
  // once shut, it opens only when the air is well below its limit again
  const slack = c.airShut ? AIR_SLACK : 1;
  if (wind && (now.windMS ?? 0) > wind.aboveMS * slack) return 'wind';
  if (damp && 100 * (now.humidity ?? 0) > damp.abovePercent * slack) return 'damp';
  return null;
}

/** Waits for the sky, until a moment at most [ms]; whatever was pointed and guided must be so again. */
export async function waitShut(c: RunContext, because: ShutBecause, untilMs: number): Promise<void> {
  await c.o.guider.stop();
  if (because === 'cloud') await waitOutCloud(c, untilMs);
  else await waitOutAir(c, because, untilMs);
  const { planIndex } = c.leg;
  c.happenedTo((l) => l.planIndex === planIndex || l.moving !== undefined, { what: 'shut' });
}

async function waitOutAir(c: RunContext, because: 'wind' | 'damp', untilMs: number): Promise<void> {
  const { clock, weather } = c.o;
  const { windMS = 0, humidity = 0 } = weather.read();
  const values = { windMS, humidityPercent: 100 * humidity };
  if (c.plan.watches[because]!.then === 'close') {
    c.closed = true;
    c.note(`run.closed-${because}`, values);
    return;
  }
  c.airShut = true;
  await c.timed('wait', phrase(`run.shut-${because}`, values), async () => {
    const air = () => ['wind', 'damp'].includes(shutBecause(c) ?? '');
    while (air() && clock.now() < untilMs)
      await clock.sleep(Math.min(POLL_MS, untilMs - clock.now()));
  });
  c.airShut = false;
}

async function waitOutCloud(c: RunContext, untilMs: number): Promise<void> {
  const { clock, weather } = c.o;
  const longestMin = c.plan.watches.cloudClosesAfterMin;
  c.cloudSinceMs ??= clock.now();
  const givenUpMs = longestMin === null ? Infinity : c.cloudSinceMs + longestMin * MIN_MS;
  await c.timed('cloud', phrase('run.shut-cloud'), async () => {
    while (!weather.read().clear && clock.now() < untilMs && clock.now() < givenUpMs)
      await clock.sleep(Math.min(POLL_MS, untilMs - clock.now(), givenUpMs - clock.now()));
  });
  if (weather.read().clear) c.cloudSinceMs = null;
  else if (longestMin !== null && clock.now() >= givenUpMs) {
    c.closed = true;
    c.note('run.closed-cloud', { longestMin });
  }
}
