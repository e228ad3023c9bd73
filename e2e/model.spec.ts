import type { Page } from '@playwright/test';
import { unzipSync, zipSync } from 'fflate';
import { visorSkin } from '../demo/models.ts';
import { type RawModel, type RawPart, writeModel, writeStlBinary } from '../packages/core/src/formats/index.ts';
import type { IndexedMesh } from '../packages/core/src/mesh/index.ts';
import { damaged } from '../packages/core/testing/defects.ts';
import { box, torus } from '../packages/core/testing/shapes.ts';
import { bring, computed, enter, expect, go, saved, test } from './fixtures.ts';

const part = (name: string, mesh: IndexedMesh, paint = 0): RawPart => ({
  name,
  positions: mesh.positions,
  triangles: mesh.triangles,
  paint: new Uint32Array(mesh.tags.length).fill(paint),
});
const model = (parts: RawPart[], palette: RawModel['palette'] = [{ name: '', colour: '' }]): RawModel => ({
  format: 'obj',
  notes: [],
  palette,
  parts,
});

const bodies = (page: Page) => page.getByRole('list', { name: 'Bodies' }).getByRole('listitem');
const tool = (page: Page, name: string) => page.getByRole('tab', { name }).click();
const preview = (page: Page) => page.getByRole('region', { name: 'Preview' });

/** Waits for what a step would do, and takes it. */
async function take(page: Page): Promise<void> {
  await preview(page).getByRole('button', { name: 'Take it' }).click({ timeout: 60_000 });
  await expect(preview(page)).toHaveCount(0);
  await saved(page);
  await computed(page);
}

test('a broken OBJ of many shells is mended, joined and scaled to a wearer', async ({ page, app }) => {
  // a crown: a ring torn and turned in places, four beads stuck into it, and crumbs
  const ring = damaged(
    torus(60, 72, 18, () => 6),
    ['a wide hole', 'turned triangles', 'repeated triangles', 'edges split on one side only', 'dust'],
    5,
  );
  const beads = [0, 1, 2, 3].map((k) => {
    const a = (k / 4) * 2 * Math.PI;
    const [x, y] = [63 * Math.cos(a), 63 * Math.sin(a)];
    return part(`Bead ${k + 1}`, box([x - 3, y - 3, -3], [x + 3, y + 3, 9]));
  });
  const [file] = writeModel(model([part('Crown', ring), ...beads]), 'obj', 'crown');
  await bring(page, app, file.bytes, 'Tide crown.obj');
  await expect(page.getByText('Tide crown.obj, OBJ')).toBeVisible();
  await expect(page.getByRole('list', { name: 'Findings' })).toContainText('is not closed');

  await tool(page, 'health');
  const defects = page.getByRole('list', { name: 'Defects' });
  await expect(defects).toContainText('open edges', { timeout: 30_000 });
  await expect(defects).toContainText('holes');
  await page.getByRole('button', { name: 'Next of open edges' }).click();
  await expect(defects).toContainText(/1 of \d+/);
  await enter(page.getByRole('button', { name: 'Mend all' }));
  await expect(preview(page)).toContainText(/Open edges\s*\d+ → 0/, { timeout: 60_000 });
  await expect(preview(page)).toContainText('What was there has moved by at most');
  await preview(page).getByRole('button', { name: 'Leave it' }).click();
  await expect(page.getByText('The model is as in its file.')).toBeVisible();
  // what is above it comes and goes: by keyboard, so that it is not missed
  await enter(page.getByRole('button', { name: 'Mend all' }));
  await take(page);
  await expect(bodies(page)).toHaveCount(5);
  await expect(bodies(page).getByText('open', { exact: true })).toHaveCount(0);
  await expect(defects).toContainText('pairs of bodies overlapping', { timeout: 30_000 });
  await defects.getByRole('button', { name: 'Join' }).click();
  await take(page);
  await expect(bodies(page)).toHaveCount(1);
  await expect(page.getByRole('list', { name: 'Steps in order' }).getByRole('listitem')).toHaveCount(2);

  await tool(page, 'size');
  await page.getByRole('button', { name: 'take a measure' }).click();
  await page.getByRole('radio', { name: 'inside, as worn' }).click();
  const height = page.getByLabel('At height');
  await height.fill('6');
  await height.press('Enter');
  const wearer = page.getByLabel('Wearer measures');
  await wearer.fill('560');
  await wearer.press('Enter');
  await expect(page.getByText(/560 mm does not pass/)).toBeVisible();
  await page.getByRole('button', { name: 'Scale to fit' }).click();
  await saved(page);
  await computed(page);
  await expect(page.getByText(/560 mm passes with 20\.0 mm to spare/)).toBeVisible();
  await tool(page, 'measure');
  await expect(page.getByRole('list', { name: 'Measures of the wearer' })).toContainText('Head girth');

  // the recipe is a list that can be changed: without the fit the crown has its old size again
  await tool(page, 'size');
  const width = page.getByLabel('Width', { exact: true });
  const fitted = Number(await width.inputValue());
  expect(fitted).toBeGreaterThan(200);
  await page.getByRole('checkbox', { name: /^Fit Head girth/ }).uncheck();
  await expect(width).toHaveValue('132');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(width).toHaveValue(String(fitted));
});

test('a 3MF of three coloured bodies in inches keeps its colours, names and size', async ({ page, app }) => {
  const palette = [
    { name: '', colour: '' },
    { name: 'Tide blue', colour: '#1f5673' },
    { name: 'Weed', colour: '#2c7a66' },
    { name: 'Cut red', colour: '#bf3b26' },
  ];
  const cubes = [0, 1, 2].map((k) =>
    part(['Hull', 'Mast', 'Pennant'][k], box([k * 2, 0, 0], [k * 2 + 1, 1, k + 1]), k + 1),
  );
  const [{ bytes }] = writeModel(model(cubes, palette), '3mf', 'toy');
  await bring(page, app, inInches(bytes), 'Toy boat.3mf');
  await expect(page.getByText('Toy boat.3mf, 3MF, in in')).toBeVisible();
  await expect(bodies(page)).toHaveCount(3);
  await expect(bodies(page).first()).toContainText('Hull');
  await expect(bodies(page).nth(2)).toContainText('25.4 × 25.4 × 76.2 mm');
  await expect(page.getByText('What unit is this in?')).toHaveCount(0);

  // hidden, locked, renamed and dropped, by keyboard
  await bodies(page).nth(1).getByRole('button').first().focus();
  await page.keyboard.press('Enter');
  await bodies(page).nth(1).getByRole('button', { name: 'hide' }).focus();
  await page.keyboard.press('Enter');
  await expect(bodies(page).nth(1)).toContainText('hidden');
  await enter(bodies(page).nth(1).getByRole('button', { name: 'lock', exact: true }));
  await expect(bodies(page).nth(1).getByRole('button', { name: 'drop' })).toBeDisabled();
  await enter(bodies(page).nth(0).getByRole('button').first());
  await enter(bodies(page).nth(0).getByRole('button', { name: 'drop' }));
  await expect(bodies(page)).toHaveCount(2);
  await expect(page.getByRole('list', { name: 'Steps in order' })).toContainText('Drop body b1');
  await saved(page);
  await page.keyboard.press('Control+z');
  await expect(bodies(page)).toHaveCount(3);

  await page.getByRole('button', { name: 'Export pieces' }).click();
  const dialog = page.getByRole('dialog', { name: 'Export pieces' });
  await dialog.getByRole('radio', { name: 'one 3MF' }).click();
  await dialog.getByRole('button', { name: 'Write 3 pieces' }).click();
  await expect(dialog.getByRole('link', { name: /^Save/ })).toBeVisible();
});

test('a skin is given a wall, turned, measured and cut', async ({ page, app }) => {
  // as for a child's mask: a quarter of the surface, and of the time that its wall takes
  const { positions, ...skin } = visorSkin(3);
  const [{ bytes }] = writeModel(model([part('', { ...skin, positions: positions.map((x) => x / 2) })]), 'ply', 'skin');
  await bring(page, app, bytes, 'Heron skin.ply');
  await expect(bodies(page).first()).toContainText('open');
  await tool(page, 'health');
  const defects = page.getByRole('list', { name: 'Defects' });
  await expect(defects).toContainText('openings, plainly meant', { timeout: 30_000 });

  await tool(page, 'solids');
  const thickness = page.getByLabel('Wall thickness');
  await thickness.fill('4');
  await thickness.press('Enter');
  await enter(page.getByRole('button', { name: 'Give the skin a wall' }));
  await expect(preview(page)).toContainText(/Closed\s*0 → 1/, { timeout: 120_000 });
  await expect(preview(page)).toContainText('sampled with cells of');
  await take(page);
  await expect(bodies(page).first()).toContainText('closed');

  // a place is picked by keyboard: under the cross in the middle of the view
  await tool(page, 'measure');
  await page.getByRole('button', { name: 'front', exact: true }).click();
  await enter(page.getByRole('button', { name: 'Wall at a place' }));
  await page.getByRole('application').focus();
  await page.keyboard.press('Enter');
  const wall = page.getByText('Wall', { exact: true }).locator('xpath=following-sibling::dd');
  await expect(wall).toHaveText(/^[34]\.\d\d mm$/);

  await tool(page, 'pose');
  await page.getByRole('button', { name: 'Turn by 15°' }).click();
  await page.getByRole('button', { name: 'Turn by 15°' }).click();
  await saved(page);
  await expect(page.getByRole('list', { name: 'Steps in order' })).toContainText('Turn 30° about z');
  await computed(page);

  await go(page, 'Seams');
  await page.getByRole('button', { name: 'Add a seam across z', exact: true }).click();
  const shelf = page.getByRole('region', { name: 'Shelf of pieces' });
  await expect(shelf).toContainText(/[234] pieces/);
  await computed(page);
  await page.getByRole('slider', { name: /^Position of Across z/ }).press('Shift+ArrowUp');
  await saved(page);
  await computed(page);
  await expect(page.getByRole('button', { name: /mend/ })).not.toContainText('stop');
});

/** The same package with its numbers meant as inches. */
function inInches(bytes: Uint8Array): Uint8Array {
  const files = unzipSync(bytes);
  const text = new TextDecoder().decode(files['3D/3dmodel.model']);
  files['3D/3dmodel.model'] = new TextEncoder().encode(text.replace('unit="millimeter"', 'unit="inch"'));
  return zipSync(files);
}

test('several files come in as one model, and a doubtful unit is asked for', async ({ page, app }) => {
  const cube = (x: number) => writeModel(model([part('', box([x, 0, 0], [x + 1, 1, 2]))]), 'stl', 'x')[0].bytes;
  await page.goto(app.base);
  await page.getByLabel('Model file').setInputFiles([
    { name: 'post.stl', mimeType: 'model/stl', buffer: Buffer.from(cube(0)) },
    { name: 'rail.stl', mimeType: 'model/stl', buffer: Buffer.from(cube(1.5)) },
  ]);
  await expect(page.getByRole('heading', { name: 'Model', level: 1 })).toBeVisible();
  await computed(page);
  await expect(bodies(page)).toHaveCount(2);
  await expect(bodies(page).nth(1)).toContainText('rail');
  await expect(page.getByText('What unit is this in?')).toBeVisible();
  await page.getByRole('button', { name: 'in: 63.5 mm' }).click();
  await expect(page.getByLabel('Width', { exact: true })).toHaveValue('63.5');
  await expect(page.getByText('What unit is this in?')).toHaveCount(0);
  await expect(page.getByRole('list', { name: 'Steps in order' })).toContainText('Numbers are inches');

  // free axes: only the height changes
  await page.getByRole('checkbox', { name: 'All axes scale together' }).uncheck();
  const height = page.getByLabel('Height', { exact: true });
  await height.fill('100');
  await height.press('Enter');
  await saved(page);
  await expect(height).toHaveValue('100');
  await expect(page.getByLabel('Width', { exact: true })).toHaveValue('63.5');

  // a whole project goes out as one file
  await page.goto(app.base);
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: /^Save post and 1 more as one file/ }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('post-and-1-more.gephyra.zip');
});

test('a tube runs through three pieces: a bore is led from place to place, by keyboard, and its length is told', async ({
  page,
  app,
}) => {
  await bring(page, app, writeStlBinary(box([0, 0, 0], [60, 60, 300]), 'mast'), 'Mast.stl');
  await tool(page, 'solids');
  await page.getByLabel('What runs through it').fill('brass tube');
  // in from the side, down the middle, out below
  const places = page.getByRole('list', { name: 'Places of the bore' });
  for (let i = 1; i <= 3; i++) {
    await enter(page.getByRole('button', { name: 'Add a place' }));
    await expect(places.getByRole('listitem')).toHaveCount(i);
  }
  const set = async (label: string, to: string) => {
    const field = places.getByLabel(label, { exact: true });
    await field.fill(to);
    await field.press('Enter');
    await expect(field).toHaveValue(to);
  };
  await set('1 x', '0');
  await set('1 z', '250');
  await set('2 z', '250');
  await set('3 z', '0');
  await enter(page.getByRole('button', { name: 'Bore it' }));
  await expect(preview(page)).toContainText('The route is 274.8 mm long.', { timeout: 60_000 });
  await expect(preview(page)).toContainText(/with at least 25\.\d mm of wall/);
  await take(page);
  const steps = page.getByRole('list', { name: 'Steps in order' });
  await expect(steps).toContainText('Bore 8 mm for brass tube');

  // two seams: what is cut has the hole, joints keep away from it, and the tube is among what is bought
  await go(page, 'Seams');
  const seams = page.getByRole('list', { name: 'Seams in order' });
  for (const [i, z] of ['100', '200'].entries()) {
    await enter(page.getByRole('button', { name: 'Add a seam across z', exact: true }));
    // the new one is chosen, and its place is asked for
    await expect(seams.getByRole('listitem').nth(i).locator('[aria-current="true"]')).toBeVisible();
    const along = page.getByLabel('Position along z');
    await along.fill(z);
    await along.press('Enter');
    await saved(page);
    await computed(page);
  }
  await expect(page.getByRole('region', { name: 'Shelf of pieces' })).toContainText('3 pieces, 3 fit');
  await go(page, 'Joints');
  await enter(page.getByRole('button', { name: 'Seat joints' }));
  await expect(page.getByText('no joint')).toHaveCount(0);
  await saved(page);
  await computed(page);
  await expect(page.getByText(/to stop for/)).toHaveCount(0);
  await expect(page.getByText('brass tube 8').first()).toBeVisible();
  // and told with the step of joining after which it is put in
  await go(page, 'Assembly');
  const joining = page.getByRole('list', { name: 'Steps of joining' });
  await expect(joining.getByRole('listitem').last()).toContainText('then brass tube 8');
  await enter(joining.getByRole('listitem').last().getByRole('button').last());
  await expect(page.getByText(/brass tube 8, 275 mm, through A3, A2 and 1 more/)).toBeVisible();
});
