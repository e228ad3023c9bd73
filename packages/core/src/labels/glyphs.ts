import { movedLoop, type Stack } from '../joints/index.ts';
import type { Loop2 } from '../mesh/index.ts';

// Letters and figures of straight strokes, as cut into a tally: each stroke a convex outline of its own, apart from the next,
// so that every one can be engraved without any boolean operation.
//
//     __a__
//    |\ | /|      h i j   slant, upright and slant of the upper half
//   f| \|/ |b     k l m   of the lower half
//    |--g--|      p q     the left and the right half of the middle stroke g
//   e| /|\ |c
//    |/_|_\|
//       d

/** The strokes of each sign. */
const STROKES: Readonly<Record<string, string>> = {
  '0': 'abcdef',
  '1': 'bc',
  '2': 'abgde',
  '3': 'abcdg',
  '4': 'bcfg',
  '5': 'acdfg',
  '6': 'acdefg',
  '7': 'abc',
  '8': 'abcdefg',
  '9': 'abcdfg',
  A: 'abcefg',
  B: 'abcdgil',
  C: 'adef',
  D: 'abcdil',
  E: 'adefp',
  F: 'aefp',
  G: 'acdefq',
  H: 'bcefg',
  I: 'adil',
  J: 'bcde',
  K: 'efpjm',
  L: 'def',
  M: 'bcefhj',
  N: 'bcefhm',
  O: 'abcdef',
  P: 'abefg',
  Q: 'abcdefm',
  R: 'abefgm',
  S: 'acdfg',
  T: 'ail',
  U: 'bcdef',
  V: 'efkj',
  W: 'bcefkm',
  X: 'hjkm',
  Y: 'hjl',
  Z: 'adjk',
  '-': 'g',
};

/** Width of a figure and of a letter as shares of its height, and what is left free behind each. */
const WIDTH = 0.5;
const LETTER = 0.66;
const FREE = 0.28;
const POINT_STEP = 0.34;
/** Width of a stroke, and the hair between two, as shares of the height. */
export const STROKE = 0.13;
const HAIR = STROKE * 0.35;

const widthOf = (sign: string): number => (/[A-Z]/.test(sign) ? LETTER : WIDTH);

/** How wide a text is, mm. */
export const textWidth = (text: string, height: number): number =>
  [...text].reduce((sum, c) => sum + (c === '.' ? POINT_STEP : widthOf(c) + FREE), 0) * height - FREE * height;

type Bar = (x0: number, y0: number, x1: number, y1: number) => Loop2;
const bar: Bar = (x0, y0, x1, y1) => Float64Array.of(x0, y0, x1, y0, x1, y1, x0, y1);
/** A stroke `wide` across from x0 at the height y0 to x1 at y1. */
const slant = (x0: number, y0: number, x1: number, y1: number, wide: number): Loop2 =>
  Float64Array.of(x0, y0, x0 + wide, y0, x1 + wide, y1, x1, y1);

/** The strokes of a text, counter-clockwise, its lower left corner at (0, 0), `height` mm tall. Other signs leave a gap. */
export function strokesOf(text: string, height: number): Loop2[] {
  const out: Loop2[] = [];
  let at = 0;
  for (const sign of text) {
    if (sign === '.') {
      const side = STROKE * 1.2 * height;
      out.push(movedLoop(bar(0, 0, side, side), at, 0));
      at += POINT_STEP * height;
      continue;
    }
    const width = widthOf(sign) * height;
    for (const loop of signStrokes(STROKES[sign] ?? '', width, height)) out.push(movedLoop(loop, at, 0));
    at += width + FREE * height;
  }
  return out;
}

function signStrokes(marks: string, w: number, height: number): Loop2[] {
  const [s, gap, half, middle] = [STROKE * height, HAIR * height, height / 2, w / 2];
  const has = (mark: string): boolean => marks.includes(mark);
  const across = (y: number, from = s + gap, to = w - s - gap): Loop2 => bar(from, y, to, y + s);
  const upright = (x: number, low: number, high: number): Loop2 => bar(x, low + gap, x + s, high - gap);
  // what stands between the bars of top, middle and bottom
  const [low, under, over, high] = [s + gap, half - s / 2 - gap, half + s / 2 + gap, height - s - gap];
  const centred = (y0: number, y1: number): Loop2 => bar(middle - s / 2, y0, middle + s / 2, y1);
  const [left, right] = [s + gap, w - s - gap - s];
  const [nearLeft, nearRight] = [middle - gap / 2 - s, middle + gap / 2];
  const all: Readonly<Record<string, () => Loop2>> = {
    a: () => across(height - s),
    b: () => upright(w - s, half, height),
    c: () => upright(w - s, 0, half),
    d: () => across(0),
    e: () => upright(0, 0, half),
    f: () => upright(0, half, height),
    g: () => across(half - s / 2),
    p: () => across(half - s / 2, s + gap, middle + s / 2),
    q: () => across(half - s / 2, middle - s / 2, w - s - gap),
    h: () => slant(nearLeft, over, left, high, s),
    i: () => centred(has('g') ? over : half + gap / 2, high),
    j: () => slant(nearRight, over, right, high, s),
    k: () => slant(left, low, nearLeft, under, s),
    l: () => centred(has('d') ? low : gap, has('g') ? under : half - gap / 2),
    m: () => slant(right, low, nearRight, under, s),
  };
  return [...marks].map((mark) => all[mark]());
}

/** Width of an arrow as a share of its height. */
const ARROW = 0.6;
export const arrowWidth = (height: number): number => ARROW * height;

/** An arrow that points up, its lower left corner at (0, 0). */
export function arrowStrokes(height: number): Loop2[] {
  const [w, s] = [ARROW * height, STROKE * height];
  return [
    bar(w / 2 - s / 2, 0, w / 2 + s / 2, height * 0.5),
    Float64Array.of(0, height * 0.5 + HAIR * height, w, height * 0.5 + HAIR * height, w / 2, height),
  ];
}

/** Signs engraved `depth` mm, their lower left corner at (u, v), `height` mm tall. */
export const engraved = (text: string, u: number, v: number, height: number, depth: number): Stack[] =>
  strokesOf(text, height).map((loop) => pocket(movedLoop(loop, u, v), depth));

/** A straight recess. */
export const pocket = (loop: Loop2, depth: number): Stack => ({
  kind: 'socket',
  rings: [
    { loop, height: 0 },
    { loop, height: depth },
  ],
});
