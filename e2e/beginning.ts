import { expect, type Browser, type Page } from '@playwright/test';
import { atTheInstant } from './people.ts';
import { EMPTY_PORT } from './ports.mjs';

/** A server on which nobody has begun: no demo, no site, no rig. */
const EMPTY = `http://127.0.0.1:${EMPTY_PORT}`;

/** Somebody nobody knows, at that server. */
export async function stranger(browser: Browser, width = 1280, height = 800): Promise<Page> {
  const context = await atTheInstant(
    await browser.newContext({ baseURL: EMPTY, viewport: { width, height }, reducedMotion: 'reduce' }),
  );
  return context.newPage();
}
/** Everything a person has to fill or choose, counted as it is done. */
export class Filling {
  fields = 0;
  constructor(private readonly page: Page) {}
  async fill(label: string | RegExp, value: string) {
    this.fields++;
    await this.page
      .getByLabel(label, { exact: typeof label === 'string' })
      .first()
      .fill(value);
  }
  async pick(name: string | RegExp) {
    this.fields++;
    await this.page.getByRole('radio', { name }).first().check();
  }
}
export const next = (page: Page) => page.getByRole('button', { name: 'Next', exact: true }).click();

/** Mount, tube and what rides on it, as the walks’ people choose them. */
export async function mountAndTube(page: Page, f: Filling) {
  await f.pick(/worm-driven mount, 15 kg/);
  await next(page);
  await f.pick(/80 mm refractor/);
  await next(page);
  await f.pick(/23.5 × 15.7 mm/);
  await f.pick(/Monochrome/);
  await f.pick(/Off axis/);
  await next(page);
}
export async function begin(page: Page, f: Filling, kind: string, name: string, place?: string) {
  await page.goto('/sign-in');
  await page.getByRole('link', { name: 'Begin', exact: true }).click();
  await f.pick(kind);
  if (place) await f.fill(/Name of the/, place);
  await f.fill('Your name', name);
  await f.fill('Password', 'long enough');
  await page.getByRole('button', { name: 'Begin', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Your first evening' })).toBeVisible();
}
