// @vitest-environment jsdom
import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { page } from '../../testing/dom.ts';
import { NumberField } from './number-field.tsx';

page();

function field(more: Partial<Parameters<typeof NumberField>[0]> = {}) {
  const onCommit = vi.fn<(value: number) => void>();
  render(<NumberField label="Depth" value={12.5} min={1} max={100} onCommit={onCommit} {...more} />);
  return { input: screen.getByLabelText<HTMLInputElement>('Depth'), onCommit, user: userEvent.setup() };
}

describe('a field for a measure', () => {
  it.each([
    ['20', 20],
    ['148/2+3', 77],
    ['2 in', 50.8],
    ['1,5 cm', 15],
  ])('takes “%s” as %d mm, once, on Enter', async (text, value) => {
    const { input, onCommit, user } = field();
    await user.clear(input);
    await user.type(input, `${text}{Enter}`);
    expect(onCommit.mock.calls).toEqual([[value]]);
  });

  it('tells what it does not take, keeps what was typed, and tells nobody else', async () => {
    const { input, onCommit, user } = field();
    for (const [text, why] of [
      ['wide', 'This is no number.'],
      ['0.5', 'At least 1 mm.'],
      ['2 m', 'At most 100 mm.'],
    ]) {
      await user.clear(input);
      await user.type(input, `${text}{Enter}`);
      expect(input.getAttribute('aria-invalid')).toBe('true');
      expect(document.getElementById(input.getAttribute('aria-describedby')!)?.textContent).toBe(why);
      expect(input.value).toBe(text);
    }
    expect(onCommit).not.toHaveBeenCalled();
  });

  it('gives the old value back on Escape, and the key to nobody else', async () => {
    const outside = vi.fn();
    const onCommit = vi.fn();
    render(
      // biome-ignore lint/a11y/noStaticElementInteractions: listens for what the field lets through
      <div onKeyDown={outside}>
        <NumberField label="Depth" value={12.5} onCommit={onCommit} />
      </div>,
    );
    const input = screen.getByLabelText<HTMLInputElement>('Depth');
    const user = userEvent.setup();
    await user.type(input, '9{Escape}');
    expect(input.value).toBe('12.5');
    expect(outside.mock.calls.some(([e]) => (e as KeyboardEvent).key === 'Escape')).toBe(false);
    await user.tab();
    expect(onCommit).not.toHaveBeenCalled();
  });

  it('steps with the arrow keys, by ten with Shift, by a tenth with Alt, and stops at its ends', async () => {
    const { input, onCommit, user } = field({ value: 99, step: 0.5 });
    input.focus();
    await user.keyboard('{ArrowDown}');
    await user.keyboard('{Alt>}{ArrowDown}{/Alt}');
    await user.keyboard('{Shift>}{ArrowUp}{/Shift}');
    expect(onCommit.mock.calls.map(([x]) => x)).toEqual([98.5, 98.95, 100]);
  });

  it('commits what was typed when it is left, and nothing when nothing was', async () => {
    const { input, onCommit, user } = field();
    await user.click(input);
    await user.tab();
    expect(onCommit).not.toHaveBeenCalled();
    await user.clear(input);
    await user.type(input, '30');
    await user.tab();
    expect(onCommit.mock.calls).toEqual([[30]]);
  });

  it('says where a value comes from until something is wrong', async () => {
    const { input, user } = field({ hint: 'from the printer' });
    expect(screen.getByText('from the printer')).toBeTruthy();
    await user.clear(input);
    await user.type(input, 'x{Enter}');
    expect(screen.queryByText('from the printer')).toBeNull();
  });
});
