import { NO_PAINT, type Paint } from './raw.ts';

/** Collects the colours of a model: the same name and colour is the same entry. Entry 0 means none. */
export class Palette {
  private readonly paints: Paint[] = [...NO_PAINT];
  private readonly known = new Map<string, number>([['\u0000', 0]]);

  /** The number of a paint. */
  add(name: string, colour: string): number {
    const key = `${name}\u0000${colour}`;
    let n = this.known.get(key);
    if (n === undefined) {
      n = this.paints.push({ name, colour }) - 1;
      this.known.set(key, n);
    }
    return n;
  }

  list(): Paint[] {
    return this.paints;
  }
}

const two = (x: number): string =>
  Math.min(255, Math.max(0, Math.round(x)))
    .toString(16)
    .padStart(2, '0');

/** #rrggbb of red, green and blue, 0 … 255 each. */
export const hexColour = (r: number, g: number, b: number): string => `#${two(r)}${two(g)}${two(b)}`;

/** Red, green, blue (0 … 255) of #rrggbb, with or without a trailing alpha. */
export const rgbOf = (colour: string): [number, number, number] => {
  const n = Number.parseInt(colour.slice(1, 7), 16);
  return [(n >> 16) & 255, (n >> 8) & 255, n & 255];
};
