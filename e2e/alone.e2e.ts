import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, type Page } from '@playwright/test';
import { writeFits16, type WrittenCard } from '@keen/core/exchange';
import { renderCounts, type Scene } from '@keen/core/frames';
import { healthyScene } from '../core/src/test/faultyFrames.ts';
import { begin, Filling, mountAndTube, next, stranger } from './beginning.ts';
import { test, verdict, visit } from './people.ts';

const BEGUN = Date.parse('2026-11-18T19:00:00Z');
const LIGHTS = 8;
/** A night as its owner has it on disk: lights under a shadow whose stars wander, flats of three lengths, darks. */
function ownFolder(): { at: string; night: string[]; flats: string[] } {
  const at = mkdtempSync(join(tmpdir(), 'keen-own-'));
  const base = healthyScene(21, 420, 280);
  const save = (name: string, scene: Scene, type: string, exposureS: number, ms: number, more: WrittenCard[] = []) => {
    const cards: WrittenCard[] = [
      ['IMAGETYP', type],
      ['EXPTIME', exposureS],
      ['DATE-OBS', new Date(ms).toISOString().slice(0, 19)],
      ['GAIN', 100],
      ['CCD-TEMP', -10],
      ['XBINNING', 1],
      ...more,
    ];
    const path = join(at, name);
    writeFileSync(path, writeFits16(renderCounts(scene), scene.widthPx, scene.heightPx, cards));
    return path;
  };
  const lights = Array.from({ length: LIGHTS }, (_, i) => {
    const stars = base.stars.slice(0, 90).map((s) => ({ ...s, x: s.x + 0.6 * i }));
    return save(
      `light_${i + 1}.fits`,
      { ...base, stars, seed: 50 + i, hotPixels: 5, prism: { edge: 'right', depth: 0.3 } },
      'LIGHT',
      300,
      BEGUN + i * 310_000,
      [
        ['OBJECT', 'NGC 281'],
        ['FILTER', 'Ha'],
        ['RA', 13.2],
        ['DEC', 56.6],
      ],
    );
  });
  const even = (electrons: number, seed: number) => ({
    ...base,
    stars: [],
    guiding: undefined,
    hotPixels: 0,
    skyElectrons: electrons,
    vignetting: 0.1,
    seed,
  });
  const flats = [1, 2, 4].map((s, i) =>
    save(`flat_${i}.fits`, even(9000 * s, 70 + i), 'FLAT', s, BEGUN + 9 * 3_600_000 + i * 10_000, [['FILTER', 'Ha']]),
  );
  const darks = [0, 1].map((i) =>
    save(`dark_${i}.fits`, even(1, 80 + i), 'DARK', 300, BEGUN + 10 * 3_600_000 + i * 300_000),
  );
  return { at, night: [...lights, ...flats, ...darks], flats };
}
/** A guide log with dates, over the first frames; a bump in the third. */
const guideLog = () => ({
  name: 'night.csv',
  mimeType: 'text/csv',
  buffer: Buffer.from(
    `date,ra,dec\n${Array.from({ length: 1800 }, (_, i) => `${new Date(BEGUN + i * 1000).toISOString().slice(0, 19)},${(0.4 * Math.sin(i * 1.7)).toFixed(3)},${i === 700 ? 8 : (0.4 * Math.cos(i * 2.3)).toFixed(3)}`).join('\n')}\n`,
  ),
});

async function firstRig(page: Page): Promise<void> {
  const f = new Filling(page);
  await begin(page, f, 'Just me', 'Ilse');
  await visit(page, '/bench');
  await page.getByTestId('empty').getByRole('link', { name: 'Begin with the place' }).click();
  await f.fill(/Latitude and longitude/, '47.07 N 15.44 E');
  await expect(page.getByText('Europe/Vienna')).toBeVisible();
  await next(page);
  await mountAndTube(page, f);
  await expect(page.getByLabel('Slot 1', { exact: true })).toHaveValue('L');
  await next(page);
  await f.fill('Object', 'ngc 281');
  await page
    .getByTestId('objects')
    .getByRole('button', { name: /^NGC 281 / })
    .click();
  await expect(page).toHaveURL(/night\/plan/);
  await expect(verdict(page)).toBeVisible();
}

test('alone with one’s own files: corners, wandering, calibration, log, cables, report and a drill', async ({
  browser,
}) => {
  test.setTimeout(240_000);
  const page = await stranger(browser);
  const own = ownFolder();
  await firstRig(page);
  await test.step('the folder is brought in, its frames are measured to the corners', async () => {
    await visit(page, '/morning/night');
    await page.getByTestId('night-files').setInputFiles(own.night);
    await page.getByRole('button', { name: new RegExp(`^Bring in ${own.night.length} `) }).click();
    await expect(page.getByText(`${own.night.length} frames brought in`)).toBeVisible();
    // the folder was dropped once: its lights are measured from the files just read
    await page.getByRole('button', { name: `Look through the ${LIGHTS} frames of 18 Nov` }).click();
    await expect(page).toHaveURL(/morning\/frames/);
    await expect(page.getByTestId('took')).toBeVisible({ timeout: 60_000 });
    await expect(verdict(page)).toContainText(`${LIGHTS} of ${LIGHTS} measured frames show prism shadow`);
    await expect(page.getByTestId('prism-move')).toContainText('so far out it touches no light');
  });
  await test.step('what was measured is there another day, wandering too; the morning says it first', async () => {
    await page.reload();
    await expect(page.getByTestId('wander')).toContainText(`by ${LIGHTS - 1} undithered pairs`);
    await visit(page, '/morning');
    await expect(verdict(page)).toContainText(`${LIGHTS} of ${LIGHTS} measured show prism shadow`);
    await page.getByRole('link', { name: `Its frames, ${LIGHTS} of ${LIGHTS} measured` }).click();
  });
  await test.step('the finding is written down with its cure', async () => {
    await page.getByTestId('close-up').getByRole('link', { name: 'Write it down' }).first().click();
    await expect(page.getByLabel('What was seen')).toHaveValue(/right edge/);
    await page.getByLabel('What cured it').fill('Prism drawn out');
    await page.getByRole('button', { name: 'Keep', exact: true }).click();
    await expect(page.getByTestId('log')).toContainText('Prism drawn out');
  });
  await test.step('a guide log with dates finds its frames', async () => {
    await visit(page, '/morning/guiding');
    await page.getByTestId('guide-file').setInputFiles(guideLog());
    await page.getByRole('button', { name: /^Keep with the night/ }).click();
    await expect(page.getByTestId('kept-logs')).toContainText('18 Nov');
    await visit(page, '/morning/frames');
    await expect(page.getByTestId('guided-night')).toContainText('1 frame was thrown off suddenly');
  });
  await test.step('calibration knows the flats and darks; a master is put on record; levels are read', async () => {
    await visit(page, '/morning/calibration');
    await expect(page.getByTestId('needs')).not.toContainText('before anything is turned');
    const masters = page.getByTestId('masters');
    await masters.getByLabel('File of the master dark').fill('master_dark_300.fits');
    const dark = masters.locator('.row', { has: page.getByLabel('File of the master dark') });
    await dark.getByRole('button', { name: 'A master was made of them' }).click();
    await expect(masters.locator('tbody')).toContainText('master_dark_300.fits');
    const panel = page.getByTestId('flats-panel');
    await panel.getByTestId('night-files').setInputFiles(own.flats);
    await expect(page.getByTestId('flat-readings')).toContainText('3');
    await expect(page.getByTestId('flat-readings')).toContainText('straight to');
  });
  await test.step('cables begin as such rigs usually are, and are kept as they are put right', async () => {
    await visit(page, '/bench/cables');
    await page.getByLabel('Battery, if any').fill('900');
    await page.getByLabel('Battery, if any').press('Enter');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await page.reload();
    await expect(page.getByLabel('Battery, if any')).toHaveValue('900');
    await page.getByRole('button', { name: 'Put them into the balance' }).click();
    await expect(page.getByTestId('bundle')).toContainText('is a part of the rig');
  });
  await test.step('the report adds the night up; a drill is judged', async () => {
    await visit(page, '/morning/report');
    await expect(page.getByTestId('report')).toContainText('thrown off suddenly');
    await expect(page.getByTestId('hours')).toContainText('frames that count 0 h 40');
    await visit(page, '/morning/drills');
    const question = page.getByTestId('question');
    for (const group of ['What is it?', 'What is done about it?'])
      await question.getByRole('group', { name: group }).getByRole('radio').first().check();
    await question.getByRole('button', { name: 'Judge' }).click();
    await expect(page.getByTestId('judged')).toBeVisible();
    await expect(page.getByTestId('weak-spots')).toHaveCount(0);
  });
  rmSync(own.at, { recursive: true });
});
