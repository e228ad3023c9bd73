// @vitest-environment jsdom
import { act, cleanup, render, screen } from '@testing-library/react';
import { Link, MemoryRouter, useLocation } from 'react-router';
import { afterEach, expect, test } from 'vitest';
import { useSelection, WorkspaceProvider } from './selection.tsx';

afterEach(cleanup);

/** Two places that select something, each with what it knew when it was drawn. */
function Chooser({ name }: { name: string }) {
  const [, select] = useSelection();
  return (
    <>
      <button type="button" onClick={() => select({ piece: name })}>
        piece {name}
      </button>
      <button type="button" onClick={() => select({ tool: name })}>
        tool {name}
      </button>
      <button type="button" onClick={() => select({ piece: null })}>
        none {name}
      </button>
    </>
  );
}

function Address() {
  return <output>{useLocation().search}</output>;
}

function shown(at: string): void {
  render(
    <MemoryRouter initialEntries={[at]}>
      <WorkspaceProvider>
        <Chooser name="a" />
        <Chooser name="b" />
        <Link to="?seam=s9">elsewhere</Link>
        <Address />
      </WorkspaceProvider>
    </MemoryRouter>,
  );
}

const press = (...names: string[]) =>
  act(() => {
    for (const name of names) screen.getByText(name).click();
  });
const address = () => screen.getByRole('status').textContent;

test('of two selections made before either is drawn none is lost', () => {
  shown('/x?seam=s1');
  press('piece a', 'tool b');
  expect(address()).toBe('?seam=s1&piece=a&tool=b');
  press('none b', 'piece b', 'none a');
  expect(address()).toBe('?seam=s1&tool=b');
});

test('a selection goes on from where a link led, not from what was asked for before it', () => {
  shown('/x?seam=s1');
  press('piece a');
  press('piece a');
  press('elsewhere');
  expect(address()).toBe('?seam=s9');
  press('tool a');
  expect(address()).toBe('?seam=s9&tool=a');
});

test('the last thing selected can be taken away, and something selected again', () => {
  shown('/x?piece=a');
  press('none a');
  expect(address()).toBe('');
  press('tool b');
  expect(address()).toBe('?tool=b');
});
