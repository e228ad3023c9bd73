// @vitest-environment jsdom
import { equipment, type OwnPrinter } from '@gephyra/contract';
import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { describe, expect, it } from 'vitest';
import { page } from '../../testing/dom.ts';
import { KeepOut, PrintSetting } from './print-setting.tsx';

page();

/** A printer as its page keeps it; each that comes of a setting is told. */
function Bench({ start, told }: { start: OwnPrinter; told: (printer: OwnPrinter) => void }) {
  const [printer, setPrinter] = useState(start);
  const set = (next: Partial<OwnPrinter>) => {
    const changed = { ...printer, ...next };
    setPrinter(changed);
    told(changed);
  };
  return (
    <>
      <PrintSetting printer={printer} material={printer.materials[0]} set={set} />
      <KeepOut printer={printer} set={set} />
    </>
  );
}

/** Shows a printer with one material, and gives what tells how it stands. */
function shown(material: object = {}): () => OwnPrinter {
  let latest = equipment.parse({
    printers: [{ name: 'Desktop 220', size: [220, 220, 250], materials: [{ name: 'PLA', ...material }] }],
  }).printers[0];
  const told = (printer: OwnPrinter): void => {
    latest = printer;
  };
  render(<Bench start={latest} told={told} />);
  return () => latest;
}

async function fill(label: string, text: string): Promise<void> {
  const user = userEvent.setup();
  const input = screen.getByLabelText(label);
  await user.clear(input);
  await user.type(input, `${text}{Enter}`);
}

describe('how a printer prints', () => {
  it('is set in the units of the workshop, and kept in those of the record', async () => {
    const printer = shown();
    await fill('Overhang from upright', '60');
    await fill('Filled inside', '25');
    await fill('Walls', '3.6');
    await fill('Line width', '0.5');
    const { setting } = printer().materials[0];
    expect(setting).toEqual({ overhang: expect.closeTo(Math.PI / 3, 6), infill: 0.25, walls: 4, line: 0.5 });
  });

  it('says what it does not take, and keeps what was', async () => {
    const printer = shown({ setting: { layer: 0.3 } });
    await fill('Layer', '3');
    expect(screen.getByText('At most 2 mm.')).toBeTruthy();
    expect(printer().materials[0].setting).toEqual({ layer: 0.3 });
  });

  it('goes back to values to begin with, which can be done only where something was set', async () => {
    const printer = shown({ setting: { layer: 0.3 } });
    const start = screen.getByRole<HTMLButtonElement>('button', { name: 'Starting values' });
    await userEvent.setup().click(start);
    expect(printer().materials[0].setting).toBeUndefined();
    expect(screen.getByLabelText<HTMLInputElement>('Layer').value).toBe('0.2');
    expect(start.disabled).toBe(true);
  });

  it('learns from prints that were timed, and forgets one that is removed', async () => {
    const printer = shown();
    await fill('Was estimated', '10');
    await fill('It took', '12');
    const timed = screen.getByRole('region', { name: 'Timed prints' });
    await userEvent.setup().click(within(timed).getByRole('button', { name: 'Add this print' }));
    expect(printer().materials[0].prints).toMatchObject([{ estimate: 10, hours: 12 }]);
    expect(timed.textContent).toContain('1 print: estimates are taken times 1.');
    await userEvent.setup().click(within(timed).getByRole('button', { name: /^Remove the print of/ }));
    expect(printer().materials[0].prints).toEqual([]);
    expect(timed.textContent).toContain('none yet');
  });

  it('keeps places of its bed free', async () => {
    const printer = shown();
    const free = screen.getByRole('region', { name: 'Kept free' });
    expect(free.textContent).toContain('Nothing');
    await userEvent.setup().click(within(free).getByRole('button', { name: 'Add a place' }));
    await fill('From the left', '12');
    await fill('Deep', '30');
    expect(printer().keepOut).toEqual([{ at: [12, 0], size: [20, 30] }]);
    await userEvent.setup().click(within(free).getByRole('button', { name: 'Remove place 1' }));
    expect(printer().keepOut).toEqual([]);
  });
});
