import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from '@playwright/test';
import { choose, person, task, test, type, verdict, visit } from './people.ts';

interface Sample {
  timeS: number;
  raArcsec: number;
  decArcsec: number;
  raPulseMs: number;
  decPulseMs: number;
  snr: number;
  state: string;
}
const logOf = (name: string) => {
  const path = join(import.meta.dirname, '../examples/guide.log', `${name}.json`);
  const { input } = JSON.parse(readFileSync(path, 'utf8')) as { input: { samples: Sample[] } };
  const rows = input.samples.map((s) =>
    [s.timeS, s.raArcsec, s.decArcsec, s.raPulseMs, s.decPulseMs, s.snr, s.state].join(','),
  );
  return {
    name: `${name}.csv`,
    mimeType: 'text/csv',
    buffer: Buffer.from(`time,ra,dec,ra_pulse,dec_pulse,snr,state\n${rows.join('\n')}\n`),
  };
};

test(
  'a bad guide log says its cause; a wrong file says what is wrong; two nights are compared',
  { tag: '@thorough' },
  async ({ browser }) => {
    const page = await person(browser, 'sefu', '200 mm astrograph');
    await visit(page, '/morning/guiding');
    const file = page.getByTestId('guide-file');
    await file.setInputFiles({ name: 'x.csv', mimeType: 'text/csv', buffer: Buffer.from('when,how\n1,2\n') });
    await expect(page.getByTestId('bad-rows')).toContainText('no column is taken for time, ra, dec');
    await file.setInputFiles(logOf('over-correction-in-ra'));
    await expect(page.getByTestId('findings')).toContainText('Right ascension swings from side to side');
    await expect(verdict(page)).toContainText('a smaller share of each error');
    await file.setInputFiles(logOf('hot-pixel-after-a-dither'));
    await expect(page.getByTestId('findings')).toContainText('hot pixel');
    await expect(page.getByRole('columnheader', { name: 'over-correction-in-ra.csv' })).toBeVisible();

    // columns nobody could guess are mapped once; the next night's file with these headings is read alike
    const strange = (name: string, rows: number) => ({
      name,
      mimeType: 'text/csv',
      buffer: Buffer.from(
        `clock,east,north\n${Array.from({ length: rows }, (_, i) => `${2 * i},${Math.sin(i)},${Math.cos(i)}`).join('\n')}\n`,
      ),
    });
    await file.setInputFiles(strange('first.csv', 200));
    await choose(page, 'Time', 'clock');
    await choose(page, 'Right ascension', 'east');
    await choose(page, 'Declination', 'north');
    await choose(page, 'Errors in', 'pixels');
    await expect(page.getByText('200 rows, 200 used')).toBeVisible();
    await page.reload();
    await file.setInputFiles(strange('second.csv', 150));
    await expect(page.getByText('150 rows, 150 used')).toBeVisible();
    await expect(page.getByLabel('Guide scale')).toBeHidden();
    await page.getByText('Columns and units').click();
    await expect(page.getByLabel('Guide scale')).toBeVisible();
  },
);

test(
  'the pole star is where the hemisphere has it, live and for a chosen time',
  { tag: '@thorough' },
  async ({ browser }) => {
    const page = await person(browser, 'sefu', '250 mm Newtonian');
    await visit(page, '/dusk/pole');
    await expect(verdict(page)).toContainText('σ Octantis');
    await page.getByLabel('At', { exact: true }).fill('22:00');
    await page.getByLabel('At', { exact: true }).press('Enter');
    await expect(page.getByText('22:00.', { exact: false }).first()).toBeVisible();
    await page.getByLabel('Drift without declination pulses').fill('1');
    await expect(page.getByText('3.8′')).toBeVisible();
  },
);

test('without a signal every screen still opens; a screen that is gone after an upgrade is said, and nothing is lost', async ({
  browser,
}) => {
  const page = await person(browser, 'teun', '120 mm triplet', 'day', false);
  const fetched: string[] = [];
  page.on('requestfinished', (r) => fetched.push(r.url()));
  await page.goto('/dusk/setup');
  await expect.poll(() => fetched.some((u) => u.includes('/PoleView-')), { timeout: 20_000 }).toBe(true);
  await page.context().setOffline(true);
  await task(page, 'Pole');
  await expect(verdict(page)).toContainText('Polaris');
  await page.context().setOffline(false);

  await page.goto('/dusk/dither');
  await type(page, 'Dither by', '7');
  // answered late, when the page around it is there already
  await page.route('**/assets/GuiderView-*', async (r) => {
    await new Promise((done) => setTimeout(done, 700));
    await r.fulfill({ status: 404 });
  });
  await page.reload();
  await task(page, 'Guider');
  await expect(page.getByText('This screen could not be loaded')).toBeVisible();
  await task(page, 'Dither');
  await expect(page.getByLabel('Dither by')).toHaveValue(/^7/);
});
