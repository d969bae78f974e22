import { expect } from '@playwright/test';
import { choose, person, test, verdict, visit } from './people.ts';

test('the coming nights are given out; an hour is looked at, wished for somebody else, and given back', async ({
  browser,
}) => {
  const page = await person(browser, 'odalys', '120 mm triplet');
  await visit(page, '/season/board');
  await choose(page, 'Nights', '7');
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
});
