// @vitest-environment jsdom
import { fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { describe, expect, it, vi } from 'vitest';
import { page } from '../../testing/dom.ts';
import { Choice } from './choice.tsx';
import { DropMenu, Offers } from './menu.tsx';
import { Pick } from './pick.tsx';
import { Popover } from './popover.tsx';
import { Question } from './question.tsx';
import { Rename } from './rename.tsx';
import { Slide } from './slide.tsx';
import { Switch } from './switch.tsx';
import { Tick } from './tick.tsx';
import { Working } from './working.tsx';

page();

describe('a name that becomes a field', () => {
  const named = () => {
    const onCommit = vi.fn();
    render(<Rename value="Brow" label="Name" onCommit={onCommit} />);
    return { input: screen.getByLabelText<HTMLInputElement>('Name'), onCommit, user: userEvent.setup() };
  };

  it('keeps what is typed on Enter, without the blanks round it', async () => {
    const { input, onCommit, user } = named();
    await user.clear(input);
    await user.type(input, '  Chin {Enter}');
    expect(onCommit.mock.calls).toEqual([['Chin']]);
  });

  it('gives the old name back on Escape, and takes no empty one and no equal one', async () => {
    const { input, onCommit, user } = named();
    await user.type(input, 'x{Escape}');
    expect(input.value).toBe('Brow');
    await user.clear(input);
    await user.tab();
    await user.type(input, '{Enter}');
    expect(onCommit).not.toHaveBeenCalled();
    expect(input.value).toBe('Brow');
  });
});

/** A tick and a switch that keep what they are set to. */
function Both() {
  const [on, setOn] = useState(false);
  const [room, setRoom] = useState(true);
  return (
    <>
      <Tick checked={on} onChange={setOn}>
        mirrored
      </Tick>
      <Switch checked={room} onChange={setRoom}>
        Room
      </Switch>
    </>
  );
}

describe('what is on or off', () => {
  it('a tick and a switch are turned by their words and by Space', async () => {
    render(<Both />);
    const user = userEvent.setup();
    const [tick, room] = [
      screen.getByRole('checkbox', { name: 'mirrored' }),
      screen.getByRole('switch', { name: 'Room' }),
    ];
    await user.click(screen.getByText('mirrored'));
    expect(tick.getAttribute('aria-checked')).toBe('true');
    room.focus();
    await user.keyboard(' ');
    expect(room.getAttribute('aria-checked')).toBe('false');
  });

  it('a choice always has one of its words', async () => {
    const onChange = vi.fn();
    const options = [
      { value: 'even', label: 'by size' },
      { value: 'necks', label: 'at necks' },
    ] as const;
    render(<Choice label="Spacing" value="even" options={options} onChange={onChange} />);
    const user = userEvent.setup();
    await user.click(screen.getByRole('radio', { name: 'by size' }));
    expect(onChange).not.toHaveBeenCalled();
    await user.click(screen.getByRole('radio', { name: 'at necks' }));
    expect(onChange.mock.calls).toEqual([['necks']]);
  });

  it('a slide goes by steps, in words', async () => {
    const onChange = vi.fn();
    render(<Slide label="Apart" value={40} min={0} max={120} step={1} text="40 mm" onChange={onChange} />);
    const thumb = screen.getByRole('slider', { name: 'Apart' });
    expect(thumb.getAttribute('aria-valuetext')).toBe('40 mm');
    thumb.focus();
    const user = userEvent.setup();
    await user.keyboard('{ArrowRight}');
    await user.keyboard('{PageUp}');
    await user.keyboard('{End}');
    expect(onChange.mock.calls.map(([x]) => x)).toEqual([41, 50, 120]);
  });
});

describe('what opens', () => {
  it('a list to pick from tells its value, an empty one too', async () => {
    const onChange = vi.fn();
    const options = [
      { value: '', label: 'not known' },
      { value: '0.2', label: '0.2 mm' },
    ];
    const { rerender } = render(<Pick label="Was slip" value="" options={options} onChange={onChange} />);
    const user = userEvent.setup();
    const box = screen.getByRole('combobox', { name: 'Was slip' });
    expect(box.textContent).toContain('not known');
    box.focus();
    await user.keyboard('{Enter}');
    await user.click(await screen.findByRole('option', { name: '0.2 mm' }));
    expect(onChange.mock.calls).toEqual([['0.2']]);
    rerender(<Pick label="Was slip" value="0.2" options={options} onChange={onChange} />);
    screen.getByRole('combobox', { name: 'Was slip' }).focus();
    await user.keyboard('{Enter}');
    await user.click(await screen.findByRole('option', { name: 'not known' }));
    expect(onChange.mock.calls.at(-1)).toEqual(['']);
  });

  it('a menu runs what is chosen in it by keys, and not what is off', async () => {
    const run = vi.fn();
    render(
      <DropMenu
        label="Preset"
        entries={[
          { title: 'Use it', off: true, run: () => run('use') },
          { title: 'Keep it', run: () => run('keep') },
        ]}
      />,
    );
    const user = userEvent.setup();
    screen.getByRole('button', { name: 'Preset' }).focus();
    await user.keyboard('{Enter}');
    expect((await screen.findByRole('menuitem', { name: 'Use it' })).getAttribute('aria-disabled')).toBe('true');
    await user.keyboard('{Enter}');
    expect(run.mock.calls).toEqual([['keep']]);
  });

  it('what can be done with a thing is offered by the right button', async () => {
    const run = vi.fn();
    render(
      <Offers entries={[{ title: 'Delete it', danger: true, run }]}>
        <p>seam</p>
      </Offers>,
    );
    fireEvent.contextMenu(screen.getByText('seam'));
    await userEvent.setup().click(await screen.findByRole('menuitem', { name: 'Delete it' }));
    expect(run).toHaveBeenCalledOnce();
  });

  it('a sheet of settings opens and is closed by Escape, which gives the focus back', async () => {
    render(
      <Popover label="Columns">
        <Tick checked onChange={() => {}}>
          Where
        </Tick>
      </Popover>,
    );
    const user = userEvent.setup();
    const button = screen.getByRole('button', { name: 'Columns' });
    await user.click(button);
    expect(within(await screen.findByRole('dialog', { name: 'Columns' })).getByRole('checkbox')).toBeTruthy();
    await user.keyboard('{Escape}');
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    expect(document.activeElement).toBe(button);
  });

  it('a question is answered, and Escape is no', async () => {
    const [yes, no] = [vi.fn(), vi.fn()];
    render(
      <Question title="Leave?" yes="Leave" no="Stay" onYes={yes} onNo={no}>
        <p>What is not saved is lost.</p>
      </Question>,
    );
    const user = userEvent.setup();
    expect(screen.getByRole('alertdialog', { name: 'Leave?' }).textContent).toContain('lost');
    await user.keyboard('{Escape}');
    expect([yes.mock.calls.length, no.mock.calls.length]).toEqual([0, 1]);
    await user.click(screen.getByRole('button', { name: 'Leave' }));
    expect(yes).toHaveBeenCalledOnce();
  });
});

it('long work says how far it is and can be ended', async () => {
  const cancel = vi.fn();
  render(<Working label="Seating" working={{ share: 0.25, what: '3 of 12 faces seated', cancel }} />);
  const bar = screen.getByRole('progressbar', { name: 'Seating' });
  expect(Number(bar.getAttribute('aria-valuenow')) / Number(bar.getAttribute('aria-valuemax'))).toBeCloseTo(0.25);
  expect(screen.getByText('3 of 12 faces seated')).toBeTruthy();
  await userEvent.setup().click(screen.getByRole('button', { name: 'Cancel' }));
  expect(cancel).toHaveBeenCalledOnce();
});
