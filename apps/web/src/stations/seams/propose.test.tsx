// @vitest-environment jsdom
import { loadSimplifier } from '@gephyra/core';
import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeAll, describe, expect, it } from 'vitest';
import { box } from '../../../../../packages/core/testing/shapes.ts';
import { page } from '../../../testing/dom.ts';
import { inProject } from '../../../testing/station.tsx';
import { levelWord, variants, wishesOf } from './proposing.ts';
import SeamsStation from './station.tsx';

page(292, 236);
beforeAll(loadSimplifier);

const post = box([0, 0, 0], [60, 50, 700]);
const across = (id: string, at: number, locked = false) => ({
  id,
  kind: 'flat' as const,
  origin: [30, 25, at] as [number, number, number],
  normal: [0, 0, 1] as [number, number, number],
  ...(locked && { locked }),
});

/** Looks for seams and waits until the search is over. */
async function look(user: ReturnType<typeof userEvent.setup>): Promise<HTMLElement> {
  await user.click(screen.getByRole('button', { name: 'Look for seams' }));
  await screen.findByRole('button', { name: 'Look again' }, { timeout: 30_000 });
  return screen.getByRole('list', { name: 'Proposals' });
}

describe('proposing seams', () => {
  it('finds few, says what they come to, and takes one as one step, with reasons', async () => {
    const made = inProject(<SeamsStation />, [post], {});
    const user = userEvent.setup();
    await user.click(screen.getByRole('button', { name: 'Propose seams' }));
    const list = await look(user);
    const [card] = within(list).getAllByRole('listitem');
    expect(card.textContent).toMatch(/Pieces3Seams2Glued60 cm²Seen0.44 m/);
    expect(card.textContent).toMatch(/Printing2 h 30Support12 gBare faces1/);
    await user.click(within(card).getByRole('button', { name: /^Take the proposal/ }));
    expect(made.labels).toEqual(['Take a proposal of 2 seams']);
    const { seams } = made.plan();
    expect(seams).toHaveLength(2);
    expect(seams[0]).toMatchObject({ scope: ['b1'], regions: { mode: 'only' } });
    const why = await screen.findByRole('list', { name: 'Why here' });
    expect(why.textContent).toMatch(/fit/);
  }, 60_000);

  it('leaves locked seams, replaces the others when it is to, and parts one piece alone', async () => {
    const seams = [across('s1', 200, true), across('s2', 300)];
    const made = inProject(<SeamsStation />, [post], { seams }, { at: '/?tool=propose&piece=b1%2Fs2%2B' });
    const user = userEvent.setup();
    expect(screen.getByRole('checkbox', { name: /instead of the seam there is|instead of the seam/ })).toBeTruthy();
    await user.click(screen.getByRole('radio', { name: /^only A/ }));
    await look(user);
    await user.click(screen.getAllByRole('button', { name: /^Take the proposal/ })[0]);
    await waitFor(() => expect(made.plan().seams.length).toBeGreaterThan(2));
    expect(
      made
        .plan()
        .seams.slice(0, 2)
        .map((s) => s.id),
    ).toEqual(['s1', 's2']);
    for (const s of made.plan().seams.slice(2)) expect(s.scope![0].startsWith('b1/')).toBe(true);
  }, 60_000);

  it('keeps to a longest side, to bodies that stay whole, and lets pieces lie at a slant', async () => {
    const rod = box([200, 0, 0], [212, 12, 460]);
    const made = inProject(
      <SeamsStation />,
      [post, rod],
      { bodies: [{ id: 'b1', name: 'Post' }] },
      { at: '/?tool=propose' },
    );
    const user = userEvent.setup();
    await user.click(await screen.findByRole('checkbox', { name: 'Post' }));
    await user.click(screen.getByRole('checkbox', { name: /at a slant/ }));
    const side = screen.getByRole('textbox', { name: /Longest side of a piece/ });
    await user.clear(side);
    await user.type(side, '130{Enter}');
    const list = await look(user);
    await user.click(within(list).getAllByRole('button', { name: /^Take the proposal/ })[0]);
    await waitFor(() => expect(made.plan().seams.length).toBeGreaterThan(2));
    for (const s of made.plan().seams) expect(s.scope![0].startsWith('b2')).toBe(true);
  }, 60_000);

  it('leaves printed pieces as they are, and says so', async () => {
    const log = [{ at: '2026-11-20T10:00:00.000Z', pieces: [{ piece: 'b1/s1-' }], to: 'printed' as const }];
    inProject(<SeamsStation />, [post], { seams: [across('s1', 200)], log }, { at: '/?tool=propose' });
    expect(await screen.findByText(/One piece is printed already, and stays as it is/)).toBeTruthy();
  });

  it('says so when everything fits, and can be ended', async () => {
    inProject(<SeamsStation />, [box([0, 0, 0], [60, 50, 100])], {}, { at: '/?tool=propose' });
    const user = userEvent.setup();
    await user.click(screen.getByRole('button', { name: 'Look for seams' }));
    expect(await screen.findByText('Everything fits already.')).toBeTruthy();
  });

  it('weighs wishes by words', () => {
    expect([-2, 0, 1].map(levelWord)).toEqual(['much less', 'as usual', 'more']);
    expect(wishesOf({ few: 0, hidden: 1, print: -1 })).toEqual({
      few: 1,
      hidden: 1.8,
      print: expect.closeTo(0.556, 3),
    });
    const [first, ...more] = variants(wishesOf({ few: 0, hidden: 0, print: 0 }), true);
    expect([first.effort, first.alike, more.at(-1)!.alike]).toEqual([0, true, false]);
    expect(variants(wishesOf({ few: 0, hidden: 0, print: 0 }), false).some((v) => v.alike)).toBe(false);
    expect(more.some((v) => v.wishes.hidden > 1) && more.some((v) => v.wishes.few > 1)).toBe(true);
  });
});
