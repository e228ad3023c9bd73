import { readFile } from 'node:fs/promises';
import { unzipSync } from 'fflate';
import { readStl } from '../packages/core/src/formats/index.ts';
import { topology, volume, weldExact } from '../packages/core/src/mesh/index.ts';
import { judge } from '../packages/core/testing/judges.ts';
import { bring, choose, computed, drop, enter, expect, float, go, messages, saved, test } from './fixtures.ts';

/** The mesh of a binary STL after an exact weld. */
function meshOf(bytes: Uint8Array) {
  const { positions, corners } = weldExact(readStl(bytes).parts[0].positions);
  return { positions, triangles: corners, tags: new Uint32Array(corners.length / 3) };
}

test('a model becomes checked files: printer, seams, pins, a mended finding, export', async ({ page, app }) => {
  await drop(page, app, float, 'Harbour float.stl');
  await choose(page.getByRole('combobox', { name: 'Printer' }), /^Desktop 180/);
  await expect(page.getByText('2.4 printers tall')).toBeVisible();

  await go(page, 'Seams');
  const shelf = page.getByRole('region', { name: 'Shelf of pieces' });
  await expect(shelf).toContainText('1 piece, 0 fit');
  const addAcrossZ = page.getByRole('button', { name: 'Add a seam across z', exact: true });
  await addAcrossZ.click();
  await expect(shelf).toContainText('2 pieces, 0 fit');
  await page.getByLabel('Position along z').fill('420/2-60-210');
  await page.getByLabel('Position along z').press('Enter');
  await expect(shelf).toContainText('2 pieces, 1 fit');
  await addAcrossZ.click();
  const slider = page.getByRole('slider', { name: /^Position of Across z/ });
  await slider.focus();
  await expect(shelf).toContainText('3 pieces');
  for (let i = 0; i < 30; i++) {
    if ((await shelf.getByText('3 fit').count()) > 0) break;
    await slider.press('Shift+ArrowDown');
    await saved(page);
    await computed(page);
  }
  await expect(shelf).toContainText('3 pieces, 3 fit');

  await go(page, 'Joints');
  const findings = page.getByRole('list', { name: 'Findings' });
  const faces = page.getByRole('list', { name: 'Mating faces' }).getByRole('button', { name: /^A\d to A\d/ });
  const mind = findings.getByText('Mind.');
  await expect(faces).toHaveCount(2);
  await choose(page.getByLabel('Kind to add'), 'pin');
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await choose(page.getByLabel('Outline'), 'round');
  await expect(findings).toContainText('lets the two pieces turn');
  await findings.getByRole('button', { name: 'Make it hexagonal' }).click();
  await expect(mind).toHaveCount(0);
  await faces.nth(1).click();
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  const pin = page.getByRole('button', { name: /^Pin j2 at/ });
  await expect(pin).toBeVisible();
  await page.getByLabel('At u').fill('200');
  await page.getByLabel('At u').press('Enter');
  await expect(findings).toContainText('off every mating face');
  await findings.getByRole('button', { name: /onto the face/ }).click();
  await expect(findings.getByText('Stop.')).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'Nothing to mend' })).toBeVisible();
  await page.getByRole('radio', { name: 'own', exact: true }).click();
  const gap = page.getByLabel('Own gap per side');
  await gap.fill('0.25');
  await gap.press('Enter');
  await expect(page.getByText('Peg 10.00, socket 10.50 mm')).toBeVisible();
  await saved(page);

  await go(page, 'Pieces');
  await expect(page.getByRole('row')).toHaveCount(4);
  await expect(page.getByText(/^3 pieces, 3 fit, about \d+ h \d\d, \d+ g$/)).toBeVisible();
  await page.getByRole('button', { name: 'Export pieces' }).first().click();
  await page.getByRole('button', { name: 'Write 3 pieces' }).click();
  const link = page.getByRole('link', { name: 'Save harbour-float.zip' });
  await expect(link).toBeVisible();
  const [download] = await Promise.all([page.waitForEvent('download'), link.click()]);
  const files = unzipSync(new Uint8Array(await readFile(await download.path())));
  const names = Object.keys(files).sort();
  expect(names).toEqual([
    'harbour-float/harbour-float-a1-lower.stl',
    'harbour-float/harbour-float-a2-middle.stl',
    'harbour-float/harbour-float-a3-upper.stl',
    'harbour-float/pieces.csv',
  ]);
  let sum = 0;
  for (const name of names.slice(0, 3)) {
    const mesh = meshOf(files[name]);
    expect(topology(mesh).watertight).toBe(true);
    const said = judge(mesh);
    expect(said.status).toBe('NoError');
    sum += said.volume;
  }
  // two hexagonal pins: 10 mm across flats, 10 deep with half a millimetre of lead-in; sockets wider by the gap, 10.3 deep
  const hexagon = (flats: number): number => (Math.sqrt(3) / 2) * flats ** 2;
  const peg = hexagon(10) * 9.5 + (0.5 / 3) * (hexagon(10) + hexagon(9) + Math.sqrt(hexagon(10) * hexagon(9)));
  const expected = volume(meshOf(float)) + 2 * peg - hexagon(10.4) * 10.3 - hexagon(10.5) * 10.3;
  expect(Math.abs(sum / expected - 1)).toBeLessThan(1e-6);
});

test('a piece with a stop finding is left out unless it is ticked', async ({ page, app }) => {
  await bring(page, app, float);
  await page.getByRole('button', { name: 'Export pieces' }).click();
  const dialog = page.getByRole('dialog', { name: 'Export pieces' });
  await expect(dialog).toContainText('One piece has a stop finding and is left out');
  await expect(dialog.getByRole('button', { name: 'Write 0 pieces' })).toBeDisabled();
  await dialog.getByRole('checkbox', { name: /A1/ }).check();
  await dialog.getByRole('radio', { name: 'one 3MF' }).click();
  await dialog.getByRole('button', { name: 'Write 1 piece' }).click();
  await expect(dialog.getByRole('link', { name: /^Save/ })).toBeVisible();
  await page.keyboard.press('Escape');
  // what can be done with a piece is offered where it stands
  await go(page, 'Seams');
  const card = page.getByRole('region', { name: 'Shelf of pieces' }).getByRole('button', { name: /^A1/ });
  await card.click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Set it aside, not made' }).click();
  await expect(card).toContainText('set aside');
  await saved(page);
});

test('every change survives reload, restart and kill, and can be undone and redone after', async ({
  page,
  ownApp: app,
}) => {
  await bring(page, app, float);
  await go(page, 'Seams');
  await page.getByRole('button', { name: 'Add a seam across z', exact: true }).click();
  const position = page.getByLabel('Position along z');
  for (const x of ['20', '35']) {
    await position.fill(x);
    await position.press('Enter');
  }
  await saved(page);
  await page.reload();
  await expect(position).toHaveValue('35');
  await app.stop('SIGKILL');
  await app.start();
  await page.reload();
  await expect(position).toHaveValue('35');
  await page.keyboard.press('Control+z');
  await expect(position).toHaveValue('20');
  await saved(page);
  await page.keyboard.press('Control+Shift+Z');
  await expect(position).toHaveValue('35');
  await saved(page);
  await page.getByRole('link', { name: 'Projects' }).click();
  await page.getByRole('link', { name: /^Open/ }).click();
  await go(page, 'Seams');
  await expect(position).toHaveValue('35');
  await position.fill('12');
  await position.press('Enter');
  await saved(page);
  await page.reload();
  await expect(position).toHaveValue('12');
});

test('a worker that the browser ends is started anew, and the plan stays as it was', async ({ page, app }) => {
  await bring(page, app, float);
  await go(page, 'Seams');
  await page.getByRole('button', { name: 'Add a seam across z', exact: true }).click();
  const shelf = page.getByRole('region', { name: 'Shelf of pieces' });
  await expect(shelf).toContainText('2 pieces');
  await saved(page);
  // as when there is no memory left: nothing is said, the worker is gone
  for (const worker of page.workers()) await worker.evaluate(() => close()).catch(() => {});
  await page.getByRole('button', { name: 'Add a seam across z', exact: true }).click();
  await expect(shelf).toContainText('3 pieces');
  await computed(page);
  await page.keyboard.press('Control+Z');
  await expect(shelf).toContainText('2 pieces');
  await saved(page);
});

test('changes that cannot be saved stay on the screen, and leaving them asks first', async ({ page, app }) => {
  await bring(page, app, float);
  await go(page, 'Seams');
  await page.route('**/plan', (route) => route.abort());
  await page.getByRole('button', { name: 'Add a seam across z', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Not saved, try again' })).toBeVisible();
  await expect(page.getByRole('region', { name: 'Shelf of pieces' })).toContainText('2 pieces');
  await page.getByRole('link', { name: 'Projects' }).click();
  const question = page.getByRole('alertdialog', { name: 'Your last changes are not saved' });
  await expect(question.getByRole('button', { name: 'Stay' })).toBeFocused();
  await page.unroute('**/plan');
  await page.keyboard.press('Enter');
  await saved(page);
  await page.getByRole('link', { name: 'Projects' }).click();
  await expect(page.getByRole('link', { name: /^Open/ })).toBeVisible();
});

test('what is no model is refused in words, a truncated one is offered, an open one is shown and not cut', async ({
  page,
  app,
}) => {
  await page.goto(app.base);
  await expect(page.getByText('No project yet')).toBeVisible();
  const file = page.getByLabel('Model file');
  const give = (name: string, buffer: Buffer) => file.setInputFiles({ name, mimeType: 'model/stl', buffer });
  await give('tide-table.stl', Buffer.from('High water at six.'));
  await expect(page.getByText('tide-table.stl is no STL model')).toBeVisible();
  await give('half.stl', Buffer.from(float.subarray(0, 100_000)));
  await expect(page.getByText(/breaks off at byte 100000/)).toBeVisible();
  await page.getByRole('button', { name: 'Take the whole triangles' }).click();
  await expect(page.getByRole('heading', { name: 'Model', level: 1 })).toBeVisible();
  await expect(page.getByText('open', { exact: true })).toBeVisible();
  await expect(page.getByRole('list', { name: 'Findings' })).toContainText('is not closed');
  await expect(page.getByText(/are lost/)).toBeVisible();
});

test('projects are renamed, duplicated and deleted, and a deleted one comes back', async ({ page, app }) => {
  await bring(page, app, float, 'a/b "buoy" 🐚.stl');
  await page.getByRole('link', { name: 'Projects' }).click();
  const name = page.getByRole('textbox', { name: /^Name of/ });
  await expect(name).toHaveCount(1);
  await name.fill('Buoy');
  await name.press('Enter');
  await expect(page.getByRole('link', { name: 'Open Buoy' })).toBeVisible();
  await page.getByRole('button', { name: 'Duplicate Buoy' }).click();
  await expect(page.getByRole('link', { name: 'Open Buoy copy' })).toBeVisible();
  await page.getByRole('button', { name: 'Delete Buoy copy' }).click();
  await expect(page.getByRole('link', { name: 'Open Buoy copy' })).toHaveCount(0);
  const said = messages(page).getByRole('listitem').filter({ hasText: 'Buoy copy was deleted.' });
  await said.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('link', { name: 'Open Buoy copy' })).toBeVisible();
});

test('everything is within reach of the keyboard: stations, palette, help, pins', async ({ page, app }) => {
  const errors: string[] = [];
  page.on('console', (m) => m.type() === 'error' && errors.push(m.text()));
  await bring(page, app, float);
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: 'Command' }).fill('seam z');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Seams', level: 1 })).toBeVisible();
  await expect(page.getByRole('region', { name: 'Shelf of pieces' })).toContainText('2 pieces');
  await page.keyboard.press('3');
  await enter(page.getByRole('button', { name: 'Add', exact: true }));
  const pin = page.getByRole('button', { name: /^Key j1 at/ });
  await pin.focus();
  const before = await pin.getAttribute('aria-label');
  await pin.press('Shift+ArrowRight');
  await saved(page);
  await expect(pin).not.toHaveAttribute('aria-label', before ?? '');
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Help' })).toContainText('Ctrl Shift Z');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  expect(errors).toEqual([]);
});
