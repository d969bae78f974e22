import { chromium } from '@playwright/test';
import { demoServer, BROWSER } from '../scripts/demo-server.mjs';
import { NOW } from '../e2e/instant.mjs';
const { port, stop } = await demoServer({ name: 'eye', firstPort: 33900, clock: new Date(NOW).toISOString() });
const browser = await chromium.launch(BROWSER);
const base = `http://127.0.0.1:${port}`;
async function as(who, light = 'day', size = { width: 1280, height: 800 }) {
  const context = await browser.newContext({ viewport: size });
  await context.clock.setFixedTime(new Date(NOW));
  await context.addInitScript((l) => localStorage.setItem('keen.light', l), light);
  const page = await context.newPage();
  page.on('console', (m) => m.type() === 'error' && console.log('CONSOLE', m.text()));
  page.on('pageerror', (e) => console.log('ERR', e.message));
  await page.goto(base);
  await page
    .getByLabel(/sign-in name|name/i)
    .first()
    .fill(who);
  await page
    .getByLabel(/password/i)
    .first()
    .fill('larkmoor-nights');
  await page.keyboard.press('Enter');
  await page.waitForSelector('header', { timeout: 20000 });
  await page.waitForTimeout(800);
  return page;
}
try {
  const p = await as('teun');
  await p.goto(base + '/season/bookings');
  await p.waitForTimeout(4000);
  await p.screenshot({ path: '/tmp/eye1.png' });
  await p.getByRole('button', { name: 'First half' }).click();
  await p.getByRole('button', { name: 'Book', exact: true }).click();
  await p.waitForTimeout(800);
  await p.locator('[data-night="2026-11-22"]').click();
  await p.getByRole('button', { name: 'Book', exact: true }).click();
  await p.waitForTimeout(800);
  await p.screenshot({ path: '/tmp/eye1.png', fullPage: true });
  const o = await as('odalys');
  await o.goto(base + '/season/board');
  await o.getByRole('button', { name: 'Work out the coming nights' }).click();
  await o.waitForSelector('[data-test=promise]', { timeout: 60000 });
  await o.getByRole('button', { name: 'Promise these hours' }).click();
  await o.waitForTimeout(16000);
  await o.screenshot({ path: '/tmp/eye2.png', fullPage: true });
  await o.goto(base + '/season/bookings');
  await o.waitForSelector('[data-test=booking-night]');
  await o.waitForTimeout(500);
  await o.screenshot({ path: '/tmp/eye3.png', fullPage: true });
  await o.goto(base + '/season/ledger');
  await o.waitForTimeout(1500);
  await o.screenshot({ path: '/tmp/eye4.png', fullPage: true });
  await o.goto(base + '/night');
  await o.waitForTimeout(3000);
  await o.screenshot({ path: '/tmp/eye5.png' });
} finally {
  await browser.close();
  await stop();
}
