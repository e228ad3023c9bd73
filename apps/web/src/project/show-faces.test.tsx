// @vitest-environment jsdom

import { act, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { box } from '../../../../packages/core/testing/shapes.ts';
import { page } from '../../testing/dom.ts';
import { inProject } from '../../testing/station.tsx';
import type { Triple } from '../engine/types.ts';
import { type PickedPlace, type Picker, useWorkspace } from './selection.tsx';
import { ShowFaces, thinned } from './show-faces.tsx';

page(640, 500);

const block = box([0, 0, 0], [100, 40, 20]);
const place = (at: Triple): PickedPlace => ({ body: 'b1', at, normal: [0, 0, 1] });

/** Lets a test pick as the view would. */
let wanted: Picker | null = null;
function Eye() {
  const { picker, setPicker } = useWorkspace();
  wanted = picker;
  return (
    <button type="button" onClick={() => setPicker(null)}>
      stop picking
    </button>
  );
}
const panel = (more = {}) =>
  inProject(
    <>
      <ShowFaces />
      <Eye />
    </>,
    [block],
    more,
  );

describe('show faces', () => {
  it('a picked face is marked to its creases, and taken off again; the picking goes on until it is stopped', async () => {
    const made = panel();
    const user = userEvent.setup();
    expect(screen.getByText('none yet')).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Take off' }).disabled).toBe(true);
    await user.click(screen.getByRole('button', { name: 'Mark faces' }));
    expect(wanted?.prompt).toContain('Pick a face');
    act(() => wanted?.onPlace?.(place([50, 20, 20])));
    expect(await screen.findByText('40.0 cm² marked')).toBeTruthy();
    act(() => wanted?.onPlace?.(place([50, 0, 10])));
    expect(await screen.findByText('60.0 cm² marked')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Take off' }));
    expect(wanted?.prompt).toContain('take it off');
    act(() => wanted?.onPlace?.(place([50, 20, 20])));
    expect(await screen.findByText('20.0 cm² marked')).toBeTruthy();
    expect(made.labels).toEqual(['Mark show faces', 'Mark show faces', 'Take show faces off']);
    await user.click(screen.getByRole('button', { name: 'stop picking' }));
    expect(screen.getByRole('button', { name: 'Take off' }).getAttribute('aria-pressed')).toBe('false');
    await user.click(screen.getByRole('button', { name: 'Unmark all' }));
    expect(made.plan().show).toEqual([]);
    expect(screen.getByText('none yet')).toBeTruthy();
  });

  it('a stroke of the brush is one step, kept where it is on the source, whatever the model’s size', async () => {
    // the plan makes the model twice as large
    const made = panel({ recipe: [{ id: 'r1', kind: 'scale', factors: [2, 2, 2] }] });
    const user = userEvent.setup();
    await user.click(screen.getByRole('radio', { name: 'brush' }));
    const radius = screen.getByLabelText('Radius of the brush');
    await user.clear(radius);
    await user.type(radius, '12{Enter}');
    await user.click(screen.getByRole('button', { name: 'Mark faces' }));
    await waitFor(() => expect(wanted?.stroke?.radius).toBe(12));
    // spots 2 mm apart along 40 mm
    const along = Array.from({ length: 21 }, (_, i) => place([20 + 2 * i, 40, 40]));
    act(() => wanted?.stroke?.onStroke(along));
    await waitFor(() => expect(made.labels).toEqual(['Mark show faces']));
    const { show } = made.plan();
    expect(show).toHaveLength(6);
    expect(show[0].at.map((x) => Math.round(x * 1e6) / 1e6)).toEqual([10, 20, 20]);
    for (const mark of show) expect(mark).toMatchObject({ angle: Math.PI, off: false });
    for (const mark of show) expect(mark.radius).toBeCloseTo(6, 9);
  });

  it('creases are set by their angle', async () => {
    const made = panel();
    const user = userEvent.setup();
    const crease = screen.getByLabelText('Ends at creases of');
    await user.clear(crease);
    await user.type(crease, '100{Enter}');
    await user.click(screen.getByRole('button', { name: 'Mark faces' }));
    act(() => wanted?.onPlace?.(place([50, 20, 20])));
    // over the edges of the block, all round it
    expect(await screen.findByText('136.0 cm² marked')).toBeTruthy();
    expect(made.plan().show[0].angle).toBeCloseTo((100 * Math.PI) / 180, 9);
  });

  it('says so when no more marks can be kept', () => {
    panel({ show: Array.from({ length: 1990 }, () => ({ at: [1, 1, 20], radius: 1 })) });
    expect(screen.getByRole('status').textContent).toContain('1990 marks');
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Mark faces' }).disabled).toBe(true);
  });
});

describe('thinning a stroke', () => {
  it('keeps places that are half a brush apart, the first always; faces are all kept', () => {
    const places = [0, 1, 2, 5, 6, 10, 10.5].map((x) => place([x, 0, 0]));
    expect(thinned(places, 8, 'brush').map((p) => p.at[0])).toEqual([0, 5, 10]);
    expect(thinned(places, 8, 'face')).toHaveLength(7);
  });
});
