// @vitest-environment jsdom
import type { StepInput } from '@gephyra/core';
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { box } from '../../../../../packages/core/testing/shapes.ts';
import { page } from '../../../testing/dom.ts';
import { inProject } from '../../../testing/station.tsx';
import type { Triple } from '../../engine/types.ts';
import { useWorkspace } from '../../project/selection.tsx';
import { BorePanel } from './bore-panel.tsx';

page();

const post = box([-40, -30, 0], [40, 30, 300]);
const PLACES: { at: Triple; normal: Triple }[] = [
  { at: [-40, 0, 250], normal: [-1, 0, 0] },
  { at: [40, 0, 150], normal: [1, 0, 0] },
  { at: [0, -30, 20], normal: [0, -1, 0] },
];

/** What the view would do: say what is to be picked, and pick places of the model. */
function View() {
  const { picker } = useWorkspace();
  return (
    <>
      <p role="note">{picker?.prompt ?? 'nothing to pick'}</p>
      {PLACES.map((place, i) => (
        <button key={place.at.join()} type="button" onClick={() => picker?.onPlace?.({ body: 'b1', ...place })}>
          pick {i + 1}
        </button>
      ))}
    </>
  );
}

function shown(recipe: StepInput[] = []) {
  const onShow = vi.fn();
  const made = inProject(
    <>
      <BorePanel onShow={onShow} />
      <View />
    </>,
    [post],
    { recipe },
  );
  return { ...made, onShow, user: userEvent.setup() };
}
const press = (user: ReturnType<typeof userEvent.setup>, name: string) =>
  user.click(screen.getByRole('button', { name }));
const rows = () => within(screen.getByRole('list', { name: 'Places of the bore' })).getAllByRole('listitem');
const field = (label: string) => screen.getByLabelText<HTMLInputElement>(label);

describe('a bore from place to place', () => {
  it('enters and leaves at the skin, and lies below it between; what is looked at is the whole route', async () => {
    const { user, previews, onShow } = shown([{ kind: 'scale', factor: 2 }]);
    await press(user, 'From place to place');
    expect(screen.getByRole('note').textContent).toBe('Pick place 1 of the route.');
    for (const n of [1, 2, 3]) await press(user, `pick ${n}`);
    expect(screen.getByRole('note').textContent).toBe('Pick place 4 of the route; Stop ends it.');
    expect(rows()).toHaveLength(3);
    const [markers, path] = onShow.mock.lastCall!;
    expect(markers.map((m: { text: string }) => m.text)).toEqual(['1', '2', '3']);
    expect(path.places).toEqual([PLACES[0].at, [20, 0, 150], PLACES[2].at]);
    await press(user, 'Bore it');
    expect(previews).toEqual([
      {
        kind: 'bore',
        points: [
          [-20, 0, 125],
          [10, 0, 75],
          [0, -15, 10],
        ],
        diameter: 8,
        gap: 0.2,
        bend: 12,
        mouth: 0.5,
        blind: false,
      },
    ]);
  });

  it('is typed where no mouse is at hand: places are added, set and taken out again', async () => {
    const { user, previews } = shown();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Bore it' }).disabled).toBe(true);
    for (let i = 0; i < 3; i++) await press(user, 'Add a place');
    expect([field('3 x').value, field('3 y').value, field('3 z').value]).toEqual(['0', '0', '150']);
    await user.clear(field('1 z'));
    await user.type(field('1 z'), '300{Enter}');
    await press(user, 'Take place 2 out');
    expect(rows()).toHaveLength(2);
    await user.clear(field('2 z'));
    await user.type(field('2 z'), '0{Enter}');
    await user.type(screen.getByLabelText('What runs through it'), '  brass tube ');
    await user.clear(field('Its diameter'));
    await user.type(field('Its diameter'), '6.5{Enter}');
    await user.click(screen.getByRole('checkbox', { name: /ends at its last place/ }));
    await press(user, 'Bore it');
    expect(previews[0]).toMatchObject({
      points: [
        [0, 0, 300],
        [0, 0, 0],
      ],
      diameter: 6.5,
      blind: true,
      stock: 'brass tube',
    });
  });

  it('goes straight through to where it leaves the model, which is asked of the worker', async () => {
    const made = shown();
    await press(made.user, 'Straight through');
    expect(screen.getByRole('note').textContent).toBe('Pick where the bore enters.');
    await press(made.user, 'pick 1');
    expect(screen.getByRole('note').textContent).toBe('nothing to pick');
    expect(await screen.findByLabelText('2 x')).toHaveProperty('value', '40');
    await press(made.user, 'Bore it');
    expect(made.previews[0]).toMatchObject({
      points: [
        [-40, 0, 250],
        [40, 0, 250],
      ],
    });
  });

  it('has sunk ends, and is a slot for a strap, when that is wanted', async () => {
    const { user, previews } = shown();
    await press(user, 'Straight through');
    await press(user, 'From place to place');
    for (const n of [1, 2]) await press(user, `pick ${n}`);
    await user.click(screen.getByRole('checkbox', { name: 'ends sunk for a head or a collar' }));
    await user.clear(field('Sunk, depth'));
    await user.type(field('Sunk, depth'), '3{Enter}');
    await user.click(screen.getByRole('checkbox', { name: 'a slot for a strap, as thick as its diameter' }));
    await user.clear(field('Turned by'));
    await user.type(field('Turned by'), '90{Enter}');
    await press(user, 'Bore it');
    expect(previews[0]).toMatchObject({
      sink: { diameter: 16, depth: 3 },
      slot: { width: 24, turn: Math.PI / 2 },
    });
  });
});
