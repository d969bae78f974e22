import { expect } from '@playwright/test';
import { ask, person, test, verdict, visit } from './people.ts';

test('a side-heavy rig is cured by turning the tube in its rings, and saved in balance', async ({ browser }) => {
  const page = await person(browser, 'odalys', '200 mm astrograph');
  await visit(page, '/bench/balance');
  await expect(verdict(page)).toContainText('side-heavy');
  await expect(page.getByTestId('steps')).toContainText('Turn the tube in its rings');
  await page.getByRole('tab', { name: 'Let go' }).click();
  await expect(page.getByText('tail sinks').first()).toBeVisible();
  await page.getByRole('tab', { name: 'States compared' }).click();
  await expect(page.getByTestId('states')).toContainText('scribe a mark');

  // a weight is moved with the keyboard, as the hand would drag it
  const weight = page.getByRole('slider', { name: /^Weight 1/ }).first();
  await weight.focus();
  await page.keyboard.press('Shift+ArrowDown');
  await expect(weight).toHaveAttribute('aria-valuenow', '248');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(weight).toHaveAttribute('aria-valuenow', '238');

  // a part is dragged with the mouse; the figures follow
  const part = page.getByRole('button', { name: /^dew controller: arrow keys/ }).first();
  await part.scrollIntoViewIfNeeded();
  const box = (await part.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height - 3);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 60, box.y + box.height - 3, { steps: 6 });
  await page.mouse.up();
  await expect(page.getByText('Unsaved changes')).toBeVisible();
  await page.getByRole('button', { name: 'Discard' }).click();

  await page.getByRole('button', { name: 'Done: take these over' }).click();
  await expect(verdict(page)).toContainText('In balance');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText(/Saved as revision 2/)).toBeVisible();
  const rows = await ask<{ changes: string }>(
    "SELECT r.changes FROM rig_revisions r JOIN rigs g ON g.id = r.rig_id WHERE g.name = '200 mm astrograph' AND r.number = 2",
  );
  expect(JSON.stringify(rows[0]!.changes)).toContain('redo.balance');
});

test(
  'one stack for both configurations, after the guide side was given its spacer; then the shadow is cured',
  { tag: '@thorough' },
  async ({ browser }) => {
    const page = await person(browser, 'odalys', '200 mm astrograph');
    await visit(page, '/bench/train');
    await expect(verdict(page)).toContainText('1.83 mm short');
    await page.getByRole('button', { name: 'Find stacks' }).click();
    await expect(page.getByTestId('stacks')).toContainText('guide camera needs 1.6 mm more on its own side');

    await visit(page, '/bench/off-axis');
    await expect(verdict(page)).toContainText('cannot focus');
    await page.getByLabel('Spacers, guide side').fill('3');
    await expect(page.getByText(/Guide focuser at .* brings both cameras to focus/).first()).toBeVisible();
    await expect(page.getByTestId('symptoms')).toContainText('move it 1.4 mm outward');

    // the prism is moved with the keyboard, then by the button
    const prism = page.getByRole('slider', { name: /^Prism/ });
    await prism.focus();
    await page.keyboard.press('Shift+ArrowUp');
    await expect(prism).toHaveAttribute('aria-valuenow', '10');
    await page.getByRole('button', { name: 'Move it out until it is clear' }).click();
    await expect(page.getByTestId('prism')).toContainText('0 %');
    await expect(verdict(page)).toContainText('No shadow');
    await expect(page.getByTestId('invalidated')).toContainText('guide focus');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(page.getByText(/New train state/)).toBeVisible();

    await visit(page, '/bench/train');
    await page.getByRole('button', { name: 'Find stacks' }).click();
    await page.getByRole('button', { name: 'Put these in' }).first().click();
    await expect(verdict(page)).toContainText('within ±1.00 mm');
    await page.getByRole('button', { name: 'with the 0.7× reducer' }).click();
    await expect(verdict(page)).toContainText('within ±0.60 mm');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(page.getByText(/New train state/).first()).toBeVisible();
    await visit(page, '/bench/cards');
    await expect(page.getByTestId('card')).toContainText('Weights first');
  },
);

test(
  'threads that do not meet are shown and mended; a wrong list of parts is explained',
  { tag: '@thorough' },
  async ({ browser }) => {
    const page = await person(browser, 'odalys', '120 mm triplet');
    await visit(page, '/bench/train');
    await page.getByRole('combobox', { name: 'Front of camera, face to sensor' }).click({ force: true });
    await page
      .locator('.ant-select-dropdown:visible .ant-select-item-option')
      .filter({ hasText: 'M48x0.75 female' })
      .click();
    await expect(verdict(page)).toContainText('does not meet');
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect(verdict(page)).not.toContainText('does not meet');

    await visit(page, '/club/equipment');
    await page.getByTestId('parts-file').setInputFiles({
      name: 'p.csv',
      mimeType: 'text/csv',
      buffer: Buffer.from('name,mass_kg,length_mm\nM54 spacer 12 mm,0.03,12\nbroken,much,1\n'),
    });
    await expect(page.getByText('1 part added, 1 rows left out.')).toBeVisible();
    await expect(page.getByTestId('bad-parts')).toContainText('massKg');
    await page.getByRole('button', { name: 'Put away' }).first().click();
    await expect(page.getByText(/is part of|is put away/).first()).toBeVisible();
  },
);

test('the focuser’s reach is worked out in daylight, for a ridge too', { tag: '@thorough' }, async ({ browser }) => {
  const page = await person(browser, 'mirela', '120 mm triplet');
  await visit(page, '/bench/focuser');
  await expect(verdict(page)).toContainText('In focus with the drawtube out');
  await page.getByLabel('Its distance').fill('300');
  await expect(page.getByText(/2\.36\smm/)).toBeVisible();
  await page.getByRole('textbox', { name: 'Travel', exact: true }).fill('3');
  await expect(verdict(page)).toContainText('at least twice the margin');
});

test(
  'the chosen unit is shown, any unit is read, and what is stored stays the same',
  { tag: '@thorough' },
  async ({ browser }) => {
    const page = await person(browser, 'teun', '250 mm Newtonian');
    await visit(page, '/bench/rigs');
    const mass = page.getByTestId('parts').getByLabel('Mass').first();
    await expect(mass).toHaveValue('13.8');
    await page.getByRole('button', { name: 'mm · kg · °C' }).click();
    await expect(mass).toHaveValue('30.42');
    // sentences and pictures too
    await expect(verdict(page)).toContainText(/\d\slb on a mount rated for \d+\slb/);
    await visit(page, '/bench/balance');
    await expect(verdict(page)).toContainText('in·lb');
    await expect(page.getByTestId('steps')).toContainText(/\d\sin\b/);
    await visit(page, '/bench/rigs');
    await mass.fill('31 lb');
    await mass.press('Enter');
    await page.getByRole('button', { name: 'in · lb · °F' }).click();
    await expect(mass).toHaveValue('14.06');
    await page.getByRole('button', { name: 'Discard' }).click();
    await expect(mass).toHaveValue('13.8');
  },
);
