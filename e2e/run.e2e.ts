import { expect, type Page } from '@playwright/test';
import { ask, choose, killServer, person, test, tidy, visit } from './people.ts';

const standing = (page: Page) => page.getByTestId('standing');
const press = (page: Page, name: string) => page.getByRole('button', { name, exact: true }).click();

test('a run: begun, watched from two browsers, broken, recovered, handed over, stopped', async ({ browser }) => {
  // a night passes, and a server comes up again
  test.setTimeout(240_000);
  const odalys = await person(browser, 'odalys', '120 mm triplet');
  await visit(odalys, '/night');
  // a night nobody else plans here
  for (let k = 0; k < 8; k++) await odalys.keyboard.press(']');
  await visit(odalys, '/night/plan');
  await press(odalys, 'Save');
  await expect(odalys.getByText(/^Saved /).first()).toBeVisible();
  await visit(odalys, '/night/run');
  await press(odalys, 'Run it, and watch');
  await expect(standing(odalys)).toContainText('All is well');
  await expect(odalys.getByTestId('holder')).toHaveText('You are at them');
  await choose(odalys, 'Speed', '600 times as fast');
  await expect(odalys.getByTestId('live-frame')).toContainText(/Counts|Refused/, { timeout: 30_000 });

  const mirela = await person(browser, 'mirela', '120 mm triplet');
  await visit(mirela, '/night/run');
  await mirela.getByRole('link', { name: 'Watch it' }).click();
  await expect(standing(mirela)).toContainText('All is well');
  await press(mirela, 'Ask for them');
  await expect(odalys.getByText(/asks for the controls/)).toBeVisible();
  await press(odalys, 'Give them');
  await expect(mirela.getByTestId('holder')).toHaveText('You are at them');
  await expect(odalys.getByRole('button', { name: 'Pause after this' })).toHaveCount(0);

  await odalys.getByText('Practise: have something go wrong').click();
  const what = odalys.getByRole('combobox', { name: 'What', exact: true });
  await what.fill('interlock');
  await odalys
    .locator('.ant-select-dropdown:visible .ant-select-item-option')
    .filter({ hasText: 'the interlock opens' })
    .click();
  await odalys.getByLabel('Within, minutes of the night').fill('0');
  await odalys.getByLabel('Within, minutes of the night').blur();
  await choose(mirela, 'Speed', '60 times as fast');
  await press(odalys, 'Put it in');
  for (const page of [odalys, mirela]) {
    await expect(standing(page)).toContainText('The interlock is open');
    await expect(page).toHaveTitle(/⚠/);
  }
  await choose(mirela, 'Speed', '600 times as fast');
  for (const page of [odalys, mirela]) await expect(standing(page)).toContainText('All is well', { timeout: 30_000 });

  // the server ends without a word: the next one goes on where it was
  await killServer(odalys);
  for (const page of [odalys, mirela]) {
    await expect(standing(page)).toContainText('another server took it over', { timeout: 30_000 });
    await expect(page.getByTestId('line')).toHaveCount(0);
  }
  await choose(mirela, 'Speed', '60 times as fast');
  await press(mirela, 'Pause after this');
  for (const page of [odalys, mirela]) await expect(standing(page)).toContainText('Paused');
  await press(mirela, 'Go on');
  await expect(standing(odalys)).not.toContainText('Paused');
  await choose(mirela, 'Speed', '600 times as fast');
  await press(mirela, 'Stop safely');
  await press(mirela, 'Stop and close');
  for (const page of [odalys, mirela]) {
    await expect(page.getByRole('heading', { name: 'It is over' })).toBeVisible({ timeout: 30_000 });
    await expect(page.getByTestId('debrief')).toContainText('the interlock opens', { timeout: 30_000 });
  }
  await odalys.getByRole('link', { name: 'See all that came of it' }).click();
  await expect(odalys.getByTestId('came')).toBeVisible();

  const [kept] = await ask<{ id: string; planId: string; events: number; last: number; highest: number }>(
    `SELECT r.id, r.plan_id AS planId, COUNT(*) AS events, r.last_seq AS last, MAX(e.seq) AS highest
       FROM live_runs r JOIN run_events e ON e.run_id = r.id GROUP BY r.id`,
  );
  expect([Number(kept!.events), Number(kept!.highest)]).toEqual([Number(kept!.last), Number(kept!.last)]);
  // those who walk here next find the club as it was
  await tidy('DELETE FROM live_runs');
  await tidy(`UPDATE plans SET status = 'cancelled' WHERE id = '${kept!.planId}'`);
});
