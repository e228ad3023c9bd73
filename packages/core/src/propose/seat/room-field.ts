import type { FlatRegion } from '../../cut/index.ts';

/**
 * How much room there is at each place of a mating face: the radius of the largest circle round it that stays inside, on a
 * grid. Cell (i, j) has its middle at (u0 + (i + ½)·cell, v0 + (j + ½)·cell); row by row, `room[j · width + i]`, mm,
 * 0 outside. Good to about half a cell.
 */
export interface RoomField {
  readonly u0: number;
  readonly v0: number;
  readonly cell: number;
  readonly width: number;
  readonly height: number;
  readonly room: Float32Array;
}

/** Stands for a cell that is far from everything: large, but a number to reckon with. */
export const FAR_OFF = 1e20;

/**
 * The room of a region in cells of `cell` mm, or as many more as keep either side under `most` cells. Cells are filled row
 * by row between crossings with the outlines; distances by the transform of Felzenszwalb and Huttenlocher (2012).
 */
export function roomField(region: Pick<FlatRegion, 'outer2' | 'holes2'>, cell: number, most = 400): RoomField {
  let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity];
  const { outer2, holes2 } = region;
  for (let i = 0; i < outer2.length; i += 2) {
    u0 = Math.min(u0, outer2[i]);
    u1 = Math.max(u1, outer2[i]);
    v0 = Math.min(v0, outer2[i + 1]);
    v1 = Math.max(v1, outer2[i + 1]);
  }
  const step = Math.max(cell, (u1 - u0) / most, (v1 - v0) / most, 1e-9);
  // one cell more on every side, so that the border is outside
  const width = Math.ceil((u1 - u0) / step) + 2;
  const height = Math.ceil((v1 - v0) / step) + 2;
  const [a, b] = [(u0 + u1 - width * step) / 2, (v0 + v1 - height * step) / 2];
  const inside = new Float64Array(width * height);
  for (let j = 0; j < height; j++) {
    const v = b + (j + 0.5) * step;
    const crossings: number[] = [];
    for (const l of [outer2, ...holes2]) {
      for (let i = 0, k = l.length - 2; i < l.length; k = i, i += 2) {
        if (l[k + 1] <= v === l[i + 1] <= v) continue;
        crossings.push(l[k] + ((v - l[k + 1]) / (l[i + 1] - l[k + 1])) * (l[i] - l[k]));
      }
    }
    crossings.sort((x, y) => x - y);
    for (let c = 0; c + 1 < crossings.length; c += 2) {
      const from = Math.max(0, Math.ceil((crossings[c] - a) / step - 0.5));
      const to = Math.min(width - 1, Math.floor((crossings[c + 1] - a) / step - 0.5));
      for (let i = from; i <= to; i++) inside[j * width + i] = FAR_OFF;
    }
  }
  const squared = squaredDistances(inside, width, height);
  const room = new Float32Array(width * height);
  // the border lies half a cell before the first cell that is outside
  for (let i = 0; i < room.length; i++) room[i] = Math.max(0, Math.sqrt(squared[i]) - 0.5) * step;
  return { u0: a, v0: b, cell: step, width, height, room };
}

/** Squared distances, in cells, to the nearest cell that is 0; the others hold `FAR_OFF`. `f` is changed in place. */
export function squaredDistances(f: Float64Array, width: number, height: number): Float64Array {
  const longest = Math.max(width, height);
  const line = new Float64Array(longest);
  const parabolas = new Int32Array(longest);
  const borders = new Float64Array(longest + 1);
  const pass = (start: number, stride: number, n: number): void => {
    for (let q = 0; q < n; q++) line[q] = f[start + q * stride];
    let k = 0;
    parabolas[0] = 0;
    borders[0] = -FAR_OFF;
    borders[1] = FAR_OFF;
    for (let q = 1; q < n; q++) {
      let s = meeting(line, q, parabolas[k]);
      while (s <= borders[k]) s = meeting(line, q, parabolas[--k]);
      parabolas[++k] = q;
      borders[k] = s;
      borders[k + 1] = FAR_OFF;
    }
    k = 0;
    for (let q = 0; q < n; q++) {
      while (borders[k + 1] < q) k++;
      const d = q - parabolas[k];
      f[start + q * stride] = d * d + line[parabolas[k]];
    }
  };
  for (let i = 0; i < width; i++) pass(i, width, height);
  for (let j = 0; j < height; j++) pass(j * width, 1, width);
  return f;
}

const meeting = (line: Float64Array, q: number, p: number): number =>
  (line[q] + q * q - (line[p] + p * p)) / (2 * (q - p));
