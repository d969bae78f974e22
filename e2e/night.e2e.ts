import { expect } from '@playwright/test';
import { SEASON } from './season.ts';
import { ask, choose, chooseRig, killServer, person, settled, signIn, task, test, verdict, visit } from './people.ts';

const good = (text: string | null) => Number(/(\d+) good frames/.exec(text ?? '')?.[1] ?? 0);

test('from bench to the next morning: balance, focus runs, a plan, its rehearsal, the project’s progress', async ({
  page,
}) => {
  await page.goto('/night');
  await expect(page).toHaveURL(/sign-in/);
  await signIn(page, 'teun', 'not the password');
  await expect(page.getByRole('alert')).toContainText('Name or password is wrong');
  await page.getByLabel('Password').fill('larkmoor-nights');
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(page).toHaveURL(/\/night/);
  await chooseRig(page, '120 mm triplet');

  await test.step('bench: the rig is back-heavy; the moves are carried out and saved', async () => {
    await page.keyboard.press('1');
    await task(page, 'Balance');
    await expect(verdict(page)).toContainText('Back-heavy');
    await expect(page.getByTestId('steps')).toContainText('slide the tube 53 mm forward');
    await page.getByRole('button', { name: 'Done: take these over' }).click();
    await expect(verdict(page)).toContainText('In balance');
    await page.keyboard.press('s');
    await expect(page.getByText(/Saved as revision 2/)).toBeVisible();
    await task(page, 'Rigs');
    await page.getByRole('tab', { name: 'History (2)' }).click();
    await expect(page.getByTestId('history')).toContainText('bar at mark 177 mm');
  });

  await test.step('morning: a bad focus log is explained, a good one stored, offsets adopted', async () => {
    await page.keyboard.press('4');
    await task(page, 'Focus runs');
    const file = (name: string, text: string) => ({ name, mimeType: 'text/csv', buffer: Buffer.from(text) });
    await page.getByTestId('file').setInputFiles(file('wrong.csv', 'when,how much\n1,2\n'));
    await expect(page.getByTestId('bad-rows')).toContainText('no column is taken for filter and position');
    await page
      .getByTestId('file')
      .setInputFiles(
        file(
          'log.csv',
          'filter,position,temperature,time\nL,12550,2.1,2026-11-20T19:00:00Z\nR,oops,2.0,\nG,12552,1.9,2026-11-20T19:20:00Z\n',
        ),
      );
    await expect(page.getByTestId('bad-rows')).toContainText('“oops” is not a number');
    await page.getByRole('button', { name: /Store 2 runs/ }).click();
    await expect(page.getByText('2 runs stored')).toBeVisible();
    await page.getByRole('button', { name: /^Adopt for/ }).click();
    await expect(verdict(page)).toContainText('by Teun Achterberg');
  });

  const { triplet } = SEASON;
  let before: Record<string, number> = {};
  const done = async () => {
    const rows = await ask<{ filter: string; n: string }>(
      `SELECT f.filter, SUM(f.accepted) AS n FROM frames f JOIN projects p ON p.id = f.project_id JOIN runs r ON r.id = f.run_id JOIN project_goals g ON g.project_id = p.id AND g.filter = f.filter AND g.exposure_s = f.exposure_s WHERE p.object = '${triplet.object}' AND r.state = 'accepted' AND r.kind <> 'rehearsed' GROUP BY f.filter`,
    );
    return Object.fromEntries(rows.map((r) => [r.filter, Number(r.n)]));
  };
  let counted = 0;
  await test.step('night: the lane of an object, its plan, two ways compared, saved', async () => {
    before = await done();
    await page.keyboard.press('3');
    await page.keyboard.press(']');
    await expect(verdict(page)).toContainText('dark hours');
    await page.getByRole('button', { name: new RegExp(`^${triplet.object}:`) }).click();
    await expect(page.getByTestId('object')).toContainText(triplet.title);
    await expect(page.getByTestId('scan')).toContainText(/1[34],\d{3} objects/);
    await page.getByRole('button', { name: 'Plan this' }).click();
    await expect(verdict(page)).toContainText('frames');
    await expect(page.getByText('Offsets for')).toBeVisible();
    await page.getByRole('button', { name: 'Compare with another way' }).click();
    await page.getByText('Every change', { exact: true }).click();
    await expect(verdict(page)).toContainText(/open.shutter/);
    await page.getByRole('button', { name: 'Drop B' }).click();
    const start = page.getByLabel('Start', { exact: true });
    await start.fill('half past');
    await start.press('Enter');
    await expect(page.getByText('A time such as 21:45')).toBeVisible();
    await start.fill(triplet.start);
    await start.press('Enter');
    await page.getByLabel('End', { exact: true }).fill(triplet.end);
    await page.getByLabel('End', { exact: true }).press('Enter');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(page.getByText('Plan saved.')).toBeVisible();
  });

  await test.step('run: rehearsed twice with one seed it is one night; accepted it is counted', async () => {
    await page.getByRole('link', { name: 'Rehearse it' }).click();
    await expect(verdict(page)).toContainText('not rehearsed yet');
    await page.getByLabel('Seed').fill('77');
    await page.getByRole('button', { name: 'Rehearse', exact: true }).click();
    await expect(verdict(page)).toContainText('good frames');
    const first = await verdict(page).textContent();
    const again = page.waitForResponse((r) => r.url().endsWith('/rehearsals') && r.request().method() === 'POST');
    await page.getByRole('button', { name: 'Rehearse again' }).click();
    expect((await again).ok()).toBe(true);
    await settled(page);
    expect(await verdict(page).textContent()).toBe(first);
    expect(await done()).toEqual(before);
    await page.getByRole('button', { name: /^Accept/ }).click();
    await expect(page.getByText('Counted. The project’s progress')).toBeVisible();
    counted = good(first);
  });

  const sum = (r: Record<string, number>) => Object.values(r).reduce((s, n) => s + n, 0);
  const after = await done();
  expect(sum(after) - sum(before)).toBe(counted);
  expect(counted).toBeGreaterThan(3);

  await test.step('season: the progress stands, and still stands after the server was killed', async () => {
    await page.getByRole('link', { name: 'See the project' }).click();
    for (const f of triplet.filters)
      await expect(page.locator(`[data-done^="${f} "]`)).toHaveText(String(after[f] ?? 0));
    await killServer(page);
    await page.reload();
    for (const f of triplet.filters)
      await expect(page.locator(`[data-done^="${f} "]`)).toHaveText(String(after[f] ?? 0));
  });

  await test.step('the next night asks for what is missing', async () => {
    await page.keyboard.press(']');
    await page.keyboard.press(']');
    await page.getByRole('link', { name: 'Plan a night' }).click();
    await expect(page.getByRole('radio', { name: 'Lagging' })).toBeChecked();
    const total = page.getByTestId('frames');
    await expect(total).toContainText('together');
  });
});

test(
  'exposures follow the camera, become goals, and the plan says what cloud would leave of them',
  { tag: '@thorough' },
  async ({ browser }) => {
    const page = await person(browser, 'odalys', '120 mm triplet');
    await visit(page, '/night/exposures');
    const filters = page.getByTestId('filters');
    const atLeast = async () =>
      parseFloat((await filters.getByRole('row').filter({ hasText: 'Ha' }).getByRole('cell').nth(3).textContent())!);
    // the sky over the project is known: before it is, the zenith’s is taken
    await expect(verdict(page)).toContainText(/read noise adds at most.*Over /);
    const before = await atLeast();
    await test.step('another read noise, kept with the rig', async () => {
      await page.getByLabel('Read noise', { exact: true }).fill('3.2');
      await page.getByLabel('Read noise', { exact: true }).press('Enter');
      // twice the noise asks for four times the light
      await expect.poll(atLeast).toBeGreaterThan(3.5 * before);
      await page.getByRole('button', { name: 'Save', exact: true }).click();
      await expect(page.getByText('Saved as revision')).toBeVisible();
      await page.reload();
      await expect.poll(atLeast).toBeGreaterThan(3.5 * before);
    });
    await test.step('a nonsense figure is refused with its range, and what stood there stays', async () => {
      await page.getByLabel('Quantum efficiency').fill('180');
      await page.getByLabel('Quantum efficiency').press('Enter');
      await expect(page.getByText('At most 100 %')).toBeVisible();
      await page.getByLabel('Quantum efficiency').fill('');
      await page.getByLabel('Quantum efficiency').press('Enter');
    });
    await test.step('hours become the goals of a project', async () => {
      await choose(page, 'Over', SEASON.triplet.object);
      await choose(page, 'Palette', SEASON.triplet.filters.length > 3 ? 'LRGB' : 'SHO');
      await page.getByRole('button', { name: /^Make these the goals of/ }).click();
      await expect(page.getByText('has these goals now')).toBeVisible();
    });
    await test.step('two thousand nights are played through the plan, and another order is taken', async () => {
      await task(page, 'Plan');
      await choose(page, 'Project', SEASON.triplet.object);
      const risk = page.getByTestId('risk');
      await risk.getByRole('button', { name: /^Play/ }).click();
      await expect(risk.getByRole('row').filter({ hasText: 'rolling' })).toContainText('%', { timeout: 30_000 });
      await expect(risk.getByText(/of the nights have something in every filter/)).toBeVisible();
      const other = risk
        .getByRole('row')
        .filter({ has: page.getByRole('button', { name: 'Take it' }) })
        .first();
      const order = (await other.getByRole('cell').first().textContent())!.trim();
      await other.getByRole('button', { name: 'Take it' }).click();
      // the nights that were played still hold: only which of them is planned has changed
      await expect(risk.getByRole('row').filter({ hasText: order })).toContainText('planned');
    });
  },
);

test(
  'two on one rig: the overlap is refused with name and hours, and nothing typed is lost',
  { tag: '@thorough' },
  async ({ browser }) => {
    const { rig, objects, start, end } = SEASON.shared;
    const mirela = await person(browser, 'mirela', rig);
    const sefu = await person(browser, 'odalys', rig);
    for (const [page, object] of [
      [mirela, objects[0]],
      [sefu, objects[1]],
    ] as const) {
      await task(page, 'Plan');
      await choose(page, 'Project', object);
      await expect(verdict(page)).toContainText('frames');
      await page.getByLabel('Start', { exact: true }).fill(start);
      await page.getByLabel('Start', { exact: true }).press('Enter');
      await page.getByLabel('End', { exact: true }).fill(end);
      await page.getByLabel('End', { exact: true }).press('Enter');
    }
    await mirela.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(mirela.getByText('Plan saved.')).toBeVisible();
    // the other one is told where they sit, without asking, and what they typed stands
    const notice = sefu.getByTestId('notice');
    await expect(notice).toContainText('Mirela Costin has just changed what is planned on');
    await expect(sefu.getByLabel('End', { exact: true })).toHaveValue(end);
    await notice.getByRole('button', { name: 'Put this away' }).click();
    await expect(notice).toHaveCount(0);
    await sefu.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(sefu.getByText(`Mirela Costin has planned ${objects[0]} on this rig`)).toBeVisible();
    await expect(sefu.getByLabel('End', { exact: true })).toHaveValue(end);
  },
);

test('a stale save shows both sides; the person decides', { tag: '@thorough' }, async ({ browser }) => {
  const [a, b] = [
    await person(browser, 'odalys', '250 mm Newtonian'),
    await person(browser, 'teun', '250 mm Newtonian'),
  ];
  for (const page of [a, b]) {
    await visit(page, '/bench/rigs');
    await expect(page.getByTestId('parts')).toBeVisible();
  }
  const mass = (page: typeof a) => page.getByTestId('parts').getByLabel('Mass').first();
  await mass(a).fill('14.1 kg');
  await mass(b).fill('30 lb');
  await mass(b).press('Enter');
  await a.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(a.getByText(/Saved as revision 2/)).toBeVisible();
  await b.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(b.getByRole('dialog')).toContainText('Odalys Brandt saved version 2');
  await expect(b.getByTestId('conflict')).toContainText('14.1');
  await expect(b.getByTestId('conflict')).toContainText('13.6');
  await b.getByRole('button', { name: 'Keep mine and save over it' }).click();
  await expect(b.getByText(/Saved as revision 3/)).toBeVisible();
});

test('without connection the draft is kept, survives a reload, and is saved when it is back', async ({ browser }) => {
  const page = await person(browser, 'sefu', '250 mm Newtonian');
  await visit(page, '/season');
  await page.getByRole('row', { name: /Sefu/ }).getByRole('button', { name: 'NGC 253', exact: true }).click();
  await page.context().setOffline(true);
  await expect(page.getByText('No connection.')).toBeVisible();
  await page.getByLabel('Goal of L').fill('333');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('The server does not answer')).toBeVisible();
  await page.context().setOffline(false);
  await page.reload();
  await page.getByRole('row', { name: /Sefu/ }).getByRole('button', { name: 'NGC 253', exact: true }).click();
  await expect(page.getByText(/Unsaved draft of .* restored/)).toBeVisible();
  await expect(page.getByLabel('Goal of L')).toHaveValue('333');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('Project saved.')).toBeVisible();
});

test('a guest looks on: every field is closed, nothing can be saved', { tag: '@thorough' }, async ({ browser }) => {
  const page = await person(browser, 'ines', '120 mm triplet');
  await visit(page, '/bench/rigs');
  await expect(page.getByText('Guests may look, not change.')).toBeVisible();
  await expect(page.getByTestId('parts').getByLabel('Mass').first()).toBeDisabled();
  await visit(page, '/night/plan');
  await expect(page.getByRole('button', { name: 'Save', exact: true })).toBeDisabled();
  await visit(page, '/season');
  await expect(page.getByRole('button', { name: 'Start a project' })).toHaveCount(0);
});

test('a project for an object found by name, planned from the list', async ({ browser }) => {
  const page = await person(browser, 'mirela', '120 mm triplet');
  await page.keyboard.press('/');
  await page.getByLabel('Find a screen, rig, project or object').fill('ic 5146');
  await expect(page.getByRole('option').first()).toContainText('IC 5146');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog', { name: 'Start a project' })).toBeVisible();
  await page.getByRole('button', { name: 'Start it' }).click();
  await expect(page.getByTestId('project')).toContainText('IC 5146');
});

test(
  'two targets in one night: added, bound to the sky, minded by the Moon, moved by the keyboard, rehearsed leg by leg',
  { tag: '@thorough' },
  async ({ browser }) => {
    const page = await person(browser, 'odalys', '120 mm triplet');
    // loaded anew: under a clock that stands still the rig's list may stay open over what is pressed next
    await page.goto('/night');
    await expect(verdict(page)).toContainText('dark');
    for (let k = 0; k < 5; k++) await page.keyboard.press(']');
    await expect(page.getByTestId('cloud-lane')).toContainText('invented');
    await task(page, 'Plan');
    const { triplet, second } = SEASON;
    await choose(page, 'Project', triplet.object);
    const outline = page.getByTestId('outline');
    const rows = outline.getByRole('listitem');
    await expect(rows).toHaveText([/Opening/, new RegExp(triplet.object), /Closing/, /Watches/]);
    await test.step('the first ends by the clock, the second follows as long as it stands free', async () => {
      await page.getByLabel('End', { exact: true }).fill(triplet.end);
      await page.getByLabel('End', { exact: true }).press('Enter');
      await choose(page, 'Add a leg', second);
      await expect(rows).toHaveText([/Opening/, new RegExp(triplet.object), new RegExp(second), /Closing/, /Watches/]);
      await choose(page, 'Ends', 'while it stands free');
      await expect(page.getByTestId('leg').getByText(/^\d\d:\d\d$/)).toBeVisible();
      await expect(verdict(page)).toContainText('in 2 legs');
    });
    await test.step('the Moon shuts a filter, and lets it go', async () => {
      const before = await rows.nth(2).textContent();
      await page.getByText('Moon: no filter minds it').click();
      await choose(page, 'Moon rule of Ha', 'only while the Moon is down');
      await expect(rows.nth(2)).not.toHaveText(before!);
      await choose(page, 'Moon rule of Ha', 'whatever the Moon does');
      await expect(rows.nth(2)).toHaveText(before!);
    });
    await test.step('Alt with an arrow moves a leg, undo brings it back', async () => {
      await rows.nth(2).getByRole('button').first().focus();
      await page.keyboard.press('Alt+ArrowUp');
      await expect(rows.nth(1)).toContainText(second);
      await page.getByRole('button', { name: 'Undo' }).click();
      await expect(rows.nth(2)).toContainText(second);
    });
    await test.step('a leg is dragged onto the other in the picture: their order changes, undo brings it back', async () => {
      const bar = (object: string) =>
        page
          .locator('svg g.name')
          .filter({ has: page.locator('title', { hasText: object }) })
          .first();
      const [from, to] = [(await bar(second).boundingBox())!, (await bar(triplet.object).boundingBox())!];
      await page.mouse.move(from.x + from.width / 2, from.y + 6);
      await page.mouse.down();
      await page.mouse.move(to.x + to.width / 3, to.y + 6, { steps: 6 });
      await page.mouse.up();
      await expect(rows.nth(1)).toContainText(second);
      await page.getByRole('button', { name: 'Undo' }).click();
      await expect(rows.nth(1)).toContainText(triplet.object);
    });
    await test.step('a transit takes its hours from the first, which goes on afterwards; then it is undone', async () => {
      const before = await rows.allTextContents();
      await rows.nth(2).getByRole('button').first().click();
      await page.getByText('Fixed hours', { exact: true }).click();
      for (const [side, label, at] of [
        ['Begins', 'Start', SEASON.transit.start],
        ['Ends', 'End', SEASON.transit.end],
      ] as const) {
        await choose(page, side, 'at a time');
        await page.getByLabel(label, { exact: true }).fill(at);
        await page.getByLabel(label, { exact: true }).press('Enter');
      }
      // what is left of its hours when no whole frame fits any more goes back to the others
      const { start, end } = SEASON.transit;
      const minuteBefore = new Date(Date.parse(`2026-01-01T${end}Z`) - 60_000).toISOString().slice(11, 16);
      const done = `(?:${end}|${minuteBefore})`;
      await expect(rows.nth(2)).toContainText(new RegExp(`${start}–${done}`));
      await expect(rows.nth(1)).toContainText(new RegExp(`–${start}.*${done}–`));
      while ((await rows.allTextContents()).join() !== before.join())
        await page.getByRole('button', { name: 'Undo' }).click();
    });
    await test.step('the opening waits for its twilight', async () => {
      await rows.first().getByRole('button').click();
      await page.getByLabel('cool takes').fill('25');
      await page.getByLabel('cool takes').press('Enter');
      await expect(rows.first()).toContainText('cool');
      await page.getByRole('button', { name: 'Save', exact: true }).click();
      await expect(page.getByText('Plan saved.')).toBeVisible();
    });
    await test.step('a rehearsal works both, and says so', async () => {
      await page.getByRole('link', { name: 'Rehearse it' }).click();
      await expect(page.getByText('2 legs', { exact: true })).toBeVisible();
      await page.getByRole('button', { name: 'Rehearse', exact: true }).click();
      await expect(verdict(page)).toContainText('good frames');
      const came = page.getByTestId('came');
      await expect(came.getByRole('row').filter({ hasText: triplet.object })).toBeVisible();
      await expect(came.getByRole('row').filter({ hasText: second })).toBeVisible();
    });
  },
);

test(
  'a protected plan: the steward closes fields, a member uses it on another night and finds only what is open',
  { tag: '@thorough' },
  async ({ browser }) => {
    const steward = await person(browser, 'odalys', '120 mm triplet');
    // loaded anew: under a clock that stands still the rig's list may stay open over what is pressed next
    await steward.goto('/night');
    await expect(verdict(steward)).toContainText('dark');
    for (let k = 0; k < 7; k++) await steward.keyboard.press(']');
    await task(steward, 'Plan');
    const { object } = SEASON.triplet;
    await choose(steward, 'Project', object);
    const protect = steward.getByTestId('protect');
    await protect.getByText('Protect: nothing is closed').click();
    for (const field of ['Order', 'Focus', 'Dither', 'Opening', 'Closing', 'Watches', 'Guiding and flip'])
      await protect.getByRole('checkbox', { name: field }).click();
    await steward.getByLabel('Why Order is closed').fill('cloud comes without warning here');
    await steward.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(steward.getByText('Plan saved.')).toBeVisible();

    const member = await person(browser, 'mirela', '120 mm triplet');
    await member.goto('/night');
    await expect(verdict(member)).toContainText('dark');
    for (let k = 0; k < 9; k++) await member.keyboard.press(']');
    await task(member, 'Plan');
    await choose(member, 'Project', object);
    await expect(member.getByRole('radio', { name: 'Lagging' })).toHaveCount(1);
    await choose(member, 'Use a protected plan', object);
    await expect(member.getByTestId('open')).toContainText(
      'Yours to set: targets, hours, filters and goals, exposures.',
    );
    await expect(member.getByTestId('closed')).toContainText('Kept by Odalys Brandt');
    await expect(member.getByTestId('closed')).toContainText('cloud comes without warning here');
    await expect(member.getByRole('radio', { name: 'Lagging' })).toHaveCount(0);
    await member.getByLabel(`Exposure of ${SEASON.triplet.filters[0]}`).fill('200');
    await member.getByLabel(`Exposure of ${SEASON.triplet.filters[0]}`).press('Enter');
    await member.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(member.getByText('Plan saved.')).toBeVisible();

    await steward.reload();
    await expect(verdict(steward)).toBeVisible();
    for (let k = 0; k < 8; k++) await steward.keyboard.press(']');
    await steward.keyboard.press(']');
    await choose(steward, 'Project', object);
    await expect(steward.getByTestId('made-from')).toContainText(
      /Made from Odalys Brandt’s plan of .*; changed: exposures\./,
    );
  },
);
