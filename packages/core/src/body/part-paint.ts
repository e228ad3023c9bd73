import { type Paint, type RawModel, type RawPart, triangleCount } from '../formats/index.ts';

const MOST_COLOURS = 4096;

/**
 * The paint of every triangle of every part, as entries of one palette. Colours of vertices become colours of triangles:
 * the middle of their three corners, in 32 steps a channel, so that a scan does not bring a palette of a million entries.
 */
export function partPaint(raw: RawModel): { palette: Paint[]; paints: Uint32Array[] } {
  const palette = [...raw.palette];
  const known = new Map<number, number>();
  const paints = raw.parts.map((part) => {
    const count = triangleCount(part);
    if (part.paint) return part.paint;
    const { vertexColours: rgb } = part;
    if (!rgb) return new Uint32Array(count);
    return Uint32Array.from({ length: count }, (_, i) => {
      const key = [0, 1, 2].reduce((sum, c) => sum * 32 + middle(rgb, part, i, c), 0);
      let n = known.get(key);
      if (n === undefined) {
        if (palette.length > MOST_COLOURS) return 0;
        const hex = [key >> 10, (key >> 5) & 31, key & 31].map((x) =>
          Math.round((x / 31) * 255)
            .toString(16)
            .padStart(2, '0'),
        );
        n = palette.push({ name: '', colour: `#${hex.join('')}` }) - 1;
        known.set(key, n);
      }
      return n;
    });
  });
  return { palette, paints };
}

/** One channel of a triangle's corners together, 0 … 31. */
function middle(rgb: Uint8Array, part: RawPart, triangle: number, channel: number): number {
  let sum = 0;
  for (let c = 0; c < 3; c++) {
    const v = part.triangles ? part.triangles[triangle * 3 + c] : triangle * 3 + c;
    sum += rgb[v * 3 + channel];
  }
  return Math.round((sum / 765) * 31);
}
