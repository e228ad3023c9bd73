/** Level slices of a posed mesh, evenly spaced from the bed up. */
export interface Slices {
  /** height that each stands for, mm */
  readonly thickness: number;
  /** length of the outlines, mm, and area, mm², of each */
  readonly outline: Float64Array;
  readonly area: Float64Array;
}

/**
 * Outline and area of a closed mesh at the middles of `count` equal layers up to `height`. Each triangle adds its crossing to
 * the slices it meets: its length, and its share of the area by Green's theorem; nothing is chained.
 */
export function slicesOf(
  { positions: p, triangles: t }: { readonly positions: Float64Array; readonly triangles: Uint32Array },
  height: number,
  count: number,
): Slices {
  const outline = new Float64Array(count);
  const area = new Float64Array(count);
  const thickness = height / count;
  for (let i = 0; i < t.length; i += 3) {
    const a = 3 * t[i];
    const b = 3 * t[i + 1];
    const c = 3 * t[i + 2];
    const low = Math.min(p[a + 2], p[b + 2], p[c + 2]);
    const high = Math.max(p[a + 2], p[b + 2], p[c + 2]);
    const from = Math.max(0, Math.ceil(low / thickness - 0.5));
    for (let k = from; k < count; k++) {
      const z = (k + 0.5) * thickness;
      if (z >= high) break;
      // where the outline enters and leaves the triangle: it runs with the material at its left, seen from above
      let x0 = 0;
      let y0 = 0;
      let x1 = 0;
      let y1 = 0;
      for (let e = 0; e < 3; e++) {
        const m = e === 0 ? a : e === 1 ? b : c;
        const n = e === 0 ? b : e === 1 ? c : a;
        const under = p[m + 2] <= z;
        if (under === p[n + 2] <= z) continue;
        const share = (z - p[m + 2]) / (p[n + 2] - p[m + 2]);
        const x = p[m] + share * (p[n] - p[m]);
        const y = p[m + 1] + share * (p[n + 1] - p[m + 1]);
        if (under) {
          x1 = x;
          y1 = y;
        } else {
          x0 = x;
          y0 = y;
        }
      }
      // hypot is several times as slow
      outline[k] += Math.sqrt((x1 - x0) ** 2 + (y1 - y0) ** 2);
      area[k] += (x0 * y1 - x1 * y0) / 2;
    }
  }
  return { thickness, outline, area };
}
