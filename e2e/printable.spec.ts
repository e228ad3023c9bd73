import { readFile } from 'node:fs/promises';
import { unzipSync } from 'fflate';
import { readModel, writeStlBinary } from '../packages/core/src/formats/index.ts';
import { loadKernel } from '../packages/core/src/solid/index.ts';
import { limbedFigure } from './figure.ts';
import { computed, drop, enter, expect, go, makePrintable, saved, test } from './fixtures.ts';

test('a figure with a hole becomes beds by one button, by keyboard, and step by step it is taken back', async ({
  page,
  app,
}) => {
  const { positions, triangles } = limbedFigure(await loadKernel());
  // one triangle is missing
  const torn = { positions, triangles: triangles.subarray(3) };
  await drop(page, app, writeStlBinary(torn, 'figure'), 'Figure.stl');
  const dialog = await makePrintable(page);
  const steps = dialog.getByRole('list', { name: 'Steps' });
  await expect(steps).toContainText('every body is closed');
  await expect(steps).toContainText(/\d seams, \d pieces/);
  await expect(steps).toContainText(/\d+ joints on (\d) of \1 faces/);
  await enter(dialog.getByRole('link', { name: 'see beds' }));
  await saved(page);
  await computed(page);
  const shelf = page.getByRole('list', { name: 'Beds' });
  await expect(shelf.getByRole('listitem').first()).toBeVisible();

  await enter(page.getByRole('button', { name: 'Export beds' }));
  await enter(page.getByRole('button', { name: /^Write \d beds?$/ }));
  const link = page.getByRole('link', { name: /^Save figure/i });
  await expect(link).toBeVisible();
  const [download] = await Promise.all([page.waitForEvent('download'), link.press('Enter')]);
  const files = unzipSync(new Uint8Array(await readFile(await download.path())));
  const parts = Object.keys(files)
    .filter((n) => n.endsWith('.3mf'))
    .flatMap((n) => [...readModel(files[n], { name: n }).parts]);
  expect(parts.length).toBeGreaterThan(2);

  // that files carry codes, the beds, the poses, the joints, the seams, the mending
  await page.keyboard.press('Escape');
  const undo = page.getByRole('button', { name: /^Undo/ });
  const project = `${app.base}/api/projects/${page.url().split('/p/')[1].split('/')[0]}`;
  const last = async () => ((await (await fetch(project)).json()) as { undo: string | null }).undo;
  for (const label of [
    'Codes are on files',
    'Fill beds',
    'Pose all pieces',
    'Seat joints',
    'Place proposed seams',
    'Mend the model',
  ]) {
    await expect.poll(last).toBe(label);
    await enter(undo);
  }
  await expect.poll(last).toBeNull();
  await expect(undo).toBeDisabled();
  await go(page, 'Model');
  await expect(page.getByRole('region', { name: 'Recipe' })).toContainText('The model is as in its file.');
});
