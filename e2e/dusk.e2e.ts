import { expect } from '@playwright/test';
import { ask, choose, killServer, person, task, test, type, verdict, visit } from './people.ts';

/** A FITS header as a solved picture carries it, and nothing after. */
function fits(cards: Record<string, string | number>): Buffer {
  const lines = Object.entries({ SIMPLE: 'T', BITPIX: 16, NAXIS: 2, ...cards }).map(([k, v]) =>
    `${k.padEnd(8)}= ${String(v)}`.padEnd(80),
  );
  const text = `${lines.join('')}${'END'.padEnd(80)}`;
  return Buffer.from(text.padEnd(2880));
}
test('a small galaxy: the angle with a guide star is found, pinned, and there the next night after a crash', async ({
  browser,
}) => {
  const page = await person(browser, 'odalys', '200 mm astrograph');
  await visit(page, '/night/target');
  await choose(page, 'Project', 'NGC 2403');
  await expect(page.getByTestId('guide-stars')).toBeVisible();
  await expect(page.getByText('Not pinned yet')).toBeVisible();
  // an angle without one: the verdict says which way and how far
  await type(page, 'Camera angle (top', '110');
  await expect(verdict(page)).toContainText('No star stands in the guide window at 110°');
  await expect(verdict(page)).toContainText('turn the camera to');
  await page.getByTestId('nearest').click();
  await expect(verdict(page)).toContainText('A guide star of magnitude');
  const angle = await page.getByLabel('Camera angle (top').inputValue();
  // the same by the keys on the ring
  await page.getByTestId('turn').focus();
  await page.keyboard.press('Shift+ArrowRight');
  await expect(page.getByLabel('Camera angle (top')).not.toHaveValue(angle);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByLabel('Camera angle (top')).toHaveValue(angle);
  // a reload loses nothing
  await page.reload();
  await expect(page.getByLabel('Camera angle (top')).toHaveValue(angle);
  await page.getByRole('button', { name: 'Pin the framing' }).click();
  await expect(page.getByTestId('pinned')).toContainText(`Pinned at ${Number(angle).toFixed(1)}°, guide star`);
  const [row] = await ask<{ framing: string }>(
    "SELECT framing FROM projects WHERE object = 'NGC 2403' AND framing IS NOT NULL",
  );
  const stored = (typeof row!.framing === 'string' ? JSON.parse(row!.framing) : row!.framing) as {
    angleDeg: number;
    star: { mag: number };
  };
  expect(stored.angleDeg).toBe(Number(angle));
  expect(stored.star.mag).toBeGreaterThan(3);

  await killServer(page);
  await page.goto('/night/target');
  await page.keyboard.press(']');
  await choose(page, 'Project', 'NGC 2403');
  await expect(page.getByTestId('pinned')).toBeVisible();
  await expect(page.getByLabel('Camera angle (top')).toHaveValue(angle);
  await page.getByRole('link', { name: 'Plan a night of it' }).click();
  await expect(page.getByTestId('framing')).toContainText(`camera at ${Number(angle).toFixed(1)}°, guide star`);
});

test(
  'a mosaic asks for a star in every panel; a framing comes from a FITS header; a wrong file is told',
  { tag: '@thorough' },
  async ({ browser }) => {
    const page = await person(browser, 'odalys', '200 mm astrograph');
    await visit(page, '/night/target');
    await choose(page, 'Project', 'NGC 2403');
    await expect(page.getByTestId('guide-stars')).toBeVisible();
    await type(page, 'Panels across', '2');
    await expect(page.getByTestId('panels').locator('tr')).toHaveCount(2);
    await expect(verdict(page)).toContainText(/of 2 panels|Every one of the 2 panels/);
    const file = page.getByTestId('fits');
    await file.setInputFiles({ name: 'notes.fits', mimeType: 'image/fits', buffer: Buffer.from('hello') });
    await expect(page.getByText('notes.fits: This is not a FITS file')).toBeVisible();
    const k = 0.48 / 3600;
    await file.setInputFiles({
      name: 'solved.fits',
      mimeType: 'image/fits',
      buffer: fits({
        NAXIS1: 6248,
        NAXIS2: 4176,
        CRVAL1: 114.3,
        CRVAL2: 65.55,
        CRPIX1: 3124.5,
        CRPIX2: 2088.5,
        CD1_1: -k,
        CD1_2: 0,
        CD2_1: 0,
        CD2_2: k,
        OBJECT: "'NGC 2403'",
      }),
    });
    await expect(page.getByText('top of the picture at 0.0°')).toBeVisible();
    await page.getByRole('button', { name: 'Take this framing' }).click();
    await expect(page.getByText('off NGC 2403')).toBeVisible();
    await page.getByRole('button', { name: 'Discard' }).click();
    await expect(page.getByTestId('panels')).toHaveCount(0);
  },
);

test(
  'a guide scope’s rig sees its wide field, and a member cannot move another’s framing',
  { tag: '@thorough' },
  async ({ browser }) => {
    const page = await person(browser, 'sefu', '120 mm triplet');
    await visit(page, '/night/target');
    await expect(verdict(page)).toContainText('in the guide scope’s field');
    await expect(page.getByTestId('window')).toBeVisible();
    await expect(page.getByTestId('turn')).toHaveCount(0);
    await choose(page, 'Rig', '200 mm astrograph');
    await expect(page.getByText('only the owner or a steward pins its framing')).toBeVisible();
    await expect(page.getByRole('button', { name: 'Pin the framing' })).toHaveCount(0);
  },
);

test(
  'two cameras: the dither’s size in each, exposures that waste least, what unsynchronised would spoil',
  { tag: '@thorough' },
  async ({ browser }) => {
    const page = await person(browser, 'teun', '200 mm astrograph');
    await visit(page, '/dusk/dither');
    await expect(page.getByTestId('per-camera').locator('tbody tr')).toHaveCount(1);
    await page.getByRole('button', { name: 'Add a second camera' }).click();
    await expect(verdict(page)).toContainText('fixed pattern stays');
    await choose(page, 'in pixels of the', 'coarsest camera');
    await expect(page.getByTestId('per-camera').locator('tbody tr').first()).toContainText('59.');
    await type(page, 'Its exposure', '140');
    const open = async () => Number(/and (\d+)\s%/.exec(await page.getByTestId('sync-verdict').innerText())![1]);
    const before = await open();
    await page.getByTestId('suggestions').getByRole('button').first().click();
    await expect.poll(open).toBeGreaterThan(before);
    await expect(page.getByTestId('two-cameras')).toContainText('would spoil');
    await page.getByRole('button', { name: 'spiral', exact: true }).click();
    await expect(page.getByTestId('coverage')).toContainText(/wide camera\d+6 %/);
    await page.getByRole('button', { name: 'block', exact: true }).click();
    await type(page, 'Frames between dithers', '50');
    await expect(page.getByTestId('by-filter')).toContainText('too few');
    // an unsaved draft survives a reload
    await page.reload();
    await expect(page.getByTestId('sync-verdict')).toBeVisible();
    await type(page, 'Settled for', '25');
    await page.getByRole('button', { name: /^Reckon plans with/ }).click();
    await expect(page.getByText('now reckon')).toBeVisible();
    await expect(page.getByRole('button', { name: /^Reckon plans with/ })).toHaveCount(0);
  },
);

test(
  'the set-up list by phone in the dark: thumb, lost connection, who and when; the steward’s own step',
  { tag: '@thorough' },
  async ({ browser }) => {
    const page = await person(browser, 'teun', undefined, 'dark-adapted');
    await page.setViewportSize({ width: 390, height: 844 });
    await visit(page, '/dusk/setup');
    await expect(verdict(page)).toContainText('Next: Legs fully spread');
    await page.getByTestId('tick-next').click();
    await expect(page.getByTestId('step-ground')).toHaveAttribute('aria-checked', 'true');
    await expect(page.getByTestId('step-ground')).toContainText('Teun');
    // out in the field the connection goes; the ticks do not
    await page.context().setOffline(true);
    await page.getByTestId('tick-next').click();
    await page.getByTestId('step-screws').click();
    await expect(page.getByTestId('step-north')).toContainText('waiting for the connection');
    await expect(verdict(page)).toContainText('3 of');
    await page.context().setOffline(false);
    await expect(page.getByTestId('step-screws')).toContainText('Teun', { timeout: 30_000 });
    await page.reload();
    for (const key of ['ground', 'north', 'screws'])
      await expect(page.getByTestId(`step-${key}`)).toHaveAttribute('aria-checked', 'true');
    await page.getByTestId('step-ground').click();
    await expect(page.getByTestId('step-ground')).toHaveAttribute('aria-checked', 'false');
    const box = (await page.getByTestId('step-ground').boundingBox())!;
    expect(box.height).toBeGreaterThanOrEqual(48);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);

    const steward = await person(browser, 'odalys', '120 mm triplet');
    await visit(steward, '/dusk/setup');
    await expect(steward.getByTestId('step-north')).toContainText('Teun');
    await steward.getByRole('button', { name: 'Change this list' }).click();
    await steward.getByLabel('Step 2, what to do').fill('');
    await expect(steward.getByText('Step 2: must not be empty')).toBeVisible();
    await steward.getByLabel('Step 2, what to do').fill('Front leg to the church tower');
    await steward.getByLabel('Step 2, caution').fill('The paving is slippery with dew.');
    // put in order without dragging
    await steward.getByRole('button', { name: 'Move step 2 up' }).press('ArrowDown');
    await expect(steward.getByLabel('Step 3, what to do')).toHaveValue('Front leg to the church tower');
    await steward.getByRole('button', { name: 'Save the list' }).click();
    await expect(steward.getByTestId('step-north')).toContainText('church tower');
    await page.reload();
    await expect(page.getByTestId('step-north')).toContainText('church tower');
  },
);

test('cooling, the second tube and the guider say what to do', { tag: '@thorough' }, async ({ browser }) => {
  const page = await person(browser, 'teun', '120 mm triplet');
  await visit(page, '/dusk/setup');
  const cooling = page.getByTestId('cooling');
  // the panel begins with the site’s own figures once they are there
  await expect(cooling).toContainText('and on the warmest night too');
  await cooling.getByLabel('Set point').fill('-40');
  await cooling.getByLabel('Set point').press('Enter');
  await expect(cooling).toContainText('out of reach tonight');
  await cooling.getByLabel('Set point').fill('14F');
  await cooling.getByLabel('Set point').press('Enter');
  await expect(cooling).toContainText('is reached');
  const second = page.getByTestId('alignment');
  await second.locator('summary').click();
  await second.getByRole('button', { name: 'Add a second tube' }).click();
  await second.getByLabel('Star right of centre').fill('800');
  await second.getByLabel('Star right of centre').press('Enter');
  await expect(page.getByTestId('alignment-verdict')).toContainText('Nose to the right');

  // kept for everybody: the steward's phone reckons with it, and of two changes one asks
  await page.getByTestId('dusk-save').getByRole('button', { name: 'Save' }).click();
  await expect(page.getByTestId('dusk-save')).toContainText(/Saved .* by Teun/);
  const other = await person(browser, 'odalys', '120 mm triplet');
  await visit(other, '/dusk/dither');
  await expect(other.getByTestId('per-camera')).toContainText('wide camera');
  await type(other, 'Dither by', '9');
  await type(page, 'Air tonight', '3');
  await other.getByTestId('dusk-save').getByRole('button', { name: 'Save' }).click();
  await expect(other.getByTestId('dusk-save')).toContainText('by Odalys');
  await page.getByTestId('dusk-save').getByRole('button', { name: 'Save' }).click();
  await expect(page.getByTestId('conflict')).toContainText('dither, dither');
  await page.getByRole('button', { name: 'Take theirs' }).click();
  await expect(page.getByLabel('Air tonight')).toHaveValue(/^8/);

  await task(page, 'Guider');
  await expect(verdict(page)).toContainText(/Expose \d/);
  await expect(page.getByTestId('calibration')).toContainText('ms');
  await page.getByLabel('The spot moved').fill('0.3');
  await page.getByLabel('The spot moved').press('Enter');
  await expect(page.getByTestId('answers')).toContainText('a hot pixel');
  await page.getByLabel('Magnitude', { exact: true }).fill('18');
  await page.getByLabel('Magnitude', { exact: true }).press('Enter');
  await expect(verdict(page)).toContainText('Choose a brighter one');
});

test('a simulated bad night is read, kept, and compared with a good one', { tag: '@thorough' }, async ({ browser }) => {
  const page = await person(browser, 'mirela', '200 mm astrograph');
  await visit(page, '/morning/guiding');
  await expect(page.getByTestId('kept-logs')).toContainText('worm untamed');
  await page.getByRole('button', { name: 'over-correction', exact: true }).click();
  await expect(page.getByTestId('findings')).toContainText('a smaller share of each error');
  await page.getByLabel('What was different that night').fill('everything at 100 %');
  await page.getByRole('button', { name: /^Keep with the night/ }).click();
  await expect(page.getByTestId('kept-logs')).toContainText('everything at 100 %');
  await page.reload();
  const row = page.getByTestId('kept-logs').locator('tr', { hasText: 'everything at 100 %' });
  await row.getByRole('button', { name: 'Read' }).click();
  await expect(page.getByTestId('findings')).toContainText('over-correction');
  await page
    .getByTestId('kept-logs')
    .locator('tr', { hasText: 'worm learned' })
    .getByRole('button', { name: 'Compare' })
    .click();
  await expect(page.getByTestId('change')).toContainText('more scatter than');
  await expect(page.getByTestId('change')).toContainText('New: over-correction in right ascension');
  // the morning's own page says so first
  await visit(page, '/morning');
  await expect(page.getByTestId('guiding')).toContainText('a smaller share of each error');
});
