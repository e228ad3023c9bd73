import { type RefObject, useEffect, useRef, useState } from 'react';
import type { PickedPlace, Picker } from '../project/selection.tsx';
import type { Scene } from './scene.ts';

type Spot = readonly [number, number];

/** Spots of a drag are so far apart, in pixels, and there are at most so many. */
const STEP = 7;
const MOST = 250;

/** While a brush is wanted, a drag paints instead of turning the model: the spots of the one under way, in pixels. */
export function useStroke(
  canvas: RefObject<HTMLCanvasElement | null>,
  scene: Scene | null,
  wanted: Picker['stroke'] | null,
  placeAt: (x: number, y: number) => Promise<PickedPlace | null>,
): readonly Spot[] {
  const [spots, setSpots] = useState<readonly Spot[]>([]);
  const now = useRef({ wanted, placeAt });
  now.current = { wanted, placeAt };
  const on = wanted !== null;
  useEffect(() => {
    const element = canvas.current;
    if (!element || !scene || !on) return;
    scene.turning = false;
    let made: Spot[] | null = null;
    const spotOf = (e: PointerEvent): Spot => {
      const { left, top } = element.getBoundingClientRect();
      return [e.clientX - left, e.clientY - top];
    };
    const begin = (e: PointerEvent): void => {
      if (e.button !== 0 || !e.isPrimary) return;
      made = [spotOf(e)];
    };
    const move = (e: PointerEvent): void => {
      if (!made || !e.isPrimary || made.length >= MOST) return;
      const [x, y] = spotOf(e);
      const [lx, ly] = made[made.length - 1];
      if (Math.hypot(x - lx, y - ly) < STEP) return;
      made.push([x, y]);
      setSpots([...made]);
    };
    const end = async (e: PointerEvent): Promise<void> => {
      if (!made || !e.isPrimary) return;
      const stroke = made;
      made = null;
      setSpots([]);
      // a click is a pick like any other
      if (stroke.length < 2 || e.type === 'pointercancel') return;
      const places = await Promise.all(stroke.map(([x, y]) => now.current.placeAt(x, y)));
      const met = places.filter((p) => p !== null);
      if (met.length > 0) now.current.wanted?.onStroke(met);
    };
    const forget = (): void => {
      made = null;
      setSpots([]);
    };
    element.addEventListener('pointerdown', begin);
    element.addEventListener('pointermove', move);
    element.addEventListener('pointerup', end);
    element.addEventListener('pointercancel', forget);
    return () => {
      scene.turning = true;
      forget();
      element.removeEventListener('pointerdown', begin);
      element.removeEventListener('pointermove', move);
      element.removeEventListener('pointerup', end);
      element.removeEventListener('pointercancel', forget);
    };
  }, [canvas, scene, on]);
  return spots;
}
