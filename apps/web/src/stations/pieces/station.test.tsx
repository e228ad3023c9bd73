// @vitest-environment jsdom

import { loadSimplifier } from '@gephyra/core';
import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeAll, describe, expect, it, vi } from 'vitest';
import { box } from '../../../../../packages/core/testing/shapes.ts';
import { page } from '../../../testing/dom.ts';
import { inProject } from '../../../testing/station.tsx';
import PiecesStation from './station.tsx';

// drawn on a canvas, which is not there
vi.mock('../../ui/chart.tsx', () => ({
  Chart: ({ label }: { label: string }) => <div role="img" aria-label={label} />,
}));

page(640, 500);

const post = box([-40, -30, 0], [40, 30, 500]);
const parted = {
  seams: [100, 180].map((z, i) => ({
    id: `s${i + 1}`,
    kind: 'flat' as const,
    origin: [0, 0, z] as [number, number, number],
    normal: [0, 0, 1] as [number, number, number],
  })),
};
const sizes = (): string[] => screen.getAllByText(/^80 × 60 × /).map((cell) => cell.textContent ?? '');

describe('the table of pieces', () => {
  it('has a row for each, with what it measures and whether it fits', () => {
    inProject(<PiecesStation />, [post], parted);
    expect(sizes()).toEqual(['80 × 60 × 100', '80 × 60 × 80', '80 × 60 × 320']);
    expect(screen.getAllByText('upright')).toHaveLength(2);
    expect(screen.getByText(/too (long|tall|deep|wide)/)).toBeTruthy();
    expect(screen.getByText(/^3 pieces, 2 fit/)).toBeTruthy();
  });

  it('sorts sizes by their longest side, and codes by the order of the pieces', async () => {
    inProject(<PiecesStation />, [post], parted);
    const user = userEvent.setup();
    const head = (name: RegExp) => within(screen.getByRole('columnheader', { name })).getByRole('button');
    await user.click(head(/^Size/));
    await user.click(head(/^Size/));
    expect(sizes()[0]).toBe('80 × 60 × 320');
    await user.click(head(/^Code/));
    expect(sizes().map((s) => s.split(' × ')[2])).toEqual(['100', '80', '320']);
  });

  it('lists pieces by their codes, and numbers them anew by how they lie, but not once files carry their codes', async () => {
    const code = (key: string, n: number, out?: boolean) => ({ key, letters: 'A', n, ...(out && { out }) });
    const codes = [code('b1/s1-', 7), code('b1/s1+.s2-', 3), code('b1/s2+', 1)];
    const made = inProject(<PiecesStation />, [post], { ...parted, codes });
    const user = userEvent.setup();
    const shown = () => screen.getAllByRole('button', { name: /^A\d$/ }).map((b) => b.textContent);
    expect(shown()).toEqual(['A1', 'A3', 'A7']);
    expect(sizes()[0]).toBe('80 × 60 × 320');
    await user.click(screen.getByRole('tab', { name: 'all' }));
    await user.click(screen.getByRole('button', { name: 'Number the pieces anew' }));
    expect(made.plan().codes).toEqual([]);
    expect(shown()).toEqual(['A1', 'A2', 'A3']);
    expect(sizes()[0]).toBe('80 × 60 × 100');
  });

  it('leaves codes alone that files carry, and says why', async () => {
    const codes = [{ key: 'b1/s2+', letters: 'A', n: 9, out: true }];
    inProject(<PiecesStation />, [post], { ...parted, codes });
    await userEvent.setup().click(screen.getByRole('tab', { name: 'all' }));
    expect(screen.getByRole('button', { name: 'Number the pieces anew' })).toHaveProperty('disabled', true);
    expect(screen.getByText('Files with these codes were written, so they stay.')).toBeTruthy();
  });

  it('a piece is named, made as a copy and set aside, each as a step of its own', async () => {
    const made = inProject(<PiecesStation />, [post], parted);
    const user = userEvent.setup();
    await user.click(screen.getByRole('button', { name: 'A1' }));
    const about = screen.getByRole('region', { name: 'About A1' });
    await user.type(within(about).getByLabelText('Own name of the piece'), 'Foot{Enter}');
    await user.click(within(about).getByRole('checkbox', { name: 'set aside, not made' }));
    within(about).getByRole('combobox', { name: 'Made as a copy of' }).focus();
    await user.keyboard('{Enter}');
    await user.click(await screen.findByRole('option', { name: /^A2/ }));
    const [note] = made.plan().pieces;
    expect(note).toMatchObject({ name: 'Foot', aside: true, copyOf: { mirrored: false } });
    expect(made.labels).toHaveLength(3);
    expect(within(screen.getByRole('table')).getByText('Foot').closest('span')?.parentElement?.className).toContain(
      'line-through',
    );
  });

  it('offers what can be done with a piece by the right button', async () => {
    const made = inProject(<PiecesStation />, [post], parted);
    fireEvent.contextMenu(screen.getByText('80 × 60 × 80'));
    const menu = await screen.findByRole('menu');
    await userEvent.setup().click(within(menu).getByRole('menuitem', { name: /aside/i }));
    await waitFor(() => expect(made.plan().pieces).toHaveLength(1));
    expect(made.plan().pieces[0].aside).toBe(true);
  });

  it('what counts as equal is set here', async () => {
    const made = inProject(<PiecesStation />, [post], parted);
    const field = screen.getByLabelText<HTMLInputElement>('Equal when they differ by at most');
    const user = userEvent.setup();
    await user.clear(field);
    await user.type(field, '0.2{Enter}');
    expect(made.plan().alike).toBe(0.2);
    expect(screen.getByText('No two pieces are equal.')).toBeTruthy();
  });
});

describe('codes on mating faces', () => {
  beforeAll(loadSimplifier);
  it('are engraved at will, as tall and deep as said, and it is told where there is no room', async () => {
    const made = inProject(<PiecesStation />, [post], parted, { at: '/?tool=all', prepared: true });
    const user = userEvent.setup();
    const engrave = screen.getByRole('switch', { name: 'Engrave codes on mating faces' });
    expect(screen.queryByLabelText('Letters')).toBeNull();
    await user.click(engrave);
    expect(made.plan().labels).toEqual({ height: 8, depth: 0.4 });
    expect(await screen.findByText(/^Every piece with a mating face carries its code/)).toBeTruthy();
    const letters = screen.getByLabelText('Letters');
    await user.clear(letters);
    await user.type(letters, '12{Enter}');
    const deep = screen.getByLabelText('Deep');
    await user.clear(deep);
    await user.type(deep, '0.6{Enter}');
    expect(made.plan().labels).toEqual({ height: 12, depth: 0.6 });
    await user.click(engrave);
    expect(made.plan().labels).toBeUndefined();
    expect(made.labels).toEqual(['Engrave codes', 'Letters 12 mm tall', 'Letters 0.6 mm deep', 'Engrave no codes']);
  });

  it('find no room on a thin rod: its pieces are named', async () => {
    const rod = box([0, 0, 0], [5, 5, 300]);
    inProject(
      <PiecesStation />,
      [rod],
      { ...parted, labels: { height: 8, depth: 0.4 } },
      { at: '/?tool=all', prepared: true },
    );
    expect(await screen.findByText('No room beside the joints on A1, A2, A3.')).toBeTruthy();
  });

  it('are not offered while nothing is cut', () => {
    inProject(<PiecesStation />, [post], {}, { at: '/?tool=all' });
    expect(screen.queryByRole('switch', { name: /Engrave/ })).toBeNull();
  });
});

describe('how pieces lie', () => {
  beforeAll(loadSimplifier);
  const lying = (at = '/?piece=b1') => inProject(<PiecesStation />, [plate], {}, { at, prepared: true });
  const plate = box([0, 0, 0], [6, 40, 90]);

  it('the table says how each lies, and what that takes', () => {
    lying();
    const row = screen.getByRole('row', { name: /^A1|A1/ });
    expect(row.textContent).toContain('as modelled');
    expect(row.textContent).toMatch(/\d+ (h|min)/);
  });

  it('poses stand side by side, the best first, each with its numbers; one is taken, and undone by its note', async () => {
    const made = lying();
    const strip = await screen.findByRole('list', { name: 'Poses of A1' });
    const poses = await within(strip).findAllByRole('button');
    expect(poses[0].getAttribute('aria-label')).toMatch(/^Pose 1: on its (left|right) side; time .*, height 6 mm/);
    await userEvent.setup().click(poses[0]);
    expect(made.labels).toEqual([expect.stringMatching(/^Lay A1 on its/)]);
    expect(made.plan().pieces[0].pose).toMatchObject({ by: 'search' });
    expect(await within(strip).findAllByRole('button', { pressed: true })).toHaveLength(1);
  });

  it('a piece is turned by hand on the bed, and set upright again', async () => {
    const made = lying('/?piece=b1&tool=pose');
    const user = userEvent.setup();
    const angle = screen.getByLabelText('By');
    await user.clear(angle);
    await user.type(angle, '90{Enter}');
    await user.click(screen.getByRole('button', { name: '+90°' }));
    const { pose } = made.plan().pieces[0];
    expect(pose).toMatchObject({ by: 'hand' });
    expect(Math.abs(pose!.up[1])).toBeCloseTo(1, 6);
    await user.click(screen.getByRole('button', { name: 'Upright as modelled' }));
    expect(made.plan().pieces[0].pose).toBeUndefined();
  });

  it('all are posed at once: before and after are shown, then taken', async () => {
    const made = lying('/');
    const user = userEvent.setup();
    await user.click(screen.getByRole('button', { name: 'Pose all' }));
    const table = await screen.findByRole('table', { name: 'Before and after' });
    expect(within(table).getByText('one piece laid anew')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Take these poses' }));
    expect(made.labels).toEqual(['Pose all pieces']);
    expect(Math.abs(made.plan().pieces[0].pose!.up[0])).toBeCloseTo(1, 6);
  });

  it('several pieces are printed from one colour at once', async () => {
    const made = inProject(<PiecesStation />, [post], parted, { prepared: true });
    const user = userEvent.setup();
    for (const code of ['A1', 'A3']) await user.click(screen.getByRole('checkbox', { name: `Pick ${code}` }));
    const many = screen.getByRole('region', { name: 'About 2 pieces' });
    within(many).getByRole('combobox', { name: 'Colour' }).focus();
    await user.keyboard('{Enter}');
    await user.click(await screen.findByRole('option', { name: 'blue' }));
    expect(made.plan().pieces.map((p) => p.colour)).toEqual(['#1f5673', '#1f5673']);
    expect(made.labels).toEqual(['Print 2 pieces in blue']);
  });
});
