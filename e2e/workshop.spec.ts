import { writeStlBinary } from '../packages/core/src/formats/index.ts';
import { box } from '../packages/core/testing/shapes.ts';
import { bring, choose, computed, enter, expect, go, makePrintable, messages, saved, test } from './fixtures.ts';

test('a bed is printed, one piece fails and is made again, the rest is joined; a change of what is printed is asked about first; by keyboard', async ({
  page,
  app,
}) => {
  await bring(page, app, writeStlBinary(box([0, 0, 0], [400, 60, 60]), 'yard'), 'Tide yard.stl');
  await makePrintable(page);
  await page.keyboard.press('Escape');
  await saved(page);
  await go(page, 'Workshop');
  const tally = page.getByRole('list', { name: 'Tally' });
  const ledger = page.getByRole('region', { name: 'Workshop' });
  await expect(ledger).toContainText('0 of 2 printed');
  const next = page.getByRole('region', { name: 'What comes next' });
  await expect(next).toContainText(/print Bed 1, \d/);

  // all that is to be printed, bed by bed
  while ((await tally.getByRole('button', { name: /^Start / }).count()) > 0) {
    const left = await tally.getByRole('button', { name: /^Start / }).count();
    await enter(tally.getByRole('button', { name: /^Start / }).first());
    await expect(tally.getByRole('button', { name: /^Start / })).toHaveCount(left - 1);
  }
  const first = tally.getByRole('slider', { name: 'How far A1 is' });
  await expect(first).toHaveAttribute('aria-valuetext', 'printing');

  // one fails at 40 mm
  await enter(tally.getByRole('button', { name: /^A1 / }));
  const details = page.getByRole('region', { name: 'Details' });
  const height = details.getByLabel('Height at which it failed');
  await height.focus();
  await page.keyboard.press('Control+A');
  await page.keyboard.type('40');
  await page.keyboard.press('Enter');
  await enter(details.getByRole('button', { name: 'It failed, print it again' }));
  await expect(tally).toContainText('failed at 40 mm');
  await expect(first).toHaveAttribute('aria-valuetext', 'to print');
  // the lower part could be kept; this time it is not
  await expect(details.getByRole('button', { name: 'Save the rest' })).toBeVisible();
  await expect(details).toContainText('The lower 38 mm are good');
  await first.press('ArrowRight');
  await first.press('ArrowRight');
  await expect(first).toHaveAttribute('aria-valuetext', 'printed');
  await saved(page);

  // the others together
  await page.getByRole('checkbox', { name: 'Tick A2' }).press('Space');
  await choose(page.getByRole('combobox', { name: 'Set the ticked to' }), 'printed');
  await enter(page.getByRole('button', { name: 'Set', exact: true }));
  await expect(ledger).toContainText('2 of 2 printed');
  await enter(next.getByRole('button', { name: 'Step 1 is joined' }));
  await expect(ledger).toContainText('2 joined');
  await expect(page.getByRole('region', { name: 'What happened' })).toContainText('A1 failed at 40 mm');
  await saved(page);

  // it is all there after a reload, and undone like any change
  await page.reload();
  await expect(ledger).toContainText('2 joined', { timeout: 60_000 });
  await page.keyboard.press('Control+z');
  await expect(ledger).toContainText('0 joined');
  await saved(page);

  // a change of what was printed is told before it is made, and not made
  await go(page, 'Seams');
  const along = page.getByRole('slider', { name: /^Position of / }).first();
  const asked = page.getByRole('alertdialog', { name: 'This changes 2 printed pieces' });
  const place = await along.getAttribute('aria-valuenow');
  const nudge = async (): Promise<void> => {
    await along.focus();
    await along.press('ArrowUp');
    await expect(asked).toBeVisible({ timeout: 60_000 });
    await expect(asked).toContainText(/A1, printed on/);
  };
  await nudge();
  await page.keyboard.press('Escape');
  await expect(asked).toBeHidden();
  await expect(along).toHaveAttribute('aria-valuenow', place ?? '');
  // nothing of it leaves the two as they are
  await nudge();
  await enter(asked.getByRole('button', { name: 'Leave them as printed' }));
  await expect(messages(page)).toContainText('leaves them as printed, so it was not done');
  await expect(along).toHaveAttribute('aria-valuenow', place ?? '');
  // made all the same, both are to be printed again
  await nudge();
  await enter(asked.getByRole('button', { name: 'Do it, and print them again' }));
  await expect(along).not.toHaveAttribute('aria-valuenow', place ?? '');
  await saved(page);
  await computed(page);
  await go(page, 'Workshop');
  await expect(ledger).toContainText('0 of 2 printed');
  await expect(page.getByRole('region', { name: 'What happened' })).toContainText('changed, made again');
});

test('beds are sent to a printer: one fails at 40 %, its lower part is kept and the rest printed, and all is joined; by keyboard', async ({
  page,
  app,
}) => {
  test.setTimeout(300_000);
  await bring(page, app, writeStlBinary(box([0, 0, 0], [400, 60, 60]), 'yard'), 'Tide yard.stl');
  await makePrintable(page);
  await page.keyboard.press('Escape');
  await saved(page);
  await go(page, 'Workshop');
  const ledger = page.getByRole('region', { name: 'Workshop' });
  await expect(ledger).toContainText('0 of 2 printed');
  await enter(page.getByRole('button', { name: 'How they are simulated' }));
  const time = page.getByRole('combobox', { name: 'Time' });
  await time.focus();
  await choose(time, 'an hour in a second');
  const fails = page.getByLabel(/^The next print fails at/);
  await fails.focus();
  await page.keyboard.press('Control+A');
  await page.keyboard.type('40');
  await page.keyboard.press('Enter');

  const send = page.getByRole('button', { name: /^Send Bed \d to its printer$/ });
  const happened = page.getByRole('region', { name: 'What happened' });
  await enter(send.first());
  await expect(page.getByRole('list', { name: 'Printers' })).toContainText(/heats|prints|free/);
  await expect(messages(page)).toContainText(/Bed 1 failed on/, { timeout: 60_000 });
  await expect(happened).toContainText(/failed at \d+ mm: the printer failed/);
  await saved(page);

  // what was printed can be had again, as it was
  const tally = page.getByRole('list', { name: 'Tally' });
  await enter(tally.getByRole('button', { name: /failed at \d+ mm/ }).first());
  const details = page.getByRole('region', { name: 'Details' });
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    details.getByRole('link', { name: 'Its bed as it was printed' }).press('Enter'),
  ]);
  expect(file.suggestedFilename()).toBe('Bed 1 as printed.zip');

  await enter(details.getByRole('button', { name: 'Save the rest' }));
  await expect(ledger).toContainText(/1 of [34] printed/, { timeout: 60_000 });
  await saved(page);
  // both parts go on under the code of the piece; the one that is missing has a bed already
  await expect(tally.getByRole('slider', { name: /^How far A\da is$/ })).toHaveAttribute('aria-valuetext', 'printed');
  await expect(tally.getByRole('slider', { name: /^How far A\db is$/ })).toHaveAttribute('aria-valuetext', 'to print');
  await expect(tally).toContainText(/Start Bed \dA\db /);
  const counts = async (): Promise<[number, number]> => {
    const found = /(\d+) of (\d+) printed/.exec((await ledger.textContent()) ?? '');
    return [Number(found?.[1]), Number(found?.[2])];
  };
  await expect(ledger).toContainText(/of \d+ printed/, { timeout: 60_000 });
  for (let [made, of] = await counts(); made < of; [made, of] = await counts()) {
    // what comes next is reckoned anew after each print
    await expect(send.first()).toBeVisible({ timeout: 60_000 });
    await enter(send.first());
    await expect.poll(async () => (await counts())[0], { timeout: 60_000 }).toBeGreaterThan(made);
    await saved(page);
  }
  const [, all] = await counts();

  // step by step it is joined: each joins two parts
  const joined = page.getByRole('button', { name: /^Step \d is joined$/ });
  for (let step = 1; step < all; step++) {
    await expect(joined.first()).toBeVisible({ timeout: 60_000 });
    const label = await joined.first().getAttribute('aria-label');
    await enter(joined.first());
    await expect(page.getByRole('button', { name: label ?? '', exact: true })).toHaveCount(0);
  }
  await expect(ledger).toContainText(`${all} joined`);
  await saved(page);
});

test('a printed piece keeps its code, its name and its state through ten edits beside it', async ({ page, app }) => {
  await bring(page, app, writeStlBinary(box([0, 0, 0], [400, 60, 60]), 'yard'), 'Tide yard.stl');
  await go(page, 'Seams');
  const add = page.getByRole('button', { name: 'Add a seam across x', exact: true });
  const shelf = page.getByRole('region', { name: 'Shelf of pieces' });
  await add.click();
  await expect(shelf).toContainText('2 pieces');
  await add.click();
  await expect(shelf).toContainText('3 pieces');
  await saved(page);
  await computed(page);
  await go(page, 'Workshop');
  const tally = page.getByRole('list', { name: 'Tally' });
  const codes = async (): Promise<(string | null)[]> =>
    (await tally.getByRole('slider').evaluateAll((all) => all.map((x) => x.getAttribute('aria-label')))).sort();
  const printed = tally.getByRole('slider', { name: 'How far A2 is' });
  const row = tally.getByRole('button', { name: /^A2 / });
  await expect(row).toBeVisible({ timeout: 60_000 });
  const name = await row.textContent();
  for (const state of ['printing', 'printed']) {
    await printed.press('ArrowRight');
    await expect(printed).toHaveAttribute('aria-valuetext', state);
  }
  await saved(page);
  const before = await codes();
  await go(page, 'Seams');
  // the seam that the printed piece does not lie on, to and fro, and a cut that is taken back
  const slider = page.getByRole('slider', { name: /^Position of / });
  const seams = page.getByRole('list', { name: 'Seams in order' }).getByRole('button', { name: /^Across x/ });
  await seams.first().click();
  const project = `${app.base}/api/projects/${page.url().split('/p/')[1].split('/')[0]}`;
  const revision = async () => ((await (await fetch(project)).json()) as { revision: number }).revision;
  const asked = page.getByRole('alertdialog', { name: /^This changes/ });
  // the seam that the printed piece lies at is asked about, the other one is moved to and fro
  for (let moved = 0; moved < 10; ) {
    const was = await revision();
    await slider.focus();
    await slider.press(moved % 2 ? 'ArrowUp' : 'ArrowDown');
    const over = async () => (await asked.count()) > 0 || (await revision()) !== was;
    await expect.poll(over, { timeout: 30_000 }).toBe(true);
    if ((await asked.count()) > 0) {
      await page.keyboard.press('Escape');
      await expect(asked).toHaveCount(0);
      await seams.nth(1).click();
    } else moved++;
    await expect(asked).toHaveCount(0);
    await saved(page);
  }
  await computed(page);
  await go(page, 'Workshop');
  await expect(row).toBeVisible({ timeout: 60_000 });
  expect(await codes()).toEqual(before);
  expect(await row.textContent()).toContain(name?.slice(0, 10) ?? '');
  await expect(printed).toHaveAttribute('aria-valuetext', 'printed');
});
