// npm run screenshots: one current PNG of each main view, from the demo data, in docs/screenshots/.
import { chromium, selectors } from '@playwright/test';
import { mkdirSync, readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { NOW } from '../e2e/instant.mjs';
import { BROWSER, demoServer } from './demo-server.mjs';
import { BROWSER_PACKAGE, needBuild, needModules, needPackages, ROOT, say } from './lib/environment.mjs';

const packages = needPackages([['mariadbd', 'mariadb-server'], BROWSER_PACKAGE]);
needModules();
needBuild();
await packages;
const { port, stop } = await demoServer({ name: 'shots', firstPort: 33461, clock: NOW });

const out = join(ROOT, 'docs/screenshots');
mkdirSync(out, { recursive: true });
for (const f of readdirSync(out)) if (f.endsWith('.png')) rmSync(join(out, f));
const browser = await chromium.launch(BROWSER);

/** Where the run that is looked at stands, and when. */
const [NIGHTS_AWAY, FRAMES] = [20, 14];
/** File name, rig, path, light, and buttons to press first. */
const VIEWS = [
  ['balance-day', '200 mm astrograph', '/bench/balance', 'day'],
  ['train-day', '200 mm astrograph', '/bench/train', 'day'],
  ['off-axis-day', '200 mm astrograph', '/bench/off-axis', 'day'],
  ['exposures-day', '120 mm triplet', '/night/exposures', 'day'],
  ['frames-day', '200 mm astrograph', '/morning/frames', 'day', 'Draw what the stand-in camera saw'],
  ['bring-in-day', '120 mm triplet', '/morning/night', 'day'],
  ['tonight-night', '200 mm astrograph', '/night', 'night'],
  ['plan-day', '120 mm triplet', '/night/plan', 'day', 'Begin anew with…', 'Two in narrow lines, the Moon up'],
  ['focus-day', '120 mm triplet', '/morning/focus', 'day'],
  ['target-night', '200 mm astrograph', '/night/target', 'night'],
  ['setup-dark-adapted', '120 mm triplet', '/dusk/setup', 'dark-adapted'],
  ['pole-night', '120 mm triplet', '/dusk/pole', 'night'],
  ['report-day', '120 mm triplet', '/morning/report', 'day'],
  ['drills-day', '120 mm triplet', '/morning/drills', 'day', 'Practise'],
  ['guide-log-night', '200 mm astrograph', '/morning/guiding', 'night', 'Read'],
  ['coming-nights-day', '250 mm Newtonian', '/season/board', 'day', 'Work out the coming nights'],
];
selectors.setTestIdAttribute('data-test');
const fixtures = join(ROOT, 'e2e/fixtures');
const nightFiles = readdirSync(fixtures)
  .filter((f) => f.endsWith('.fits'))
  .map((f) => join(fixtures, f));
const contextIn = async (light) => {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' });
  await context.clock.install({ time: NOW });
  await context.addInitScript((l) => localStorage.setItem('keen.light', l), light);
  return context;
};
// somebody new, as far as the tube
{
  const context = await contextIn('day');
  const page = await context.newPage();
  const next = () => page.getByRole('button', { name: 'Next', exact: true }).click();
  await page.goto(`http://127.0.0.1:${port}/sign-in`);
  await page.getByRole('link', { name: 'Begin', exact: true }).click();
  await page.getByRole('radio', { name: 'Just me' }).check();
  await page.getByLabel('Your name').fill('Noor');
  await page.getByLabel('Password').first().fill('long enough');
  await page.getByRole('button', { name: 'Begin', exact: true }).click();
  await page.getByLabel(/Latitude and longitude/).fill('47.07 N 15.44 E');
  await page.getByText('Europe/Vienna').waitFor();
  await next();
  await page.getByRole('radio', { name: /worm-driven mount, 15 kg/ }).check();
  await next();
  await page.getByRole('radio', { name: /80 mm refractor/ }).check();
  await page.waitForTimeout(1500);
  await page.screenshot({ path: join(out, 'first-evening-day.png') });
  say('first-evening-day.png');
  await context.close();
}
for (const light of ['day', 'night', 'dark-adapted']) {
  const context = await contextIn(light);
  const page = await context.newPage();
  await page.goto(`http://127.0.0.1:${port}/sign-in`);
  await page.getByLabel('Sign-in name').fill('odalys');
  await page.getByLabel('Password').fill('larkmoor-nights');
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await page.waitForSelector('[data-test=verdict]');
  const rigs = await page.evaluate(() => fetch('/api/rigs').then((r) => r.json()));
  for (const [name, rig, path, , ...presses] of VIEWS.filter((v) => v[3] === light)) {
    await page.evaluate((id) => localStorage.setItem('keen.rig', id), rigs.find((r) => r.name === rig).id);
    await page.goto(`http://127.0.0.1:${port}${path}`);
    // a list of logs alone has no verdict yet
    if (path === '/morning/night') await page.getByTestId('night-files').setInputFiles(nightFiles);
    for (const press of presses) await page.getByRole('button', { name: press, exact: true }).last().click();
    if (path === '/season/board') {
      await page.locator('[data-slot]').first().waitFor({ timeout: 120_000 });
      await page.locator('[data-slot]').nth(30).click();
    }
    if (path === '/morning/frames') {
      await page.getByTestId('took').waitFor({ timeout: 120_000 });
      await page.getByRole('button', { name: 'Pictures', exact: true }).click();
    }
    await page.waitForSelector('[data-test=verdict], [data-test=card], h1, h2');
    await page.evaluate(() => globalThis.scrollTo(0, 0));
    await page.waitForTimeout(1500);
    await page.screenshot({ path: join(out, `${name}.png`) });
    say(`${name}.png`);
    if (path !== '/season/board') continue;
    // what was given out is promised: whose the coming nights are
    await page.getByRole('button', { name: 'Promise these hours' }).click();
    await page.locator('.promised').first().waitFor({ timeout: 120_000 });
    await page.goto(`http://127.0.0.1:${port}/season/bookings`);
    await page.getByTestId('booking-night').waitFor();
    await page.waitForTimeout(1500);
    await page.screenshot({ path: join(out, 'bookings-day.png') });
    say('bookings-day.png');
  }
  await context.close();
}
// a night some weeks away, when nobody has the hours, run while somebody looks
{
  const context = await contextIn('night');
  const page = await context.newPage();
  await page.goto(`http://127.0.0.1:${port}/sign-in`);
  await page.getByLabel('Sign-in name').fill('odalys');
  await page.getByLabel('Password').fill('larkmoor-nights');
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await page.waitForSelector('[data-test=verdict]');
  for (let k = 0; k < NIGHTS_AWAY; k++) await page.keyboard.press(']');
  await page.getByRole('link', { name: 'Plan', exact: true }).click();
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page
    .getByText(/^Saved /)
    .first()
    .waitFor();
  await page.getByRole('link', { name: 'Run', exact: true }).click();
  await page.getByRole('button', { name: 'Run it, and watch' }).click();
  await page.getByTestId('standing').waitFor();
  await page.getByRole('combobox', { name: 'Speed' }).click({ force: true });
  await page.locator('.ant-select-item-option').filter({ hasText: '600 times' }).click();
  // an hour and a half of frames, then one under way
  await page.waitForFunction((n) => Number(/(\d+) good/.exec(document.body.innerText)?.[1] ?? 0) >= n, FRAMES, {
    timeout: 120_000,
  });
  await page.getByRole('combobox', { name: 'Speed' }).click({ force: true });
  await page
    .locator('.ant-select-item-option')
    .filter({ hasText: /^10 times/ })
    .click();
  await page.locator('[data-test=live-now] .what').filter({ hasText: / s/ }).waitFor({ timeout: 60_000 });
  await page.evaluate(() => globalThis.scrollTo(0, 0));
  await page.waitForTimeout(1500);
  await page.screenshot({ path: join(out, 'run-night.png') });
  say('run-night.png');
  await context.close();
}
await browser.close();
await stop();
process.exit(0);
