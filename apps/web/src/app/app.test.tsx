// @vitest-environment jsdom
import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { box } from '../../../../packages/core/testing/shapes.ts';
import { page } from '../../testing/dom.ts';
import { inProject } from '../../testing/station.tsx';
import { useWorkspace } from '../project/selection.tsx';
import { ExportDialog } from './export-dialog.tsx';
import { Help } from './help.tsx';
import { Palette } from './palette.tsx';
import { Shelf } from './shelf.tsx';
import { ViewTools } from './view-tools.tsx';

page(800, 300);

const post = box([-40, -30, 0], [40, 30, 500]);
const seam = (id: string, z: number) => ({
  id,
  kind: 'flat' as const,
  origin: [0, 0, z] as [number, number, number],
  normal: [0, 0, 1] as [number, number, number],
});
const parted = { seams: [seam('s1', 100), seam('s2', 180)] };

describe('the shelf', () => {
  beforeEach(() => {
    // pictures are drawn on a canvas, which this page has not
    vi.spyOn(HTMLCanvasElement.prototype, 'getContext').mockReturnValue(null);
  });

  it('has a card for each piece with whether it fits, and how many do', () => {
    inProject(<Shelf />, [post], parted);
    const cards = within(screen.getByRole('list', { name: 'Pieces on the shelf' })).getAllByRole('button');
    expect(cards.map((c) => c.textContent?.slice(0, 2))).toEqual(['A1', 'A2', 'A3']);
    expect(cards[0].textContent).toMatch(/fits$/);
    expect(cards[2].textContent).toMatch(/mm too (tall|long)$/);
    expect(screen.getByText(/, 2 fit$/).textContent).toBe('3 pieces, 2 fit');
  });

  it('a card chooses its piece, and once more lets it go', async () => {
    inProject(<Shelf />, [post], parted);
    const user = userEvent.setup();
    const card = () => within(screen.getByRole('list', { name: 'Pieces on the shelf' })).getAllByRole('button')[0];
    await user.click(card());
    expect(card().getAttribute('aria-pressed')).toBe('true');
    await user.click(card());
    expect(card().getAttribute('aria-pressed')).toBe('false');
  });
});

describe('the export', () => {
  /** What the server is asked, and what it answers, in order. */
  function server(answer: (path: string, body: unknown) => unknown): { path: string; body: unknown }[] {
    const asked: { path: string; body: unknown }[] = [];
    vi.stubGlobal('fetch', async (path: string, init?: RequestInit) => {
      const body = init?.body ? (JSON.parse(String(init.body)) as unknown) : null;
      asked.push({ path, body });
      return new Response(JSON.stringify(answer(path, body)), { headers: { 'Content-Type': 'application/json' } });
    });
    return asked;
  }
  /** A job whose only event is how it ended. */
  class Ended {
    onmessage: ((event: { data: string }) => void) | null = null;
    constructor() {
      queueMicrotask(() => this.onmessage?.({ data: JSON.stringify(job()) }));
    }
    close(): void {}
  }
  const job = (more: object = {}) => ({
    id: '00000000-0000-4000-8000-000000000001',
    kind: 'export',
    state: 'done',
    progress: 1,
    what: '',
    projectId: null,
    fileName: 'prop.zip',
    error: null,
    ...more,
  });

  it('leaves out what does not fit until it is ticked, says so, and asks for what is ticked', async () => {
    const asked = server(() => job());
    vi.stubGlobal('EventSource', Ended);
    inProject(<ExportDialog onClose={() => {}} />, [post], parted);
    const dialog = screen.getByRole('dialog', { name: 'Export pieces' });
    expect(dialog.textContent).toContain('One piece has a stop finding and is left out.');
    const user = userEvent.setup();
    const ticks = within(dialog).getAllByRole('checkbox');
    expect(ticks.map((t) => t.getAttribute('aria-checked'))).toEqual(['true', 'true', 'false']);
    await user.click(ticks[1]);
    await user.click(within(dialog).getByRole('radio', { name: 'one 3MF' }));
    await user.click(within(dialog).getByRole('button', { name: 'Write 1 piece' }));
    expect((await within(dialog).findByRole('link', { name: 'Save prop.zip' })).getAttribute('download')).toBe(
      'prop.zip',
    );
    expect(asked[0].body).toMatchObject({ revision: 1, format: '3mf', pieces: ['b1/s1-'] });
  });

  it('nothing ticked is nothing to write', async () => {
    inProject(<ExportDialog onClose={() => {}} />, [post], parted);
    const user = userEvent.setup();
    for (const tick of screen.getAllByRole('checkbox').slice(0, 2)) await user.click(tick);
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Write 0 pieces' }).disabled).toBe(true);
  });

  it('tells why the server refused, and can be tried again', async () => {
    vi.stubGlobal(
      'fetch',
      async () =>
        new Response(
          JSON.stringify({
            code: 'plan.stale',
            type: 'about:blank',
            detail: 'The plan has changed since.',
            title: '',
            status: 409,
          }),
          {
            status: 409,
            headers: { 'Content-Type': 'application/problem+json' },
          },
        ),
    );
    inProject(<ExportDialog onClose={() => {}} />, [post], parted);
    await userEvent.setup().click(screen.getByRole('button', { name: 'Write 2 pieces' }));
    expect(await screen.findByText('The plan has changed since.')).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Write 2 pieces' }).disabled).toBe(false);
  });
});

/** Says what the workspace is set to. */
function Said() {
  const { seeThrough, clip, apart, swapped, folded } = useWorkspace();
  return <output>{JSON.stringify({ seeThrough, clip: clip.by, apart, swapped, folded })}</output>;
}
const said = () =>
  JSON.parse(screen.getByRole('status', { hidden: true }).textContent ?? '') as Record<string, unknown>;

describe('the palette', () => {
  it('runs the command that is typed, by keys alone, and closes', async () => {
    const onClose = vi.fn();
    inProject(
      <>
        <output aria-label="set">
          <Said />
        </output>
        <Palette onClose={onClose} />
      </>,
      [post],
      parted,
    );
    const user = userEvent.setup();
    await user.type(screen.getByRole('combobox', { name: 'Command' }), 'swap');
    await user.keyboard('{Enter}');
    expect(onClose).toHaveBeenCalled();
    await waitFor(() => expect(document.querySelector('output output')?.textContent).toContain('"swapped":true'));
  });

  it('adds a seam across an axis', async () => {
    const made = inProject(<Palette onClose={() => {}} />, [post]);
    const user = userEvent.setup();
    await user.type(screen.getByRole('combobox', { name: 'Command' }), 'seam across y');
    await user.keyboard('{Enter}');
    expect(made.plan().seams).toMatchObject([{ kind: 'flat', normal: [0, 1, 0] }]);
  });
});

it('the help has every command that has a key', () => {
  inProject(<Help onClose={() => {}} />, [post], parted);
  const help = screen.getByRole('dialog', { name: /^Help/ });
  for (const key of ['Ctrl Z', 'Ctrl K', 'X', 'N', 'A', 'F']) {
    expect(within(help).getAllByText(key).length).toBeGreaterThan(0);
  }
  expect(help.textContent).toContain('Swap the flat drawing and the 3D view');
});

describe('the keys over the view', () => {
  it('set how it is drawn', async () => {
    inProject(
      <>
        <ViewTools />
        <Said />
      </>,
      [post],
      parted,
    );
    const user = userEvent.setup();
    await user.click(screen.getByRole('button', { name: 'see through' }));
    const apart = screen.getByRole('slider', { name: 'Take apart, mm' });
    fireEvent.keyDown(apart, { key: 'End' });
    screen.getByRole('combobox', { name: 'Clip the view' }).focus();
    await user.keyboard('{Enter}');
    await user.click(await screen.findByRole('option', { name: 'along z' }));
    await waitFor(() => expect(said()).toMatchObject({ seeThrough: true, apart: 120, clip: 'z' }));
    expect(screen.getByRole('slider', { name: 'Clip at, along z' })).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'other side' }));
    expect(screen.getByRole('button', { name: 'other side' }).getAttribute('aria-pressed')).toBe('true');
  });
});
