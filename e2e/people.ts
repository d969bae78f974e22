import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test as base, type Browser, type BrowserContext, type Page } from '@playwright/test';
import { Sequelize, QueryTypes } from 'sequelize';

import { NOW } from './instant.mjs';
import { DEMO_PORTS } from './ports.mjs';
import { PHASES } from '../web/src/phases/phases.ts';

/**
 * A browser whose clock stands at the walks' own instant. On a line that is paid by what goes over it, unless the walk is
 * about the screens that are fetched ahead: fetching them takes as long as many a walk.
 */
export async function atTheInstant(context: BrowserContext, metered = true): Promise<BrowserContext> {
  await context.clock.setFixedTime(NOW);
  if (metered)
    await context.addInitScript(() =>
      Object.defineProperty(navigator, 'connection', {
        value: Object.assign(new EventTarget(), { saveData: true }),
        configurable: true,
      }),
    );
  return context;
}
/** Which of the browsers that walk at the same time this one is: its server and its database are its own. */
const PLACE = Number(process.env.TEST_PARALLEL_INDEX ?? 0);
export const test = base.extend<{ goHome: void }>({
  baseURL: `http://127.0.0.1:${DEMO_PORTS[PLACE]}`,
  context: async ({ context }, use) => use(await atTheInstant(context)),
  // pages of a walk that is over would go on working beside the next one
  goHome: [
    async ({ browser }, use) => {
      await use();
      const kept = new Set(atHome.values());
      for (const context of browser.contexts())
        for (const part of kept.has(context) ? context.pages() : [context]) await part.close();
      outside.clear();
    },
    { auto: true },
  ],
});

const FOLDER = join(import.meta.dirname, '../.keen/e2e');
/** What the server's clock shows: it runs on from the walks' instant [ms]. */
export const serverNow = (): number =>
  Date.parse(NOW) + Date.now() - Number(readFileSync(join(FOLDER, 'began'), 'utf8'));
export const PASSWORD = 'larkmoor-nights';

export async function signIn(page: Page, name: string, password = PASSWORD): Promise<void> {
  await page.goto('/sign-in');
  await page.getByLabel('Sign-in name').fill(name);
  await page.getByLabel('Password').fill(password);
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
}

/**
 * The browsers of those who signed in before in this process, by name: what they once fetched and compiled is there still,
 * which is half of the work of a page. Signing in is walked in walks of its own.
 */
const atHome = new Map<string, BrowserContext>();
/** Those at work in this walk: who comes a second time comes with another browser. */
const outside = new Set<string>();

/** A page in the person's browser, which has forgotten what the last walk left in it. */
async function freshPage(context: BrowserContext, origin: string): Promise<Page> {
  await context.setOffline(false);
  const page = await context.newPage();
  const cdp = await context.newCDPSession(page);
  await cdp.send('Storage.clearDataForOrigin', { origin, storageTypes: 'local_storage,indexeddb' });
  await cdp.detach();
  return page;
}

/** A person at a browser of their own, signed in, with the rig chosen. */
export async function person(
  browser: Browser,
  name: string,
  rig?: string,
  light = 'day',
  metered = true,
): Promise<Page> {
  const keep = metered && !outside.has(name);
  const known = keep ? atHome.get(name) : undefined;
  // colours are judged as they stand, not halfway from one to the next
  const context = known ?? (await atTheInstant(await browser.newContext({ reducedMotion: 'reduce' }), metered));
  if (keep) {
    outside.add(name);
    atHome.set(name, context);
  }
  const page = await freshPage(context, `http://127.0.0.1:${DEMO_PORTS[PLACE]}`);
  await page.addInitScript((l) => {
    if (!localStorage.getItem('keen.light')) localStorage.setItem('keen.light', l);
  }, light);
  await page.goto('/');
  const [home, door] = [page.getByTestId('verdict').first(), page.getByLabel('Sign-in name')];
  await expect(home.or(door)).toBeVisible();
  if (await door.isVisible()) await signIn(page, name);
  await expect(home).toBeVisible();
  if (rig) await chooseRig(page, rig);
  return page;
}

/** Another screen as a link of the application leads there: nothing is loaded again. */
export async function visit(page: Page, path: string): Promise<void> {
  const there = await page.evaluate((to) => {
    const name = location.pathname === new URL(to, location.href).pathname ? null : document.title;
    // as the router keeps it: the next link starts from here
    const was = history.state as { current: string; position: number };
    const state = { ...was, back: was.current, current: to, forward: null, position: was.position + 1 };
    history.pushState(state, '', to);
    dispatchEvent(new PopStateEvent('popstate', { state: history.state as unknown }));
    return name;
  }, path);
  // every screen has a name of its own, given once it is there
  if (there !== null) await page.waitForFunction((before) => document.title !== before, there);
}

/** Waits until nothing on the page changes any more: what is still moving cannot be judged, however slow the machine. */
export async function settled(page: Page): Promise<void> {
  const look = () => page.evaluate(() => document.body.innerHTML);
  let before = '';
  await expect
    .poll(
      async () => {
        const [was, now] = [before, await look()];
        before = now;
        return was === now;
      },
      { intervals: [250] },
    )
    .toBe(true);
}

/** Every screen of the application. */
export const SCREENS = PHASES.flatMap((p) => p.tasks.map((t) => t.path));

export async function chooseRig(page: Page, rig: string): Promise<void> {
  await choose(page, 'Rig', rig);
}

/** Picks from a drop-down by its label; one that closes because its list was just fetched anew is opened again. */
export async function choose(page: Page, label: string, option: string): Promise<void> {
  const item = page.locator('.ant-select-dropdown:visible .ant-select-item-option').filter({ hasText: option }).first();
  const box = page.getByRole('combobox', { name: label, exact: true });
  let byKey = false;
  await expect(async () => {
    // under a clock that stands still a listener just attached takes no click: then by the keyboard
    if (!(await item.isVisible())) await (byKey ? box.press('ArrowDown') : box.click({ force: true }));
    byKey = !byKey;
    await item.click({ timeout: byKey ? 1000 : 3000 });
  }).toPass({ timeout: 20_000 });
}

/** Goes to a task of the phase one is in. */
export const task = (page: Page, name: string) =>
  page.locator('nav.tabs').getByRole('link', { name, exact: true }).click();

/** Fills a quantity field and leaves it, as a person does. */
export const type = async (page: Page, label: string, value: string) => {
  await page.getByLabel(label, { exact: false }).first().fill(value);
  await page.getByLabel(label, { exact: false }).first().press('Enter');
};

export const verdict = (page: Page) => page.getByTestId('verdict').first();

/** Asks MariaDB itself. */
export const ask = <T extends object>(sql: string): Promise<T[]> =>
  atTheDatabase((db) => db.query<T>(sql, { type: QueryTypes.SELECT }));
/** Takes away what would be in another walk’s way. */
export const tidy = (sql: string): Promise<unknown> => atTheDatabase((db) => db.query(sql));
async function atTheDatabase<T>(work: (db: Sequelize) => Promise<T>): Promise<T> {
  const url = new URL(readFileSync(join(FOLDER, `url-${PLACE}`), 'utf8'));
  const db = new Sequelize(url.pathname.slice(1), url.username, url.password, {
    dialect: 'mariadb',
    host: url.hostname,
    port: Number(url.port),
    logging: false,
  });
  try {
    return await work(db);
  } finally {
    await db.close();
  }
}

/** Kills the server without warning and waits until the next one answers. */
export async function killServer(page: Page): Promise<void> {
  const pid = Number(readFileSync(join(FOLDER, `server-${PLACE}.pid`), 'utf8'));
  process.kill(pid, 'SIGKILL');
  await expect
    .poll(() => Number(readFileSync(join(FOLDER, `server-${PLACE}.pid`), 'utf8')) !== pid, { timeout: 20_000 })
    .toBe(true);
  await expect
    .poll(
      () =>
        page.request.get('/healthz').then(
          (r) => r.ok(),
          () => false,
        ),
      { timeout: 20_000 },
    )
    .toBe(true);
}
