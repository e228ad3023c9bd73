const WAYS: ReadonlyMap<string, readonly [number, number]> = new Map([
  ['ArrowLeft', [-1, 0]],
  ['ArrowRight', [1, 0]],
  ['ArrowUp', [0, 1]],
  ['ArrowDown', [0, -1]],
]);

interface Key {
  readonly key: string;
  readonly shiftKey: boolean;
  readonly altKey: boolean;
}

/** Which way an arrow key goes, to the right and up; null for other keys. */
export const arrowWay = (key: string): readonly [number, number] | null => WAYS.get(key) ?? null;

/** How far it moves what is under it: by 1, with Shift by 10, with Alt by a tenth. */
export function arrowStep({ key, shiftKey, altKey }: Key): readonly [number, number] | null {
  const way = arrowWay(key);
  if (!way) return null;
  const step = shiftKey ? 10 : altKey ? 0.1 : 1;
  return [way[0] * step, way[1] * step];
}
