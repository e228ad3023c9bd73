import { readFile } from 'node:fs/promises';
import { unzipSync } from 'fflate';
import { lantern } from '../demo/models.ts';
import { makeFrame, splitByPlane } from '../packages/core/src/cut/index.ts';
import { readModel, writeStlBinary } from '../packages/core/src/formats/index.ts';
import { bounds, type IndexedMesh, topology, weldExact } from '../packages/core/src/mesh/index.ts';
import { kernelTriangulator, loadKernel } from '../packages/core/src/solid/index.ts';
import { blob } from '../packages/core/testing/shapes.ts';
import { bring, computed, expect, go, saved, test } from './fixtures.ts';

type Page = Parameters<typeof computed>[0];

const measured = async (page: Page): Promise<void> => {
  await computed(page);
  await expect(page.getByText('being measured')).toHaveCount(0);
};

/** A pebble that has to lie on something round. */
const pebble = writeStlBinary(
  blob(24, 32, 60, () => 40),
  'tide pebble',
);

/** The STL files of pieces, written and saved. */
async function written(page: Page): Promise<Map<string, IndexedMesh>> {
  await page.getByRole('button', { name: 'Export pieces' }).first().click();
  await page.getByRole('button', { name: /^Write 2 pieces/ }).click();
  const link = page.getByRole('link', { name: /^Save .*\.zip$/ });
  await expect(link).toBeVisible();
  const [download] = await Promise.all([page.waitForEvent('download'), link.click()]);
  const files = unzipSync(new Uint8Array(await readFile(await download.path())));
  return new Map(
    Object.entries(files)
      .filter(([name]) => name.endsWith('.stl'))
      .map(([name, bytes]) => {
        const { positions, corners } = weldExact(readModel(bytes, { name }).parts[0].positions);
        return [name, { positions, triangles: corners, tags: new Uint32Array(corners.length / 3) }];
      }),
  );
}

/** The lantern above its lamp house, without its ring. */
async function roof(): Promise<IndexedMesh> {
  const kernel = await loadKernel();
  const whole = lantern(kernel);
  const mesh = { ...whole, tags: new Uint32Array(whole.triangles.length / 3) };
  const at = (m: IndexedMesh, z: number) =>
    splitByPlane(m, makeFrame([0, 0, z], [0, 0, 1]), 0, kernelTriangulator(kernel));
  return at(at(mesh, 440).above[0], 535).below[0];
}

test('poses of the lantern’s cap are compared, and its code is engraved into the files', async ({ page, app }) => {
  await bring(page, app, writeStlBinary(await roof(), 'roof'), 'Lantern roof.stl');
  await go(page, 'Seams');
  await page.getByRole('button', { name: 'Add a seam across z', exact: true }).click();
  const place = page.getByLabel('Position along z', { exact: true });
  await place.fill('485');
  await place.press('Enter');
  await saved(page);
  await go(page, 'Pieces');
  await page.getByRole('button', { name: 'A2', exact: true }).click();
  const strip = page.getByRole('list', { name: 'Poses of A2' });
  const poses = strip.getByRole('button', { name: /^Pose \d: .*support [\d.]+ cm³/ });
  await expect(poses.nth(3)).toBeVisible();
  const labels = await poses.evaluateAll((all) => all.map((b) => b.getAttribute('aria-label') ?? ''));
  const supports = labels.map((l) => Number(/support ([\d.]+) cm³/.exec(l)?.[1]));
  const least = supports.indexOf(0);
  // it stands on its cut; upside down, and on its sides, it needs support
  expect(labels[least]).toMatch(/on its face at|as modelled/);
  expect(supports.filter((x) => x > 1).length).toBeGreaterThan(2);
  await poses.nth(least).click();
  await saved(page);
  await measured(page);
  await expect(poses.nth(least)).toHaveAttribute('aria-pressed', 'true');

  await page.getByRole('tab', { name: 'all' }).click();
  await page.getByRole('switch', { name: 'Engrave codes on mating faces' }).click();
  await saved(page);
  await measured(page);
  await expect(page.getByText('Every piece with a mating face carries its code')).toBeVisible();
  const files = await written(page);
  expect(files.size).toBe(2);
  for (const mesh of files.values()) {
    expect(topology(mesh).watertight).toBe(true);
    const { min, max } = bounds(mesh.positions);
    // floors of the letters lie 0.4 mm behind the cut, of either piece on its own side
    const floor = Math.abs(min[2] - 485) < 0.01 ? min[2] + 0.4 : max[2] - 0.4;
    const sunk = mesh.positions.filter((z, i) => i % 3 === 2 && Math.abs(z - floor) < 1e-3);
    expect(sunk.length).toBeGreaterThan(20);
  }
});

test('a show face is marked where supports would stand, and the piece is laid on another side', async ({
  page,
  app,
}) => {
  await bring(page, app, pebble, 'Tide pebble.stl');
  await go(page, 'Pieces');
  await page.getByRole('button', { name: 'A1', exact: true }).click();
  await measured(page);
  const strip = page.getByRole('list', { name: 'Poses of A1' });
  await strip.getByRole('button', { name: /^Pose 1: / }).click();
  await saved(page);
  await measured(page);
  await expect(strip.getByRole('button', { name: /^Pose 1: / })).toHaveAttribute('aria-pressed', 'true');
  await page.getByRole('tab', { name: 'show' }).click();
  await page.getByRole('radio', { name: 'brush' }).click();
  await page.getByLabel('Radius of the brush').fill('30');
  await page.getByLabel('Radius of the brush').press('Enter');
  await page.getByRole('toolbar', { name: 'Look from' }).getByRole('button', { name: 'under' }).click();
  await page.getByRole('button', { name: 'Mark faces' }).click();
  await expect(page.getByText('Pick a place, or drag over it, to mark it.')).toBeVisible();
  await page.getByRole('application').focus();
  // beside the very corner on which it stands
  await page.keyboard.press('Alt+ArrowRight');
  await page.keyboard.press('Alt+ArrowUp');
  await page.keyboard.press('Enter');
  await saved(page);
  await expect(page.getByText(/^\d+\.\d cm² marked$/)).toBeVisible();
  await page.keyboard.press('Escape');
  await measured(page);
  // the pose it has is no longer the best
  await expect(strip.getByRole('button', { name: /^Pose 1: / })).toHaveAttribute('aria-pressed', 'false');
  await page.getByRole('tab', { name: 'findings' }).click();
  await expect(page.getByRole('list', { name: 'Findings' })).toContainText('show faces of A1');
  await strip.getByRole('button', { name: /^Pose 1: / }).click();
  await saved(page);
  await measured(page);
  await expect(page.getByText(/show faces of A1/)).toHaveCount(0);
  // in the model it is marked, too, and taken off again there
  await go(page, 'Model');
  await page.getByRole('tab', { name: 'show' }).click();
  await expect(page.getByText(/cm² marked$/)).toBeVisible();
  await page.getByRole('button', { name: 'Unmark all' }).click();
  await expect(page.getByText('none yet')).toBeVisible();
  await page.keyboard.press('Control+Z');
  await expect(page.getByText(/cm² marked$/)).toBeVisible();
});
