import { movedLoop, type Stack } from '../joints/index.ts';

// Figures of straight strokes, as on a tally: each stroke a rectangle of its own, apart from the next, so that every one
// can be engraved without any boolean operation.

/** Strokes of each figure: top, upper right, lower right, bottom, lower left, upper left, middle. */
const STROKES: Readonly<Record<string, string>> = {
  '0': '1111110',
  '1': '0110000',
  '2': '1101101',
  '3': '1111001',
  '4': '0110011',
  '5': '1011011',
  '6': '1011111',
  '7': '1110000',
  '8': '1111111',
  '9': '1111011',
};

/** Width of a figure as a share of its height, and of the step from one to the next. */
const WIDTH = 0.5;
const STEP = 0.78;
const POINT_STEP = 0.34;

/** How wide a text is, mm. */
export const textWidth = (text: string, height: number): number =>
  [...text].reduce((sum, c) => sum + (c === '.' ? POINT_STEP : STEP), 0) * height - (STEP - WIDTH) * height;

/** Figures and points engraved `depth` mm, their lower left corner at (u, v), `height` mm tall. */
export function engraved(text: string, u: number, v: number, height: number, depth: number): Stack[] {
  const stroke = height * 0.13;
  const out: Stack[] = [];
  let at = u;
  const bar = (x0: number, y0: number, x1: number, y1: number): void => {
    const loop = movedLoop(Float64Array.of(x0, y0, x1, y0, x1, y1, x0, y1), at, v);
    out.push({
      kind: 'socket',
      rings: [
        { loop, height: 0 },
        { loop, height: depth },
      ],
    });
  };
  for (const c of text) {
    if (c === '.') {
      bar(0, 0, stroke * 1.2, stroke * 1.2);
      at += POINT_STEP * height;
      continue;
    }
    const marks = STROKES[c];
    if (!marks) continue;
    const w = WIDTH * height;
    const half = height / 2;
    const s = stroke;
    // a hair is left between strokes
    const gap = s * 0.35;
    const across = (y: number): void => bar(s + gap, y, w - s - gap, y + s);
    const upright = (x: number, low: number, high: number): void => bar(x, low + gap, x + s, high - gap);
    if (marks[0] === '1') across(height - s);
    if (marks[1] === '1') upright(w - s, half, height);
    if (marks[2] === '1') upright(w - s, 0, half);
    if (marks[3] === '1') across(0);
    if (marks[4] === '1') upright(0, 0, half);
    if (marks[5] === '1') upright(0, half, height);
    if (marks[6] === '1') across(half - s / 2);
    at += STEP * height;
  }
  return out;
}
