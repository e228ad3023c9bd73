// @vitest-environment jsdom
import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it } from 'vitest';
import { NameForm } from './name-form.tsx';

afterEach(cleanup);

describe('a form for a name', () => {
  it('takes a plain name once, and says what is wrong with an empty one and with one that is taken', async () => {
    const named: string[] = [];
    const user = userEvent.setup();
    render(<NameForm label="New measure" take="Add" taken={['Hip']} onName={(name) => named.push(name)} />);
    const field = screen.getByRole('textbox', { name: 'New measure' });
    await user.click(screen.getByRole('button', { name: 'Add' }));
    expect((await screen.findByRole('alert')).textContent).toBe('Give it a name.');
    await user.type(field, ' Hip{Enter}');
    expect(await screen.findByText('There is a Hip already.')).toBeDefined();
    await user.clear(field);
    await user.type(field, 'Forearm girth {Enter}');
    await expect.poll(() => named).toEqual(['Forearm girth']);
    expect(field).toHaveProperty('value', '');
  });
});
