/** How far keys move what is under them: 1, with Shift 10, with Alt a tenth. */
const stepOf = ({ shiftKey, altKey }: { readonly shiftKey: boolean; readonly altKey: boolean }): number =>
  shiftKey ? 10 : altKey ? 0.1 : 1;

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

/** How far an arrow key moves something to the right and up; null for other keys. */
export function arrowStep(event: Key): readonly [number, number] | null {
  const way = WAYS.get(event.key);
  if (!way) return null;
  const step = stepOf(event);
  return [way[0] * step, way[1] * step];
}
