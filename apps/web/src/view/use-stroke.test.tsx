// @vitest-environment jsdom

import { act, render, waitFor } from '@testing-library/react';
import { useRef, useState } from 'react';
import { describe, expect, it } from 'vitest';
import type { PickedPlace, Picker } from '../project/selection.tsx';
import type { Scene } from './scene.ts';
import { useStroke } from './use-stroke.ts';

interface Seen {
  spots: readonly (readonly [number, number])[];
  stop(): void;
}

/** A canvas on which a brush is wanted until it is stopped; everything left of x = 100 lies on the model. */
function Canvas({ scene, taken, seen }: { scene: Scene; taken: (places: readonly PickedPlace[]) => void; seen: Seen }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [on, setOn] = useState(true);
  const stroke: Picker['stroke'] = { radius: 5, onStroke: taken };
  const placeAt = async (x: number, y: number): Promise<PickedPlace | null> =>
    x < 100 ? { body: 'b1', at: [x, y, 0], normal: [0, 0, 1] } : null;
  seen.spots = useStroke(canvas, scene, on ? stroke : null, placeAt);
  seen.stop = () => setOn(false);
  return <canvas ref={canvas} />;
}

function painted() {
  const scene = { turning: true } as unknown as Scene;
  const taken: (readonly PickedPlace[])[] = [];
  const seen: Seen = { spots: [], stop: () => {} };
  const { container, unmount } = render(<Canvas scene={scene} taken={(p) => taken.push(p)} seen={seen} />);
  const canvas = container.querySelector('canvas')!;
  const send = (type: string, x: number, { button = 0, isPrimary = true } = {}): void =>
    act(() => {
      const event = new MouseEvent(type, { clientX: x, clientY: 20, button, bubbles: true });
      canvas.dispatchEvent(Object.assign(event, { isPrimary }));
    });
  return { scene, taken, seen, send, unmount };
}

describe('a stroke of the brush', () => {
  it('is drawn while it goes on, and its places are taken together when it ends', async () => {
    const { taken, seen, send } = painted();
    send('pointerdown', 10);
    for (let x = 12; x <= 60; x += 2) send('pointermove', x);
    // spots are seven pixels apart
    expect(seen.spots.map(([x]) => x)).toEqual([10, 18, 26, 34, 42, 50, 58]);
    expect(taken).toEqual([]);
    send('pointerup', 60);
    expect(seen.spots).toEqual([]);
    await waitFor(() => expect(taken).toHaveLength(1));
    expect(taken[0].map((p) => p.at[0])).toEqual([10, 18, 26, 34, 42, 50, 58]);
  });

  it('leaves out what is beside the model, and is nothing where all of it is', async () => {
    const { taken, send } = painted();
    send('pointerdown', 80);
    for (const x of [90, 99, 110, 120]) send('pointermove', x);
    send('pointerup', 120);
    await waitFor(() => expect(taken).toHaveLength(1));
    expect(taken[0].map((p) => p.at[0])).toEqual([80, 90, 99]);
    send('pointerdown', 200);
    send('pointermove', 220);
    send('pointerup', 220);
    send('pointerdown', 20);
    send('pointermove', 40);
    send('pointerup', 40);
    await waitFor(() => expect(taken).toHaveLength(2));
    expect(taken[1].map((p) => p.at[0])).toEqual([20, 40]);
  });

  it('is not a click, not the right button, not a second finger, and given up when it is cancelled', async () => {
    const { taken, seen, send } = painted();
    send('pointerdown', 10);
    send('pointerup', 10);
    send('pointerdown', 10, { button: 2 });
    send('pointermove', 40);
    send('pointerup', 40);
    send('pointerdown', 10, { isPrimary: false });
    send('pointermove', 50, { isPrimary: false });
    send('pointerup', 50, { isPrimary: false });
    send('pointerdown', 10);
    send('pointermove', 40);
    expect(seen.spots).toHaveLength(2);
    send('pointercancel', 40);
    expect(seen.spots).toEqual([]);
    send('pointerup', 40);
    await Promise.resolve();
    expect(taken).toEqual([]);
  });

  it('is bounded, however long the drag', () => {
    const { seen, send } = painted();
    send('pointerdown', 0);
    for (let k = 1; k < 400; k++) send('pointermove', (k % 2) * 50);
    expect(seen.spots).toHaveLength(250);
  });

  it('keeps the view from turning while it is wanted, and lets it turn again after', () => {
    const { scene, seen, unmount } = painted();
    expect((scene as unknown as { turning: boolean }).turning).toBe(false);
    act(() => seen.stop());
    expect((scene as unknown as { turning: boolean }).turning).toBe(true);
    unmount();
    const other = painted();
    other.unmount();
    expect((other.scene as unknown as { turning: boolean }).turning).toBe(true);
  });
});
