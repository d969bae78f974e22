export default async function (page, port) {
  const light = process.env.LIGHT ?? 'day';
  await page.addInitScript((l) => localStorage.setItem('keen.light', l), light);
  await page.goto(`http://127.0.0.1:${port}/sign-in`);
  await page.getByLabel('Sign-in name').fill('odalys');
  await page.getByLabel('Password').fill('larkmoor-nights');
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await page.waitForSelector('[data-test=verdict]');
  await page.goto(`http://127.0.0.1:${port}/season/board`);
  await page.getByRole('button', { name: 'Work out the coming nights' }).click({ timeout: 15000 }).catch(async (e) => { console.log(e.message.slice(0, 200)); await page.screenshot({ path: '/tmp/look0.png' }); });
  await page.getByText('Finished by', { exact: false }).first().waitFor({ timeout: 30000 }).catch(() => console.log('no board'));
  await page.waitForTimeout(800);
  await page.screenshot({ path: '/tmp/look1.png', fullPage: true });
  const slots = page.locator('[data-slot]');
  console.log('slots', await slots.count());
  await slots.nth(30).click();
  await page.waitForTimeout(300);
  await page.screenshot({ path: '/tmp/look2.png' });
  await page.getByRole('button', { name: 'Give it' }).first().click();
  await page.getByTestId?.('cost');
  await page.locator('[data-test=cost]').waitFor({ timeout: 60000 });
  await page.waitForTimeout(500);
  await page.screenshot({ path: '/tmp/look3.png' });
}
