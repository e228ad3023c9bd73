import { readFile } from 'node:fs/promises';
import { unzipSync } from 'fflate';
import { readModel, writeStlBinary } from '../packages/core/src/formats/index.ts';
import { bounds, type IndexedMesh, volume } from '../packages/core/src/mesh/index.ts';
import { box, together } from '../packages/core/testing/shapes.ts';
import { SOLIDS } from '../packages/core/testing/solids.ts';
import { bring, choose, computed, enter, expect, go, saved, test } from './fixtures.ts';

const table = writeStlBinary(SOLIDS.table(), 'tide table');
/** A kit of four blocks and a long board. */
const kit = writeStlBinary(
  together(
    box([0, 0, 0], [60, 50, 40]),
    box([100, 0, 0], [150, 45, 30]),
    box([200, 0, 0], [255, 40, 25]),
    box([300, 0, 0], [340, 60, 35]),
    box([0, 100, 0], [200, 160, 20]),
  ),
  'harbour kit',
);

const measured = async (page: Parameters<typeof computed>[0]): Promise<void> => {
  await computed(page);
  await expect(page.getByText('being measured')).toHaveCount(0);
};

test('poses are compared, and the one without support is taken and taken back', async ({ page, app }) => {
  await bring(page, app, table, 'Tide table.stl');
  await go(page, 'Pieces');
  await page.getByRole('button', { name: 'A1', exact: true }).click();
  const strip = page.getByRole('list', { name: 'Poses of A1' });
  const best = strip.getByRole('button', { name: /^Pose 1: upside down; .*support 0\.0 cm³/ });
  await expect(best).toBeVisible();
  await expect(strip.getByRole('listitem').first().getByRole('img')).toHaveAttribute('aria-label', /height: 40 mm/);
  await measured(page);
  const row = page.getByRole('row', { name: /A1/ });
  await expect(row).toContainText('as modelled');
  await best.click();
  await saved(page);
  await measured(page);
  await expect(row).toContainText('upside down');
  await expect(best).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('Control+Z');
  await measured(page);
  await expect(row).toContainText('as modelled');
});

test('a piece is laid on a face picked on the bed, by keyboard, and turned by a number', async ({ page, app }) => {
  await bring(page, app, table, 'Tide table.stl');
  await go(page, 'Pieces');
  // the table is drawn anew when it is known how its pieces print: a key pressed meanwhile would be lost
  await measured(page);
  await enter(page.getByRole('button', { name: 'A1', exact: true }));
  await measured(page);
  await page.getByRole('tab', { name: 'pose', exact: true }).click();
  const facts = page.getByRole('tabpanel', { name: 'pose' });
  await expect(facts).toContainText('as modelled');
  // looked at from above, the cross is over the table's top
  await page.getByRole('toolbar', { name: 'Look from' }).getByRole('button', { name: 'top' }).click();
  await page.getByRole('button', { name: 'Lay on a picked face' }).click();
  await page.getByRole('application').focus();
  await page.keyboard.press('Enter');
  await saved(page);
  await measured(page);
  await expect(facts).toContainText('set by hand');
  await expect(facts).toContainText('support0.0 cm³');
  await choose(page.getByRole('combobox', { name: 'Turn about' }), 'y');
  await page.getByLabel('By', { exact: true }).fill('90');
  await page.getByLabel('By', { exact: true }).press('Enter');
  await page.getByRole('button', { name: '+90°' }).click();
  await saved(page);
  await measured(page);
  await expect(facts).toContainText('height60.0 mm');
});

test('beds are filled for two printers and two colours, a piece is moved by keys, and the beds are written', async ({
  page,
  app,
}) => {
  await bring(page, app, kit, 'Harbour kit.stl');
  await go(page, 'Pieces');
  await measured(page);
  for (const code of ['A1', 'B1']) await page.getByRole('checkbox', { name: `Pick ${code}` }).click();
  await choose(page.getByRole('region', { name: 'About 2 pieces' }).getByRole('combobox', { name: 'Colour' }), 'blue');
  await saved(page);
  await go(page, 'Beds');
  await page.getByRole('button', { name: 'Use another printer' }).click();
  await page.getByRole('menuitem', { name: /^Small 130/ }).click();
  await saved(page);
  await measured(page);
  await page.getByRole('button', { name: 'Fill beds' }).click();
  await expect(page.getByRole('table', { name: 'Before and after' })).toContainText('on no bed');
  await page.getByRole('button', { name: 'Take these beds' }).click();
  await saved(page);
  await measured(page);
  // blue on the small one, the rest on the small one, the board on the large one
  const beds = page.getByRole('list', { name: 'Beds' }).getByRole('listitem');
  await expect(beds).toHaveCount(3);
  await expect(beds.filter({ hasText: 'Small 130' })).toHaveCount(2);
  await expect(beds.filter({ has: page.getByLabel('colour #1f5673') })).toHaveCount(1);
  await expect(page.getByText('Nothing to mend on this bed.')).toBeVisible();

  const drawing = page.getByRole('group', { name: /drawn from above/ });
  const first = drawing.getByRole('button').first();
  const before = (await first.getAttribute('aria-label'))!;
  await first.focus();
  for (const key of ['Shift+ArrowRight', 'Shift+ArrowRight', 'ArrowUp']) await page.keyboard.press(key);
  await saved(page);
  await expect(first).not.toHaveAttribute('aria-label', before);
  const nudged = (await first.getAttribute('aria-label'))!;
  const x = page.getByRole('region', { name: 'Details' }).getByLabel('x', { exact: true });
  await first.press('Enter');
  await x.fill('200');
  await x.press('Enter');
  await expect(first).toHaveAttribute('aria-label', /lies badly/);
  await saved(page);
  await measured(page);
  await expect(page.getByRole('list', { name: 'Findings' })).toContainText(/beyond what|lie over/);
  await page.keyboard.press('Control+Z');
  await expect(first).toHaveAttribute('aria-label', nudged);
  await measured(page);

  await page.getByRole('button', { name: 'Export beds' }).click();
  await expect(page.getByRole('radio', { name: 'on their beds' })).toBeChecked();
  await page.getByRole('button', { name: 'Write 3 beds' }).click();
  const link = page.getByRole('link', { name: 'Save harbour-kit.zip' });
  await expect(link).toBeVisible();
  const [download] = await Promise.all([page.waitForEvent('download'), link.click()]);
  const files = unzipSync(new Uint8Array(await readFile(await download.path())));
  const models = Object.keys(files).filter((n) => n.endsWith('.3mf'));
  expect(models).toHaveLength(3);
  expect(Object.keys(files).filter((n) => n.endsWith('.png'))).toHaveLength(3);
  const parts = models.flatMap((n) => [...readModel(files[n], { name: n }).parts]);
  expect(parts).toHaveLength(5);
  let sum = 0;
  for (const part of parts) {
    const mesh: IndexedMesh = {
      positions: Float64Array.from(part.positions),
      triangles: part.triangles!,
      tags: new Uint32Array(part.triangles!.length / 3),
    };
    expect(Math.abs(bounds(mesh.positions).min[2])).toBeLessThan(0.01);
    sum += volume(mesh);
  }
  expect(Math.abs(sum / (60 * 50 * 40 + 50 * 45 * 30 + 55 * 40 * 25 + 40 * 60 * 35 + 200 * 60 * 20) - 1)).toBeLessThan(
    1e-5,
  );
});

test('how a printer prints is set for a material, and timed prints change what is estimated', async ({
  page,
  ownApp: app,
}) => {
  await page.goto(`${app.base}/printers`);
  await page.getByRole('button', { name: /^Desktop 220/ }).click();
  const sheet = page.getByRole('region', { name: 'How it prints' });
  await sheet.getByLabel('Layer', { exact: true }).fill('0.1');
  await sheet.getByLabel('Layer', { exact: true }).press('Enter');
  const timed = page.getByRole('region', { name: 'Timed prints' });
  await timed.getByLabel('Was estimated').fill('2');
  await timed.getByLabel('It took').fill('3');
  await timed.getByLabel('It took').press('Enter');
  await timed.getByRole('button', { name: 'Add this print' }).click();
  await expect(timed).toContainText('1 print: estimates are taken times 1.50');
  await page.getByRole('button', { name: 'Add a place' }).click();
  await expect(page.getByRole('region', { name: 'Kept free' }).getByLabel('Wide')).toHaveValue('20');
  await page.reload();
  await expect(sheet.getByLabel('Layer', { exact: true })).toHaveValue('0.1');

  await bring(page, app, table, 'Tide table.stl');
  await page.getByRole('button', { name: 'Bring up to date with Printers' }).click();
  await saved(page);
  await go(page, 'Pieces');
  await measured(page);
  const row = page.getByRole('row', { name: /A1/ });
  await expect(row).toContainText(/\d+ (h|min)/);
  await go(page, 'Beds');
  await page.getByRole('button', { name: 'Add a bed' }).click();
  await expect(page.getByText('kept free')).toBeVisible();
});
