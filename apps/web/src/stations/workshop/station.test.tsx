// @vitest-environment jsdom
import { MOST_ENTRIES, type PlanInput, progressOf } from '@gephyra/core';
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { box } from '../../../../../packages/core/testing/shapes.ts';
import { page } from '../../../testing/dom.ts';
import { inProject } from '../../../testing/station.tsx';
import WorkshopStation from './station.tsx';

// drawn on a canvas, which there is not here
vi.mock('../../ui/chart.tsx', () => ({ Chart: ({ label }: { label: string }) => <p>{label}</p> }));

page(600, 400);

const beam = box([0, 0, 0], [300, 40, 40]);
const seams: PlanInput['seams'] = [
  { id: 's1', kind: 'flat', origin: [100, 0, 0], normal: [1, 0, 0] },
  { id: 's2', kind: 'flat', origin: [200, 0, 0], normal: [1, 0, 0] },
];
const keys = ['b1/s1-', 'b1/s1+.s2-', 'b1/s2+'];
const at = { x: 100, y: 60 };
const beds: PlanInput['beds'] = [
  {
    id: 'bed1',
    printer: 'Desktop 220',
    pieces: [
      { piece: keys[0], ...at },
      { piece: keys[1], ...at, y: 140 },
    ],
  },
];
const order: PlanInput['order'] = [{ id: 'o1', parts: [{ piece: keys[0] }, { piece: keys[1] }] }];
const open = (more: Partial<PlanInput> = {}) =>
  inProject(<WorkshopStation />, [beam], { seams, beds, order, ...more }, { prepared: true, assembled: true });
const how = (code: string) => screen.getByRole('slider', { name: `How far ${code} is` });

describe('the workshop', () => {
  it('starts a bed, ends it, and says what comes next; each is a change of its own', async () => {
    const { plan, labels } = open();
    expect(screen.getByRole('region', { name: 'What comes next' }).textContent).toContain('print Bed 1, 2 pieces');
    await userEvent.click(screen.getByRole('button', { name: 'Start Bed 1' }));
    expect(how('A1').getAttribute('aria-valuetext')).toBe('printing');
    expect(how('A3').getAttribute('aria-valuetext')).toBe('to print');
    await userEvent.click(screen.getByRole('button', { name: 'Bed 1 is done' }));
    expect(labels).toEqual(['2 pieces: printing', '2 pieces: printed']);
    // what is printed is kept with its file's mark, what is only begun is not
    const [begun, ended] = plan().log!;
    expect(begun.pieces.every((p) => p.file === undefined)).toBe(true);
    expect(ended.pieces.every((p) => /^[0-9a-f]{16}$/.test(p.file!))).toBe(true);
    expect(ended.bed).toBe('bed1');
    await userEvent.click(screen.getByRole('button', { name: /is joined$/ }));
    expect(
      progressOf(
        plan().log!,
        keys.map((piece) => ({ piece, copy: 1 })),
      ).filter((p) => p.state === 'joined'),
    ).toHaveLength(2);
    const next = screen.getByRole('region', { name: 'What comes next' });
    expect(next.textContent).toContain('What is left to print lies on no bed.');
    expect(within(next).getByRole('link', { name: 'Fill beds' })).toBeTruthy();
  });

  it('moves a mark by the arrow keys, and tells in the log who did what', async () => {
    const { plan } = open();
    await userEvent.type(screen.getByRole('textbox', { name: 'Your name' }), 'Wren');
    how('A2').focus();
    await userEvent.keyboard('{ArrowRight}{ArrowRight}');
    expect(how('A2').getAttribute('aria-valuetext')).toBe('printed');
    expect(plan().log!.map((e) => [e.to, e.who])).toEqual([
      ['printing', 'Wren'],
      ['printed', 'Wren'],
    ]);
    expect(screen.getByRole('region', { name: 'What happened' }).textContent).toContain('A2 printed, Wren');
  });

  it('sets many at once, but not those that are there already', async () => {
    const { plan, labels } = open({
      log: [{ at: '2026-05-01T00:00:00.000Z', pieces: [{ piece: keys[0] }], to: 'printed' }],
    });
    for (const code of ['A1', 'A2', 'A3'])
      await userEvent.click(screen.getByRole('checkbox', { name: `Tick ${code}` }));
    await userEvent.click(screen.getByRole('button', { name: 'Set' }));
    expect(labels).toEqual(['2 pieces: printed']);
    expect(
      plan()
        .log!.at(-1)!
        .pieces.map((p) => p.piece)
        .sort(),
    ).toEqual([keys[1], keys[2]].sort());
  });

  it('notes a failed print with height and reason, and what is left to print grows by it', async () => {
    const { plan } = open({ log: [{ at: '2026-05-01T00:00:00.000Z', pieces: [{ piece: keys[0] }], to: 'printing' }] });
    await userEvent.click(within(screen.getByRole('list', { name: 'Tally' })).getByRole('button', { name: /^A1 / }));
    const height = screen.getByLabelText('Height at which it failed');
    await userEvent.clear(height);
    await userEvent.type(height, '40{Enter}');
    await userEvent.type(screen.getByRole('textbox', { name: 'Why' }), 'lifted');
    await userEvent.click(screen.getByRole('button', { name: 'It failed, print it again' }));
    expect(plan().log!.at(-1)).toMatchObject({ to: 'toPrint', failed: { height: 40, why: 'lifted' } });
    expect(screen.getByRole('list', { name: 'Tally' }).textContent).toContain('failed at 40 mm');
    expect(screen.getByRole('region', { name: 'Left to print' }).textContent).toContain('failed prints1');
  });

  it('takes no more when the log is full, and says so', async () => {
    const entry = { at: '2026-05-01T00:00:00.000Z', pieces: [{ piece: keys[0] }], to: 'cleaned' as const };
    const { labels } = open({ log: Array.from({ length: MOST_ENTRIES }, () => entry) });
    expect(screen.getByText(/The log is full/)).toBeTruthy();
    how('A2').focus();
    await userEvent.keyboard('{ArrowRight}');
    expect(labels).toEqual([]);
  });
});
