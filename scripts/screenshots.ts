// Takes the pictures of docs/screenshots from a running demo: GEPHYRA_URL=http://localhost:4330 npm run screenshots
import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Project, ProjectCard } from '@gephyra/contract';
import { chromium } from '@playwright/test';
import { CHROMIUM_ARGUMENTS, chromiumPath } from '../e2e/chromium.ts';

const base = process.env.GEPHYRA_URL ?? 'http://localhost:4330';
const out = process.env.GEPHYRA_PICTURES ?? join(fileURLToPath(new URL('../', import.meta.url)), 'docs/screenshots');
const only = process.argv.slice(2);

const cards = (await (await fetch(`${base}/api/projects`)).json()) as ProjectCard[];
const named = (name: string) => cards.find((c) => c.name === name);
const lantern = named('Ebb-bell lantern');
const anchor = named('Ceremonial anchor');
const visor = named('Heron visor');
const whole = named('Anchor in one');
const hoop = named('Rope-work hoop');
const herald = named('Heron herald');
const puppet = named('Heron puppet');
if (!lantern || !anchor || !visor || !whole || !hoop || !herald || !puppet)
  throw new Error('The demo project is not there. Start it with: npm run demo -- --fresh');

const views: Record<string, string> = {
  projects: '/',
  model: `/p/${lantern.id}/model`,
  'model-mending': `/p/${anchor.id}/model?tool=health`,
  'model-fit': `/p/${visor.id}/model?tool=size`,
  'model-bore': `/p/${whole.id}/model?tool=solids&step=r1`,
  seams: `/p/${lantern.id}/seams?seam=s2`,
  'seams-regions': `/p/${whole.id}/seams?seam=s1&tool=regions`,
  'seams-fan': `/p/${hoop.id}/seams?seam=s1`,
  'seams-profile': `/p/${visor.id}/seams`,
  'seams-grid': `/p/${whole.id}/seams?seam=s1&tool=grid`,
  'seams-proposals': `/p/${herald.id}/seams?tool=propose`,
  joints: `/p/${lantern.id}/joints?joint=j1`,
  'joints-swing': `/p/${puppet.id}/joints?joint=j1`,
  'joints-shell': `/p/${visor.id}/joints`,
  printers: '/printers',
  pieces: `/p/${lantern.id}/pieces?piece=b1%2Fs1%2B.s2-`,
  beds: `/p/${hoop.id}/beds`,
  assembly: `/p/${herald.id}/assembly?step=7`,
  workshop: `/p/${anchor.id}/workshop`,
};

/** The visor in four, without the seams that an earlier picture drew. */
async function cutVisor(id: string): Promise<void> {
  const { revision, plan } = (await (await fetch(`${base}/api/projects/${id}`)).json()) as Project;
  const seams = [
    { id: 's1', name: 'Middle', kind: 'flat', origin: [0, 0, 0], normal: [1, 0, 0] },
    { id: 's2', name: 'Brow', kind: 'flat', origin: [0, 0, 120], normal: [0, 0, 1] },
  ];
  await fetch(`${base}/api/projects/${id}/plan`, {
    method: 'PUT',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({
      gesture: crypto.randomUUID(),
      basedOn: revision,
      label: 'Cut in four',
      plan: { ...(plan as object), seams, joints: [], anchors: [] },
    }),
  });
}

/** What holds by itself, cones along the brow because they are asked for, and that face open. */
async function furnishVisor(): Promise<void> {
  const faces = page.getByRole('list', { name: 'Mating faces' });
  await page.getByRole('button', { name: 'Seat joints' }).click();
  await faces.getByText('1 joint', { exact: true }).first().waitFor({ timeout: 60_000 });
  await faces.getByRole('button', { name: /Brow/ }).first().click();
  await page.getByRole('tab', { name: 'face' }).click();
  await page.getByLabel('Seat', { exact: true }).click();
  await page.getByRole('option', { name: 'cone', exact: true }).click();
  await page.getByRole('button', { name: 'All 2 of its seam' }).click();
  await page
    .getByRole('button', { name: /^Cone j\d+ at/ })
    .first()
    .waitFor({ timeout: 60_000 });
}

/** The shelf's pictures come a little after the pieces: waits until each has some colour. */
const shelfDrawn = (): Promise<unknown> =>
  page.waitForFunction(
    () =>
      [...document.querySelectorAll<HTMLCanvasElement>('[aria-label="Shelf of pieces"] canvas')].every((c) =>
        c
          .getContext('2d')
          ?.getImageData(0, 0, c.width, c.height)
          .data.some((x) => x > 0),
      ),
    null,
    { timeout: 120_000 },
  );

await mkdir(out, { recursive: true });
const browser = await chromium.launch({
  executablePath: chromiumPath,
  args: CHROMIUM_ARGUMENTS,
  // scroll bars are part of what is seen
  ignoreDefaultArgs: ['--hide-scrollbars'],
});
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
page.on('console', (m) => m.type() === 'error' && console.log(`console: ${m.text()}`));
page.on('pageerror', (e) => console.log(`page: ${e.message}`));
for (const [name, path] of Object.entries(views)) {
  if (only.length > 0 && !only.includes(name)) continue;
  if (name === 'joints-shell') await cutVisor(visor.id);
  await page.goto(base + path);
  if (path === '/printers') await page.getByRole('heading', { name: 'Fits', exact: true }).waitFor();
  else if (path === '/') {
    await page.getByRole('link', { name: 'Open Ebb-bell lantern' }).waitFor();
    // every card has its picture
    await page.getByText('Drawing the picture').first().waitFor({ state: 'detached', timeout: 120_000 });
    await page.getByRole('heading', { name: 'Under way' }).waitFor({ state: 'detached', timeout: 120_000 });
  } else {
    await page.getByRole('button', { name: 'Export pieces' }).first().waitFor();
    await page.getByTestId('view').and(page.locator('[data-settled=true]')).waitFor({ timeout: 120_000 });
    if (name === 'seams' || name === 'joints' || name === 'seams-regions') {
      const apart = page.getByRole('slider', { name: 'Take apart, mm' });
      for (const key of ['Home', 'PageUp', 'PageUp', 'PageUp', ...Array(6).fill('ArrowRight')]) await apart.press(key);
    }
    if (name === 'joints-swing') {
      await page.getByRole('button', { name: 'Measure how far' }).click();
      const swung = page.getByRole('slider', { name: 'How far it is swung' });
      await swung.waitFor({ timeout: 60_000 });
      await swung.press('End');
    }
    if (name === 'joints-shell') await furnishVisor();
    // the shelf's pictures come a little after the pieces
    if (name === 'pieces') {
      await page
        .getByRole('list', { name: /^Poses of/ })
        .getByRole('button')
        .nth(2)
        .waitFor({ timeout: 60_000 });
      await page.waitForTimeout(2500);
    }
    if (name === 'beds') {
      await page
        .getByRole('group', { name: /drawn from above/ })
        .getByRole('button')
        .first()
        .waitFor({ timeout: 60_000 });
      await page.waitForTimeout(4000);
    }
    if (name === 'assembly') {
      await page.getByRole('list', { name: 'Steps of joining' }).waitFor({ timeout: 60_000 });
      const moment = page.getByRole('slider', { name: 'Moment of the build' });
      for (const key of ['Home', ...Array(13).fill('PageUp')]) await moment.press(key);
      await page.waitForTimeout(1500);
    }
    if (name === 'workshop') {
      await page.getByRole('list', { name: 'Tally' }).waitFor({ timeout: 60_000 });
      // what failed is on the bed that is sent: once that prints it is no longer told as failed
      await page
        .getByRole('list', { name: 'Tally' })
        .getByRole('button', { name: /failed/ })
        .first()
        .click();
      const send = page.getByRole('button', { name: /^Send / }).first();
      if (await send.isVisible()) await send.click();
      await page.getByRole('progressbar').first().waitFor({ timeout: 60_000 });
      await page.waitForTimeout(2500);
    }
    if (name === 'seams-regions')
      await page.getByRole('list', { name: 'Regions of the section' }).scrollIntoViewIfNeeded();
    if (name === 'seams-proposals') {
      await page.getByRole('button', { name: 'Look for seams' }).click();
      await page.getByRole('button', { name: 'Look again' }).waitFor({ timeout: 180_000 });
      await page.getByRole('list', { name: 'Proposals' }).getByRole('listitem').first().hover();
      await page.waitForTimeout(1500);
    }
    if (name === 'seams-grid') await page.getByRole('button', { name: /^Place \d+ seams/ }).waitFor();
    if (name === 'seams-profile' && (await page.getByRole('list', { name: 'Seams in order' }).count()) === 0) {
      await page.getByRole('button', { name: 'More ways to place' }).click();
      await page.getByRole('button', { name: 'Profile line' }).click();
      for (const [point, presses] of [
        [2, 1],
        [3, 2],
        [4, 1],
      ]) {
        const handle = page.getByRole('button', { name: `Point ${point} of 5` });
        for (let i = 0; i < presses; i++) {
          await handle.press('Shift+ArrowDown');
          await page
            .getByRole('banner')
            .getByRole('status')
            .filter({ hasText: /^saved/ })
            .waitFor();
        }
      }
      await page.getByRole('button', { name: 'Fewer ways' }).click();
    }
    if (name === 'model-mending') {
      await page.getByRole('list', { name: 'Defects' }).waitFor({ timeout: 60_000 });
      await page.getByRole('button', { name: 'Mend all' }).click();
      await page.getByText('What was there has moved').waitFor({ timeout: 60_000 });
    }
    if (name === 'model-bore') {
      await page.getByRole('button', { name: 'see through' }).click();
      await page.getByRole('button', { name: 'Bore it' }).scrollIntoViewIfNeeded();
    }
    if (name === 'model-fit') {
      await page.getByRole('button', { name: 'take a measure' }).click();
      await page.getByRole('status').filter({ hasText: 'As it is' }).waitFor();
      await page.getByRole('button', { name: 'Scale to fit' }).scrollIntoViewIfNeeded();
    }
    if (name.startsWith('seams') && name !== 'seams-proposals' && !/fan|profile|grid/.test(name))
      await page.getByLabel('Snap to').waitFor();
    await page.getByTestId('view').and(page.locator('[data-settled=true]')).waitFor();
    await page.mouse.click(1200, 785);
    await shelfDrawn();
  }
  await page.screenshot({ path: join(out, `${name}.png`) });
  console.log(`${name}.png`);
}
await browser.close();
