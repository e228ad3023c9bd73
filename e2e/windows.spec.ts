import { bring, computed, expect, float, go, messages, saved, test } from './fixtures.ts';

test('two windows on one project follow each other, undo and redo with them', async ({ page, app, context }) => {
  await bring(page, app, float);
  await go(page, 'Seams');
  await page.getByRole('button', { name: 'Add a seam across z', exact: true }).click();
  await saved(page);
  const other = await context.newPage();
  await other.goto(page.url());
  const [ours, theirs] = [page, other].map((p) => p.getByLabel('Position along z'));
  await expect(theirs).toBeVisible();
  const settled = () => Promise.all([computed(page), computed(other)]);
  await settled();
  await ours.fill('42');
  await ours.press('Enter');
  await expect(theirs).toHaveValue('42');
  await settled();
  await theirs.fill('77');
  await theirs.press('Enter');
  await expect(ours).toHaveValue('77');
  await settled();
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(theirs).toHaveValue('42');
  await settled();
  await other.getByRole('button', { name: /^Redo/ }).click();
  await expect(ours).toHaveValue('77');
  // the one that has the stream closes: the other has it then
  await page.close();
  const third = await context.newPage();
  await third.goto(other.url());
  await expect(third.getByLabel('Position along z')).toHaveValue('77');
  await theirs.fill('63');
  await theirs.press('Enter');
  await expect(third.getByLabel('Position along z')).toHaveValue('63');
});

test('what is done while the network is cut is made on what the others did meanwhile', async ({
  page,
  app,
  browser,
}) => {
  await bring(page, app, float);
  await go(page, 'Seams');
  await page.getByRole('button', { name: 'Add a seam across z', exact: true }).click();
  await saved(page);
  const far = await browser.newContext();
  const other = await far.newPage();
  await other.goto(page.url());
  await expect(other.getByLabel('Position along z')).toBeVisible();
  const shelves = [page, other].map((p) => p.getByRole('region', { name: 'Shelf of pieces' }));
  await expect(shelves[1]).toContainText('2 pieces');

  await far.setOffline(true);
  let tries = 0;
  other.on('requestfailed', (request) => {
    if (request.method() === 'PUT') tries++;
  });
  await other.getByRole('button', { name: 'Add a seam across x', exact: true }).click();
  await expect(other.getByRole('button', { name: 'Not saved, try again' })).toBeVisible();
  await expect(shelves[1]).toContainText('4 pieces');
  await page.getByRole('button', { name: 'Add a seam across y', exact: true }).click();
  await saved(page);
  await expect(shelves[0]).toContainText('4 pieces');
  // it tries again after 1, 2 and 4 seconds: so long the network is cut at least
  await expect.poll(() => tries, { timeout: 30_000 }).toBeGreaterThanOrEqual(4);
  await far.setOffline(false);
  await saved(other);
  for (const shelf of shelves) await expect(shelf).toContainText('8 pieces');
  await expect(messages(other)).not.toContainText('was not done');
  await expect(messages(other)).not.toContainText('was taken back');
  await far.close();
});
