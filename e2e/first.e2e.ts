import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { SEASON } from './season.ts';
import { expect, type Page } from '@playwright/test';
import { Secret, TOTP } from 'otpauth';
import { atTheInstant, choose, SCREENS, serverNow, signIn, test, verdict, visit } from './people.ts';
import { begin, Filling, next, stranger } from './beginning.ts';

const FIXTURES = join(import.meta.dirname, 'fixtures');
/** The object whose frames the fixtures are. */
const TAKEN = 'NGC 281';

/** Every screen says something, and what it lacks has a button or a link that leads there. */
async function noDeadEnd(page: Page, lacking: boolean): Promise<void> {
  const errors: string[] = [];
  page.on('pageerror', (e) => errors.push(String(e)));
  for (const path of SCREENS) {
    await visit(page, path);
    const heading = page
      .locator('main')
      .getByRole('heading')
      .or(page.getByTestId('verdict'))
      .or(page.getByTestId('empty'));
    await expect(heading.first(), path).toBeVisible();
    if (
      lacking &&
      ![
        '/club',
        '/club/changes',
        '/club/security',
        '/club/account',
        '/club/settings',
        '/club/equipment',
        '/morning/guiding',
        '/morning/drills',
      ].includes(path)
    )
      await expect(page.getByTestId('empty').locator('a, button').first(), path).toBeVisible();
    if (await page.getByTestId('empty').first().isVisible())
      await expect(
        page.getByTestId('empty').first().locator('a, button').or(page.locator('main').getByRole('button')).first(),
        path,
      ).toBeVisible();
  }
  expect(errors).toEqual([]);
}

test('alone, from nothing to a plan for tonight, and the real night that moves it the next morning', async ({
  browser,
}) => {
  test.setTimeout(240_000);
  const page = await stranger(browser);
  const f = new Filling(page);
  const started = Date.now();
  await test.step('the door, and every screen before anything stands', async () => {
    await begin(page, f, 'Just me', 'Noor');
    await expect(page.getByRole('navigation', { name: 'Phases of the day' })).toContainText('Household');
    await noDeadEnd(page, true);
    await visit(page, '/bench');
    await page.getByTestId('empty').getByRole('link', { name: 'Begin with the place' }).click();
  });
  await test.step('place: nonsense is explained, a pasted place read, its zone proposed, a roof drawn', async () => {
    await page.getByLabel(/Latitude and longitude/).fill('my garden');
    await expect(page.getByText('“my garden” is no place')).toBeVisible();
    await f.fill(/Latitude and longitude/, '47°04′12″N 15°26′24″E');
    await expect(page.getByText('of full darkness here')).toBeVisible();
    await expect(page.getByText('Europe/Vienna')).toBeVisible();
    const box = (await page.getByTestId('horizon').boundingBox())!;
    await page.mouse.move(box.x + 0.6 * box.width, box.y + 0.5 * box.height);
    await page.mouse.down();
    await page.mouse.move(box.x + 0.75 * box.width, box.y + 0.4 * box.height, { steps: 6 });
    await page.mouse.up();
    await expect(page.getByText('As drawn.')).toBeVisible();
    await next(page);
  });
  await test.step('mount, tube, what rides on it: each shows what it is good for; a reload loses nothing', async () => {
    await f.pick(/worm-driven mount, 15 kg/);
    await next(page);
    await f.pick(/80 mm refractor/);
    await expect(page.getByTestId('first-rig')).toContainText('Load on the mount');
    await page.reload();
    await expect(page.getByRole('radio', { name: /80 mm refractor/ })).toBeChecked();
    await next(page);
    await f.pick(/23.5 × 15.7 mm/);
    await f.pick(/Monochrome/);
    await f.pick(/Guide scope/);
    await expect(page.getByTestId('first-rig')).toContainText('wanted distance');
    await expect(page.getByTestId('assumed')).toContainText('±');
    await next(page);
    await expect(page.getByLabel('Slot 1', { exact: true })).toHaveValue('L');
    await next(page);
  });
  await test.step('an object by name; its plan for tonight is there and can be saved', async () => {
    await expect(page.getByTestId('objects').getByRole('button').first()).toBeVisible();
    await f.fill('Object', SEASON.home.toLowerCase());
    await page
      .getByTestId('objects')
      .getByRole('button', { name: new RegExp(`^${SEASON.home} `) })
      .click();
    f.fields++;
    await expect(page).toHaveURL(/night\/plan/);
    await expect(verdict(page)).toContainText('frames');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(page.getByText('Plan saved.')).toBeVisible();
  });
  console.log(`first evening: ${f.fields} fields, ${((Date.now() - started) / 1000).toFixed(0)} s by machine`);
  expect(f.fields).toBeLessThanOrEqual(25);

  await test.step('a rehearsal does not count for a real rig', async () => {
    await page.getByRole('link', { name: 'Rehearse it' }).click();
    await page.getByRole('button', { name: 'Rehearse', exact: true }).click();
    await expect(verdict(page)).toContainText('good frames');
    await expect(page.getByText('A rehearsal never counts for a real rig')).toBeVisible();
    await expect(page.getByRole('button', { name: /^Accept/ })).toHaveCount(0);
  });

  await test.step('it is run on stand-ins and watched, alone and from nothing, and stopped', async () => {
    await page.getByRole('button', { name: 'Run it, and watch' }).click();
    await expect(page.getByTestId('standing')).toContainText('All is well');
    await expect(page.getByTestId('live-now')).toContainText('Then, if nothing goes wrong');
    await page.getByRole('button', { name: 'Stop safely' }).click();
    await page.getByRole('button', { name: 'Stop and close' }).click();
    await expect(page.getByTestId('standing')).toContainText(/being closed|Over/);
  });

  if (SEASON.home !== TAKEN)
    await test.step('a second project, for the object of the folder', async () => {
      await page.keyboard.press('/');
      await page.getByLabel('Find a screen, rig, project or object').fill(TAKEN.toLowerCase());
      await page
        .getByRole('option', { name: new RegExp(`${TAKEN} `) })
        .first()
        .click();
      await page.getByRole('button', { name: 'Start it' }).click();
      await expect(page.getByTestId('project')).toContainText(TAKEN);
    });
  const files = readdirSync(FIXTURES)
    .filter((n) => n.endsWith('.fits'))
    .map((n) => join(FIXTURES, n));
  const bring = async () => {
    // loaded anew: where the clock stands still a second press of the same is the first one for ever
    await page.goto('/morning/night');
    await page.getByTestId('night-files').setInputFiles(files);
    await expect(page.getByTestId('groups')).toBeVisible();
  };
  const done = async (filter: string) => {
    await visit(page, '/season');
    await page.getByRole('button', { name: TAKEN, exact: true }).click();
    return page.locator(`[data-done^="${filter} "]`);
  };
  await test.step('the night’s folder: matched by place and filter, the rest set by hand, brought in', async () => {
    await bring();
    await expect(verdict(page)).toContainText('10 light frames');
    await expect(verdict(page)).toContainText('2 wait for a hand');
    await expect(page.getByTestId('groups')).toContainText('“H-alpha 3nm”');
    await page
      .getByTestId('groups')
      .locator('tr', { hasText: 'Triband' })
      .getByRole('combobox', { name: 'Filter' })
      .click({ force: true });
    await page.locator('.ant-select-dropdown:visible .ant-select-item-option').filter({ hasText: 'SII' }).click();
    await expect(verdict(page)).toContainText('1 waits for a hand');
    await page.getByRole('button', { name: /^Bring in 14/ }).click();
    await expect(page.getByText('14 frames brought in')).toBeVisible();
    await expect(page.getByTestId('calibration')).toContainText('dark');
    await expect(await done('Ha')).toHaveText('5');
    await expect(page.locator('[data-done^="OIII "]')).toHaveText('3');
  });
  await test.step('the same folder again counts once; undone it counts for nothing', async () => {
    await bring();
    await page.getByRole('button', { name: /^Bring in/ }).click();
    await expect(page.getByText('0 frames brought in, 14 were on record already')).toBeVisible();
    await expect(await done('Ha')).toHaveText('5');
    await visit(page, '/morning');
    await expect(verdict(page)).toContainText('NGC 281');
    await visit(page, '/morning/night');
    await page.getByTestId('nights').getByRole('button', { name: 'Undo' }).click();
    await page.getByRole('button', { name: 'Undo it' }).click();
    await expect(page.getByText('Undone: none of its frames counts')).toBeVisible();
    await expect(await done('Ha')).toHaveText('0');
  });
  await test.step('a line typed counts too; what cannot be read is said', async () => {
    await visit(page, '/morning/night');
    await page.getByLabel('Frames taken').fill('a dozen');
    await page.getByRole('button', { name: 'Add', exact: true }).click();
    await expect(page.getByText('“a dozen” is not read')).toBeVisible();
    await choose(page, 'Project', TAKEN);
    await page.getByLabel('Frames taken').fill('12 × 300 s Ha');
    await page.getByRole('button', { name: 'Add', exact: true }).click();
    await page.getByRole('button', { name: /^Bring in 12/ }).click();
    await expect(page.getByText('12 frames brought in')).toBeVisible();
    await expect(await done('Ha')).toHaveText('12');
  });
  await noDeadEnd(page, false);
});

test('a second person on the same machine begins a club by phone, without seeing the first one’s things', async ({
  browser,
}) => {
  test.setTimeout(180_000);
  const page = await stranger(browser, 390, 844);
  const f = new Filling(page);
  await begin(page, f, 'A club', 'Ines', 'Hill observers');
  const fits = async () =>
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await f.fill(/Latitude and longitude/, '-33.5, -70.6');
  await expect(page.getByText('of full darkness here')).toBeVisible();
  await fits();
  await next(page);
  await f.pick(/strain-wave mount, 13 kg/);
  await fits();
  await next(page);
  await f.pick('Newtonian');
  await f.pick(/150 mm Newtonian/);
  await fits();
  await next(page);
  await f.pick(/18 × 13 mm/);
  await f.pick('Colour one shot, cells of three colours');
  await f.pick(/Off axis/);
  await fits();
  await next(page);
  // one-shot colour without a filter: nothing to name, straight to the object
  await expect(page.getByRole('heading', { name: 'What shall it be tonight?' })).toBeVisible();
  await page.getByTestId('objects').getByRole('button').first().click();
  await expect(page).toHaveURL(/night\/plan/);
  await expect(verdict(page)).toContainText('frames');
  await fits();
  await visit(page, '/bench/rigs');
  await expect(page.getByLabel('Name of the rig')).toHaveValue('150 mm Newtonian');
  await choose(page, 'Site', 'Our site');
});

test('a steward invites by a link; the invited comes in once, with a name of their own; a second factor keeps the steward’s door', async ({
  browser,
}) => {
  test.setTimeout(120_000);
  const page = await stranger(browser);
  await begin(page, new Filling(page), 'A club', 'Maren', 'Fell observers');
  await visit(page, '/club');
  await page.getByLabel('Name, if you like').fill('Bram');
  await page.getByRole('button', { name: 'Make a link' }).click();
  const link = await page.getByTestId('link').getByRole('textbox').inputValue();
  const invited = await stranger(browser, 390, 844);
  await invited.goto(link);
  await expect(invited.getByText('Maren invites you as member')).toBeVisible();
  await invited.getByLabel('Sign-in name').fill('bram');
  await invited.getByLabel(/^Password/).fill('password12');
  await invited.getByRole('button', { name: 'Join' }).click();
  await expect(invited.getByRole('alert')).toContainText('guessers try first');
  await invited.getByLabel(/^Password/).fill('amber field gate');
  await invited.getByRole('button', { name: 'Join' }).click();
  await expect(invited.getByRole('button', { name: 'B member' }).or(invited.locator('.who'))).toBeVisible();
  const late = await stranger(browser);
  await late.goto(link);
  await expect(late.getByRole('alert')).toContainText('used, withdrawn, or is over');

  await page.goto('/club/account');
  await page.getByLabel('Present password').last().fill('long enough');
  await page.getByRole('button', { name: 'Set it up' }).click();
  const key = (await page.locator('.key').innerText()).replace(/\s/g, '');
  // the server's clock runs on from the walks' instant: the code of now or of the next half minute is taken
  const code = () => new TOTP({ secret: Secret.fromBase32(key) }).generate({ timestamp: serverNow() });
  await page.getByLabel('The code it shows').fill(code());
  await page.getByRole('button', { name: 'Turn it on' }).click();
  const recovery = await page.locator('.codes li').first().innerText();
  await page.getByRole('button', { name: 'I have written them down' }).click();
  const again = await stranger(browser);
  await signIn(again, 'maren', 'long enough');
  await again.getByLabel('Code from your device').fill(recovery);
  await again.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(again.locator('.who')).toBeVisible();
  await page.goto('/club/account');
  await page.getByRole('button', { name: 'Sign out', exact: true }).first().click();
  await expect(page.getByText('this one')).toBeVisible();
  await page.goto('/club/security');
  for (const words of ['signed in with a recovery code', 'second factor on', 'joined as member'])
    await expect(page.getByText(words).first()).toBeVisible();
  await invited.goto('/club/security');
  await expect(invited.getByText('signed in with a recovery code')).toBeHidden();
});

test('the demo is one click away at the machine', async ({ browser }) => {
  const context = await atTheInstant(await browser.newContext({ reducedMotion: 'reduce' }));
  const page = await context.newPage();
  await page.goto('/sign-in');
  await page.getByRole('button', { name: 'Look round' }).click();
  await expect(verdict(page)).toBeVisible();
  await expect(page.getByRole('button', { name: /OB/ })).toBeVisible();
});
