import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from '@playwright/test';
import { writeFits16 } from '@keen/core/exchange';
import { renderCounts, type Scene } from '@keen/core/frames';
import { healthyScene, withFaults } from '../core/src/test/faultyFrames.ts';
import { rounds } from '../core/src/test/rounds.ts';
import { person, test, verdict, visit } from './people.ts';

/** Frames of one night of an object of the demo, drawn with known faults; small, so that many are quick. */
const SIZE = { w: 300, h: 200 };
const FRAMES = rounds(60, 200);
const TRAILED = [20, 21, 22, 36];
const CLOUDED = [50, 51, 52, 53, 54];
function folder(count: number, change: (s: Scene, i: number) => Scene): string[] {
  const at = mkdtempSync(join(tmpdir(), 'keen-frames-'));
  const base = healthyScene(5, SIZE.w, SIZE.h);
  return Array.from({ length: count }, (_, i) => {
    const scene = change({ ...base, stars: base.stars.slice(0, 45), seed: 100 + i, hotPixels: 5 }, i);
    const begun = new Date(Date.parse('2026-11-18T18:00:00Z') + i * 130_000).toISOString().slice(0, 19);
    const path = join(at, `l_${String(i + 1).padStart(3, '0')}.fits`);
    writeFileSync(
      path,
      writeFits16(renderCounts(scene), scene.widthPx, scene.heightPx, [
        ['OBJECT', 'NGC 281'],
        ['IMAGETYP', 'LIGHT'],
        ['FILTER', 'Ha'],
        ['EXPTIME', 120],
        ['DATE-OBS', begun],
        ['RA', 13.2],
        ['DEC', 56.6],
      ]),
    );
    return path;
  });
}

test(
  'a night of frames is brought in, measured, and triaged by keyboard',
  { tag: '@thorough' },
  async ({ browser }) => {
    test.setTimeout(240_000);
    const files = folder(FRAMES, (s, i) =>
      TRAILED.includes(i)
        ? withFaults(s, ['trailing'])
        : CLOUDED.includes(i)
          ? { ...s, cloud: { passes: 0.25, brighter: 2 } }
          : s,
    );
    const page = await person(browser, 'odalys', '120 mm triplet');
    await test.step('the folder is on record', async () => {
      await visit(page, '/morning/night');
      await page.getByTestId('night-files').setInputFiles(files);
      await expect(verdict(page)).toContainText(`${FRAMES} light frames`);
      await page.getByRole('button', { name: `Bring in ${FRAMES} frames` }).click();
      await expect(page.getByText(`${FRAMES} frames brought in`)).toBeVisible();
    });
    await test.step('measured: what strays is told, and nothing else', async () => {
      await visit(page, '/morning/frames');
      await expect(verdict(page)).toContainText('Nothing of this night is measured yet');
      await page.getByTestId('night-files').setInputFiles(files);
      await expect(page.getByTestId('took')).toBeVisible({ timeout: 150_000 });
      await expect(verdict(page)).toContainText(
        `${FRAMES} of ${FRAMES} frames count. ${TRAILED.length + CLOUDED.length} are better refused`,
      );
    });
    await test.step('by keyboard: one is kept all the same, a range is refused, a step is taken back', async () => {
      const rows = page.getByTestId('frames').locator('tbody tr');
      await page.getByLabel('only those better refused').check();
      await expect(rows).toHaveCount(9);
      await page.getByLabel('only those better refused').blur();
      await page.keyboard.press('a');
      await expect(rows).toHaveCount(8);
      for (let i = 0; i < 2; i++) await page.keyboard.press('Shift+J');
      await page.keyboard.press('x');
      await expect(verdict(page)).toContainText(`${FRAMES - 3} of ${FRAMES} frames count. 5 are better refused`);
      await page.keyboard.press('Control+z');
      await expect(verdict(page)).toContainText(`${FRAMES} of ${FRAMES} frames count. 8 are better refused`);
      await page.getByRole('button', { name: 'Refuse all 8' }).click();
      await expect(verdict(page)).toContainText(`${FRAMES - 8} of ${FRAMES} frames count.`);
    });
    await test.step('all of it is there the next morning, pictures too, and the project counts what counts', async () => {
      await page.reload();
      await expect(verdict(page)).toContainText(`${FRAMES - 8} of ${FRAMES} frames count.`);
      await page.keyboard.press('v');
      await expect(page.getByTestId('frames').locator('canvas')).toHaveCount(FRAMES);
      await visit(page, '/morning/night');
      await expect(page.getByTestId('nights')).toContainText(`${FRAMES - 8} × 120 s, 8 refused`);
    });
    rmSync(join(files[0]!, '..'), { recursive: true });
  },
);

test(
  'one frame during set-up is looked at to its corners, and leads to the prism',
  { tag: '@thorough' },
  async ({ browser }) => {
    const [file] = folder(1, () => ({ ...healthyScene(9), prism: { edge: 'right', depth: 0.3 } }));
    const page = await person(browser, 'teun', '200 mm astrograph', 'dark-adapted');
    await visit(page, '/morning/frames');
    await page.getByTestId('night-files').setInputFiles(file!);
    const closeUp = page.getByTestId('close-up');
    await page.getByTestId('frames').locator('tbody tr', { hasText: 'on no record' }).click();
    await expect(closeUp.getByTestId('finding').first()).toContainText('The middle of the right edge is');
    await expect(closeUp.getByTestId('prism-move')).toContainText('so far out it touches no light');
    await expect(closeUp.getByTestId('pieces').locator('canvas')).toHaveCount(9);
    await closeUp.getByRole('link', { name: 'The prism on the bench' }).click();
    await expect(page).toHaveURL(/\/bench\/off-axis/);
    rmSync(join(file!, '..'), { recursive: true });
  },
);
