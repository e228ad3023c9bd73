// @vitest-environment jsdom
import type { PlanInput } from '@gephyra/core';
import { fireEvent, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { box } from '../../../../../packages/core/testing/shapes.ts';
import { page } from '../../../testing/dom.ts';
import { inProject } from '../../../testing/station.tsx';
import BedsStation from './station.tsx';

// drawn on a canvas, which is not there
vi.mock('../../ui/chart.tsx', () => ({
  Chart: ({ label }: { label: string }) => <div role="img" aria-label={label} />,
}));

page(640, 500);

const blocks = [box([0, 0, 0], [60, 50, 40]), box([100, 0, 0], [140, 30, 20]), box([200, 0, 0], [280, 80, 30])];
const bed = (...pieces: object[]) => ({ id: 'bed1', printer: 'Desktop 220', pieces });
const a = { piece: 'b1', x: 60, y: 60 };
const b = { piece: 'b2', x: 160, y: 160 };
const at = (more: Partial<PlanInput>, where = '/') =>
  inProject(<BedsStation />, blocks, more, { prepared: true, at: where });
const two = { beds: [bed(a, b), { ...bed(), id: 'bed2', name: 'Tide bed' }] } as Partial<PlanInput>;
const drawn = (code: string) =>
  within(screen.getByRole('group', { name: /drawn from above/ })).getByRole('button', {
    name: new RegExp(`^${code} at`),
  });

describe('beds', () => {
  it('without any, says what to do; filled, all pieces lie on one, and it is taken in one go', async () => {
    const made = at({});
    const user = userEvent.setup();
    expect(screen.getByText(/No bed yet/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Fill beds' }));
    const table = await screen.findByRole('table', { name: 'Before and after' });
    expect(within(table).getByRole('row', { name: /on no bed 3 0/ })).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Take these beds' }));
    expect(made.labels).toEqual(['Fill beds']);
    expect(made.plan().beds.map((x) => x.pieces.length)).toEqual([3]);
    expect(screen.getByText('Nothing to mend on this bed.')).toBeTruthy();
  });

  it('a piece is nudged, turned, locked and taken off by keys', () => {
    const made = at(two);
    const key = (k: string, more: object = {}) => fireEvent.keyDown(drawn('A1'), { key: k, ...more });
    key('ArrowRight');
    key('ArrowUp', { shiftKey: true });
    key('ArrowLeft', { altKey: true });
    key('r');
    expect(made.plan().beds[0].pieces[0]).toMatchObject({ x: 60.9, y: 70 });
    expect(made.plan().beds[0].pieces[0].spin).toBeCloseTo(Math.PI / 12, 9);
    key('l');
    key('ArrowRight');
    expect(made.plan().beds[0].pieces[0]).toMatchObject({ x: 60.9, locked: true });
    key('Delete');
    expect(made.plan().beds[0].pieces.map((p) => p.piece)).toEqual(['b2']);
    expect(made.labels).toEqual(['Move A1', 'Move A1', 'Move A1', 'Turn A1', 'Lock A1', 'Take A1 off']);
  });

  it('what overlaps is marked, and is a finding', () => {
    at({ beds: [bed(a, { ...b, x: 70, y: 60 })] } as Partial<PlanInput>);
    expect(drawn('A1').getAttribute('aria-label')).toMatch(/lies badly/);
    expect(screen.getByText(/A1 and B1 lie over each other/)).toBeTruthy();
  });

  it('a piece goes to another bed by the list, and by numbers to another place', async () => {
    const made = at(two, '/?bed=bed1&piece=b1&copy=1');
    const user = userEvent.setup();
    const x = screen.getByLabelText('x');
    await user.clear(x);
    await user.type(x, '70{Enter}');
    expect(made.plan().beds[0].pieces[0]).toMatchObject({ x: 70, y: 60 });
    screen.getByRole('combobox', { name: 'On' }).focus();
    await user.keyboard('{Enter}');
    await user.click(await screen.findByRole('option', { name: 'Tide bed' }));
    expect(made.plan().beds.map((d) => d.pieces.map((p) => p.piece))).toEqual([['b2'], ['b1']]);
  });

  it('what lies on no bed is put where it is free', async () => {
    const made = at(two);
    await userEvent.setup().click(screen.getByRole('button', { name: 'Put C1 on this bed' }));
    expect(made.plan().beds[0].pieces.map((p) => p.piece)).toEqual(['b1', 'b2', 'b3']);
    expect(screen.getByText('Nothing to mend on this bed.')).toBeTruthy();
  });

  it('a locked bed lets nothing be moved, and is named, freed and removed', async () => {
    const made = at({ beds: [{ ...bed(a), locked: true }] } as Partial<PlanInput>);
    const user = userEvent.setup();
    fireEvent.keyDown(drawn('A1'), { key: 'ArrowRight' });
    fireEvent.keyDown(drawn('A1'), { key: 'Delete' });
    expect(made.labels).toEqual([]);
    await user.type(screen.getByLabelText('Own name of the bed'), 'Night{Enter}');
    await user.click(screen.getByRole('checkbox', { name: 'locked, stays as it is' }));
    expect(made.plan().beds[0]).toMatchObject({ name: 'Night', locked: false });
    await user.click(screen.getByRole('button', { name: 'Remove this bed' }));
    expect(made.plan().beds).toEqual([]);
  });

  it('another printer is used beside the main one, and spacing, brim and hours are set', async () => {
    const made = at({});
    const user = userEvent.setup();
    await user.click(screen.getByRole('button', { name: 'Use another printer' }));
    await user.click(await screen.findByRole('menuitem', { name: /^Small 130/ }));
    expect(made.plan().printers.map((p) => p.name)).toEqual(['Small 130']);
    await user.click(screen.getByRole('button', { name: 'Use Small 130 no more' }));
    expect(made.plan().printers).toEqual([]);
    await user.click(screen.getByRole('button', { name: 'How beds are filled' }));
    for (const [label, text] of [
      ['Spacing', '6'],
      ['Brim', '3'],
      ['Longest, 0 for any', '9'],
    ]) {
      const field = screen.getByLabelText(label);
      await user.clear(field);
      await user.type(field, `${text}{Enter}`);
    }
    expect(made.plan().bedding).toEqual({ spacing: 6, brim: 3, hours: 9 });
  });
});
