import { expect } from '@playwright/test';
import { ask, person, test, tidy, visit } from './people.ts';

test('a rig changes hands, what is due is done, and what everybody begins with is what a new project begins with', async ({
  browser,
}) => {
  const page = await person(browser, 'odalys', '120 mm triplet');
  await visit(page, '/club/upkeep');
  await page.getByRole('button', { name: 'Take it over' }).click();
  await page.getByRole('radio', { name: 'Something is wrong' }).check();
  await page.getByRole('textbox', { name: /What is wrong/ }).fill('The dew shield has a crack.');
  await page.getByTestId('hands').getByRole('button', { name: 'Take it over' }).click();
  await expect(page.getByTestId('hands')).toContainText('You have 120 mm triplet since');

  const over = page.getByTestId('upkeep-over');
  await expect(over).toContainText('Grease the worm');
  await over.getByRole('button', { name: 'Done' }).click();
  await over.getByRole('button', { name: 'It was done' }).click();
  await expect(page.getByText('Nothing is due.')).toBeVisible();
  await page.getByTestId('hands').getByRole('button', { name: 'Hand it back' }).click();
  await page.getByTestId('hands').getByRole('button', { name: 'Hand it back' }).last().click();
  await expect(page.getByTestId('hands')).toContainText('handed it back in order');

  await visit(page, '/morning/log');
  await expect(page.getByText('The dew shield has a crack.').first()).toBeVisible();

  await visit(page, '/club/settings');
  await page.getByLabel('Nothing lower than').fill('25');
  await page.getByLabel('Nothing lower than').blur();
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('Saved.')).toBeVisible();
  await visit(page, '/season');
  await page.getByRole('button', { name: 'Start a project' }).click();
  await expect(page.getByRole('dialog').getByLabel('Not below')).toHaveValue('25');

  const [kept] = await ask<{ n: number }>(
    "SELECT COUNT(*) AS n FROM log_entries WHERE problem = 'The dew shield has a crack.'",
  );
  expect(Number(kept!.n)).toBe(1);
  // those who walk here next find the club as it was
  await tidy('UPDATE clubs SET settings = NULL');
  await tidy("DELETE FROM log_entries WHERE problem = 'The dew shield has a crack.'");
});
