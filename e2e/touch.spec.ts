import type { Page } from '@playwright/test';
import { bring, computed, expect, float, go, test } from './fixtures.ts';

test.use({ hasTouch: true });

type Finger = readonly [x: number, y: number];

/** Fingers put down, moved in steps and taken up; each goes from its first to its last place. */
async function fingers(page: Page, from: readonly Finger[], to: readonly Finger[]): Promise<void> {
  const cdp = await page.context().newCDPSession(page);
  const at = (share: number) =>
    from.map(([x, y], id) => ({ x: x + (to[id][0] - x) * share, y: y + (to[id][1] - y) * share, id }));
  await cdp.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: at(0) });
  for (let k = 1; k <= 6; k++)
    await cdp.send('Input.dispatchTouchEvent', { type: 'touchMove', touchPoints: at(k / 6) });
  await cdp.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
  await cdp.detach();
}

/** Where the numbers of the tide staff stand, by their text. */
const staff = (page: Page): Promise<Record<string, readonly [number, number]>> =>
  page
    .getByRole('region', { name: '3D view' })
    .evaluate((view) =>
      Object.fromEntries(
        [...view.querySelectorAll<HTMLElement>('span[aria-hidden].num')].map((s) => [
          s.textContent ?? '',
          [Number.parseFloat(s.style.left), Number.parseFloat(s.style.top)] as const,
        ]),
      ),
    );

test('one finger turns the model, two move it and come nearer', async ({ page, app }) => {
  await bring(page, app, float);
  const box = (await page.getByTestId('view').boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  const apart = (s: Record<string, readonly [number, number]>) =>
    Math.hypot(s[200][0] - s[300][0], s[200][1] - s[300][1]);
  const before = await staff(page);
  await fingers(page, [[x, y]], [[x + 90, y]]);
  await computed(page);
  const turned = await staff(page);
  expect(Math.abs(turned[200][0] - before[200][0])).toBeGreaterThan(40);
  await fingers(
    page,
    [
      [x - 40, y],
      [x + 40, y],
    ],
    [
      [x - 40, y - 80],
      [x + 40, y - 80],
    ],
  );
  await computed(page);
  const moved = await staff(page);
  expect(turned[200][1] - moved[200][1]).toBeGreaterThan(50);
  expect(apart(moved) / apart(turned)).toBeCloseTo(1, 1);
  await fingers(
    page,
    [
      [x - 30, y],
      [x + 30, y],
    ],
    [
      [x - 50, y],
      [x + 50, y],
    ],
  );
  await computed(page);
  expect(apart(await staff(page)) / apart(moved)).toBeGreaterThan(1.3);
});

test('whatever is pressed is large enough for a finger', async ({ page, app }) => {
  await bring(page, app, float);
  await go(page, 'Seams');
  await page.getByRole('button', { name: 'Add a seam across z', exact: true }).tap();
  await expect(page.getByRole('region', { name: 'Shelf of pieces' })).toContainText('2 pieces');
  const small: string[] = [];
  for (const station of ['Model', 'Seams', 'Joints', 'Pieces', 'Beds']) {
    await go(page, station);
    await computed(page);
    const found = await page.evaluate(() =>
      [...document.querySelectorAll<HTMLElement>('button, input, [role=tab]')].flatMap((e) => {
        const name = e.getAttribute('aria-label') ?? e.textContent ?? '';
        const r = e.getBoundingClientRect();
        if (r.width === 0 || e.closest('[inert], [aria-hidden=true]') || e.tabIndex < 0) return [];
        if (r.height >= 39.5 && r.width >= 39.5) return [];
        // a small box has an unseen margin, which belongs to it
        const { width, height } = getComputedStyle(e, '::after');
        if (Number.parseFloat(width) >= 40 && Number.parseFloat(height) >= 40) return [];
        return [`${name}: ${r.width.toFixed(0)} × ${r.height.toFixed(0)}`];
      }),
    );
    small.push(...found.map((f) => `${station}, ${f}`));
  }
  expect(small).toEqual([]);
});

test('a seam is slid along the caliper by a finger', async ({ page, app }) => {
  await bring(page, app, float);
  await go(page, 'Seams');
  await page.getByRole('button', { name: 'Add a seam across z', exact: true }).tap();
  const slider = page.getByRole('slider', { name: /^Position of/ });
  await expect(slider).toBeVisible();
  const at = async () => Number(await slider.getAttribute('aria-valuenow'));
  const before = await at();
  const box = (await slider.boundingBox())!;
  const [x, y] = [box.x + 14, box.y + box.height / 2];
  await fingers(page, [[x, y]], [[x, y - 40]]);
  await expect.poll(at).toBeGreaterThan(before + 20);
});
