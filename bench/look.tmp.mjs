import { chromium } from '@playwright/test';
import { BROWSER, demoServer } from '../scripts/demo-server.mjs';
import { NOW } from '../e2e/instant.mjs';
const clock = process.env.AT ?? NOW;
const { port, stop } = await demoServer({ name: 'look', firstPort: 33601, clock });
try {
  const browser = await chromium.launch(BROWSER);
  const page = await (await browser.newContext({ viewport: { width: Number(process.env.W ?? 1280), height: 800 } })).newPage();
  await page.clock.install({ time: new Date(clock) });
  page.on('console', (m) => m.type() === 'error' && console.log('console', m.text().slice(0, 300)));
  page.on('pageerror', (e) => console.log('error', e.message));
  await page.goto(`http://127.0.0.1:${port}/`);
  await (await import('./look.steps.tmp.mjs')).default(page, port);
  await browser.close();
} finally { await stop(); }
