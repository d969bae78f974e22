import axe, { type RunOnly } from 'axe-core';
import { expect, type Page } from '@playwright/test';
import { THOROUGH } from '../core/src/test/rounds.ts';
import { person, SCREENS, settled, test, visit } from './people.ts';

// nothing is changed here: these may be walked in any order, by whoever is free; by their name they come last
test.describe.configure({ mode: 'parallel' });

/** What is looked at here: the screens of the application, and what somebody new meets first. */
const LOOKED_AT = [...SCREENS, '/first-evening'];
/** Those a member may open: the steward's and the first evening are left out. */
const ON_A_PHONE = LOOKED_AT.filter((p) => !['/club/security', '/first-evening'].includes(p));
/** 640 px is what 1280 are at 200 %. */
const AT_TWICE = ['/bench/train', '/night/exposures', '/bench/balance', '/season'];
const there = (page: Page) =>
  expect(page.locator('main').getByRole('heading').or(page.getByTestId('verdict')).first()).toBeVisible();

/** What a light can change: colours. Everything else is judged once. */
const COLOURS = ['color-contrast', 'link-in-text-block'];
const ALL = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'];
/** Of all that stands in the same letters and colours on the same ground one is judged: contrast is the dearest question. */
async function markRepeated(page: Page): Promise<void> {
  await page.evaluate(() => {
    const seen = new Set<string>();
    for (const e of document.querySelectorAll<HTMLElement>('body *')) {
      e.removeAttribute('data-as-another');
      if (e.children.length || !(e.textContent ?? '').trim()) continue;
      const own = getComputedStyle(e);
      const grounds: string[] = [];
      for (let at: Element | null = e; at; at = at.parentElement) {
        const { backgroundColor, backgroundImage, opacity } = getComputedStyle(at);
        grounds.push(`${backgroundColor} ${backgroundImage} ${opacity}`);
      }
      const key = [e.tagName, own.color, own.fontSize, own.fontWeight, own.visibility, ...new Set(grounds)].join('|');
      // links are told from the text around them: all of them stay
      if (seen.has(key) && !e.closest('a')) e.setAttribute('data-as-another', '');
      seen.add(key);
    }
  });
}
/** Another light, as another window of the same browser would choose it: the page need not be fetched again. */
async function turnTo(page: Page, light: string): Promise<void> {
  await page.evaluate((newValue) => {
    localStorage.setItem('keen.light', newValue);
    dispatchEvent(new StorageEvent('storage', { key: 'keen.light', newValue, storageArea: localStorage }));
  }, light);
  await expect(page.locator('html')).toHaveAttribute('data-light', light);
  // the toolkit writes its colours a moment later, and some go over into the new ones
  await page.evaluate(async () => {
    const drawn = () => new Promise((next) => requestAnimationFrame(next));
    await drawn();
    await drawn();
    await Promise.allSettled(document.getAnimations().flatMap((a) => (a instanceof CSSTransition ? [a.finished] : [])));
    await drawn();
  });
}
/**
 * What stands against the rules, ornaments of the toolkit left out. In the page itself, where the rules are loaded once: the
 * page stays the same from screen to screen, and there are no frames to gather from.
 */
async function violations(page: Page, within: string, rules: 'colours' | 'others'): Promise<string[]> {
  if (!(await page.evaluate(() => 'axe' in globalThis))) await page.evaluate(axe.source);
  const exclude = ['svg', '.ant-table-column-sorter'];
  const onColours = rules === 'colours';
  if (onColours) {
    await markRepeated(page);
    exclude.push('[data-as-another]');
  }
  const runOnly: RunOnly = onColours ? { type: 'rule', values: COLOURS } : { type: 'tag', values: ALL };
  const without = Object.fromEntries(COLOURS.map((rule) => [rule, { enabled: onColours }]));
  return page.evaluate(
    async ({ within, exclude, runOnly, without }) => {
      const { violations } = await (globalThis as unknown as { axe: typeof axe }).axe.run(
        { include: [within], exclude },
        { runOnly, rules: without, resultTypes: ['violations'], elementRef: false },
      );
      return violations.map(
        (v) =>
          `${v.id} ${v.nodes
            .slice(0, 3)
            .map((n) => n.html.slice(0, 140))
            .join(' | ')}`,
      );
    },
    { within, exclude, runOnly, without },
  );
}
/**
 * Letters that a machine's own font would have to lend: what they stand in. One that was seen in a family and weight of
 * letters comes from the same font everywhere.
 */
async function borrowedLetters(page: Page): Promise<string[]> {
  const fresh = await page.evaluate(async () => {
    for (const e of document.querySelectorAll('details')) e.open = true;
    await document.fonts.ready;
    const seen = ((globalThis as { seenLetters?: Set<string> }).seenLetters ??= new Set());
    const found: string[] = [];
    for (const e of document.querySelectorAll('body *')) {
      e.removeAttribute('data-beyond-ascii');
      const own = [...e.childNodes].map((n) => (n.nodeType === 3 ? n.textContent : '')).join('');
      const letters = own.match(/[^\x20-\x7e\s]/gu);
      if (!letters || !e.checkVisibility()) continue;
      const { fontFamily, fontWeight, fontStyle } = getComputedStyle(e);
      const unseen = letters.map((l) => `${l} ${fontFamily} ${fontWeight} ${fontStyle}`).filter((l) => !seen.has(l));
      if (!unseen.length) continue;
      e.setAttribute('data-beyond-ascii', '');
      found.push(...unseen);
      for (const l of unseen) seen.add(l);
    }
    return found;
  });
  const cdp = await page.context().newCDPSession(page);
  await cdp.send('DOM.enable');
  await cdp.send('CSS.enable');
  const { root } = await cdp.send('DOM.getDocument');
  const found = await cdp.send('DOM.querySelectorAll', { nodeId: root.nodeId, selector: '[data-beyond-ascii]' });
  const borrowed: string[] = [];
  for (const nodeId of found.nodeIds) {
    // what was drawn anew since it was listed is gone
    const got = await cdp.send('CSS.getPlatformFontsForNode', { nodeId }).catch((e: Error) => {
      if (e.message.includes('Could not find node')) return null;
      throw e;
    });
    if (!got) continue;
    const { fonts } = got;
    if (fonts.every((f) => f.isCustomFont)) continue;
    const { outerHTML } = await cdp.send('DOM.getOuterHTML', { nodeId });
    borrowed.push(outerHTML.replace(/<[^>]*>/g, '').slice(0, 60));
  }
  await cdp.detach();
  // asked again until the fonts have come: what was borrowed is not known yet
  if (borrowed.length)
    await page.evaluate((all) => {
      for (const l of all) (globalThis as { seenLetters?: Set<string> }).seenLetters!.delete(l);
    }, fresh);
  return borrowed;
}
/** Fields of numbers that show less than they hold: −262 cut to −26 is another number. In both kinds of units. */
async function cutNumbers(page: Page): Promise<string[]> {
  return page
    .locator('input.mono')
    .evaluateAll((all) =>
      (all as HTMLInputElement[])
        .filter((i) => i.offsetParent && i.scrollWidth > i.clientWidth + 1)
        .map((i) => `${document.querySelector(`label[for="${i.id}"]`)?.textContent}: ${i.value}`),
    );
}
/** Something a screen chooses for itself, as another window of the same browser would change it. */
async function unitsOf(page: Page, units: string): Promise<void> {
  await page.evaluate((newValue) => {
    localStorage.setItem('keen.units', newValue);
    dispatchEvent(new StorageEvent('storage', { key: 'keen.units', newValue, storageArea: localStorage }));
  }, units);
}
/** What runs out of a narrow page, and a row of tabs with a scroll bar of its own height. */
const runsOut = (page: Page) =>
  page.evaluate(() => ({
    over: Math.max(0, document.documentElement.scrollWidth - document.documentElement.clientWidth),
    tabs: [...document.querySelectorAll('.tabs')].filter(
      (t) => t.scrollHeight > t.clientHeight && getComputedStyle(t).overflowY !== 'hidden',
    ).length,
  }));

/** One half for each of the browsers that walk at the same time. */
for (const half of [0, 1]) {
  test(`every screen meets WCAG 2.2 AA as far as a machine can tell, in letters of its own and numbers that are whole, and runs out of no phone (${half + 1} of 2)`, async ({
    browser,
  }) => {
    test.setTimeout(300_000);
    const page = await person(browser, 'odalys', '120 mm triplet', 'day');
    const errors: string[] = [];
    page.on('console', (m) => m.type() === 'error' && errors.push(m.text()));
    page.on('pageerror', (e) => errors.push(String(e)));
    const screens = LOOKED_AT.filter((_, i) => i % 2 === half);
    const names = new Set<string>();
    let light = 'day';
    for (const [i, path] of screens.entries()) {
      await visit(page, path);
      await there(page);
      await settled(page);
      // one half by day, the other at night; in both when all is asked for
      if (i === Math.ceil(screens.length / 2)) await turnTo(page, (light = 'night'));
      // header and day arc are the same everywhere: they are judged once
      const within = i === 0 ? 'body' : 'main';
      for (const rules of ['others', 'colours'] as const)
        expect.soft(await violations(page, within, rules), `${path} (${light})`).toEqual([]);
      if (THOROUGH) {
        const other = light === 'day' ? 'night' : 'day';
        await turnTo(page, other);
        expect.soft(await violations(page, within, 'colours'), `${path} (${other})`).toEqual([]);
        await turnTo(page, light);
      }
      await expect.poll(() => borrowedLetters(page), path).toEqual([]);
      // longer ones first; both when all is asked for
      for (const units of THOROUGH ? ['imperial', 'metric'] : ['imperial']) {
        await unitsOf(page, units);
        await expect.poll(() => cutNumbers(page), `${path}, ${units}`).toEqual([]);
      }
      for (const width of AT_TWICE.includes(path) ? [640, 390] : [390]) {
        await page.setViewportSize({ width, height: 844 });
        await expect.poll(() => runsOut(page), `${path} at ${width} px`).toEqual({ over: 0, tabs: 0 });
      }
      await page.setViewportSize({ width: 1280, height: 800 });
      names.add(await page.title());
    }
    expect(names.size).toBe(screens.length);
    expect(errors).toEqual([]);
  });

  test(
    `opened on a phone, and at twice the size, nothing runs out of the page; every page has a name (${half + 1} of 2)`,
    { tag: '@thorough' },
    async ({ browser }) => {
      test.setTimeout(240_000);
      const page = await person(browser, 'teun', '120 mm triplet');
      for (const [width, all] of [
        [390, ON_A_PHONE],
        [640, AT_TWICE],
      ] as const) {
        const names = new Set<string>();
        const screens = all.filter((_, i) => i % 2 === half);
        await page.setViewportSize({ width, height: 844 });
        for (const path of screens) {
          await visit(page, path);
          await there(page);
          await settled(page);
          expect.soft([path, width, await runsOut(page)]).toEqual([path, width, { over: 0, tabs: 0 }]);
          names.add(await page.title());
        }
        expect(names.size).toBe(screens.length);
      }
    },
  );
}

test('no text becomes markup, no foreign address a script', async ({ browser }) => {
  const page = await person(browser, 'odalys', '120 mm triplet', 'day');
  const tries = await page.evaluate(() => {
    const attempt = (act: () => unknown) => {
      try {
        act();
        return 'done';
      } catch (e) {
        return (e as Error).name;
      }
    };
    const part = document.createElement('div');
    return {
      markup: attempt(() => (part.innerHTML = '<img src=x onerror=alert(1)>')),
      held: part.innerHTML,
      beside: attempt(() => part.insertAdjacentHTML('beforeend', '<b>x</b>')),
      data: attempt(() => new Worker('data:text/javascript,1')),
      elsewhere: attempt(() => new Worker('https://example.org/assets/a.js')),
      upload: attempt(() => new Worker('/api/files/a.js')),
      code: attempt(() => document.createElement('script').setAttribute('src', '/api/a.js')),
      rule: attempt(() => (document.createElement('style').innerHTML = 'a { color: red }')),
    };
  });
  const { rule, held, ...refused } = tries;
  expect([rule, held]).toEqual(['done', '']);
  for (const [what, name] of Object.entries(refused)) expect(`${what}: ${name}`).toBe(`${what}: TypeError`);
});

test('dark-adapted light shows nothing blue, green or white', async ({ browser }) => {
  const page = await person(browser, 'odalys', '120 mm triplet', 'dark-adapted');
  for (const path of [
    '/night',
    '/night/plan',
    '/night/target',
    '/dusk/setup',
    '/dusk/dither',
    '/morning/focus',
    '/bench/balance',
  ]) {
    await visit(page, path);
    await expect(page.getByTestId('verdict').first()).toBeVisible();
    await settled(page);
    await expectDark(path);
  }
  // and what is seen only when a list has nothing of the kind
  await visit(page, '/bench/rigs');
  const drawer = page.getByRole('combobox', { name: 'Add a part from the drawer' });
  await drawer.click({ force: true });
  await drawer.fill('no such part');
  await expect(page.getByText('Nothing of that name')).toBeVisible();
  await settled(page);
  await expectDark('an empty list');

  async function expectDark(path: string): Promise<void> {
    const shot = await page.screenshot();
    // decoded by the browser itself: no picture library is needed
    const worst = await page.evaluate(async (base64) => {
      const image = new Image();
      image.src = `data:image/png;base64,${base64}`;
      await image.decode();
      const canvas = new OffscreenCanvas(image.width, image.height);
      const draw = canvas.getContext('2d')!;
      draw.drawImage(image, 0, 0);
      const { data } = draw.getImageData(0, 0, image.width, image.height);
      let most = 0;
      for (let i = 0; i < data.length; i += 4) most = Math.max(most, data[i + 1]!, data[i + 2]!);
      return most;
    }, shot.toString('base64'));
    expect.soft(worst, path).toBeLessThanOrEqual(110);
  }
});

test('the light is there before the first paint, and the browser’s own parts follow it', async ({ browser }) => {
  const page = await person(browser, 'teun', '120 mm triplet', 'dark-adapted');
  await page.goto('/night');
  await expect(page.getByTestId('verdict').first()).toBeVisible();
  // the page as it comes, without the application: colours are there already
  await page.route(/assets\/.*\.js$/, (r) => r.abort());
  await page.goto('/night');
  const look = await page.evaluate(() => {
    const of = getComputedStyle(document.documentElement);
    return [
      document.documentElement.dataset.light,
      of.colorScheme,
      of.scrollbarColor,
      getComputedStyle(document.body).backgroundColor,
    ];
  });
  expect(look).toEqual(['dark-adapted', 'dark', 'rgb(138, 32, 19) rgb(0, 0, 0)', 'rgb(5, 0, 0)']);
});
