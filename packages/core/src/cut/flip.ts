/** Triangles lower than this share of their longest side are flat: three corners in one line, but for rounding. */
const FLAT = 1e-4;

/**
 * Turns the longest side of flat triangles over, where that gives better ones.
 *
 *      s               s
 *     / \             /|\       Two caps that meet in a crease with corners along it would otherwise both have the side
 *    p---q    ->     p | q      from p to q, once past r each, and the piece would touch itself there.
 *     \r/             \|/
 *      '               r
 *
 * `t`: triangles, counter-clockwise, of points `f` (two numbers each); changed in place. Sides of the outline stay.
 * Flips of one side, as Lawson has them ("Software for C1 surface interpolation", 1977).
 */
export function flipFlat(t: Uint32Array, f: Float64Array): void {
  const flat: number[] = [];
  for (let i = 0; i < t.length; i += 3) if (slimness(f, t[i], t[i + 1], t[i + 2]) < FLAT) flat.push(i);
  if (flat.length === 0) return;
  const points = f.length / 2;
  // the triangle that has each directed side
  const home = new Map<number, number>();
  const settle = (i: number): void => {
    for (let e = 0; e < 3; e++) home.set(t[i + e] * points + t[i + ((e + 1) % 3)], i);
  };
  for (let i = 0; i < t.length; i += 3) settle(i);
  // each flip makes a pair better; the limit is for pairs that rounding lets swing
  for (let left = flat.length * 20; flat.length > 0 && left > 0; left--) {
    const i = flat.pop()!;
    const e = longest(f, t, i);
    const [p, q, r] = [t[i + e], t[i + ((e + 1) % 3)], t[i + ((e + 2) % 3)]];
    const before = slimness(f, p, q, r);
    const j = home.get(q * points + p);
    if (before >= FLAT || j === undefined) continue;
    const s = t[j] !== p && t[j] !== q ? t[j] : t[j + 1] !== p && t[j + 1] !== q ? t[j + 1] : t[j + 2];
    const after = Math.min(slimness(f, r, p, s), slimness(f, s, q, r));
    if (after <= before || home.has(r * points + s) || home.has(s * points + r)) continue;
    home.delete(p * points + q);
    home.delete(q * points + p);
    t.set([r, p, s], i);
    t.set([s, q, r], j);
    settle(i);
    settle(j);
    for (const k of [i, j]) if (slimness(f, t[k], t[k + 1], t[k + 2]) < FLAT) flat.push(k);
  }
}

const squared = (f: Float64Array, a: number, b: number): number =>
  (f[b * 2] - f[a * 2]) ** 2 + (f[b * 2 + 1] - f[a * 2 + 1]) ** 2;

/** Which side of a triangle is longest. */
function longest(f: Float64Array, t: Uint32Array, i: number): number {
  const sides = [squared(f, t[i], t[i + 1]), squared(f, t[i + 1], t[i + 2]), squared(f, t[i + 2], t[i])];
  return sides.indexOf(Math.max(...sides));
}

/** Signed height by longest side of a triangle. */
function slimness(f: Float64Array, a: number, b: number, c: number): number {
  const twice =
    (f[b * 2] - f[a * 2]) * (f[c * 2 + 1] - f[a * 2 + 1]) - (f[c * 2] - f[a * 2]) * (f[b * 2 + 1] - f[a * 2 + 1]);
  return twice / (Math.max(squared(f, a, b), squared(f, b, c), squared(f, c, a)) || 1);
}
