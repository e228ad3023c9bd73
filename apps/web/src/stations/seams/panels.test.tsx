// @vitest-environment jsdom
import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { box } from '../../../../../packages/core/testing/shapes.ts';
import { page } from '../../../testing/dom.ts';
import { desktop, inProject } from '../../../testing/station.tsx';
import { GridPanel } from './grid-panel.tsx';
import SeamsStation from './station.tsx';

page(292, 236);

const post = box([-40, -40, 0], [40, 40, 600]);
const across = (id: string, z: number, more: object = {}) => ({
  id,
  kind: 'flat' as const,
  origin: [0, 0, z] as [number, number, number],
  normal: [0, 0, 1] as [number, number, number],
  ...more,
});
const three = [across('s1', 200, { name: 'Foot' }), across('s2', 400), across('s3', 500, { name: 'Crown' })];
const pair = [box([-60, -10, 0], [-40, 10, 100]), box([40, -20, 0], [60, 20, 100])];
const rows = () => within(screen.getByRole('list', { name: 'Seams in order' })).getAllByRole('listitem');

describe('the list of seams', () => {
  it('shows them in the order in which they cut, and moves, switches and deletes the selected one', async () => {
    const made = inProject(<SeamsStation />, [post], { seams: three }, { at: '/?seam=s1' });
    expect(rows().map((r) => within(r).getByText(/Foot|Crown|Across z/).textContent)).toEqual([
      'Foot',
      'Across z',
      'Crown',
    ]);
    const user = userEvent.setup();
    await user.click(screen.getByRole('button', { name: 'later' }));
    expect(made.plan().seams.map((s) => s.id)).toEqual(['s2', 's1', 's3']);
    await user.click(screen.getByRole('checkbox', { name: 'Foot cuts' }));
    expect(made.plan().seams[1].enabled).toBe(false);
    await user.click(screen.getByRole('button', { name: 'delete' }));
    expect(made.plan().seams.map((s) => s.id)).toEqual(['s2', 's3']);
    expect(made.labels).toEqual(['Move Foot down the list', 'Switch Foot off', 'Delete Foot']);
  });

  it('offers the same by the right button, and nothing that cannot be done', async () => {
    const made = inProject(<SeamsStation />, [post], { seams: three }, { at: '/?seam=s1' });
    fireEvent.contextMenu(rows()[2]);
    const menu = await screen.findByRole('menu');
    expect(within(menu).getByRole('menuitem', { name: 'Cut later' }).getAttribute('aria-disabled')).toBe('true');
    await userEvent.setup().click(within(menu).getByRole('menuitem', { name: 'Cut earlier' }));
    expect(made.plan().seams.map((s) => s.id)).toEqual(['s1', 's3', 's2']);
  });

  it('says what a seam would do when there is none', () => {
    inProject(<SeamsStation />, [post]);
    expect(screen.getByText(/No seam yet\. Add one across the axis/)).toBeTruthy();
    expect(screen.getByText('Add a seam, and its profile and place show here.')).toBeTruthy();
  });
});

describe('the caliper', () => {
  const caliper = async () => {
    const made = inProject(<SeamsStation />, [post], { seams: [across('s1', 200)] }, { at: '/?seam=s1' });
    const slider = await screen.findByRole('slider', { name: /^Position of/ });
    return { ...made, slider };
  };
  const place = (made: { plan(): { seams: readonly { kind: string }[] } }) =>
    (made.plan().seams[0] as unknown as { origin: readonly number[] }).origin[2];

  it('is moved by the arrow keys, and the seam once for all of them', async () => {
    const made = await caliper();
    fireEvent.keyDown(made.slider, { key: 'ArrowUp', shiftKey: true });
    fireEvent.keyDown(made.slider, { key: 'ArrowUp' });
    fireEvent.keyDown(made.slider, { key: 'ArrowDown', altKey: true });
    await waitFor(() => expect(made.labels).toHaveLength(1));
    expect(place(made)).toBeCloseTo(210.9, 6);
  });

  it('has made its change before another key is heard, so that undo takes that back, and when it is left', async () => {
    const made = await caliper();
    fireEvent.keyDown(made.slider, { key: 'ArrowUp' });
    expect(made.labels).toHaveLength(0);
    fireEvent.keyDown(made.slider, { key: 'Control', ctrlKey: true });
    expect(made.labels).toHaveLength(1);
    expect(place(made)).toBeCloseTo(201, 6);
    fireEvent.keyDown(made.slider, { key: 'ArrowUp' });
    fireEvent.blur(made.slider);
    expect(made.labels).toHaveLength(2);
    expect(place(made)).toBeCloseTo(202, 6);
  });

  it('says how much is left on either side', async () => {
    const { slider } = await caliper();
    expect(slider.getAttribute('aria-valuetext')).toContain('200 mm on one side, 400 mm on the other');
    expect(slider.getAttribute('aria-valuemax')).toBe('600');
  });

  it('says what is cut, and no lengths, where a piece may go on beside that', async () => {
    const seam = across('s1', 41, { regions: { mode: 'only', seeds: [[50, 0]] } });
    inProject(<SeamsStation />, pair, { seams: [seam] }, { at: '/?seam=s1' });
    const slider = await screen.findByRole('slider', { name: /^Position of/ });
    await waitFor(() => expect(slider.getAttribute('aria-valuetext')).toMatch(/^41\.0 mm.*, 8\.0 cm² cut$/));
    expect(screen.getByText('8.0 cm²')).toBeTruthy();
  });

  it('goes along the pieces that a seam is meant for', async () => {
    const scoped = across('s2', 300, { scope: ['b1/s1+'] });
    inProject(<SeamsStation />, [post], { seams: [across('s1', 200), scoped] }, { at: '/?seam=s2' });
    const slider = await screen.findByRole('slider', { name: /^Position of/ });
    expect(slider.getAttribute('aria-valuemin')).toBe('200');
    expect(slider.getAttribute('aria-valuetext')).toContain('100 mm on one side, 300 mm on the other');
  });

  it('goes to the next landmark by Page Up, and says which that is', async () => {
    const made = await caliper();
    fireEvent.keyDown(made.slider, { key: 'PageUp' });
    await waitFor(() => expect(made.labels).toHaveLength(1));
    expect(place(made)).toBeGreaterThan(200);
    expect(made.labels[0]).toMatch(/to the /);
    expect(made.slider.getAttribute('aria-valuetext')).toContain(made.labels[0].split('to the ')[1]);
  });

  it('never leaves the model', async () => {
    const made = await caliper();
    for (let k = 0; k < 60; k++) fireEvent.keyDown(made.slider, { key: 'ArrowUp', shiftKey: true });
    await waitFor(() => expect(made.labels).toHaveLength(1));
    expect(place(made)).toBe(600);
  });
});

describe('the regions of a seam', () => {
  it('are cut or left one by one, by the list and by the drawing', async () => {
    const made = inProject(<SeamsStation />, pair, { seams: [across('s1', 50)] }, { at: '/?seam=s1&tool=regions' });
    const list = await screen.findByRole('list', { name: 'Regions of the section' });
    await waitFor(() => expect(within(list).getAllByRole('listitem')).toHaveLength(2));
    const user = userEvent.setup();
    await user.click(within(list).getByRole('checkbox', { name: /Cut region 2/ }));
    await waitFor(() => expect(screen.getByText('8.0 cm² cut')).toBeTruthy());
    const drawn = screen.getByRole('checkbox', { name: /Region 2, .* in the drawing/ });
    expect(drawn.getAttribute('aria-checked')).toBe('false');
    fireEvent.keyDown(drawn, { key: 'Enter' });
    await waitFor(() => expect(drawn.getAttribute('aria-checked')).toBe('true'));
    await user.click(screen.getByRole('button', { name: 'Cut only region 2' }));
    await waitFor(() => expect(screen.getByText('4.0 cm² cut')).toBeTruthy());
    expect(made.labels).toEqual([
      expect.stringMatching(/^Leave region 2/),
      expect.stringMatching(/^Cut region 2/),
      expect.stringMatching(/^Cut only region 2/),
    ]);
  });
});

describe('the sides of a seam', () => {
  it('say how far it runs over show faces, when it does', async () => {
    const block = box([0, 0, 0], [100, 40, 60]);
    const seams = [across('s1', 30)];
    const front = { at: [50, 0, 30] as [number, number, number] };
    const at = '/?seam=s1&tool=sides';
    inProject(<SeamsStation />, [block], { seams, show: [front] }, { at });
    const shows = await screen.findByRole('region', { name: 'How much it shows' });
    expect(within(shows).getByText(/runs over show faces for 100 mm/)).toBeTruthy();
  });

  it('have a groove along their edge when it is wanted, as wide and deep as it is set', async () => {
    // a seam that is switched off: grooves are carved by the kernel, which is not there
    const seams = [across('s1', 30, { name: 'Waist', enabled: false })];
    const at = '/?seam=s1&tool=sides';
    const made = inProject(<SeamsStation />, [box([0, 0, 0], [100, 40, 60])], { seams }, { at });
    const user = userEvent.setup();
    const groove = await screen.findByRole('checkbox', { name: 'bevel the rims of its flat faces' });
    await user.click(groove);
    for (const [label, to] of [
      ['Into the face', '1.5'],
      ['Along the skin', '0.8'],
    ]) {
      await user.clear(screen.getByLabelText(label));
      await user.type(screen.getByLabelText(label), `${to}{Enter}`);
    }
    await user.click(screen.getByRole('checkbox', { name: 'openings inside the face, too' }));
    await user.click(screen.getByRole('checkbox', { name: 'not over show faces' }));
    expect(made.plan().seams[0].edge).toEqual({ width: 1.5, depth: 0.8, all: true, clear: true });
    await user.click(screen.getByRole('checkbox', { name: 'bevel the rims of its flat faces' }));
    expect(made.plan().seams[0].edge).toBeUndefined();
    expect(made.labels).toEqual([
      'Groove along Waist',
      'Width of the groove of Waist',
      'Depth of the groove of Waist',
      'Rims of Waist',
      'Rims of Waist',
      'No groove along Waist',
    ]);
  });

  it('have channels for glue and relief carved in when they are wanted, and undone one by one', async () => {
    const seams = [across('s1', 30, { name: 'Waist', enabled: false })];
    const at = '/?seam=s1&tool=sides';
    const made = inProject(<SeamsStation />, [box([0, 0, 0], [100, 40, 60])], { seams }, { at });
    const user = userEvent.setup();
    const [channels, relief] = ['channels that take up glue', 'relief where its faces meet others'].map((name) => ({
      name,
    }));
    await user.click(await screen.findByRole('checkbox', channels));
    await user.clear(screen.getByLabelText('From the rim'));
    await user.type(screen.getByLabelText('From the rim'), '6{Enter}');
    await user.click(screen.getByRole('checkbox', relief));
    expect(made.plan().seams[0]).toMatchObject({ channel: { inset: 6, width: 1.5, depth: 1 }, relief: 0.6 });
    await user.click(screen.getByRole('checkbox', channels));
    await user.click(screen.getByRole('checkbox', relief));
    const { channel, relief: left } = made.plan().seams[0];
    expect([channel, left]).toEqual([undefined, undefined]);
    expect(made.labels).toEqual([
      'Channels for glue at Waist',
      'Channels of Waist',
      'Relief at Waist',
      'No channels at Waist',
      'No relief at Waist',
    ]);
  });

  it('say nothing of it when it does not', async () => {
    const block = box([0, 0, 0], [100, 40, 60]);
    const top = { at: [50, 20, 60] as [number, number, number] };
    inProject(<SeamsStation />, [block], { seams: [across('s1', 30)], show: [top] }, { at: '/?seam=s1&tool=sides' });
    const shows = await screen.findByRole('region', { name: 'How much it shows' });
    expect(within(shows).queryByText(/show faces/)).toBeNull();
  });
});

describe('the grid', () => {
  it('finds the fewest seams and places them in place of those there are', async () => {
    const [onShow, onDone] = [vi.fn(), vi.fn()];
    const made = inProject(<GridPanel onShow={onShow} onDone={onDone} />, [post], { seams: [across('s1', 10)] });
    const place = await screen.findByRole('button', { name: 'Place 2 seams' });
    // the planes are shown before they are placed
    await waitFor(() => expect(onShow.mock.calls.at(-1)?.[0]).toHaveLength(24));
    await userEvent.setup().click(place);
    expect(made.plan().seams.map((s) => s.kind)).toEqual(['flat', 'flat']);
    expect(made.plan().seams.every((s) => s.kind === 'flat' && s.origin[2] > 100)).toBe(true);
    expect(made.labels).toEqual(['Place a grid of 2 seams']);
    expect(onDone).toHaveBeenCalledOnce();
  });

  it('can be ended, says so, and begins again when something is changed', async () => {
    const began = vi.fn();
    const search = (name: string) => {
      began(name);
      return new Promise(() => {});
    };
    inProject(<GridPanel onShow={() => {}} onDone={() => {}} />, [post], {}, { search });
    const user = userEvent.setup();
    await user.click(await screen.findByRole('button', { name: 'Cancel' }));
    expect(await screen.findByText(/The search was ended/)).toBeTruthy();
    expect(screen.queryByRole('progressbar')).toBeNull();
    await user.click(screen.getByRole('radio', { name: 'at necks' }));
    await waitFor(() => expect(began).toHaveBeenCalledTimes(2));
    expect(screen.getByRole('progressbar', { name: 'Search for a grid' })).toBeTruthy();
  });

  it('says that nothing is to be parted, and what is wrong', async () => {
    const small = box([0, 0, 0], [50, 50, 50]);
    inProject(<GridPanel onShow={() => {}} onDone={() => {}} />, [small]);
    expect(await screen.findByText('Everything fits already.')).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: /^Place/ }).disabled).toBe(true);
  });

  it('tells a search that failed in its words', async () => {
    inProject(
      <GridPanel onShow={() => {}} onDone={() => {}} />,
      [post],
      { printer: desktop },
      { search: async () => Promise.reject(new Error('The printer is too small for any cell.')) },
    );
    expect(await screen.findByText('The printer is too small for any cell.')).toBeTruthy();
  });
});
