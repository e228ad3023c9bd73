import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { cp, mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { createInterface } from 'node:readline';
import { fileURLToPath } from 'node:url';
import { test as base, expect, type Locator, type Page } from '@playwright/test';
import { writeStlBinary } from '../packages/core/src/formats/index.ts';
import { blob } from '../packages/core/testing/shapes.ts';

const root = fileURLToPath(new URL('../', import.meta.url));

/** The application on a data folder of its own, which can be stopped and started again. */
export class App {
  base = '';
  private process: ChildProcess | null = null;

  constructor(readonly data: string) {}

  async start(): Promise<void> {
    const child = spawn(process.execPath, ['--import', 'tsx', join(root, 'apps/server/src/main.ts')], {
      cwd: root,
      env: { ...process.env, GEPHYRA_DATA: this.data, GEPHYRA_PORT: this.base.split(':')[2] ?? '0' },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    this.process = child;
    for await (const line of createInterface({ input: child.stdout })) {
      const address = /http:\/\/localhost:\d+/.exec(line)?.[0];
      if (!address) continue;
      this.base = address;
      return;
    }
    throw new Error('The server ended before it listened.');
  }

  async stop(signal: 'SIGTERM' | 'SIGKILL' = 'SIGTERM'): Promise<void> {
    if (!this.process) return;
    this.process.kill(signal);
    await once(this.process, 'exit');
    this.process = null;
  }
}

/** Starts the application on a copy of a data folder, and ends both when it was used. */
async function withCopy(data: string, use: (app: App) => Promise<void>): Promise<void> {
  const copy = await mkdtemp(join(tmpdir(), 'gephyra-e2e-'));
  // the socket that held the first folder is not part of it
  await cp(data, copy, { recursive: true, filter: (path) => basename(path) !== 'lock' });
  const app = new App(copy);
  await app.start();
  await use(app);
  await app.stop();
  await rm(copy, { recursive: true, force: true });
}

/** Takes every project off the shelf, as its maker would. */
async function empty(app: App): Promise<void> {
  const request = async (path: string, method = 'GET') => {
    const response = await fetch(`${app.base}/api/projects${path}`, { method, headers: { origin: app.base } });
    if (!response.ok) throw new Error(`${method} ${path} of the projects was answered with ${response.status}.`);
    return response;
  };
  const projects = (await (await request('')).json()) as { id: string }[];
  for (const { id } of projects) await request(`/${id}`, 'DELETE');
}

export const test = base.extend<{ app: App; ownApp: App }, { fresh: string; served: App }>({
  // a new database takes seconds to make: it is made once, and every application gets a copy
  fresh: [
    // biome-ignore lint/correctness/noEmptyPattern: a fixture's first argument must be a pattern
    async ({}, use) => {
      const data = await mkdtemp(join(tmpdir(), 'gephyra-fresh-'));
      const app = new App(data);
      await app.start();
      await app.stop();
      await use(data);
      await rm(data, { recursive: true, force: true });
    },
    { scope: 'worker' },
  ],
  served: [({ fresh }, use) => withCopy(fresh, use), { scope: 'worker' }],
  /** The application that tests share, with no project on its shelf. */
  app: async ({ served }, use) => {
    await empty(served);
    await use(served);
  },
  /** One for tests that stop it, or change its printers and fits. */
  ownApp: ({ fresh }, use) => withCopy(fresh, use),
});

/** A float of the harbour: round, waved, 420 mm tall and some 160 wide, closed. */
export const float = writeStlBinary(
  blob(70, 80, 420, (a, z) => 72 + 5 * Math.sin(6 * a + 4 * z)),
  'harbour float',
);

/** Brings a model in and waits until its pieces are there. */
export async function bring(page: Page, app: App, bytes: Uint8Array, name = 'Harbour float.stl'): Promise<void> {
  await page.goto(app.base);
  await page.getByLabel('Model file').setInputFiles({ name, mimeType: 'model/stl', buffer: Buffer.from(bytes) });
  await expect(page.getByRole('heading', { name: 'Model', level: 1 })).toBeVisible();
  await computed(page);
}

/** Waits until the pieces of the plan as it stands are drawn. */
export async function computed(page: Page): Promise<void> {
  await expect(page.getByText('computing')).toHaveCount(0);
  await expect(page.getByTestId('view')).toHaveAttribute('data-settled', 'true');
}

/** Drops a model on the page of projects, as from a folder of the desktop. */
export async function drop(page: Page, app: App, bytes: Uint8Array, name: string): Promise<void> {
  await page.goto(app.base);
  const files = await page.evaluateHandle(
    ({ text, fileName }) => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([Uint8Array.from(atob(text), (c) => c.charCodeAt(0))], fileName));
      return transfer;
    },
    { text: Buffer.from(bytes).toString('base64'), fileName: name },
  );
  await page.getByText('No project yet').dispatchEvent('drop', { dataTransfer: files });
  await expect(page.getByRole('heading', { name: 'Model', level: 1 })).toBeVisible();
  await computed(page);
}

/** Chooses an entry of a list that opens, by what it says. */
export async function choose(field: Locator, entry: string | RegExp): Promise<void> {
  await field.click();
  const name = typeof entry === 'string' ? { name: entry, exact: true } : { name: entry };
  await field.page().getByRole('option', name).or(field.page().getByRole('menuitem', name)).click();
}

/** The short messages in the corner. */
export const messages = (page: Page) => page.getByRole('region', { name: /^Messages/ });

/** Goes to a station by the bridge. */
export const go = (page: Page, station: string) =>
  page.getByRole('navigation', { name: 'Stations' }).getByRole('link', { name: station }).click();

/** Waits until the last change is saved. */
export const saved = (page: Page) => expect(page.getByRole('banner').getByRole('status')).toHaveText(/^saved/);

export { expect };
