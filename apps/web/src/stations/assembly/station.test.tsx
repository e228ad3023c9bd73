// @vitest-environment jsdom
import type { PlanInput } from '@gephyra/core';
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { box } from '../../../../../packages/core/testing/shapes.ts';
import { page } from '../../../testing/dom.ts';
import { inProject } from '../../../testing/station.tsx';
import AssemblyStation from './station.tsx';

page(700, 400);

const beam = box([0, 0, 0], [400, 40, 40]);
const seams: PlanInput['seams'] = [100, 200, 300].map((x, i) => ({
  id: `s${i + 1}`,
  kind: 'flat',
  origin: [x, 0, 0],
  normal: [1, 0, 0],
}));
const open = (more: Partial<PlanInput> = {}, address = '/') =>
  inProject(<AssemblyStation />, [beam], { seams, ...more }, { assembled: true, at: address });
const steps = () => within(screen.getByRole('list', { name: 'Steps of joining' })).getAllByRole('listitem');

describe('the order of joining on screen', () => {
  it('is proposed, held against the one there is, and taken as one step', async () => {
    const { plan, labels } = open();
    expect(steps()).toHaveLength(3);
    await userEvent.click(screen.getByRole('button', { name: 'Propose an order' }));
    const then = await screen.findByRole('region', { name: 'Order as it would be' });
    expect(within(then).getByRole('row', { name: /one after the other/ }).textContent).toBe('one after the other32');
    await userEvent.click(within(then).getByRole('button', { name: 'Take this order' }));
    expect(labels).toEqual(['Take the proposed order']);
    expect(plan().order!.map((s) => s.parts.length)).toEqual([2, 2, 2]);
    expect(screen.getByRole('img', { name: '4 pieces joined in 3 steps' })).toBeTruthy();
  });

  it('says of a step how it comes, what it closes and by what, and keeps notes; the default order is written down then', async () => {
    const { plan, labels } = open({}, '/?step=1');
    const details = screen.getByRole('region', { name: 'Details' });
    expect(details.textContent).toContain('16.0 cm²');
    expect(details.textContent).toMatch(/from the (left|right)/);
    await userEvent.type(screen.getByRole('textbox', { name: 'Notes for the sheet' }), 'clamp it');
    await userEvent.tab();
    expect(labels).toEqual(['Note on step 1']);
    expect(plan().order).toHaveLength(3);
    expect(plan().order![0]).toMatchObject({ notes: 'clamp it', by: 'hand' });
  });

  it('names what is in the way of a step, and lets the other part come', async () => {
    const key = (i: number) => ['b1/s1-', 'b1/s1+.s2-', 'b1/s2+.s3-', 'b1/s3+'][i];
    const order: PlanInput['order'] = [
      { id: 'o1', parts: [{ piece: key(0) }, { piece: key(1) }], way: [-1, 0, 0] },
      { id: 'o2', parts: [{ piece: key(2) }, { piece: key(3) }] },
      { id: 'o3', parts: [{ step: 'o1' }, { step: 'o2' }] },
    ];
    const { plan } = open({ order }, '/?step=1');
    expect(steps()[0].textContent).toContain('blocked');
    expect(screen.getByRole('list', { name: 'In the way' }).textContent).toContain('they would go into each other');
    expect(screen.getByRole('list', { name: 'Findings' }).textContent).toContain('Step 1: A2 cannot come to A1');
    await userEvent.click(screen.getByRole('button', { name: 'Let A1 come instead' }));
    expect(plan().order![0].parts).toEqual([{ piece: key(1) }, { piece: key(0) }]);
    expect(screen.queryByRole('list', { name: 'In the way' })).toBeNull();
  });

  it('runs the build by a slider that says how many steps are done', async () => {
    open();
    const moment = screen.getByRole('slider', { name: 'Moment of the build' });
    expect(moment.getAttribute('aria-valuetext')).toBe('3 of 3 steps done');
    moment.focus();
    await userEvent.keyboard('{Home}');
    expect(moment.getAttribute('aria-valuetext')).toBe('0 of 3 steps done');
    await userEvent.click(within(steps()[1]).getAllByRole('button').at(-1)!);
    expect(moment.getAttribute('aria-valuetext')).toBe('1 of 3 steps done');
  });

  it('says what to do first when there is one piece', () => {
    open({ seams: [] });
    expect(screen.getByRole('region', { name: 'Assembly' }).textContent).toContain('There is one piece');
    expect(screen.getByRole('link', { name: 'Place seams' }).getAttribute('href')).toBe('/p/p1/seams');
  });
});
