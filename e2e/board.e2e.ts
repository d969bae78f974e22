import { expect } from '@playwright/test';
import { choose, person, test, tidy, type, verdict, visit } from './people.ts';

/** What was promised and planned here is in no other walk’s way. */
test.afterEach(async () => {
  await tidy(
    "UPDATE plans p JOIN bookings b ON b.rig_id = p.rig_id AND p.start < b.end AND p.end > b.start SET p.status = 'cancelled' WHERE p.status = 'planned' AND b.state = 'held'",
  );
  await tidy("UPDATE bookings SET state = 'cancelled'");
});

test('the coming nights are given out; an hour is looked at, wished for somebody else, and given back', async ({
  browser,
}) => {
  const page = await person(browser, 'odalys', '120 mm triplet');
  await visit(page, '/season/board');
  await choose(page, 'Nights', '7');
  // what is cheap to search is walked the sooner
  await type(page, 'A change of object costs', '0');
  await page.getByRole('button', { name: 'Work out the coming nights' }).click();
  await expect(verdict(page)).toContainText('slots given', { timeout: 60_000 });
  const slots = page.locator('[data-slot]');
  // one that several may have: somebody else is given it
  const panel = page.getByTestId('board-slot');
  const give = panel.getByRole('button', { name: 'Give it' });
  const given = slots.and(page.locator(':not([aria-label$="nobody’s"])'));
  for (let i = 0; i < (await given.count()); i++) {
    await given.nth(i).click();
    await expect(panel).toBeVisible();
    if (await give.count()) break;
  }
  const had = await panel.locator('strong').first().textContent();
  await give.first().click();
  await expect(page.getByTestId('cost')).toContainText('With this wish', { timeout: 60_000 });
  await expect(panel).toContainText('as was wished');
  await expect(panel.locator('strong').first()).not.toHaveText(had!);
  await page.getByRole('button', { name: 'As it was before' }).click();
  await expect(page.getByTestId('cost')).toBeHidden();
  await expect(panel.locator('strong').first()).toHaveText(had!);
  // what was worked out last stands on another visit
  await page.reload();
  await expect(slots.first()).toBeVisible();
  // promised, it is kept: the next board leaves it to whom it is, and its nights become plans at one press
  await page.getByRole('button', { name: 'Promise these hours' }).click();
  await expect(page.locator('.promised').first()).toBeVisible({ timeout: 60_000 });
  await visit(page, '/season/bookings');
  const night = page.getByTestId('booking-night');
  await expect(night).toContainText('by the rules');
  await expect(verdict(page)).toContainText('Tonight’s hours have no plan yet');
  await night.getByRole('button', { name: 'Make the plan of these hours' }).first().click();
  await expect(page).toHaveURL(/night\/plan/);
  await expect(page.getByTestId('verdict')).toContainText('shutter open', { timeout: 30_000 });
  await expect(page.getByText('Not saved yet')).toBeHidden();
});

test(
  'hours are booked, waited for and given back; whoever waits moves up, and the page of whom it concerns tells it',
  { tag: '@thorough' },
  async ({ browser }) => {
    const teun = await person(browser, 'teun', '120 mm triplet');
    const mirela = await person(browser, 'mirela', '120 mm triplet');
    const NIGHT = '2026-12-12';
    const open = async (page: typeof teun) => {
      await visit(page, '/season/bookings');
      await page.locator(`[data-night="${NIGHT}"]`).click();
      return page.getByTestId('booking-night');
    };
    const his = await open(teun);
    await teun.getByRole('button', { name: 'First half' }).click();
    await teun.getByRole('button', { name: 'Book', exact: true }).click();
    await expect(his.getByRole('button', { name: /^Give back/ })).toBeVisible();
    const hers = await open(mirela);
    await expect(hers).toContainText('Teun Achterberg');
    await mirela.getByLabel('A word to the others').fill('only these hours are free of roofs');
    await mirela.getByRole('button', { name: 'Book', exact: true }).click();
    await expect(hers.getByRole('alert')).toContainText('Teun Achterberg has this rig');
    await mirela.getByRole('button', { name: 'Wait for them' }).click();
    await expect(hers).toContainText('waiting, only these hours are free of roofs');
    await his.getByRole('button', { name: /^Give back/ }).click();
    await expect(hers.getByRole('button', { name: /^Give back/ })).toBeVisible({ timeout: 30_000 });
    await expect(hers).not.toContainText('waiting');
    await visit(mirela, '/season/ledger');
    await expect(verdict(mirela)).toContainText('promised');
  },
);
