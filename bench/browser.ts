import { execFileSync } from 'node:child_process';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { writeStlBinary } from '@gephyra/core';
import { startServer } from '@gephyra/server';
import { chromium, type Page } from '@playwright/test';
import { CHROMIUM_ARGUMENTS, chromiumPath } from '../e2e/chromium.ts';
import { blob } from '../packages/core/testing/shapes.ts';
import type { Row } from './measure.ts';

const WAIT = 90_000;

/** A maker's way through the application with a lumpy body of a million triangles, 800 mm tall, in the real browser. */
export async function benchBrowser(): Promise<Row[]> {
  const data = await mkdtemp(join(tmpdir(), 'gephyra-bench-'));
  const root = fileURLToPath(new URL('../', import.meta.url));
  execFileSync(join(root, 'node_modules/.bin/vite'), ['build', 'apps/web', '--logLevel', 'error'], { cwd: root });
  const web = join(root, 'apps/web/dist');
  const server = await startServer({ data, port: 0, web });
  const browser = await chromium.launch({ executablePath: chromiumPath, args: CHROMIUM_ARGUMENTS });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    page.setDefaultTimeout(WAIT);
    await page.goto(`http://localhost:${server.port}`);
    const mesh = blob(707, 707, 800, (a, z) => 220 + 12 * Math.sin(6 * a) + 18 * Math.cos(5 * z));
    const model = join(data, 'bench.stl');
    await writeFile(model, writeStlBinary(mesh, 'bench'));
    return await journeys(page, model);
  } finally {
    await browser.close();
    await server.close();
    await rm(data, { recursive: true, force: true });
  }
}

async function journeys(page: Page, model: string): Promise<Row[]> {
  const rows: Row[] = [];
  const settled = page.getByTestId('view').and(page.locator('[data-settled=true]'));
  const station = (name: string) =>
    page.getByRole('navigation', { name: 'Stations' }).getByRole('link', { name }).click();
  const timed = async (what: string, wanted: number, run: () => Promise<unknown>): Promise<void> => {
    await watchTasks(page);
    const start = performance.now();
    await run();
    const seconds = (performance.now() - start) / 1000;
    const tasks = await longTasks(page);
    console.log(`  … ${what}: ${seconds.toFixed(2)} s, ${tasks}`);
    rows.push({
      what,
      measured: `${seconds.toFixed(2)} s, ${tasks}`,
      wanted: `${wanted} s`,
      ok: seconds <= wanted,
    });
  };

  await timed('1 M triangles: from dropping the file to the view', 4, async () => {
    await page.getByLabel('Model file').setInputFiles(model);
    await settled.waitFor();
  });
  await timed('the Seams station opens', 0.5, async () => {
    await station('Seams');
    await page.getByRole('button', { name: 'Add a seam across z', exact: true }).waitFor();
  });
  await timed('the first seam', 0.6, async () => {
    await page.getByRole('button', { name: 'Add a seam across z', exact: true }).click();
    await page.getByText('2 pieces').waitFor();
    await settled.waitFor();
  });
  rows.push(await dragged(page));
  await timed('a grid is found', 2.5, async () => {
    await page.getByRole('button', { name: 'More ways to place' }).click();
    await page.getByRole('list', { name: 'More ways to place' }).getByRole('button', { name: 'Grid of seams' }).click();
    await page.getByRole('button', { name: /^Place \d+ seams$/ }).waitFor();
  });
  await timed('a grid is placed', 2.5, async () => {
    await page.getByRole('button', { name: /^Place \d+ seams$/ }).click();
    await page.getByText(/^\d\d pieces$/).waitFor();
    await settled.waitFor();
  });
  await timed('the Joints station opens', 0.5, async () => {
    await station('Joints');
    await page.getByRole('button', { name: 'Seat joints' }).waitFor();
  });
  await timed('joints are seated on all faces', 4, async () => {
    await page.getByRole('button', { name: 'Seat joints' }).click();
    await page.getByText(/^\d+ joints on \d+ of \d+ faces/).waitFor();
  });
  await settled.waitFor();
  for (const [label, wanted] of [
    ['STL, one a piece', 6],
    ['one 3MF', 12],
  ] as const) {
    await page.getByRole('button', { name: 'Export pieces' }).click();
    const dialog = page.getByRole('dialog', { name: 'Export pieces' });
    await dialog.getByRole('radio', { name: label, exact: true }).click();
    const count = await dialog.getByRole('checkbox').count();
    await timed(`${count} files are written (${label})`, wanted, async () => {
      await dialog.getByRole('button', { name: /^Write \d+ pieces$/ }).click();
      await dialog.getByText(/pieces written and checked/).waitFor();
    });
    await page.keyboard.press('Escape');
  }
  return rows;
}

/** Long tasks on the page's main thread while a seam is dragged along the caliper. */
async function dragged(page: Page): Promise<Row> {
  const slider = page.getByRole('slider', { name: /^Position of/ });
  const box = await slider.boundingBox();
  if (!box) throw new Error('The slider is not on the page.');
  const [x, y] = [box.x + 12, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await watchTasks(page);
  const steps = 60;
  const start = performance.now();
  for (let i = 1; i <= steps; i++) await page.mouse.move(x, y + 50 * Math.sin((i / steps) * Math.PI * 2));
  const seconds = (performance.now() - start) / 1000;
  const tasks = await longTasks(page);
  await page.mouse.up();
  return {
    what: `a seam is dragged (${steps} moves in ${seconds.toFixed(1)} s)`,
    measured: tasks,
    wanted: 'none over 50 ms',
    ok: tasks.startsWith('no'),
  };
}

const watchTasks = (page: Page): Promise<void> =>
  page.evaluate(() => {
    const held = window as unknown as { longTasks?: number[] };
    if (held.longTasks) {
      held.longTasks.length = 0;
      return;
    }
    const tasks: number[] = [];
    held.longTasks = tasks;
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) tasks.push(entry.duration);
    }).observe({ type: 'longtask' });
  });

async function longTasks(page: Page): Promise<string> {
  const tasks = await page.evaluate(() => (window as unknown as { longTasks: number[] }).longTasks);
  return tasks.length > 0 ? `${tasks.length} long tasks, worst ${Math.max(...tasks).toFixed(0)} ms` : 'no long task';
}
