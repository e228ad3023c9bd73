// @vitest-environment jsdom
import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import type { IndexedMesh } from '../../../../../packages/core/src/mesh/types.ts';
import { blob, box, torus } from '../../../../../packages/core/testing/shapes.ts';
import { page } from '../../../testing/dom.ts';
import { inProject } from '../../../testing/station.tsx';
import SeamsStation from './station.tsx';

page(292, 236);

const ring = torus(90, 40, 24, () => 25);

/** The ring with what lies beyond x painted blue. */
const painted = (x: number): IndexedMesh => {
  const { positions: p, triangles: t } = ring;
  const middle = (i: number): number => (p[t[i * 3] * 3] + p[t[i * 3 + 1] * 3] + p[t[i * 3 + 2] * 3]) / 3;
  return { ...ring, tags: Uint32Array.from({ length: t.length / 3 }, (_, i) => (middle(i) > x ? 1 : 0)) };
};

/** A post in fine triangles, painted above a bend. */
const post = blob(90, 90, 120, () => 30);
const above = (i: number): boolean => {
  const [x, , z] = [0, 1, 2].map((k) =>
    [0, 1, 2].reduce((sum, c) => sum + post.positions[post.triangles[i * 3 + c] * 3 + k] / 3, 0),
  );
  return z > 0.0065 * x * x - 3;
};

describe('seams along colours', () => {
  it('are found, said how well they follow, and placed through their own limb as one step', async () => {
    const made = inProject(<SeamsStation />, [painted(0)], {});
    const user = userEvent.setup();
    await user.click(screen.getByRole('button', { name: 'More ways to place' }));
    await user.click(screen.getByRole('button', { name: 'Along the file’s colours' }));
    const list = await screen.findByRole('list', { name: 'Lines between colours' });
    const items = within(list).getAllByRole('listitem');
    expect(items).toHaveLength(2);
    expect(items[0].textContent).toMatch(/Tide blue.*\d+ mm long; the plane follows it within \d\.\d mm/);
    // the second is left out
    const [first, second] = within(list).getAllByRole('checkbox');
    if (first.getAttribute('aria-checked') !== 'true') await user.click(first);
    if (second.getAttribute('aria-checked') === 'true') await user.click(second);
    await user.click(screen.getByRole('button', { name: 'Place one seam' }));
    expect(made.labels).toEqual(['Place a seam along colours']);
    const [seam, ...others] = made.plan().seams;
    expect(others).toEqual([]);
    expect(seam.name).toMatch(/Tide blue/);
    expect(seam).toMatchObject({
      kind: 'flat',
      regions: { mode: 'only', seeds: [[expect.any(Number), expect.any(Number)]] },
    });
  });

  it('part the ring where the colour ends', async () => {
    const made = inProject(<SeamsStation />, [painted(0)], {}, { at: '/?tool=colours' });
    const user = userEvent.setup();
    const list = await screen.findByRole('list', { name: 'Lines between colours' });
    for (const tick of within(list).getAllByRole('checkbox')) {
      if (tick.getAttribute('aria-checked') !== 'true') await user.click(tick);
    }
    await user.click(screen.getByRole('button', { name: 'Place 2 seams' }));
    await waitFor(() => expect(made.plan().seams).toHaveLength(2));
    expect(new Set(made.plan().seams.map((s) => s.id)).size).toBe(2);
  });

  it('are bent where no plane follows well, and flat again if that is wanted', async () => {
    const wavy = { ...post, tags: Uint32Array.from(post.tags, (_, i) => (above(i) ? 1 : 0)) };
    inProject(<SeamsStation />, [wavy], {}, { at: '/?tool=colours' });
    const user = userEvent.setup();
    const list = await screen.findByRole('list', { name: 'Lines between colours' });
    expect(list.textContent).toMatch(/a bent line follows it within [01]\.\d mm/);
    expect(within(list).getByRole('checkbox').getAttribute('aria-checked')).toBe('true');
    await user.click(within(list).getByRole('radio', { name: /^flat, \d\.\d mm off/ }));
    expect(list.textContent).toMatch(/the plane follows it within [2-9]\.\d mm/);
    await user.click(within(list).getByRole('radio', { name: /^bent, [01]\.\d mm off/ }));
    expect(list.textContent).toMatch(/a bent line follows it/);
  });

  it('say what to bring when there is one colour', async () => {
    inProject(<SeamsStation />, [box([0, 0, 0], [40, 40, 40])], {}, { at: '/?tool=colours' });
    expect(await screen.findByText(/No closed body has more than one colour/)).toBeTruthy();
    expect(screen.getByRole('button', { name: /^Place/ }).hasAttribute('disabled')).toBe(true);
  });
});
