// @vitest-environment jsdom
import type { Flat, SeamInput } from '@gephyra/core';
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { box } from '../../../../../packages/core/testing/shapes.ts';
import { page } from '../../../testing/dom.ts';
import { inProject } from '../../../testing/station.tsx';
import { useProject } from '../../project/project.tsx';
import { FlatsPanel, flatMarkers, isBent } from './flats-panel.tsx';

page();

const post = box([-40, -30, 0], [40, 30, 300]);
const flat = (n: number, x: number): Flat => ({ n, at: [x, 0, 0], normal: [0, 1, 0], diameter: 14 });
// bent seams are cut by the kernel, which is not there: the seam is switched off, and the search answers what it is told to
const arc = (flats?: Flat[]): SeamInput => ({
  id: 's1',
  name: 'Brow',
  kind: 'profile',
  origin: [0, 0, 150],
  normal: [0, 1, 0],
  up: [0, 0, 1],
  points: [
    [-50, 0],
    [0, 20],
    [50, 0],
  ],
  curve: 'arc',
  enabled: false,
  flats,
});

function Panel() {
  const [seam] = useProject().plan.seams;
  return isBent(seam) ? <FlatsPanel seam={seam} /> : <p>not bent</p>;
}

const shown = (seam: SeamInput, found: () => Promise<unknown> = async () => []) =>
  inProject(<Panel />, [post], { seams: [seam] }, { search: found });
const flatsOf = (made: ReturnType<typeof shown>) => (made.plan().seams[0] as { flats?: Flat[] }).flats;
const press = (name: string) => userEvent.setup().click(screen.getByRole('button', { name }));

describe('flats of a bent seam', () => {
  it('are found and added to those there are, as one step', async () => {
    const made = shown(arc([flat(3, -20)]), async () => [flat(0, 10), flat(1, 30)]);
    await press('Find more places');
    await screen.findByRole('button', { name: 'Take flat 2 away' });
    expect(flatsOf(made)!.map((f) => f.n)).toEqual([3, 0, 1]);
    expect(made.labels).toEqual(['Work 2 flats into Brow']);
  });

  it('are sized and taken away one by one', async () => {
    const made = shown(arc([flat(0, -20), flat(1, 20)]));
    const user = userEvent.setup();
    const rows = within(screen.getByRole('list', { name: 'Flats' }));
    await user.clear(rows.getByLabelText('Flat 2'));
    await user.type(rows.getByLabelText('Flat 2'), '18{Enter}');
    expect(flatsOf(made)!.map((f) => f.diameter)).toEqual([14, 18]);
    await press('Take flat 1 away');
    expect(flatsOf(made)!.map((f) => [f.n, f.diameter])).toEqual([[1, 18]]);
    expect(made.labels).toEqual(['Size flat 2 of Brow', 'Take flat 1 off Brow']);
  });

  it('that have no place are said to, and so is what went wrong', async () => {
    const answers = [async () => [], async () => Promise.reject(new Error('The kernel does not load.'))];
    const made = shown(arc(), () => answers.shift()!());
    await press('Find places for flats');
    expect(await screen.findByText(/No place was found: a flat needs 8 mm/)).toBeTruthy();
    await press('Find places for flats');
    expect(await screen.findByText('The kernel does not load.')).toBeTruthy();
    expect(made.labels).toEqual([]);
  });

  it('can be given up while they are looked for', async () => {
    const made = shown(arc(), () => new Promise(() => {}));
    await press('Find places for flats');
    await press('Cancel');
    expect(await screen.findByRole('button', { name: 'Find places for flats' })).toBeTruthy();
    expect(made.labels).toEqual([]);
  });

  it('are there for bent seams only, and drawn where they lie on the model', () => {
    const made = shown({ ...arc(), curve: 'line' } as SeamInput);
    expect(screen.getByText('not bent')).toBeTruthy();
    const [seam] = made.plan().seams;
    expect(flatMarkers({ ...seam, flats: [flat(4, 25)] } as typeof seam)).toMatchObject([
      // across is up × normal: against x
      { at: [-25, 0, 150].map((x) => expect.closeTo(x, 9)), radius: 7, text: 'flat 5' },
    ]);
  });
});
