import { expect } from '@playwright/test';
import { ask, person, test, verdict } from './people.ts';

test('a drill is seen, answered, judged and kept; the steward sees what the club misses', async ({ browser }) => {
  const page = await person(browser, 'sefu', '120 mm triplet');
  await page.goto('/morning/drills');
  await page.getByTestId('record').getByPlaceholder('Filter').fill('prism in');
  await page.getByTestId('record').getByRole('button', { name: 'Practise' }).click();
  const question = page.getByTestId('question');
  await expect(question.getByTestId('tale')).toContainText('The off-axis guider was set deeper');
  // the frame is drawn and measured here; nothing says yet what it shows
  await expect(page.getByTestId('exhibits').locator('canvas')).toHaveCount(10);
  await expect(page.getByTestId('exhibits')).not.toContainText('would say');
  await question.getByText('Guider’s prism in the light').click();
  await question.getByText('Draw the prism out').click();
  await question.getByRole('button', { name: 'Judge' }).click();
  await expect(page.getByTestId('judged')).toContainText('Right, cause and cure.');
  await expect(page.getByTestId('exhibits')).toContainText('darker than its ends');
  await page.getByTestId('judged').getByRole('link', { name: 'Where that is worked out' }).click();
  await expect(page).toHaveURL(/\/bench\/off-axis/);
  const kept = await ask<{ n: number }>(`SELECT COUNT(*) AS n FROM drill_answers a JOIN members m ON m.id = a.member_id WHERE m.sign_in = 'sefu' AND a.situation = 'prism-in-the-light' AND a.cause_right = 1 AND a.cure_right = 1`); // prettier-ignore
  expect(Number(kept[0]!.n)).toBe(1);
  const steward = await person(browser, 'odalys', '120 mm triplet');
  await steward.goto('/morning/drills');
  await expect(steward.getByTestId('weak-spots')).toContainText('Fine graph long stars');
});

test('a fault is written into the logbook, survives a reload half-way, and is found again by its cure', async ({
  browser,
}) => {
  const page = await person(browser, 'mirela', '120 mm triplet');
  await page.goto('/morning/log');
  await expect(verdict(page)).toContainText('without a cure');
  await page.getByRole('button', { name: 'Write an entry' }).click();
  await page.getByLabel('What was seen').fill('Guide star lost at every flip');
  await page.reload();
  await expect(page.getByLabel('What was seen')).toHaveValue('Guide star lost at every flip');
  await page.getByLabel('What cured it').fill('Cable freed from the saddle');
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(page.getByTestId('log')).toContainText('Cable freed from the saddle');
  await page.getByLabel('Find in the logbook').fill('saddle flip');
  await expect(verdict(page)).toContainText('1 entry holds it');
  await page.getByLabel('Find in the logbook').fill('saddle flop');
  await expect(page.getByText('No entry holds all of')).toBeVisible();
});

test('a night that was guided: frames tell how, the report says where its hours went', async ({ browser }) => {
  const page = await person(browser, 'odalys', '120 mm triplet');
  const windy = (await ask<{ night: string }>(`SELECT DATE_FORMAT(night, '%e %b') AS night FROM guide_logs WHERE name = 'windy'`))[0]!.night; // prettier-ignore
  const choose = async () => {
    await page.getByRole('combobox', { name: 'Night', exact: true }).click({ force: true });
    await page.locator('.ant-select-dropdown:visible .ant-select-item-option').filter({ hasText: windy }).first().click(); // prettier-ignore
  };
  await page.goto('/morning/frames');
  await expect(async () => {
    await choose();
    await expect(page.getByTestId('guided-night')).toContainText('thrown off suddenly', { timeout: 8000 });
  }).toPass({ timeout: 40_000 });
  await expect(page.getByTestId('guided')).toContainText('Guided to');
  await page.goto('/morning/report');
  await expect(async () => {
    await choose();
    await expect(page.getByTestId('hours')).toContainText('frames that count', { timeout: 8000 });
  }).toPass({ timeout: 40_000 });
  await expect(page.getByTestId('report')).toContainText('thrown off suddenly');
});
