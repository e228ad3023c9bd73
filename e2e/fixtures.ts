import { mkdir, rm, writeFile } from 'node:fs/promises';
import { dirname } from 'node:path';
import { type BrowserContext, test as base, expect, type Locator, type Page } from '@playwright/test';
import { freshData } from '../apps/server/testing/fresh-data.ts';
import { writeStlBinary } from '../packages/core/src/formats/index.ts';
import { blob } from '../packages/core/testing/shapes.ts';
import { App } from './app.ts';

/** Starts the application on an empty database, and ends both when it was used. */
async function withFresh(use: (app: App) => Promise<void>): Promise<void> {
  const data = await freshData();
  const app = new App(data);
  await app.start();
  await use(app);
  await app.stop();
  await rm(data, { recursive: true, force: true });
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

/** A browser's session in which tests follow each other: what one has loaded and compiled the next need not. */
interface Session {
  readonly context: BrowserContext;
  page: Page;
}

/** A session's window; the camera goes at once: without a graphics card every picture on its way costs a core. */
const LOOKS = { viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' } as const;

/** Leaves a session as if it were new: one empty page, nothing kept, intercepted or listened to. */
async function cleared(session: Session): Promise<void> {
  const { context, page } = session;
  for (const other of context.pages()) if (other !== page) await other.close();
  if (page.isClosed()) {
    session.page = await context.newPage();
    return;
  }
  await page.unrouteAll({ behavior: 'ignoreErrors' });
  page.removeAllListeners();
  // what is not saved may be left
  page.once('dialog', (dialog) => dialog.accept());
  await page.evaluate(() => localStorage.clear());
  await page.goto('about:blank');
  page.removeAllListeners();
  await page.setViewportSize(LOOKS.viewport);
}

export const test = base.extend<{ app: App; ownApp: App }, { served: App; session: Session }>({
  session: [
    async ({ browser }, use) => {
      const context = await browser.newContext(LOOKS);
      await use({ context, page: await context.newPage() });
      await context.close();
    },
    { scope: 'worker' },
  ],
  context: async ({ session, browser, hasTouch }, use) => {
    if (!hasTouch) return use(session.context);
    const own = await browser.newContext({ ...LOOKS, hasTouch });
    await use(own);
    await own.close();
  },
  page: async ({ session, context }, use) => {
    if (context !== session.context) return use(await context.newPage());
    await use(session.page);
    await cleared(session);
  },
  served: [
    // biome-ignore lint/correctness/noEmptyPattern: a fixture's first argument must be a pattern
    ({}, use) => withFresh(use),
    { scope: 'worker' },
  ],
  /** The application that tests share, with no project on its shelf. */
  app: async ({ served }, use) => {
    await empty(served);
    await use(served);
  },
  /** One for tests that stop it, or change its printers and fits. */
  // biome-ignore lint/correctness/noEmptyPattern: a fixture's first argument must be a pattern
  ownApp: ({}, use) => withFresh(use),
});

/** A float of the harbour: round, waved, 420 mm tall and some 160 wide, closed. */
export const float = writeStlBinary(
  blob(70, 80, 420, (a, z) => 72 + 5 * Math.sin(6 * a + 4 * z)),
  'harbour float',
);

/**
 * A file to give to a field. From the disk where it can lie there: bytes would come through the browser's wire as text, which takes
 * seconds for a large model.
 */
async function file(bytes: Uint8Array, name: string) {
  if (name.includes('/')) return { name, mimeType: 'model/stl', buffer: Buffer.from(bytes) };
  const path = base.info().outputPath(name);
  await mkdir(dirname(path), { recursive: true });
  await writeFile(path, bytes);
  return path;
}

/** Brings a model in and waits until its pieces are there. */
export async function bring(page: Page, app: App, bytes: Uint8Array, name = 'Harbour float.stl'): Promise<void> {
  await page.goto(app.base);
  await page.getByLabel('Model file').setInputFiles(await file(bytes, name));
  await expect(page.getByRole('heading', { name: 'Model', level: 1 })).toBeVisible();
  await computed(page);
}

/** Waits until the pieces of the plan as it stands are drawn. */
export async function computed(page: Page): Promise<void> {
  await expect(page.getByText('computing')).toHaveCount(0);
  await expect(page.getByText('being checked again')).toHaveCount(0);
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

/** Enter on a button, once it can be pressed: a key on a disabled button is lost without a word. */
export async function enter(button: Locator): Promise<void> {
  await expect(button).toBeEnabled();
  await button.press('Enter');
}

/** The short messages in the corner. */
export const messages = (page: Page) => page.getByRole('region', { name: /^Messages/ });

/** Goes to a station by the bridge. */
export const go = (page: Page, station: string) =>
  page.getByRole('navigation', { name: 'Stations' }).getByRole('link', { name: station }).click();

/** Waits until the last change is saved. */
export const saved = (page: Page) => expect(page.getByRole('banner').getByRole('status')).toHaveText(/^saved/);

export { expect };

/** Has a model made printable, by keyboard, and waits until all of it is done; the dialog that says so stays open. */
export async function makePrintable(page: Page): Promise<Locator> {
  await enter(page.getByRole('button', { name: 'Make it printable' }));
  const dialog = page.getByRole('dialog', { name: 'Make it printable' });
  await enter(dialog.getByRole('button', { name: 'Start' }));
  await expect(dialog.getByRole('link', { name: 'see beds' })).toBeVisible({ timeout: 150_000 });
  return dialog;
}
