// @vitest-environment jsdom
import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { box } from '../../../../../packages/core/testing/shapes.ts';
import { page } from '../../../testing/dom.ts';
import { inProject } from '../../../testing/station.tsx';
import JointsStation from './station.tsx';

page(292, 236);

const post = box([-40, -30, 0], [40, 30, 300]);
const seam = (id: string, z: number) => ({
  id,
  kind: 'flat' as const,
  origin: [0, 0, z] as [number, number, number],
  normal: [0, 0, 1] as [number, number, number],
});
const pin = (id: string, at: [number, number], more: object = {}) => ({
  id,
  kind: 'pin' as const,
  seam: 's1',
  at,
  diameter: 8,
  depth: 8,
  ...more,
});
const parted = { seams: [seam('s1', 100), seam('s2', 200)] };
const faces = () => within(screen.getByRole('list', { name: 'Mating faces' })).getAllByRole('listitem');

describe('the ledger of joints', () => {
  it('says that there is no face before a seam parts the model', () => {
    inProject(<JointsStation />, [post]);
    expect(screen.getByText(/No mating face yet\./)).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Seat joints' }).disabled).toBe(true);
  });

  it('has every face with its joints, and those that are bare say so', () => {
    inProject(<JointsStation />, [post], { ...parted, joints: [pin('j1', [0, 0]), pin('j2', [20, 0])] });
    expect(faces()[0].textContent).toContain('2 joints');
    expect(faces().at(-1)?.textContent).toContain('no joint');
  });

  it('adds a joint of the chosen kind where there is room, and one more beside it', async () => {
    const made = inProject(<JointsStation />, [post], parted);
    const user = userEvent.setup();
    const add = screen.getByRole('button', { name: 'Add' });
    await user.click(add);
    await user.click(add);
    const { joints } = made.plan();
    expect(joints.map((j) => j.kind)).toEqual(['key', 'key']);
    expect(joints[0].at).not.toEqual(joints[1].at);
    expect(made.labels).toEqual(['Add key j1', 'Add key j2']);
  });

  it('seats joints on all bare faces in one step, and says how many', async () => {
    const made = inProject(<JointsStation />, [post], parted);
    await userEvent.setup().click(screen.getByRole('button', { name: 'Seat joints' }));
    await waitFor(() => expect(made.plan().joints.length).toBeGreaterThan(1));
    expect(new Set(made.plan().joints.map((j) => j.seam))).toEqual(new Set(['s1', 's2']));
    expect(made.labels).toEqual(['Seat joints on all bare faces']);
    expect(screen.getByText(/^\d+ joints on 2 of 2 faces\.$/)).toBeTruthy();
  });

  it('leaves everything as it was when seating is ended', async () => {
    const made = inProject(<JointsStation />, [post], parted, { search: () => new Promise(() => {}) });
    const user = userEvent.setup();
    await user.click(screen.getByRole('button', { name: 'Seat joints' }));
    const work = await screen.findByRole('group', { name: 'Seating' });
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Seating' }).disabled).toBe(true);
    await user.click(within(work).getByRole('button', { name: 'Cancel' }));
    await waitFor(() =>
      expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Seat joints' }).disabled).toBe(false),
    );
    expect(made.labels).toEqual([]);
    expect(made.plan().joints).toEqual([]);
  });

  it('offers a joint another kind, and its end, by the right button', async () => {
    const made = inProject(<JointsStation />, [post], { ...parted, joints: [pin('j1', [0, 0])] }, { at: '/?joint=j1' });
    const row = within(faces()[0]).getByRole('button', { name: /^j1 / });
    fireEvent.contextMenu(row);
    const user = userEvent.setup();
    await user.click(await screen.findByRole('menuitem', { name: 'Make it a cone' }));
    expect(made.plan().joints[0]).toMatchObject({ id: 'j1', kind: 'cone', seam: 's1' });
    fireEvent.contextMenu(within(faces()[0]).getByRole('button', { name: /^j1 / }));
    await user.click(await screen.findByRole('menuitem', { name: 'Delete it' }));
    expect(made.plan().joints).toEqual([]);
  });

  it('joints that do not hold are made smaller together', async () => {
    const tooWide = [pin('j1', [0, 0], { diameter: 59 }), pin('j2', [0, 0], { seam: 's2', diameter: 59 })];
    const made = inProject(<JointsStation />, [post], { ...parted, joints: tooWide });
    const part = screen.getByRole('region', { name: 'Joints that do not hold' });
    expect(part.textContent).toContain('2 joints do not hold');
    await userEvent.setup().click(within(part).getByRole('button', { name: 'Make them smaller' }));
    await waitFor(() => expect(screen.queryByRole('region', { name: 'Joints that do not hold' })).toBeNull());
    for (const j of made.plan().joints) expect(j.kind === 'pin' && j.diameter).toBeLessThan(57);
  });
});

describe('a hinge', () => {
  it('has its sizes set by label, its pin with what leaves of its knuckles', async () => {
    // switched off: hinges are made by the kernel, which is not there
    const hinge = { id: 'j1', seam: 's1', at: [0, 0] as [number, number], kind: 'hinge' as const, enabled: false };
    const sizes = { diameter: 9, length: 27, pin: 3 };
    const made = inProject(
      <JointsStation />,
      [post],
      { ...parted, joints: [{ ...hinge, ...sizes }] },
      { at: '/?joint=j1' },
    );
    const user = userEvent.setup();
    const type = async (label: string, text: string): Promise<void> => {
      await user.clear(screen.getByLabelText(label));
      await user.type(screen.getByLabelText(label), `${text}{Enter}`);
    };
    await type('Opens', '120');
    await type('Knuckles', '5');
    await type('Knuckles across', '4');
    expect(made.plan().joints[0]).toMatchObject({ knuckles: 5, diameter: 4, pin: 2.8, opens: (120 * Math.PI) / 180 });
    expect(made.labels).toEqual(['Opens of hinge j1', 'Knuckles of hinge j1', 'Knuckles of hinge j1']);
  });
});

describe('the flat view of a face', () => {
  const shown = () =>
    inProject(
      <JointsStation />,
      [post],
      { ...parted, joints: [pin('j1', [-10, 0]), pin('j2', [20, 0])] },
      { at: '/?joint=j1' },
    );
  const joint = (id: string) => screen.getByRole('button', { name: new RegExp(`^Pin ${id} at`) });

  it('a joint is nudged by the arrow keys, and moved once for all of them', async () => {
    const made = shown();
    fireEvent.keyDown(joint('j1'), { key: 'ArrowRight', shiftKey: true });
    fireEvent.keyDown(joint('j1'), { key: 'ArrowUp' });
    fireEvent.keyDown(joint('j1'), { key: 'ArrowDown', altKey: true });
    await waitFor(() => expect(made.labels).toEqual(['Move j1']));
    const [u, v] = made.plan().joints[0].at;
    expect([Math.abs(u + 10), Math.abs(v)].sort((a, b) => a - b)[1]).toBeCloseTo(10, 6);
    expect(Math.abs(v)).toBeCloseTo(0.9, 6);
    expect(made.plan().joints[1].at).toEqual([20, 0]);
  });

  it('from the other side it is seen turned round: the same key moves the other way', async () => {
    const made = shown();
    const user = userEvent.setup();
    const [first, second] = within(screen.getByRole('radiogroup', { name: 'Side' })).getAllByRole('radio');
    expect(first.getAttribute('aria-checked')).toBe('true');
    fireEvent.keyDown(joint('j1'), { key: 'ArrowRight' });
    await waitFor(() => expect(made.labels).toHaveLength(1));
    const right = made.plan().joints[0].at[0];
    await user.click(second);
    fireEvent.keyDown(joint('j1'), { key: 'ArrowRight' });
    await waitFor(() => expect(made.labels).toHaveLength(2));
    expect(Math.sign(made.plan().joints[0].at[0] - right)).toBe(-Math.sign(right + 10));
  });

  it('shows both sides beside each other, each with its name', async () => {
    shown();
    await userEvent.setup().click(screen.getByRole('radio', { name: 'both' }));
    expect(screen.getAllByRole('group', { name: /^Mating face of .*, flat$/ })).toHaveLength(2);
  });

  it('goes near by itself only where a wall is thin and a joint is chosen', async () => {
    const plate = box([-100, -2, 0], [100, 2, 300]);
    const joints = [pin('j1', [30, 0], { diameter: 2, depth: 4 })];
    inProject(<JointsStation />, [plate], { ...parted, joints }, { at: '/?joint=j1' });
    const wide = () =>
      Number(
        screen
          .getByRole('group', { name: /^Mating face of/ })
          .getAttribute('viewBox')
          ?.split(' ')[2],
      );
    const zoom = screen.getByRole('switch', { name: 'Zoom' });
    await waitFor(() => expect(zoom.getAttribute('aria-checked')).toBe('true'));
    expect(wide()).toBeLessThan(40);
    await userEvent.setup().click(zoom);
    expect(wide()).toBeGreaterThan(200);
  });

  it('shows a thick face whole', async () => {
    shown();
    expect(screen.getByRole('switch', { name: 'Zoom' }).getAttribute('aria-checked')).toBe('false');
  });
});

describe('the numbers of a joint', () => {
  it('are set in its fields, with what was measured above them', async () => {
    const made = inProject(<JointsStation />, [post], { ...parted, joints: [pin('j1', [0, 0])] }, { at: '/?joint=j1' });
    const user = userEvent.setup();
    const field = screen.getByLabelText<HTMLInputElement>('Diameter');
    await user.clear(field);
    await user.type(field, '12{Enter}');
    expect(made.plan().joints[0]).toMatchObject({ diameter: 12 });
    await user.click(screen.getByRole('radio', { name: 'own' }));
    const gap = screen.getByLabelText<HTMLInputElement>('Own gap per side');
    await user.clear(gap);
    await user.type(gap, '0,25{Enter}');
    expect(screen.getByText('Peg 12.00, socket 12.50 mm')).toBeTruthy();
  });

  it('a coupon’s result needs a fit to be said, and sets the gaps of the project', async () => {
    const made = inProject(
      <JointsStation />,
      [post],
      { ...parted, joints: [pin('j1', [0, 0])] },
      { at: '/?joint=j1&tool=fits' },
    );
    const user = userEvent.setup();
    const form = screen.getByRole('form', { name: 'What the coupon said' });
    await user.click(within(form).getByRole('button', { name: 'Set the fits' }));
    expect((await within(form).findByRole('alert')).textContent).toBe('Say of at least one gap which fit it was.');
    expect(made.labels).toEqual([]);
    within(form).getByRole('combobox', { name: 'Was snug' }).focus();
    await user.keyboard('{Enter}');
    await user.click(await screen.findByRole('option', { name: '0.15 mm' }));
    await user.click(within(form).getByRole('button', { name: 'Set the fits' }));
    await waitFor(() => expect(made.labels).toEqual(['Fits from a coupon']));
    expect(made.plan().printer.fits).toEqual({ all: { snug: 0.15 } });
  });
});
