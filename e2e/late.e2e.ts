import { Body, DefineStar, Equator, Horizon, MakeTime, Observer } from 'astronomy-engine';
import { expect, type Page } from '@playwright/test';
import { begin, Filling, mountAndTube, next } from './beginning.ts';
import { test, verdict, visit } from './people.ts';
import { LATE } from './ports.mjs';

const PLACE = new Observer(47.07, 15.44, 350);
/** Height of a place of the catalogue, of 2000, in the sky there [deg], by the ephemeris library alone. */
function altitude(raDeg: number, decDeg: number, ms: number): number {
  const at = MakeTime(new Date(ms));
  DefineStar(Body.Star1, raDeg / 15, decDeg, 1000);
  const { ra, dec } = Equator(Body.Star1, at, PLACE, true, true);
  return Horizon(at, PLACE, ra, dec, 'normal').altitude;
}
function sunAltitude(ms: number): number {
  const at = MakeTime(new Date(ms));
  const { ra, dec } = Equator(Body.Sun, at, PLACE, true, true);
  return Horizon(at, PLACE, ra, dec, '').altitude;
}
/** What the server keeps, asked as the page asks. */
const kept = <T>(page: Page, path: string) =>
  page.evaluate(async (p) => (await fetch(p)).json() as Promise<unknown>, path) as Promise<T>;
/** All clock times that a text tells, as minutes after noon. */
const times = (text: string): number[] =>
  [...text.matchAll(/\b([01]\d|2[0-3]):([0-5]\d)\b/g)].map((m) => ((Number(m[1]) + 12) % 24) * 60 + Number(m[2]));

for (const [i, { port, hour, now }] of LATE.entries())
  // the later hour is the harder one
  test(
    `from nothing at ${hour}: everything offered begins from now, and what has passed says so`,
    { tag: i < LATE.length - 1 ? ['@thorough'] : [] },
    async ({ browser }) => {
      test.setTimeout(180_000);
      const context = await browser.newContext({ baseURL: `http://127.0.0.1:${port}`, reducedMotion: 'reduce' });
      await context.clock.setFixedTime(now);
      const page = await context.newPage();
      const f = new Filling(page);
      const nowMin = times(hour)[0]!;
      await test.step('the first evening counts what is left of the night', async () => {
        await begin(page, f, 'Just me', 'Ilse');
        await f.fill(/Latitude and longitude/, '47.07, 15.44');
        await expect(page.getByText(/of full darkness are left tonight/)).toBeVisible();
        await next(page);
        await mountAndTube(page, f);
        await next(page);
        const first = page.getByTestId('objects').getByRole('button').first();
        await expect(first).toContainText(' h, up to ');
        // no object has more hours than are left before dawn
        const left = (Date.parse('2026-11-20T04:21:00Z') - Date.parse(now)) / 3_600_000;
        for (const text of await page.getByTestId('objects').getByRole('button').allInnerTexts())
          expect(Number(/([\d.]+) h, up to/.exec(text)![1])).toBeLessThanOrEqual(left + 0.3);
        await first.click();
      });
      await test.step('its plan begins now and ends by dawn', async () => {
        await expect(page).toHaveURL(/night\/plan/);
        await expect(verdict(page)).toContainText(/\d\d:\d\d to \d\d:\d\d/);
        const head = /(\d\d:\d\d) to (\d\d:\d\d)/.exec(await verdict(page).innerText())!;
        const [from, to] = times(head[0]);
        expect(from).toBeGreaterThanOrEqual(nowMin);
        expect(from).toBeLessThan(nowMin + 5);
        expect(to).toBeLessThan(times('05:45')[0]!);
        await page.getByRole('button', { name: 'Save', exact: true }).click();
        await expect(page.getByText('Plan saved.')).toBeVisible();
      });
      await test.step('its rehearsal takes no frame before now, below the limit or by day', async () => {
        await page.getByRole('link', { name: 'Rehearse it' }).click();
        await page.getByRole('button', { name: 'Rehearse', exact: true }).click();
        await expect(verdict(page)).toContainText('good frames');
        const [run] = await kept<{ id: string }[]>(page, '/api/runs');
        const [project] = await kept<{ raDeg: number; decDeg: number; minimumAltitudeDeg: number }[]>(
          page,
          '/api/projects',
        );
        const { result } = await kept<{ result: { events: { kind: string; start: string; end: string }[] } }>(
          page,
          `/api/runs/${run!.id}`,
        );
        const frames = result.events.filter((e) => e.kind === 'expose');
        expect(frames.length).toBeGreaterThan(5);
        for (const { start, end } of frames) {
          expect(Date.parse(start)).toBeGreaterThan(Date.parse(now));
          for (const ms of [start, end].map((t) => Date.parse(t))) {
            // a tenth of a degree for refraction
            expect(altitude(project!.raDeg, project!.decDeg, ms)).toBeGreaterThan(project!.minimumAltitudeDeg - 0.1);
            expect(sunAltitude(ms)).toBeLessThan(-17.9);
          }
        }
      });
      await test.step('tonight, dusk and the flats say what is left and what has passed', async () => {
        await visit(page, '/night');
        await expect(verdict(page)).toContainText(/\d+\.\d of 11\.\d dark hours are left/);
        await visit(page, '/dusk');
        await expect(verdict(page)).toContainText('cool now if you do not yet');
        const flip = /Meridian flip due at \d\d:\d\d/.exec(await verdict(page).innerText());
        if (flip) expect(times(flip[0])[0]).toBeGreaterThan(nowMin);
        await expect(page.locator('main')).toContainText(/16:1\d\s*passed\s*Sunset/);
        await visit(page, '/morning/calibration');
        const flats = page.getByTestId('flats-twilight');
        await expect(flats).toContainText('At dusk: this night’s has passed.');
        await expect(flats).toContainText(/At dawn: (there is time|too little time)/);
      });
    },
  );
