// @vitest-environment jsdom
import { type Done, parsePlan } from '@gephyra/core';
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { box } from '../../../../packages/core/testing/shapes.ts';
import { page } from '../../testing/dom.ts';
import { desktop, inProject } from '../../testing/station.tsx';
import { useProject } from '../project/project.tsx';
import { PrintableDialog } from './printable.tsx';

page(292, 236);

const beam = box([0, 0, 0], [500, 60, 40]);

const start = (): Promise<void> => userEvent.click(screen.getByRole('button', { name: 'Start' }));

/** Edits the plan as another tab, or the maker, might while it runs. */
function Meddle() {
  const { change } = useProject();
  return (
    <button type="button" onClick={() => change('Add a zone', { do: 'set', set: { wish: 'strong' } })}>
      meddle
    </button>
  );
}

describe('making a model printable', () => {
  it('takes each step as a change of its own, from the plan that the steps before it made, and says what each did', async () => {
    const { seams } = parsePlan({
      version: 5,
      printer: desktop,
      seams: [{ id: 's1', kind: 'flat', name: 'Across x', origin: [200, 30, 20], normal: [1, 0, 0] }],
    });
    const answers: Done[] = [
      { did: '1 seam, 2 pieces.', left: [], change: { do: 'addSeams', seams } },
      { did: '0 joints on 0 of 1 faces.', left: ['No joint on face 1: it is too narrow.'], change: null },
      { did: '2 pieces laid.', left: [], change: { do: 'set', set: { wish: 'strong' } } },
      { did: 'One bed.', left: [], change: { do: 'set', set: { wish: 'fast' } } },
    ];
    const { plan, labels } = inProject(
      <PrintableDialog onClose={() => {}} />,
      [beam],
      {},
      { search: async () => answers.shift() },
    );
    await start();
    await screen.findByText('One bed.');
    expect(labels).toEqual(['Place proposed seams', 'Pose all pieces', 'Fill beds']);
    expect(plan().seams.map((s) => s.name)).toEqual(['Across x']);
    const rows = within(screen.getByRole('list', { name: 'Steps' })).getAllByRole('listitem');
    expect(rows.map((r) => /done/.test(r.innerHTML))).toEqual([true, true, true, true, true]);
    expect(rows[1].textContent).toContain('1 seam, 2 pieces.');
    expect(screen.getByRole('link', { name: 'see beds' }).getAttribute('href')).toBe('/p/p1/beds');
    expect(screen.getByRole('region', { name: 'What is left' }).textContent).toContain('too narrow');
  });

  it('changes nothing when the plan was edited meanwhile, nor when it is ended', async () => {
    const meant = vi.fn();
    let go = (): void => {};
    const waits = new Promise<void>((resolve) => {
      go = resolve;
    });
    const { plan, labels } = inProject(
      <>
        <Meddle />
        <PrintableDialog onClose={meant} />
      </>,
      [beam],
      {},
      {
        search: async () =>
          waits.then(() => ({ did: 'Nothing.', left: [], change: { do: 'set', set: { wish: 'fast' } } })),
      },
    );
    await start();
    screen.getByText('meddle').click();
    go();
    await screen.findByText(/was changed meanwhile/);
    expect(labels).toEqual(['Add a zone']);
    expect(plan().wish).toBe('strong');
    expect(meant).not.toHaveBeenCalled();
  });

  it('can be ended while it looks, and says so', async () => {
    const { labels } = inProject(
      <PrintableDialog onClose={() => {}} />,
      [beam],
      {},
      { search: () => new Promise(() => {}) },
    );
    await start();
    const list = screen.getByRole('list', { name: 'Steps' });
    expect(within(list).getByRole('progressbar')).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Cancel' }));
    await screen.findByText(/was ended/);
    expect(labels).toEqual([]);
    expect(screen.getByRole('button', { name: 'Start again' })).toBeTruthy();
  });
});
