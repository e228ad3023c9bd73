// @vitest-environment jsdom
import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { box } from '../../../../../packages/core/testing/shapes.ts';
import { page } from '../../../testing/dom.ts';
import { inProject } from '../../../testing/station.tsx';
import ModelStation from './station.tsx';

page();

const post = box([-40, -30, 0], [40, 30, 300]);
const slab = box([100, -30, 0], [200, 30, 20]);
const measure = (label: string) => screen.getByLabelText<HTMLInputElement>(label);
const type = async (label: string, text: string): Promise<void> => {
  const user = userEvent.setup();
  await user.clear(measure(label));
  await user.type(measure(label), `${text}{Enter}`);
};

describe('the bodies', () => {
  it('show their size and health, and are hidden, locked, named and dropped', async () => {
    const made = inProject(<ModelStation />, [post, slab]);
    expect(screen.getByText('2 bodies')).toBeTruthy();
    const list = screen.getByRole('list', { name: 'Bodies' });
    const [first] = within(list).getAllByRole('button');
    expect(first.textContent).toContain('80.0 × 60.0 × 300.0 mm');
    expect(first.textContent).toContain('12 triangles, 1440.0 cm³');
    const user = userEvent.setup();
    await user.click(first);
    await user.click(screen.getByRole('button', { name: 'hide' }));
    await user.click(screen.getByRole('button', { name: 'lock' }));
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'drop' }).disabled).toBe(true);
    await user.clear(measure('Name of the body'));
    await user.type(measure('Name of the body'), 'Mast{Enter}');
    expect(made.plan().bodies[0]).toMatchObject({ hidden: true, locked: true, name: 'Mast' });
    expect(first.textContent).toContain('locked, hidden');
    await user.click(screen.getByRole('button', { name: 'unlock' }));
    await user.click(screen.getByRole('button', { name: 'drop' }));
    expect(made.plan().recipe).toMatchObject([{ kind: 'remove', on: ['b1'] }]);
    expect(made.labels.at(-1)).toBe('Drop Mast');
  });

  it('the last one is not dropped', async () => {
    inProject(<ModelStation />, [post]);
    fireEvent.contextMenu(screen.getByText('One body').nextElementSibling!.querySelector('li')!);
    expect((await screen.findByRole('menuitem', { name: 'Drop it' })).getAttribute('aria-disabled')).toBe('true');
  });

  it('stand by the groups that they are put into', async () => {
    inProject(<ModelStation />, [post, slab], { bodies: [{ id: 'b2', group: 'Feet' }] });
    const feet = screen.getByRole('list', { name: 'Feet' });
    expect(within(feet).getAllByRole('listitem')).toHaveLength(1);
    expect(feet.textContent).toContain('100.0 × 60.0 × 20.0');
  });
});

describe('the size', () => {
  it('is set by one axis, and the others follow; a new size takes the place of the one before', async () => {
    const made = inProject(<ModelStation />, [post]);
    await type('Height', '600');
    expect(measure('Width').value).toBe('160');
    await type('Width', '40');
    expect(measure('Height').value).toBe('150');
    expect(made.plan().recipe).toHaveLength(1);
    expect(made.labels).toEqual(['Size z 600 mm', 'Size x 40 mm']);
  });

  it('by one axis alone when they are not locked together', async () => {
    const made = inProject(<ModelStation />, [post]);
    await userEvent.setup().click(screen.getByRole('checkbox', { name: 'All axes scale together' }));
    await type('Depth', '30');
    expect([measure('Width').value, measure('Depth').value, measure('Height').value]).toEqual(['80', '30', '300']);
    expect(made.plan().recipe).toMatchObject([{ kind: 'scale', factors: [1, 0.5, 1] }]);
  });

  it('goes back to that of the file, all sizes at once', async () => {
    const made = inProject(<ModelStation />, [post]);
    await type('Factor', '2');
    expect(measure('Height').value).toBe('600');
    await userEvent.setup().click(screen.getByRole('button', { name: 'as in the file' }));
    expect(made.plan().recipe).toEqual([]);
    expect(measure('Height').value).toBe('300');
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'as in the file' }).disabled).toBe(true);
  });

  it('says what does not fit, and what fits when it is turned', () => {
    inProject(<ModelStation />, [box([0, 0, 0], [240, 100, 100])]);
    const against = screen.getByRole('region', { name: 'Against the printer' });
    expect(against.textContent).toMatch(/turned/);
  });
});

describe('the recipe', () => {
  const steps = [
    { id: 'a', kind: 'scale' as const, factor: 2 },
    { id: 'b', kind: 'place' as const, to: 'floor' as const },
    {
      id: 'c',
      kind: 'mirror' as const,
      at: [0, 0, 0] as [number, number, number],
      normal: [1, 0, 0] as [number, number, number],
      copy: false,
    },
  ];
  const rows = () => within(screen.getByRole('list', { name: 'Steps in order' })).getAllByRole('listitem');

  it('lists what was done in order, and each is switched off, moved and deleted', async () => {
    const made = inProject(<ModelStation />, [post], { recipe: steps }, { at: '/?step=b' });
    expect(rows()).toHaveLength(3);
    const user = userEvent.setup();
    const own = rows()[1];
    await user.click(within(own).getByRole('checkbox', { name: /is done$/ }));
    expect(made.plan().recipe[1].enabled).toBe(false);
    await user.click(within(own).getByRole('button', { name: 'earlier' }));
    expect(made.plan().recipe.map((s) => s.kind)).toEqual(['place', 'scale', 'mirror']);
    await user.click(within(rows()[0]).getByRole('button', { name: 'delete' }));
    expect(made.plan().recipe.map((s) => s.kind)).toEqual(['scale', 'mirror']);
  });

  it('changes the thickness and radius of marked places of a wall, and unmarks them', async () => {
    const places = [
      { at: [40, 0, 20] as [number, number, number], radius: 18, thickness: 9 },
      { at: [-40, 0, 80] as [number, number, number], radius: 12, thickness: 7 },
    ];
    const taper = { thickness: 6 };
    const hollow = { id: 'h', kind: 'hollow' as const, thickness: 3, taper, places };
    const made = inProject(<ModelStation />, [post], { recipe: [hollow] }, { at: '/?step=h' });
    const user = userEvent.setup();
    const put = async (label: string, value: string) => {
      const input = screen.getByLabelText(label);
      await user.clear(input);
      await user.type(input, `${value}{Enter}`);
    };
    await put('At its far end', '5');
    await put('Place 2, wall', '8');
    await put('Place 2, radius', '15');
    await user.click(screen.getByRole('button', { name: 'Unmark place 1' }));
    expect(made.plan().recipe[0]).toMatchObject({
      taper: { thickness: 5 },
      places: [{ at: [-40, 0, 80], radius: 15, thickness: 8 }],
    });
    expect(screen.queryByLabelText('Place 2, wall')).toBeNull();
  });

  it('says that there is none', () => {
    inProject(<ModelStation />, [post]);
    expect(screen.getByText(/The model is as in its file\./)).toBeTruthy();
  });
});

describe('the pose', () => {
  it('is turned by steps and by an angle, and put on the floor', async () => {
    const made = inProject(<ModelStation />, [post], {}, { at: '/?tool=pose' });
    const user = userEvent.setup();
    const about = screen.getByRole('radiogroup', { name: 'About' });
    await user.click(within(about).getByRole('radio', { name: 'x' }));
    await user.click(screen.getByRole('button', { name: 'Turn by 90°' }));
    await user.click(screen.getByRole('button', { name: 'On the floor' }));
    expect(made.plan().recipe.map((s) => s.kind)).toEqual(['turn', 'place']);
    expect(made.labels.at(-1)).toBe('Onto the floor');
  });

  it('looks for the mirror plane, and says when there is none', async () => {
    inProject(<ModelStation />, [post], {}, { at: '/?tool=pose' });
    await userEvent.setup().click(screen.getByRole('button', { name: 'Find the mirror plane' }));
    expect(await screen.findByText('The model is its own mirror image in no plane.')).toBeTruthy();
  });

  it('ends the search when it is told to', async () => {
    inProject(<ModelStation />, [post], {}, { at: '/?tool=pose', search: () => new Promise(() => {}) });
    const user = userEvent.setup();
    await user.click(screen.getByRole('button', { name: 'Find the mirror plane' }));
    await user.click(await screen.findByRole('button', { name: 'Cancel' }));
    await waitFor(() => expect(screen.getByRole('button', { name: 'Find the mirror plane' })).toBeTruthy());
    expect(screen.queryByText(/no plane/)).toBeNull();
  });
});
