// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { box } from '../../../../../packages/core/testing/shapes.ts';
import { page } from '../../../testing/dom.ts';
import { inProject } from '../../../testing/station.tsx';
import { useWorkspace } from '../../project/selection.tsx';
import ModelStation from './station.tsx';
import { WallPart } from './wall-part.tsx';

page();

const post = box([-40, -30, 0], [40, 30, 300]);

/** What the view would do: say what is to be picked, and pick a place of the model. */
function View() {
  const { picker } = useWorkspace();
  const pick = () => picker?.onPlace?.({ body: 'b1', at: [40, 10, 200], normal: [1, 0, 0] });
  return (
    <>
      <p role="note">{picker?.prompt ?? 'nothing to pick'}</p>
      <button type="button" onClick={pick}>
        pick
      </button>
    </>
  );
}

function shown() {
  const onShow = vi.fn();
  const made = inProject(
    <>
      <WallPart onShow={onShow} />
      <View />
    </>,
    [post],
    { recipe: [{ kind: 'scale', factor: 2 }] },
  );
  return { ...made, onShow, user: userEvent.setup() };
}
const press = (user: ReturnType<typeof userEvent.setup>, name: string) =>
  user.click(screen.getByRole('button', { name }));

describe('a wall', () => {
  it('tapers towards an end, and is of another thickness round places that are picked, in the source’s coordinates', async () => {
    const { user, previews, onShow } = shown();
    await user.click(screen.getByRole('combobox', { name: 'It changes towards' }));
    await user.click(await screen.findByRole('option', { name: 'the bottom' }));
    await user.clear(screen.getByLabelText('Thickness there'));
    await user.type(screen.getByLabelText('Thickness there'), '6{Enter}');
    await user.clear(screen.getByLabelText('Their thickness'));
    await user.type(screen.getByLabelText('Their thickness'), '8{Enter}');
    await press(user, 'Mark a place');
    expect(screen.getByRole('note').textContent).toBe('Pick where the wall is 8 mm thick.');
    await press(user, 'pick');
    expect(screen.getByText('1 marked')).toBeTruthy();
    expect(onShow.mock.lastCall![0]).toEqual([{ at: [40, 10, 200], radius: 20, text: '8 mm' }]);
    await press(user, 'Hollow the solid');
    const uneven = {
      thickness: 3,
      taper: { along: [0, 0, -1], thickness: 6 },
      places: [{ at: [20, 5, 100], radius: 20, thickness: 8 }],
    };
    expect(previews).toMatchObject([{ kind: 'hollow', ...uneven, open: [], drains: [] }]);
    await press(user, 'Give the skin a wall');
    expect(previews[1]).toMatchObject({ kind: 'wall', ...uneven, side: 'inward' });
    await press(user, 'Forget the picked places');
    expect(screen.getByText('0 marked')).toBeTruthy();
  });

  it('is of one thickness when nothing else is said', async () => {
    const { user, previews } = shown();
    await press(user, 'Hollow the solid');
    expect(previews[0]).toEqual({ kind: 'hollow', thickness: 3, cell: 1, places: [], open: [], drains: [] });
  });

  it('is shown right below the key that asked for it, the bodies marked as not taken, until it is left', async () => {
    inProject(<ModelStation />, [post], {}, { at: '/?tool=solids' });
    const user = userEvent.setup();
    await press(user, 'Hollow the solid');
    const shown = screen.getByRole('region', { name: /^Preview/ });
    const key = screen.getByRole('button', { name: 'Hollow the solid' });
    expect(key.nextElementSibling).toBe(shown);
    expect(screen.getByText(/the preview is not taken yet/)).toBeTruthy();
    await press(user, 'Leave it');
    expect(screen.queryByRole('region', { name: /^Preview/ })).toBeNull();
    expect(screen.queryByText(/the preview is not taken yet/)).toBeNull();
    await press(user, 'Give the skin a wall');
    const wall = screen.getByRole('button', { name: 'Give the skin a wall' });
    expect(wall.nextElementSibling).toBe(screen.getByRole('region', { name: /^Preview/ }));
  });
});
