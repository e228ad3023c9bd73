// @vitest-environment jsdom
import { fireEvent, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { page } from '../../testing/dom.ts';
import { type Columns, DataTable } from './data-table.tsx';

interface Bell {
  readonly code: string;
  readonly tone: string;
  readonly weight: number;
}

const BELLS: readonly Bell[] = [
  { code: 'B1', tone: 'low', weight: 120 },
  { code: 'B2', tone: 'high', weight: 30 },
  { code: 'B10', tone: 'middle', weight: 64 },
];

const columns: Columns<Bell> = [
  { id: 'code', header: 'Code', size: 60, meta: { fixed: true }, accessorFn: (b) => b.code },
  { id: 'tone', header: 'Tone', size: 100, accessorFn: (b) => b.tone },
  {
    id: 'weight',
    header: 'Weight',
    size: 80,
    meta: { right: true },
    accessorFn: (b) => b.weight,
    enableGlobalFilter: false,
  },
];

page(400, 330);

const table = (rows: readonly Bell[] = BELLS, offers = () => [{ title: 'Ring it', run: () => {} }]) => (
  <DataTable
    id="bells"
    label="the bells"
    rows={rows}
    columns={columns}
    keyOf={(b) => b.code}
    selected="B2"
    offers={offers}
    sum={`${rows.length} bells`}
  />
);

/** The codes of the rows in sight, from the top. */
const codes = (): string[] => screen.getAllByRole('rowheader').map((cell) => cell.textContent ?? '');
const sortBy = (name: string) =>
  within(screen.getByRole('columnheader', { name: new RegExp(`^${name}`) })).getByRole('button');

describe('a table', () => {
  it('is sorted by its heads, one way and the other, and says so', async () => {
    render(table());
    const user = userEvent.setup();
    expect(codes()).toEqual(['B1', 'B2', 'B10']);
    await user.click(sortBy('Weight'));
    expect(codes()).toEqual(['B2', 'B10', 'B1']);
    const head = screen.getByRole('columnheader', { name: /^Weight/ });
    expect(head.getAttribute('aria-sort')).toBe('ascending');
    await user.click(sortBy('Weight'));
    expect(codes()).toEqual(['B1', 'B10', 'B2']);
    expect(head.getAttribute('aria-sort')).toBe('descending');
  });

  it('finds rows by a word in them, and says when there is none', async () => {
    render(table());
    const user = userEvent.setup();
    const find = screen.getByRole('searchbox', { name: 'Find in the bells' });
    await user.type(find, 'mid');
    expect(codes()).toEqual(['B10']);
    expect(screen.getByRole('status').textContent).toBe('1 of 3');
    await user.clear(find);
    await user.type(find, 'flat');
    expect(screen.queryAllByRole('rowheader')).toEqual([]);
    expect(screen.getByText('Nothing here has “flat” in it.')).toBeTruthy();
    // what is left out of the search is not found by it
    await user.clear(find);
    await user.type(find, '120');
    expect(screen.queryAllByRole('rowheader')).toEqual([]);
  });

  it('shows the columns that are chosen, and keeps them and the order for the next time', async () => {
    const { unmount } = render(table());
    const user = userEvent.setup();
    await user.click(sortBy('Tone'));
    await user.click(screen.getByRole('button', { name: 'Columns' }));
    const sheet = await screen.findByRole('dialog', { name: 'Columns' });
    expect(within(sheet).queryByRole('checkbox', { name: 'Code' })).toBeNull();
    await user.click(within(sheet).getByRole('checkbox', { name: 'Weight' }));
    expect(screen.queryByText('120')).toBeNull();
    unmount();
    render(table());
    expect(screen.queryByText('120')).toBeNull();
    expect(codes()).toEqual(['B2', 'B1', 'B10']);
  });

  it('a column is made wider and narrower by keys, not to nothing', () => {
    render(table());
    const width = () => Number(screen.getByRole('separator', { name: 'Width of Tone' }).getAttribute('aria-valuenow'));
    const grip = screen.getByRole('separator', { name: 'Width of Tone' });
    fireEvent.keyDown(grip, { key: 'ArrowRight' });
    expect(width()).toBe(108);
    for (let k = 0; k < 20; k++) fireEvent.keyDown(grip, { key: 'ArrowLeft' });
    expect(width()).toBe(36);
  });

  it('offers what can be done with a row', async () => {
    const ring = vi.fn();
    render(table(BELLS, ((b: Bell) => [{ title: `Ring ${b.code}`, run: () => ring(b.code) }]) as never));
    fireEvent.contextMenu(screen.getByText('high'));
    await userEvent.setup().click(await screen.findByRole('menuitem', { name: 'Ring B2' }));
    expect(ring.mock.calls).toEqual([['B2']]);
  });

  it('draws of two thousand rows only those in sight, and tells how many there are', () => {
    const many = Array.from({ length: 2000 }, (_, i) => ({ code: `C${i + 1}`, tone: 'low', weight: i }));
    render(table(many));
    expect(codes().length).toBeLessThan(60);
    expect(codes()[0]).toBe('C1');
    expect(screen.getByRole('table', { name: 'the bells' }).getAttribute('aria-rowcount')).toBe('2001');
    expect(screen.getByText('2000 bells')).toBeTruthy();
  });

  it('forgets what the browser kept when it cannot be read', () => {
    localStorage.setItem('gephyra-table-bells', '{broken');
    render(table());
    expect(codes()).toEqual(['B1', 'B2', 'B10']);
  });
});
