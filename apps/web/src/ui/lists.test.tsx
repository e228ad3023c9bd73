// @vitest-environment jsdom
import { act, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { page } from '../../testing/dom.ts';
import { LongList } from './long-list.tsx';
import { Sorted, useSorted } from './sorted.tsx';
import { Tips } from './tip.tsx';

page(300, 200);

const names = (n: number): string[] => Array.from({ length: n }, (_, i) => `face ${i + 1}`);

describe('a long list', () => {
  it('is drawn whole while it is short', () => {
    render(
      <LongList label="Faces" items={names(60)} keyOf={(x) => x} about={33}>
        {(x) => x}
      </LongList>,
    );
    expect(screen.getAllByRole('listitem')).toHaveLength(60);
  });

  it('draws what is in sight of a thousand, and tells which of how many each is', () => {
    render(
      <div className="slim-scroll">
        <LongList label="Faces" items={names(1000)} keyOf={(x) => x} about={33}>
          {(x) => x}
        </LongList>
      </div>,
    );
    const drawn = screen.getAllByRole('listitem');
    expect(drawn.length).toBeLessThan(60);
    expect(drawn[0].textContent).toBe('face 1');
    expect(drawn[0].getAttribute('aria-setsize')).toBe('1000');
    expect(drawn[4].getAttribute('aria-posinset')).toBe('5');
  });

  it('sideways it scrolls by itself', () => {
    render(
      <LongList label="Pieces" sideways items={names(500)} keyOf={(x) => x} about={100} gap={8}>
        {(x) => x}
      </LongList>,
    );
    const list = screen.getByRole('list', { name: 'Pieces' });
    expect(screen.getAllByRole('listitem').length).toBeLessThan(40);
    const after = list.lastElementChild as HTMLElement;
    expect(Number.parseFloat(after.style.width)).toBeGreaterThan(30_000);
  });
});

function Row({ id }: { id: string }) {
  const { ref, style, grip } = useSorted(id, `seam ${id}`);
  return (
    <li ref={ref} style={style}>
      {grip}
      {id}
    </li>
  );
}

describe('a list in order', () => {
  const shown = (onMove: (id: string, to: number) => void) =>
    render(
      <Tips>
        <Sorted label="Seams in order" ids={['a', 'b', 'c']} nameOf={(id) => `Seam ${id}`} onMove={onMove}>
          {['a', 'b', 'c'].map((id) => (
            <Row key={id} id={id} />
          ))}
        </Sorted>
      </Tips>,
    );

  it('has a grip for every entry, with its name', () => {
    shown(() => {});
    expect(screen.getAllByRole('button').map((b) => b.getAttribute('aria-label'))).toEqual([
      'Move seam a',
      'Move seam b',
      'Move seam c',
    ]);
  });

  it('an entry that is taken and put back by Escape stays, and both are told', async () => {
    const onMove = vi.fn();
    shown(onMove);
    const grip = screen.getByRole('button', { name: 'Move seam b' });
    grip.focus();
    await act(async () => void fireEvent.keyDown(grip, { code: 'Space', key: ' ' }));
    expect(screen.getByText(/^Seam b is /)).toBeTruthy();
    // it listens for the next key only when this one is dealt with
    await waitFor(() => {
      fireEvent.keyDown(document, { code: 'Escape', key: 'Escape' });
      expect(screen.getByText('Seam b stays where it was.')).toBeTruthy();
    });
    expect(onMove).not.toHaveBeenCalled();
  });
});
