import { readFile } from 'node:fs/promises';
import { writeStlBinary } from '../packages/core/src/formats/index.ts';
import { concatenate } from '../packages/core/src/mesh/index.ts';
import { box } from '../packages/core/testing/shapes.ts';
import { bring, choose, computed, enter, expect, go, makePrintable, saved, test } from './fixtures.ts';

test('the order of a beam in four is proposed, changed by hand, blocked and mended, run in the view, and written as a sheet, by keyboard', async ({
  page,
  app,
}) => {
  await bring(page, app, writeStlBinary(box([0, 0, 0], [800, 60, 60]), 'beam'), 'Harbour beam.stl');
  await makePrintable(page);
  await page.keyboard.press('Escape');
  await saved(page);
  await go(page, 'Assembly');
  const list = page.getByRole('list', { name: 'Steps of joining' });
  await expect(list.getByRole('listitem')).toHaveCount(3);

  await enter(page.getByRole('button', { name: 'Propose an order' }));
  const proposed = page.getByRole('region', { name: 'Order as it would be' });
  await expect(proposed.getByRole('row', { name: /one after the other/ })).toContainText('2');
  await enter(proposed.getByRole('button', { name: 'Take this order' }));
  await saved(page);
  await computed(page);
  await expect(page.getByRole('img', { name: '4 pieces joined in 3 steps' })).toBeVisible();

  // the last step's second pair is to come to the first step instead: the beam is joined one by one
  const last = list.getByRole('listitem').nth(2);
  await enter(last.getByRole('button').last());
  const details = page.getByRole('region', { name: 'Details' });
  await expect(details).toContainText('Step 3');
  const moment = page.getByRole('slider', { name: 'Moment of the build' });
  await expect(moment).toHaveAttribute('aria-valuetext', '2 of 3 steps done');
  await moment.focus();
  await moment.press('End');
  await expect(moment).toHaveAttribute('aria-valuetext', '3 of 3 steps done');
  await enter(page.getByRole('button', { name: 'Play the build' }));
  await expect(moment).toHaveAttribute('aria-valuetext', '1 of 3 steps done', { timeout: 15_000 });
  await enter(page.getByRole('button', { name: 'Stop' }));

  // a middle piece joined after both its neighbours has no way in
  const first = list.getByRole('listitem').first();
  await enter(first.getByRole('button').last());
  await expect(details).toContainText('Step 1');
  await choose(details.getByRole('combobox', { name: 'Join A2' }), 'after step 3');
  await saved(page);
  await computed(page);
  await expect(list.getByRole('listitem').last()).toContainText('A2 to A1, A3 and 1 more');
  const findings = page.getByRole('list', { name: 'Findings' });
  await expect(findings).toContainText('cannot be drawn apart along this');
  await page.keyboard.press('Control+z');
  await saved(page);
  await computed(page);
  await expect(findings).toHaveCount(0);

  await choose(details.getByRole('combobox', { name: 'Closed by' }), /^weld/);
  await saved(page);
  await computed(page);
  await expect(list).toContainText('weld');
  await enter(page.getByRole('button', { name: 'Assembly sheet' }));
  await expect(page.getByRole('radio', { name: 'assembly sheet' })).toBeChecked();
  await enter(page.getByRole('button', { name: 'Write the sheet' }));
  const link = page.getByRole('link', { name: 'Save Harbour-beam-assembly.pdf' });
  await expect(link).toBeVisible({ timeout: 60_000 });
  const [download] = await Promise.all([page.waitForEvent('download'), link.press('Enter')]);
  const pdf = await readFile(await download.path());
  expect(pdf.subarray(0, 5).toString()).toBe('%PDF-');
  expect(pdf.toString('latin1').match(/\/Subtype \/Image/g)!.length).toBe(3 + 2);
});

test('a figure gets one of two heads: joints for both at once, each in its files, either put on, by keyboard', async ({
  page,
  app,
}) => {
  const figure = concatenate([
    box([0, 0, 0], [60, 60, 100]),
    box([5, 5, 100], [55, 55, 150]),
    box([10, 8, 100], [50, 52, 170]),
  ]);
  await bring(page, app, writeStlBinary(figure, 'reeve'), 'Reeve.stl');
  // the heads are in each other
  await enter(page.getByRole('button', { name: 'Put on one or the other' }));
  await expect(page.getByRole('button', { name: 'Put on one or the other' })).toHaveCount(0);
  await saved(page);
  await go(page, 'Joints');
  await expect(page.getByRole('button', { name: /^A1 to B1 or C1/ })).toBeVisible();
  await enter(page.getByRole('button', { name: 'Seat joints' }));
  await expect(page.getByRole('button', { name: /^A1 to B1 or C1 touching \d joints?/ })).toBeVisible();
  await saved(page);
  await computed(page);
  await go(page, 'Pieces');
  const rows = page.getByRole('table', { name: 'Pieces' }).getByRole('row');
  await expect(rows.filter({ hasText: 'B1' })).not.toContainText('no joint');

  await go(page, 'Assembly');
  const steps = page.getByRole('list', { name: 'Steps of joining' });
  await expect(steps.getByRole('listitem')).toHaveCount(1);
  await expect(steps).toContainText('B1');
  await choose(page.getByLabel('Which is on'), /3$/);
  await expect(steps).toContainText('C1');
  await expect(steps).not.toContainText('B1');
  await enter(page.getByRole('button', { name: 'Undo' }));
  await expect(steps).toContainText('B1');
});
