import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { writeStlBinary } from '@gephyra/core';
import { startServer } from '@gephyra/server';
import { chromium } from '@playwright/test';
import { CHROMIUM_ARGUMENTS, chromiumPath } from '../e2e/chromium.ts';
import { blob } from '../packages/core/testing/shapes.ts';
import type { Row } from './measure.ts';

/** Long tasks on the page's main thread while a seam of a 300 k model is dragged along the caliper. */
export async function benchBrowser(): Promise<Row[]> {
  const data = await mkdtemp(join(tmpdir(), 'gephyra-bench-'));
  const web = fileURLToPath(new URL('../apps/web/dist', import.meta.url));
  const server = await startServer({ data, port: 0, web });
  const browser = await chromium.launch({ executablePath: chromiumPath, args: CHROMIUM_ARGUMENTS });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(`http://localhost:${server.port}`);
    const mesh = blob(387, 387, 600, (a, z) => 150 + 10 * Math.sin(6 * a) + 15 * Math.cos(5 * z));
    await page.getByLabel('Model file').setInputFiles({
      name: 'bench.stl',
      mimeType: 'model/stl',
      buffer: Buffer.from(writeStlBinary(mesh, 'bench')),
    });
    const settled = page.getByTestId('view').and(page.locator('[data-settled=true]'));
    await settled.waitFor({ timeout: 120_000 });
    await page.getByRole('navigation', { name: 'Stations' }).getByRole('link', { name: 'Seams' }).click();
    await page.getByRole('button', { name: 'Add a seam across z', exact: true }).click();
    const slider = page.getByRole('slider', { name: /^Position of/ });
    await slider.waitFor();
    await page.getByText('2 pieces').waitFor();
    await settled.waitFor();
    await page.evaluate(() => {
      const tasks: number[] = [];
      Object.assign(window, { longTasks: tasks });
      new PerformanceObserver((list) => {
        for (const entry of list.getEntries()) tasks.push(entry.duration);
      }).observe({ type: 'longtask' });
    });
    const box = await slider.boundingBox();
    if (!box) throw new Error('The slider is not on the page.');
    const [x, y] = [box.x + 12, box.y + box.height / 2];
    await page.mouse.move(x, y);
    await page.mouse.down();
    const steps = 60;
    const start = performance.now();
    for (let i = 1; i <= steps; i++) await page.mouse.move(x, y + 50 * Math.sin((i / steps) * Math.PI * 2));
    const seconds = (performance.now() - start) / 1000;
    await page.mouse.up();
    const tasks = await page.evaluate(() => (window as unknown as { longTasks: number[] }).longTasks);
    const worst = tasks.length > 0 ? `worst ${Math.max(...tasks).toFixed(0)} ms` : 'none over 50 ms';
    return [
      {
        what: `main thread while a seam of 300 k triangles is dragged (${steps} moves in ${seconds.toFixed(1)} s)`,
        measured: `${tasks.length} long tasks, ${worst}`,
        wanted: 'none over 50 ms',
        ok: tasks.length === 0,
      },
    ];
  } finally {
    await browser.close();
    await server.close();
    await rm(data, { recursive: true, force: true });
  }
}
