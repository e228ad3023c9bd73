import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { blob, box } from '../../testing/shapes.ts';
import { type Drawn, picture } from './picture.ts';

const drawn = (mesh: { positions: Float64Array; triangles: Uint32Array }, colour: string): Drawn => ({
  ...mesh,
  colour,
});
const [W, H] = [60, 40];
const at = (pixels: Uint8ClampedArray, x: number, y: number): number[] => [
  ...pixels.subarray((y * W + x) * 4, (y * W + x) * 4 + 4),
];
const covered = (pixels: Uint8ClampedArray): number =>
  [...pixels.keys()].filter((i) => i % 4 === 3 && pixels[i] === 255).length;

describe('a small picture', () => {
  it('holds all of the model, in the middle, on a transparent ground', () => {
    const pixels = picture(
      [
        drawn(
          blob(30, 40, 40, () => 20),
          '#8090a0',
        ),
      ],
      W,
      H,
    );
    expect(at(pixels, W / 2, H / 2)[3]).toBe(255);
    for (const [x, y] of [
      [0, 0],
      [W - 1, 0],
      [0, H - 1],
      [W - 1, H - 1],
    ])
      expect(at(pixels, x, y)).toEqual([0, 0, 0, 0]);
    const columns = [...Array(W).keys()].filter((x) => [...Array(H).keys()].some((y) => at(pixels, x, y)[3] > 0));
    const rows = [...Array(H).keys()].filter((y) => [...Array(W).keys()].some((x) => at(pixels, x, y)[3] > 0));
    // as much room on the left as on the right, above as below
    expect(Math.abs(columns[0] - (W - 1 - columns.at(-1)!))).toBeLessThanOrEqual(1);
    expect(Math.abs(rows[0] - (H - 1 - rows.at(-1)!))).toBeLessThanOrEqual(1);
  });

  it('does not depend on how large the model is, nor where it lies', () => {
    const mesh = blob(30, 40, 40, (a) => 20 + 4 * Math.sin(3 * a));
    const far = { ...mesh, positions: mesh.positions.map((x, i) => x * 1000 + [5e4, -3e4, 7e3][i % 3]) };
    const [a, b] = [mesh, far].map((m) => picture([drawn(m, '#806040')], W, H));
    let differing = 0;
    for (let i = 0; i < a.length; i++) if (Math.abs(a[i] - b[i]) > 8) differing++;
    expect(differing).toBeLessThan(a.length / 100);
  });

  it('lights the top most, and the side to the right least', () => {
    const pixels = picture([drawn(box([0, 0, 0], [10, 10, 10]), '#808080')], W, H);
    const shades = new Map<number, number>();
    for (let i = 0; i < pixels.length; i += 4)
      if (pixels[i + 3] === 255) shades.set(pixels[i], (shades.get(pixels[i]) ?? 0) + 1);
    // three sides of a cube are seen, each in one shade
    const large = [...shades].filter(([, n]) => n > 40).map(([shade]) => shade);
    expect(large).toHaveLength(3);
    const middle = [...Array(H).keys()].map((y) => at(pixels, W / 2, y)).filter((p) => p[3] === 255);
    expect(middle[0][0]).toBe(Math.max(...large));
  });

  it('shows what is in front, whatever is drawn first', () => {
    const near = drawn(box([-2, -20, -2], [2, -12, 2]), '#ff0000');
    const far = drawn(box([-10, -10, -10], [10, 10, 10]), '#0000ff');
    const [one, other] = [picture([near, far], W, H), picture([far, near], W, H)];
    expect(one).toEqual(other);
    const reds = [...Array(W * H).keys()].filter(
      (i) => one[i * 4] > 0 && one[i * 4 + 2] === 0 && one[i * 4 + 3] === 255,
    );
    expect(reds.length).toBeGreaterThan(20);
    expect(covered(one)).toBeGreaterThan(reds.length);
  });

  it('has no hole where a face is made of slivers', () => {
    const share = fc.double({ min: 0.02, max: 0.98, noNaN: true });
    fc.assert(
      fc.property(share, share, fc.integer({ min: 3, max: 400 }), (u, v, n) => {
        // a square seen from above, as two triangles and as a fan round a place in it
        const rim = [...Array(n + 1).keys()].map((i) => [(i / n) * 40 - 20, -20, 0]);
        const corners = [...rim, [20, 20, 0], [-20, 20, 0]];
        const fan = Float64Array.from([40 * u - 20, 40 * v - 20, 0, ...corners.flat()]);
        const around = corners.flatMap((_, i) => [0, i + 1, ((i + 1) % corners.length) + 1]);
        const flat = Float64Array.of(-20, -20, 0, 20, -20, 0, 20, 20, 0, -20, 20, 0);
        const [whole, slivers] = [
          picture([{ positions: flat, triangles: Uint32Array.of(0, 1, 2, 0, 2, 3), colour: '#808080' }], W, H),
          picture([{ positions: fan, triangles: Uint32Array.from(around), colour: '#808080' }], W, H),
        ];
        const holes = [...whole.keys()].filter((i) => i % 4 === 3 && whole[i] === 255 && slivers[i] !== 255);
        expect(holes).toEqual([]);
      }),
    );
  });
});
