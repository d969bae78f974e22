import { expect, type Page } from '@playwright/test';
import { choose, person, task, test, type, verdict, visit } from './people.ts';
import { SEASON } from './season.ts';

const nights = async (page: Page, n: number) => {
  for (let k = 0; k < n; k++) await page.keyboard.press(']');
};
/** Begins a project for an object, with another camera where one is named. */
async function begin(page: Page, object: string, name: string, camera?: string): Promise<void> {
  await visit(page, `/season?object=${encodeURIComponent(object)}`);
  const dialog = page.getByRole('dialog', { name: 'Start a project' });
  await expect(dialog).toBeVisible();
  // the object is found before anything else is typed
  await expect(dialog.locator('p.mono')).toBeVisible();
  if (camera) {
    await dialog.getByRole('combobox', { name: 'Rig' }).click({ force: true });
    await page.locator('.ant-select-dropdown:visible .ant-select-item-option').filter({ hasText: camera }).click();
  }
  await dialog.getByLabel('Name', { exact: true }).fill(name);
  await dialog.getByRole('button', { name: 'Start it' }).click();
  await expect(page.getByTestId('project')).toContainText(object);
}
async function rehearseAndCount(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('Plan saved.')).toBeVisible();
  await page.getByRole('link', { name: 'Rehearse it' }).click();
  await page.getByRole('button', { name: 'Rehearse', exact: true }).click();
  await expect(verdict(page)).toContainText('good frames');
  await page.getByRole('button', { name: /^Accept/ }).click();
  await expect(page.getByText('Counted. The project’s progress')).toBeVisible();
}

test(
  'a mosaic of four panels over two nights: in turns, each panel counts its own, the second night takes what is missing',
  { tag: '@thorough' },
  async ({ browser }) => {
    const page = await person(browser, 'odalys', '120 mm triplet');
    await begin(page, SEASON.mosaic, 'four panels');
    await test.step('framed as two by two, and pinned', async () => {
      await visit(page, '/night/target');
      await choose(page, 'Project', 'four panels');
      await type(page, 'Panels across', '2');
      await type(page, 'Panels down', '2');
      await expect(page.getByTestId('panels').getByRole('row')).toHaveCount(4);
      await page.getByRole('button', { name: /^Pin/ }).first().click();
      await expect(page.getByText('Framing pinned for every night')).toBeVisible();
    });
    const rows = page.getByTestId('outline').getByRole('listitem');
    const counts = async () => {
      await expect(page.getByTestId('panels-done').locator('tbody tr')).toHaveCount(4);
      return (await page.getByTestId('panels-done').locator('tbody tr').allTextContents()).map((t) =>
        [...t.matchAll(/(\d+)\/\d+/g)].reduce((s, m) => s + Number(m[1]), 0),
      );
    };
    const sum = (list: number[]) => list.reduce((s, n) => s + n, 0);
    await test.step('the first night takes the panels in turns', async () => {
      await nights(page, 12);
      await task(page, 'Plan');
      await choose(page, 'Project', 'four panels');
      await expect(rows).toHaveText([/Opening/, /panel 1/, /panel 2/, /panel 3/, /panel 4/, /Closing/, /Watches/]);
      await expect(rows.nth(1)).toContainText('in turns of 30 min');
      await rehearseAndCount(page);
      await page.getByRole('link', { name: 'See the project' }).click();
    });
    const first = await counts();
    expect(first.filter((n) => n > 0).length).toBeGreaterThanOrEqual(3);
    await test.step('the second goes on where each panel stands', async () => {
      await nights(page, 1);
      await page.getByRole('link', { name: 'Plan a night' }).click();
      await expect(rows.nth(1)).toContainText('panel 1');
      await rehearseAndCount(page);
      await page.getByRole('link', { name: 'See the project' }).click();
    });
    await expect.poll(async () => sum(await counts())).toBeGreaterThan(sum(first));
    const second = await counts();
    second.forEach((n, k) => expect(n).toBeGreaterThanOrEqual(first[k]!));
  },
);

test(
  'two cameras on one mount: the second fills the lead’s blocks, both nights count',
  { tag: '@thorough' },
  async ({ browser }) => {
    const page = await person(browser, 'odalys', '250 mm Newtonian');
    await visit(page, '/night');
    await expect(verdict(page)).toBeVisible();
    const lead = await page.getByTestId('object').getByRole('heading').textContent();
    const object = (await page.getByTestId('object').locator('p').first().textContent())!.split(',')[0]!.trim();
    await begin(page, object, 'wide beside it', '135 mm lens');
    await choose(page, 'Imaging system', '250 mm Newtonian');
    await visit(page, '/night/plan');
    await nights(page, 14);
    await choose(page, 'Project', lead!.trim());
    await expect(verdict(page)).toContainText('frames');
    await choose(page, 'Second camera', 'wide beside it');
    const beside = page.getByTestId('follower');
    await expect(beside.getByTestId('idle')).toContainText('waiting for the lead');
    await expect(beside.getByTestId('missed')).toHaveCount(0);
    const wasted = async () =>
      Number(/(\d+)\s*% of its time/.exec((await beside.getByTestId('idle').textContent())!)![1]);
    await beside
      .getByLabel(/Second camera’s exposure/)
      .first()
      .fill('200');
    await beside
      .getByLabel(/Second camera’s exposure/)
      .first()
      .press('Enter');
    const before = await wasted();
    await beside.getByRole('button', { name: 'Take that' }).click();
    await expect(beside).toContainText('fill the');
    expect(await wasted()).toBeLessThanOrEqual(before);
    await rehearseAndCount(page);
    await expect(page.getByTestId('came').getByRole('row').filter({ hasText: '2nd' }).first()).toBeVisible();
    await page.getByRole('tab', { name: 'Second camera' }).click();
    // the second camera’s night is one of its own
    await choose(page, 'Imaging system', '135 mm lens');
    await visit(page, '/morning/night');
    await expect(page.getByText(`beside ${object}`).first()).toBeVisible();
  },
);
