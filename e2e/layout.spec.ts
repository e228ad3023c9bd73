import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { Client } from '../apps/server/testing/client.ts';
import { writeStlBinary } from '../packages/core/src/formats/index.ts';
import { box } from '../packages/core/testing/shapes.ts';
import type { App } from './app.ts';
import { computed, expect, go, saved, test } from './fixtures.ts';

const SIZES = [
  { width: 1280, height: 800 },
  { width: 1600, height: 1000 },
  { width: 900, height: 700 },
] as const;

const tall = writeStlBinary(box([0, 0, 0], [60, 40, 600]), 'tide staff');

const LONG = 'Sternpost of the ebb-bell tender, larboard quarter gallery';

/** A staff cut level into so many pieces, with a key and a bought dowel on every face, and names that are long. */
async function staffOf(app: App, pieces: number): Promise<string> {
  const client = new Client(app.base);
  const project = await client.project(tall, `Tide staff of ${pieces}.stl`);
  const at = (i: number): number => ((i + 1) * 600) / pieces;
  const seams = Array.from({ length: pieces - 1 }, (_, i) => ({
    id: `s${i + 1}`,
    name: i === 1 ? LONG : '',
    kind: 'flat',
    origin: [30, 20, at(i)],
    normal: [0, 0, 1],
  }));
  const depth = Math.min(6, 150 / pieces);
  const joints = seams.flatMap(({ id }, i) => [
    { id: `j${2 * i + 1}`, kind: 'key', seam: id, at: [0, 0], width: 8, depth },
    { id: `j${2 * i + 2}`, kind: 'dowel', seam: id, at: [18, 0], diameter: 6, depth: depth + 1 },
  ]);
  // eight to a bed, on two beds at least
  const keyOf = (i: number): string =>
    `b1/${[i > 0 && `s${i}+`, i < pieces - 1 && `s${i + 1}-`].filter(Boolean).join('.')}`;
  const beds = Array.from({ length: Math.max(2, Math.ceil(pieces / 6)) }, (_, b) => ({
    id: `bed${b + 1}`,
    printer: 'Desktop 220',
    pieces: Array.from({ length: Math.min(6, pieces - 6 * b) }, (_, i) => ({
      piece: keyOf(6 * b + i),
      x: 45 + 65 * (i % 3),
      y: 60 + 80 * Math.floor(i / 3),
    })),
  }));
  const named = [{ key: keyOf(1), name: LONG, copies: 120 }];
  const { status } = await client.save(project, 'Cut it', { ...project.plan, seams, joints, beds, pieces: named });
  expect(status).toBe(200);
  return project.id;
}

/** What is laid out wrongly on the page as it stands, in words. */
const misfits = (page: Page): Promise<string[]> =>
  page.evaluate(() => {
    const wrong: string[] = [];
    const root = document.documentElement;
    if (root.scrollHeight > root.clientHeight && document.querySelector('[data-testid=view]')) {
      wrong.push(`the document is ${root.scrollHeight} high in ${root.clientHeight}`);
    }
    if (root.scrollWidth > root.clientWidth)
      wrong.push(`the document is ${root.scrollWidth} wide in ${root.clientWidth}`);
    const nameOf = (e: Element): string =>
      `${e.tagName.toLowerCase()} “${(e.getAttribute('aria-label') ?? e.textContent ?? '').trim().slice(0, 40)}”`;
    const shown = (e: Element): boolean => e.checkVisibility({ visibilityProperty: true, opacityProperty: true });
    for (const column of document.querySelectorAll('section, aside, nav, main, header, [role=dialog]')) {
      // a table that is wider than its column has a frame of its own
      if (
        shown(column) &&
        column.scrollWidth > column.clientWidth + 1 &&
        getComputedStyle(column).overflowX !== 'visible'
      ) {
        wrong.push(`${nameOf(column)} is ${column.scrollWidth} wide in ${column.clientWidth}`);
      }
    }
    // what can be pressed is in the window, or in something that scrolls to it, and nothing lies over its middle
    // a code is never cut off
    for (const e of document.querySelectorAll('strong')) {
      const r = e.getBoundingClientRect();
      const home = e.closest('button, td, li');
      if (home && shown(e) && r.right > home.getBoundingClientRect().right + 1) wrong.push(`${nameOf(e)} is cut off`);
    }
    for (const e of document.querySelectorAll('button, a[href], input, [role=slider], [role=tab]')) {
      if (
        !shown(e) ||
        e.closest('[aria-hidden=true]') ||
        e.matches('.sr-only, .sr-only *, [data-radix-toast-announce-exclude]')
      )
        continue;
      const r = e.getBoundingClientRect();
      if (r.width < 2 || r.height < 2) continue;
      let inside = true;
      // beyond what scrolls to it, nothing clips it
      let [reachX, reachY] = [false, false];
      for (let p = e.parentElement; p; p = p.parentElement) {
        const { overflowX, overflowY } = getComputedStyle(p);
        if (overflowX === 'visible' && overflowY === 'visible') continue;
        const q = p.getBoundingClientRect();
        const outX = r.left < q.left - 1 || r.right > q.right + 1;
        const outY = r.top < q.top - 1 || r.bottom > q.bottom + 1;
        if (outX || outY) inside = false;
        if (/auto|scroll/.test(overflowX)) reachX = true;
        if (/auto|scroll/.test(overflowY)) reachY = true;
        if (outX && !reachX) wrong.push(`${nameOf(e)} is clipped sideways`);
        if (outY && !reachY) wrong.push(`${nameOf(e)} is clipped`);
      }
      const [x, y] = [(r.left + r.right) / 2, (r.top + r.bottom) / 2];
      if (!inside || x < 0 || y < 0 || x >= innerWidth || y >= innerHeight) continue;
      const top = document.elementFromPoint(x, y);
      if (top && top !== e && !e.contains(top) && !top.contains(e) && !top.closest('label')) {
        wrong.push(`${nameOf(top)} lies over ${nameOf(e)}`);
      }
    }
    return [...new Set(wrong)];
  });

/** Holds once the panels have come to rest; goes on when it does not, to tell all that is wrong. */
const fits = (page: Page, where: string) =>
  expect
    .configure({ soft: true })
    .poll(() => misfits(page), { message: where, timeout: 5000 })
    .toEqual([]);

/** What axe finds, a line each, in the page or a part of it. */
async function faults(page: Page, part?: string): Promise<string[]> {
  // no page has frames: what has none is looked through at once, in half the time
  const axe = new AxeBuilder({ page }).setLegacyMode().options({ resultTypes: ['violations'] });
  const { violations } = await (part ? axe.include(part) : axe).analyze();
  return violations.flatMap((v) =>
    v.nodes.map((n) => `${v.id}: ${n.target.join(' ')} ${n.failureSummary?.split('\n')[1] ?? ''}`),
  );
}

/** Goes to another view as a link does: the page is not loaded again. */
const follow = (page: Page, path: string) =>
  page.evaluate((to) => {
    history.pushState(null, '', to);
    dispatchEvent(new PopStateEvent('popstate'));
  }, path);

/** Views with a flat drawing that changes places with the 3D view. */
const SWAPPED = new Set(['seams?seam=s1', 'joints?joint=j1', 'pieces?piece=b1%2Fs1-&tool=pose', 'beds?bed=bed1']);

const VIEWS = [
  'model',
  'seams?seam=s1',
  'joints?joint=j1',
  'pieces',
  'pieces?piece=b1%2Fs1-&tool=pose',
  'beds?bed=bed1',
  'assembly?step=2',
  'workshop',
];

for (const pieces of [3, 60]) {
  const few = pieces < 10;
  // long lists are crowded where there is little room; what assistive technology is told of one is told of all
  const sizes = few ? SIZES : [SIZES[0], SIZES[2]];
  test(`nothing is cut off, covered or hard to reach with ${pieces} pieces, at any size of the window`, async ({
    page,
    app,
  }) => {
    // many views at many sizes: on a busy machine they take minutes
    test.setTimeout(480_000);
    const id = await staffOf(app, pieces);
    const found: string[] = [];
    await page.goto(`${app.base}/p/${id}/${VIEWS[0]}`);
    for (const view of VIEWS) {
      await follow(page, `/p/${id}/${view}`);
      await expect(page.getByRole('heading', { level: 1 })).toHaveText(new RegExp(`^${view.split('?')[0]}`, 'i'));
      await computed(page);
      for (const size of sizes) {
        await page.setViewportSize(size);
        await computed(page);
        await fits(page, `${view} at ${size.width}`);
      }
      await page.setViewportSize(SIZES[0]);
      if (few) found.push(...(await faults(page)).map((m) => `${view}: ${m}`));
      // what is drawn in the other's place is the same for however many pieces
      if (!few || !SWAPPED.has(view)) continue;
      await page.keyboard.press('x');
      for (const size of [SIZES[0], SIZES[SIZES.length - 1]]) {
        await page.setViewportSize(size);
        await computed(page);
        await fits(page, `${view} swapped at ${size.width}`);
      }
      await page.setViewportSize(SIZES[0]);
      await page.keyboard.press('x');
    }
    expect(found).toEqual([]);
  });
}

test('a column that is made wider by keyboard stays so, from station to station and after a reload', async ({
  page,
  app,
}) => {
  const id = await staffOf(app, 3);
  await page.goto(`${app.base}/p/${id}/seams?seam=s1`);
  await computed(page);
  const edge = page.getByRole('separator', { name: 'Width of the list' });
  const at = async () => Math.round((await edge.boundingBox())!.x);
  const before = await at();
  await edge.press('ArrowRight');
  await expect.poll(at).toBeGreaterThan(before + 20);
  const wide = await at();
  await go(page, 'Pieces');
  await expect.poll(at).toBeGreaterThan(wide + 50);
  await go(page, 'Joints');
  await expect.poll(at).toBe(wide);
  await page.reload();
  await computed(page);
  await expect.poll(at).toBe(wide);
});

test('pages and dialogs have names, contrast and an order that assistive technology can follow', async ({
  page,
  ownApp: app,
}) => {
  const equipment = {
    printers: [{ name: 'Desktop 220', size: [220, 220, 250], materials: [{ name: 'PLA', fits: {}, results: [] }] }],
    presets: [],
  };
  await new Client(app.base).call('/api/equipment', 'PUT', { basedOn: 0, equipment });
  const id = await staffOf(app, 3);
  const found: string[] = [];
  for (const path of ['/', '/printers']) {
    await page.goto(app.base + path);
    await expect(page.getByRole('main')).toBeVisible();
    for (const size of SIZES) {
      await page.setViewportSize(size);
      await fits(page, `${path} at ${size.width}`);
    }
    found.push(...(await faults(page)).map((m) => `${path}: ${m}`));
  }
  await page.setViewportSize(SIZES[0]);
  await page.goto(`${app.base}/p/${id}/seams?seam=s1`);
  await computed(page);
  for (const [keys, name] of [
    ['Control+k', 'Find a command'],
    ['?', 'Help'],
  ]) {
    await page.keyboard.press(keys);
    await expect(page.getByRole('dialog', { name })).toBeVisible();
    found.push(...(await faults(page)).map((m) => `${name}: ${m}`));
    await page.keyboard.press('Escape');
  }
  await page.getByRole('button', { name: 'Export pieces' }).first().click();
  await expect(page.getByRole('dialog', { name: 'Export pieces' })).toBeVisible();
  found.push(...(await faults(page)).map((m) => `export: ${m}`));
  await page.keyboard.press('Escape');
  // what opens over a view: a menu of a seam, a list to pick from, the choice of columns; the focus is kept in the first two,
  // and what is behind them is hidden, which axe takes for a fault of the page
  await page.getByRole('list', { name: 'Seams in order' }).getByRole('button').first().click({ button: 'right' });
  await expect(page.getByRole('menu')).toBeVisible();
  found.push(...(await faults(page, '[role=menu]')).map((m) => `menu: ${m}`));
  await page.keyboard.press('Escape');
  await page.getByRole('combobox', { name: 'Snap to' }).click();
  await expect(page.getByRole('listbox')).toBeVisible();
  found.push(...(await faults(page, '[role=listbox]')).map((m) => `list: ${m}`));
  await page.keyboard.press('Escape');
  await go(page, 'Pieces');
  await page.getByRole('button', { name: 'Columns' }).click();
  await expect(page.getByRole('dialog', { name: 'Columns' })).toBeVisible();
  found.push(...(await faults(page)).map((m) => `columns: ${m}`));
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: 'Command' }).fill('under way');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog', { name: 'Under way' })).toBeVisible();
  found.push(...(await faults(page)).map((m) => `under way: ${m}`));
  await page.keyboard.press('Escape');
  await go(page, 'Seams');
  await page.route('**/plan', (route) => route.abort());
  await page.getByRole('button', { name: 'Add a seam across x', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Not saved, try again' })).toBeVisible();
  await page.getByRole('link', { name: 'Projects' }).click();
  await expect(page.getByRole('alertdialog')).toBeVisible();
  found.push(...(await faults(page, '[role=alertdialog]')).map((m) => `question: ${m}`));
  expect(found).toEqual([]);
});

test('a seam is dragged to another place of the list, and back by undo', async ({ page, app }) => {
  const id = await staffOf(app, 4);
  await page.goto(`${app.base}/p/${id}/seams`);
  await computed(page);
  const grips = page.getByRole('list', { name: 'Seams in order' }).getByRole('button', { name: /^Move / });
  const order = () => grips.evaluateAll((all) => all.map((g) => g.getAttribute('aria-label')!.slice('Move '.length)));
  const names = await order();
  const from = (await grips.nth(0).boundingBox())!;
  const goal = (await grips.nth(2).boundingBox())!;
  await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2);
  await page.mouse.down();
  await page.mouse.move(from.x + 8, from.y + 12, { steps: 3 });
  await page.mouse.move(goal.x + goal.width / 2, goal.y + goal.height / 2 + 4, { steps: 6 });
  await page.mouse.up();
  await saved(page);
  await expect.poll(order).toEqual([names[1], names[2], names[0]]);
  await page.keyboard.press('Control+Z');
  await expect.poll(order).toEqual(names);
});
