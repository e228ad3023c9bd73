import type { Locator, Page } from '@playwright/test';
import { anchorInOne, hoop, lantern, visor } from '../demo/models.ts';
import { writeModel, writeStlBinary } from '../packages/core/src/formats/index.ts';
import { loadKernel } from '../packages/core/src/solid/index.ts';
import { meshOfSolid } from '../packages/core/testing/judges.ts';
import { box } from '../packages/core/testing/shapes.ts';
import { limbedFigure } from './figure.ts';
import { bring, choose, computed, expect, go, saved, test } from './fixtures.ts';

// All of it by keyboard: what is pressed is what has the focus.

/** Gives an element the focus and presses a key on it. */
async function press(target: Locator, key = 'Enter'): Promise<void> {
  await target.focus();
  await target.press(key);
}

const shelfOf = (page: Page) => page.getByRole('region', { name: 'Shelf of pieces' });

/** Waits until the last change is saved and its pieces are drawn. */
async function settled(page: Page): Promise<void> {
  await saved(page);
  await computed(page);
}

/** Adds a seam in one of the ways behind “More ways to place”. */
async function way(page: Page, name: string): Promise<void> {
  await press(page.getByRole('button', { name: 'More ways to place' }));
  await press(page.getByRole('list', { name: 'More ways to place' }).getByRole('button', { name, exact: true }));
}

async function type(page: Page, label: string, text: string): Promise<void> {
  const field = page.getByLabel(label, { exact: true });
  await field.focus();
  await page.keyboard.press('Control+A');
  await page.keyboard.type(text);
  await page.keyboard.press('Enter');
}

test('the fluke comes off the anchor by a seam that leaves the shank alone', async ({ page, app }) => {
  await bring(page, app, writeStlBinary(anchorInOne(await loadKernel()), 'anchor'), 'Anchor.stl');
  await go(page, 'Seams');
  const shelf = shelfOf(page);
  await press(page.getByRole('button', { name: 'Add a seam across z', exact: true }));
  await type(page, 'Position along z', '205');
  // below: the arms; above: both flukes and the shank
  await expect(shelf).toContainText('4 pieces');
  await press(page.getByRole('tab', { name: 'regions' }));
  const regions = page.getByRole('list', { name: 'Regions of the section' });
  await expect(regions.getByRole('listitem')).toHaveCount(3);
  await press(page.getByRole('button', { name: 'Cut only region 1' }));
  await expect(shelf).toContainText('2 pieces');
  const boxes = regions.getByRole('checkbox');
  await expect(boxes.nth(0)).toBeChecked();
  await expect(boxes.nth(1)).not.toBeChecked();
  await expect(boxes.nth(2)).not.toBeChecked();
  await expect(shelf).toContainText(/(lower|middle) (left|right)/);
  await expect(page.getByRole('list', { name: 'Seams in order' })).toContainText('1 region only');
  await settled(page);

  // the other fluke too, from the drawing, and back
  await press(page.getByRole('checkbox', { name: /^Region 2, .* in the drawing/ }), 'Space');
  await expect(shelf).toContainText('3 pieces');
  await settled(page);
  await page.keyboard.press('Control+Z');
  await expect(shelf).toContainText('2 pieces');
  await settled(page);

  await press(page.getByRole('tab', { name: 'sides' }));
  await expect(page.getByRole('region', { name: 'How much it shows' })).toContainText('on smooth outer surface');
  await expect(page.getByRole('region', { name: 'The side it points to' })).toContainText('41.6 cm²');
});

test('the hoop is parted in six equal segments by a fan round its rim', async ({ page, app }) => {
  await bring(page, app, writeStlBinary(hoop(), 'hoop'), 'Rope-work hoop.stl');
  await go(page, 'Seams');
  await way(page, 'Fan round a picked rim');
  await expect(page.getByText('Pick the rim, hole or hoop')).toBeVisible();
  // the middle of the view looks through the hoop: the cross goes down onto the rope
  const view = page.getByRole('application');
  await press(view, 'Alt+Shift+ArrowDown');
  await view.press('Alt+Shift+ArrowDown');
  await view.press('Enter');
  const shelf = shelfOf(page);
  await expect(shelf).toContainText('6 pieces');
  await expect(shelf.getByRole('button', { name: /^6 × A1/ })).toBeVisible();
  await settled(page);

  const dial = page.getByRole('slider', { name: /^Turn of/ });
  await press(dial, 'Shift+ArrowRight');
  await expect(dial).toHaveAttribute('aria-valuetext', '10.0 degrees');
  await settled(page);
  await expect(shelf.getByRole('button', { name: /^6 × A1/ })).toBeVisible();
  await press(shelf.getByRole('button', { name: 'each by itself' }));
  await expect(shelf.getByRole('listitem')).toHaveCount(6);
  await type(page, 'Segments', '4');
  await expect(shelf).toContainText('4 pieces');
  await settled(page);

  await go(page, 'Pieces');
  await expect(page.getByText(/^4 × A1, within 0\.0/)).toBeVisible();
});

test('a tilted seam finds the lantern’s neck by its snap', async ({ page, app }) => {
  await bring(page, app, writeStlBinary(lantern(await loadKernel()), 'lantern'), 'Lantern.stl');
  await go(page, 'Seams');
  await press(page.getByRole('button', { name: 'Add a seam across z', exact: true }));
  await expect(shelfOf(page)).toContainText('2 pieces');
  await press(page.getByRole('button', { name: 'Tilt by 5°' }));
  const row = page.getByRole('list', { name: 'Seams in order' });
  await expect(row).toContainText('leans 5.0°');
  await settled(page);
  const slider = page.getByRole('slider', { name: /^Position of Across z/ });
  await slider.focus();
  for (let i = 0; i < 12; i++) {
    const text = (await slider.getAttribute('aria-valuetext')) ?? '';
    if (text.includes('neck')) break;
    await slider.press('PageDown');
    await expect(slider).not.toHaveAttribute('aria-valuetext', text);
  }
  await expect(slider).toHaveAttribute('aria-valuetext', /neck, \d+\.\d cm²/);
  await settled(page);
  const at = Number(await slider.getAttribute('aria-valuenow'));
  expect(at).toBeGreaterThan(295);
  expect(at).toBeLessThan(315);
  await expect(row).toContainText('leans 5.0°');
  await expect(shelfOf(page)).toContainText('2 pieces');
});

test('a grid parts the anchor of 900 mm so that every piece fits', async ({ page, app }) => {
  await bring(page, app, writeStlBinary(anchorInOne(await loadKernel()), 'anchor'), 'Anchor.stl');
  await go(page, 'Seams');
  const shelf = shelfOf(page);
  await expect(shelf).toContainText('1 piece, 0 fit');
  await way(page, 'Grid of seams');
  const place = page.getByRole('button', { name: /^Place \d+ seams/ });
  await expect(place).toBeEnabled();
  await expect(page.getByRole('region', { name: 'Grid of seams' })).toContainText('The box alone would need8');
  await press(place);
  await settled(page);
  const count = Number(/(\d+) pieces/.exec((await shelf.textContent()) ?? '')?.[1]);
  expect(count).toBeGreaterThan(7);
  await expect(shelf).toContainText(`${count} pieces, ${count} fit`);
  await page.keyboard.press('Control+Z');
  await expect(shelf).toContainText('1 piece, 0 fit');
});

test('a drawn line parts the visor under its eyes', async ({ page, app }) => {
  await bring(page, app, writeStlBinary(visor(), 'visor'), 'Heron visor.stl');
  await go(page, 'Seams');
  await way(page, 'Profile line');
  const shelf = shelfOf(page);
  await expect(shelf).toContainText('2 pieces');
  await settled(page);
  const middle = page.getByRole('button', { name: 'Point 3 of 5' });
  const up = page.getByLabel('Point 3 up', { exact: true });
  await press(middle, 'Shift+ArrowDown');
  await expect(up).toHaveValue('-10');
  await settled(page);
  await middle.press('Shift+ArrowDown');
  await expect(up).toHaveValue('-20');
  for (const point of [2, 4]) {
    await settled(page);
    await press(page.getByRole('button', { name: `Point ${point} of 5` }), 'Shift+ArrowDown');
    await expect(page.getByLabel(`Point ${point} up`, { exact: true })).toHaveValue('-10');
  }
  await settled(page);
  await expect(shelf).toContainText('2 pieces');
  await type(page, 'Bend along the sweep', '4');
  await settled(page);
  await expect(shelf).toContainText('2 pieces, 2 fit');
  await expect(page.getByText('On bent faces joints stand on flats.')).toBeVisible();
  await type(page, 'Bend along the sweep', '0');
  await press(page.getByRole('radio', { name: 'straight' }), 'Space');
  await settled(page);
  await expect(page.getByText('Each straight stretch is a flat face and carries joints.')).toBeVisible();
  await go(page, 'Joints');
  await expect(page.getByRole('button', { name: /^A\d to A\d/ }).first()).toBeVisible();
});

test('a groove to fill is laid along a seam: both pieces are bevelled, and the face that is bonded is so much smaller', async ({
  page,
  app,
}) => {
  await bring(page, app, writeStlBinary(box([0, 0, 0], [100, 80, 200]), 'post'), 'Post.stl');
  await go(page, 'Seams');
  await press(page.getByRole('button', { name: 'Add a seam across z', exact: true }));
  await settled(page);
  await press(page.getByRole('tab', { name: 'sides' }));
  const tick = page.getByRole('checkbox', { name: 'bevel the rims of its flat faces' });
  await press(tick, 'Space');
  await expect(tick).toBeChecked();
  await type(page, 'Into the face', '2');
  await settled(page);
  await go(page, 'Joints');
  // 96 × 76 of 100 × 80
  await expect(page.getByText(/73\.0 cm² to bond/)).toBeVisible();
  await press(page.getByRole('button', { name: 'Seat joints' }));
  await expect(page.getByText('no joint')).toHaveCount(0);
  await settled(page);
  await expect(page.getByText(/to stop for/)).toHaveCount(0);
});

test('a hollow post gets a groove to fill outside and a strip to back it inside, which is among the loose parts', async ({
  page,
  app,
}) => {
  const { Manifold } = await loadKernel();
  const hull = Manifold.cylinder(180, 40, 34, 48).subtract(Manifold.cylinder(180, 34, 28, 48).translate([0, 0, 6]));
  await bring(page, app, writeStlBinary(meshOfSolid(hull), 'post'), 'Hollow post.stl');
  await go(page, 'Seams');
  await press(page.getByRole('button', { name: 'Add a seam across z', exact: true }));
  await settled(page);
  await press(page.getByRole('tab', { name: 'sides' }));
  const groove = page.getByRole('checkbox', { name: 'bevel the rims of its flat faces' });
  await press(groove, 'Space');
  await expect(groove).toBeChecked();
  await settled(page);
  const strip = page.getByRole('checkbox', { name: /^bridge it from inside/ });
  await press(strip, 'Space');
  await expect(strip).toBeChecked();
  await expect(page.getByText(/^1 × backing strip 12 wide, 2 thick, up to 0\.\d mm off the wall$/)).toBeVisible();
  await type(page, 'Width', '16');
  await expect(page.getByText(/^1 × backing strip 16 wide/)).toBeVisible();
  await settled(page);
  await expect(page.getByText(/to stop for/)).toHaveCount(0);
  await go(page, 'Joints');
  const loose = page.getByRole('region', { name: 'Loose parts' });
  await expect(loose).toContainText('backing strip 16 wide');
});

test('the visor is parted along a bent line and pinned: flats are found on the bent faces and take joints', async ({
  page,
  app,
}) => {
  const own = visor();
  const large = { ...own, positions: own.positions.map((x) => 2 * x) };
  await bring(page, app, writeStlBinary(large, 'visor'), 'Heron visor.stl');
  await go(page, 'Seams');
  await way(page, 'Profile line');
  await settled(page);
  await expect(page.getByText(/joints need flats worked into them/)).toBeVisible();
  await press(page.getByRole('tab', { name: 'flats' }));
  await press(page.getByRole('button', { name: 'Find places for flats' }));
  const flats = page.getByRole('list', { name: 'Flats' }).getByRole('listitem');
  await expect(flats.nth(1)).toBeVisible();
  const found = await flats.count();
  await settled(page);
  await expect(page.getByText(/joints need flats worked into them/)).toHaveCount(0);
  await press(page.getByRole('button', { name: `Take flat ${found} away` }));
  await expect(flats).toHaveCount(found - 1);
  await settled(page);
  await go(page, 'Joints');
  const faces = page.getByRole('button', { name: /^A1 to A2 .*, flat \d/ });
  await expect(faces).toHaveCount(found - 1);
  await press(page.getByRole('button', { name: 'Seat joints' }));
  await settled(page);
  await expect(faces.filter({ hasText: '1 joint' }).first()).toBeVisible();
  await expect(faces.filter({ hasText: /stop/ })).toHaveCount(0);
});

test('seams are placed by what is picked in the view, limited to a piece and a box, and kept off a zone', async ({
  page,
  app,
}) => {
  await bring(page, app, writeStlBinary(box([0, 0, 0], [90, 60, 300]), 'post'), 'Post.stl');
  await go(page, 'Seams');
  const shelf = shelfOf(page);
  const list = page.getByRole('list', { name: 'Seams in order' });
  const ways = page.getByRole('list', { name: 'More ways to place' });
  const place = (name: string) => ways.getByRole('button', { name, exact: true }).click();
  /** Clicks the model, so many pixels from the middle of the view. */
  const pick = async (dx: number, dy: number): Promise<void> => {
    const view = (await page.getByTestId('view').boundingBox())!;
    await page.mouse.click(view.x + view.width / 2 + dx, view.y + view.height / 2 + dy);
  };
  const prompt = page.getByRole('region', { name: '3D view' }).getByRole('status');
  await page.getByRole('button', { name: 'More ways to place' }).click();

  await place('Along the mirror plane');
  await expect(list).toContainText('Mirror plane');
  await expect(shelf).toContainText('2 × A1');
  await settled(page);
  await page.keyboard.press('Control+Z');
  await expect(list).toHaveCount(0);
  await settled(page);

  await place('Through three points');
  for (const [n, dx, dy] of [
    [1, -20, 40],
    [2, 25, -30],
    [3, 5, 70],
  ]) {
    await expect(prompt).toContainText(`Pick point ${n} of 3`);
    await pick(dx, dy);
  }
  await expect(list).toContainText('Through three points');
  await settled(page);
  await page.keyboard.press('Control+Z');
  await expect(list).toHaveCount(0);
  await settled(page);

  await place('By a line across the view');
  await pick(-120, 10);
  await expect(prompt).toContainText('where the line ends');
  await pick(120, 10);
  await expect(list).toContainText('Drawn line');
  await expect(shelf).toContainText('2 pieces');
  await settled(page);

  // square to the limb: straight across, whatever the view; it is shown before it is added
  await place('Square to a limb');
  await pick(0, -60);
  await expect(prompt).toContainText('Cuts 54.0 cm² straight across');
  await expect(shelf).toContainText('2 pieces');
  await page.getByRole('button', { name: 'Add the seam' }).click();
  await expect(list).toContainText('Square to the limb');
  await expect(shelf).toContainText('3 pieces');
  await settled(page);
  await page.getByRole('tab', { name: 'scope' }).click();
  const pieces = page.getByRole('list', { name: 'Pieces this seam cuts' });
  await expect(pieces.getByRole('checkbox')).toHaveCount(2);
  await pieces.getByRole('checkbox').last().uncheck();
  await expect(shelf).toContainText('2 pieces');
  await expect(list).toContainText('1 piece only');
  await settled(page);
  await page.getByRole('button', { name: 'Cut all pieces' }).click();
  await expect(shelf).toContainText('3 pieces');
  await settled(page);

  await page.getByRole('tab', { name: 'regions' }).click();
  await page.getByRole('button', { name: 'Bound by a box' }).click();
  await pick(0, -60);
  await expect(page.getByLabel('Box z from', { exact: true })).toBeVisible();
  await expect(list).toContainText('in a box');
  // the section is what lies in the box, and follows it
  const section = page.getByRole('group', { name: 'Section' });
  const before = await section.getByRole('img').getAttribute('aria-label');
  await page.getByLabel('Box x from', { exact: true }).fill('30');
  await page.getByLabel('Box x from', { exact: true }).press('Enter');
  await expect(section.getByRole('img')).not.toHaveAttribute('aria-label', before!);
  await settled(page);
  await page.getByRole('button', { name: 'Take the box off' }).click();
  await expect(shelf).toContainText('3 pieces');
  await settled(page);

  await page.getByRole('button', { name: 'Add a sphere to keep clear' }).click();
  await pick(0, -60);
  await expect(prompt).toContainText('how far it reaches');
  await pick(0, -90);
  await expect(page.getByRole('region', { name: 'Keep clear' }).getByRole('listitem')).toHaveCount(1);
  await expect(page.getByRole('list', { name: 'Findings' })).toContainText('that is to be kept clear');
  await settled(page);

  await choose(page.getByLabel('Clip the view'), 'at the seam');
  await page.getByRole('button', { name: 'other side' }).click();
  await computed(page);
});

test('a quick seam while a slow one is still looked for: both are placed, and long work can be seen', async ({
  page,
  app,
}) => {
  await bring(page, app, writeStlBinary(lantern(await loadKernel()), 'lantern'), 'Ebb-bell lantern.stl');
  await go(page, 'Seams');
  // the mirror plane is looked for; meanwhile another seam is added
  await way(page, 'Along the mirror plane');
  await page.getByRole('button', { name: 'Add a seam across z', exact: true }).click();
  const list = page.getByRole('list', { name: 'Seams in order' });
  await expect(list.getByRole('listitem')).toHaveCount(2);
  await expect(list).toContainText('Mirror plane');
  await expect(page.getByText(/was not done/)).toHaveCount(0);
  await settled(page);
  await page.keyboard.press('Control+K');
  await page.getByRole('combobox', { name: 'Command' }).fill('under way');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog', { name: 'Under way' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
});

test('seams are proposed for a figure of limbs by keyboard, held against each other, one taken, one moved, one piece parted again', async ({
  page,
  app,
}) => {
  const figure = limbedFigure(await loadKernel());
  await bring(page, app, writeStlBinary(figure, 'figure'), 'Figure.stl');
  await go(page, 'Seams');
  await press(page.getByRole('button', { name: 'Propose seams' }));
  const more = page.getByRole('slider', { name: 'Hidden seams' });
  await press(more, 'ArrowRight');
  await expect(more).toHaveAttribute('aria-valuetext', 'more');
  await press(page.getByRole('button', { name: 'Look for seams' }));
  const proposals = page.getByRole('list', { name: 'Proposals' });
  await expect(proposals).toBeVisible({ timeout: 60_000 });
  await expect(page.getByRole('button', { name: 'Look again' })).toBeVisible({ timeout: 120_000 });
  const first = proposals.getByRole('listitem').first();
  // each is weighed with joints and poses, and one is said to be best
  await expect(first).toContainText(/Printing\d+ h \d\dSupport\d+ gBare faces\d/);
  await expect(proposals.getByText('Best by these figures and your wishes')).toHaveCount(1);
  const pieces = Number(/Pieces(\d+)/.exec((await first.textContent()) ?? '')?.[1]);
  expect(pieces).toBeGreaterThan(2);
  await press(first.getByRole('button', { name: /^Take the proposal/ }));
  await settled(page);
  const shelf = shelfOf(page);
  await expect(shelf).toContainText(`${pieces} pieces, ${pieces} fit`);
  await expect(page.getByRole('list', { name: 'Why here' })).toContainText(/fit/);

  // a seam is moved by hand and stays one; a piece that fits is parted again because it is asked for
  const along = page.getByRole('slider', { name: /^Position of / }).first();
  const was = (await along.getAttribute('aria-valuenow')) ?? '';
  await press(along, 'ArrowUp');
  await expect(along).not.toHaveAttribute('aria-valuenow', was);
  await settled(page);
  await expect(shelf).toContainText(`${pieces} pieces`);
  await page.keyboard.press('Control+z');
  // the step back comes from the server: only then are its pieces computed, and one of them can be chosen
  await expect(along).toHaveAttribute('aria-valuenow', was);
  await settled(page);
  await press(shelf.getByRole('button', { name: /^A1 / }));
  await press(page.getByRole('button', { name: 'Propose seams' }));
  const onlyOne = page.getByRole('radio', { name: 'only A1' });
  await press(onlyOne);
  await expect(onlyOne).toBeChecked();
  await press(page.getByRole('button', { name: 'Look for seams' }));
  const take = page.getByRole('button', { name: /^Take the proposal/ }).first();
  await expect(take).toBeVisible({ timeout: 120_000 });
  await press(take);
  await settled(page);
  await expect(shelf).toContainText(`${pieces + 1} pieces`);
});

test('a visor too wide for the printer is parted the same on both sides, by keyboard', async ({ page, app }) => {
  const wide = visor();
  const large = { ...wide, positions: wide.positions.map((x) => 1.6 * x) };
  await bring(page, app, writeStlBinary(large, 'visor'), 'Heron visor.stl');
  await go(page, 'Seams');
  await press(page.getByRole('button', { name: 'Propose seams' }));
  await expect(page.getByRole('checkbox', { name: /^same on both sides/ })).toBeChecked();
  await press(page.getByRole('button', { name: 'Look for seams' }));
  const proposals = page.getByRole('list', { name: 'Proposals' });
  const longer = proposals.getByRole('listitem').filter({ hasText: 'Looked at longer' });
  await expect(longer).toContainText('Both sidesthe same', { timeout: 120_000 });
  const pieces = Number(/Pieces(\d+)/.exec((await longer.textContent()) ?? '')?.[1]);
  await press(longer.getByRole('button', { name: /^Take the proposal/ }));
  await settled(page);
  await expect(shelfOf(page)).toContainText(`${pieces} pieces, ${pieces} fit`);
  await expect(page.getByRole('list', { name: 'Seams in order' })).toContainText('Mirror plane');
  // twins are one file, and its mirror image
  await go(page, 'Pieces');
  await expect(page.getByText(/mirror/i).first()).toBeVisible();
});

type Mast = ReturnType<Awaited<ReturnType<typeof loadKernel>>['Manifold']['cube']>;

/** A mast in two colours, the second where the middle of a triangle says so. */
function mast(solid: Mast, high: (x: number, z: number) => boolean): Uint8Array {
  const mesh = solid.getMesh();
  const positions = Float64Array.from(mesh.vertProperties);
  const triangles = Uint32Array.from(mesh.triVerts);
  const middle = (i: number, k: number): number =>
    [0, 1, 2].reduce((sum, c) => sum + positions[triangles[i * 3 + c] * 3 + k] / 3, 0);
  const paint = Uint32Array.from({ length: triangles.length / 3 }, (_, i) =>
    high(middle(i, 0), middle(i, 2)) ? 2 : 1,
  );
  const palette = [
    { name: '', colour: '' },
    { name: 'Tide blue', colour: '#1f5673' },
    { name: 'Cut red', colour: '#bf3b26' },
  ];
  const raw = { format: '3mf' as const, parts: [{ name: 'Mast', positions, triangles, paint }], palette, notes: [] };
  return writeModel(raw, '3mf', 'mast')[0].bytes;
}

test('a file in two colours is parted where they meet, by keyboard', async ({ page, app }) => {
  const { Manifold } = await loadKernel();
  const square = Manifold.cube([40, 40, 160], true).refine(16).translate([0, 0, 80]);
  await bring(
    page,
    app,
    mast(square, (_, z) => z > 100),
    'Mast of two colours.3mf',
  );
  await go(page, 'Seams');
  await way(page, 'Along the file’s colours');
  const lines = page.getByRole('list', { name: 'Lines between colours' });
  await expect(lines.getByRole('listitem')).toHaveCount(1);
  await expect(lines).toContainText(/Tide blue to Cut red|Cut red to Tide blue/);
  await expect(lines).toContainText('160 mm long; the plane follows it within 0.0 mm');
  await expect(lines.getByRole('checkbox')).toBeChecked();
  await press(page.getByRole('button', { name: 'Place one seam' }));
  await settled(page);
  await expect(shelfOf(page)).toContainText('2 pieces, 2 fit');
  await expect(shelfOf(page)).toContainText('40 × 40 × 100');
  await page.keyboard.press('Control+z');
  await settled(page);
  await expect(shelfOf(page)).toContainText('1 piece');
});

test('a border between colours that waves is followed by a bent seam', async ({ page, app }) => {
  const { Manifold } = await loadKernel();
  const round = Manifold.cylinder(160, 30, 30, 64, true).refineToLength(3).translate([0, 0, 80]);
  await bring(
    page,
    app,
    mast(round, (x, z) => z > 80 + 12 * Math.sin(x / 12)),
    'Mast with a wave.3mf',
  );
  await go(page, 'Seams');
  await way(page, 'Along the file’s colours');
  const lines = page.getByRole('list', { name: 'Lines between colours' });
  await expect(lines).toContainText(/a bent line follows it within [1-4]\.\d mm/);
  const tick = lines.getByRole('checkbox');
  if (!(await tick.isChecked())) await press(tick, ' ');
  await press(page.getByRole('button', { name: 'Place one seam' }));
  await settled(page);
  await expect(shelfOf(page)).toContainText('2 pieces, 2 fit');
  await expect(page.getByRole('list', { name: 'Seams in order' })).toContainText('points');
});

test('a painted patch becomes an inlay of its own colour that drops in', async ({ page, app }) => {
  const { Manifold } = await loadKernel();
  const shield = Manifold.cylinder(12, 60, 60, 96).refine(8).getMesh();
  const positions = Float64Array.from(shield.vertProperties);
  const triangles = Uint32Array.from(shield.triVerts);
  const inside = (v: number): boolean => Math.hypot(positions[v * 3], positions[v * 3 + 1]) < 31;
  const isPatch = (i: number): boolean =>
    [0, 1, 2].every((k) => positions[triangles[i * 3 + k] * 3 + 2] > 11.9 && inside(triangles[i * 3 + k]));
  const paint = Uint32Array.from({ length: triangles.length / 3 }, (_, i) => (isPatch(i) ? 2 : 1));
  const palette = [
    { name: '', colour: '' },
    { name: 'Tide blue', colour: '#1f5673' },
    { name: 'Cut red', colour: '#bf3b26' },
  ];
  const raw = { format: '3mf' as const, parts: [{ name: 'Shield', positions, triangles, paint }], palette, notes: [] };
  const [{ bytes }] = writeModel(raw, '3mf', 'shield');
  await bring(page, app, bytes, 'Shield with an emblem.3mf');
  await go(page, 'Seams');
  await way(page, 'Along the file’s colours');
  const lines = page.getByRole('list', { name: 'Lines between colours' });
  await expect(lines).toContainText('A patch on the surface');
  await expect(page.getByRole('button', { name: /^Place 0 seams/ })).toBeDisabled();
  await type(page, 'Depth of the inlay', '3');
  await press(lines.getByRole('button', { name: 'Make it an inlay' }));
  await settled(page);
  const shelf = shelfOf(page);
  await expect(shelf).toContainText('2 pieces, 2 fit');
  await expect(shelf).toContainText('× 3');
  await go(page, 'Model');
  await expect(page.getByRole('list', { name: 'Steps in order' })).toContainText('Inlay 3 mm deep');
});
