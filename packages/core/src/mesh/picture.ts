import { bounds, boxCorners, uniteBoxes } from './measure.ts';
import type { Vec3 } from './types.ts';
import { cross, dot, normalize, scale } from './vec.ts';

/** Something to draw: triangles in one colour, #rrggbb. */
export interface Drawn {
  readonly positions: Float64Array;
  readonly triangles: Uint32Array;
  readonly colour: string;
}

/** From where pictures are seen: from the front, the right and above. */
export const EYE: Vec3 = normalize([0.55, -0.75, 0.42]);

/**
 * Draws meshes in soft light without a graphics card: parallel projection from front, right and above, depth buffer,
 * twice the size and averaged down. Returns width × height RGBA pixels on a transparent ground.
 */
export function picture(things: readonly Drawn[], width: number, height: number): Uint8ClampedArray {
  const view = scale(EYE, -1);
  const right = normalize(cross(view, [0, 0, 1]));
  const up = cross(right, view);
  const light = normalize([-0.35, -0.55, 0.85]);
  const box = things.map((t) => bounds(t.positions)).reduce(uniteBoxes);
  let [x0, x1, y0, y1] = [Infinity, -Infinity, Infinity, -Infinity];
  for (const q of boxCorners(box)) {
    x0 = Math.min(x0, dot(q, right));
    x1 = Math.max(x1, dot(q, right));
    y0 = Math.min(y0, dot(q, up));
    y1 = Math.max(y1, dot(q, up));
  }
  const w = width * 2;
  const h = height * 2;
  const k = 0.94 * Math.min(w / Math.max(x1 - x0, 1e-12), h / Math.max(y1 - y0, 1e-12));
  const dx = w / 2 - (k * (x0 + x1)) / 2;
  const dy = h / 2 + (k * (y0 + y1)) / 2;
  const depth = new Float32Array(w * h).fill(Infinity);
  const big = new Uint8ClampedArray(w * h * 4);
  for (const { positions: p, triangles: t, colour } of things) {
    const rgb = [1, 3, 5].map((i) => Number.parseInt(colour.slice(i, i + 2), 16));
    const n = p.length / 3;
    const sx = new Float32Array(n);
    const sy = new Float32Array(n);
    const sz = new Float32Array(n);
    for (let i = 0; i < n; i++) {
      const x = p[i * 3];
      const y = p[i * 3 + 1];
      const z = p[i * 3 + 2];
      sx[i] = dx + k * (x * right[0] + y * right[1] + z * right[2]);
      sy[i] = dy - k * (x * up[0] + y * up[1] + z * up[2]);
      sz[i] = x * view[0] + y * view[1] + z * view[2];
    }
    for (let i = 0; i < t.length; i += 3) {
      const [a, b, c] = [t[i], t[i + 1], t[i + 2]];
      const area = (sx[b] - sx[a]) * (sy[c] - sy[a]) - (sx[c] - sx[a]) * (sy[b] - sy[a]);
      if (area >= 0) continue;
      const ux = p[b * 3] - p[a * 3];
      const uy = p[b * 3 + 1] - p[a * 3 + 1];
      const uz = p[b * 3 + 2] - p[a * 3 + 2];
      const vx = p[c * 3] - p[a * 3];
      const vy = p[c * 3 + 1] - p[a * 3 + 1];
      const vz = p[c * 3 + 2] - p[a * 3 + 2];
      const nx = uy * vz - uz * vy;
      const ny = uz * vx - ux * vz;
      const nz = ux * vy - uy * vx;
      const lit = (nx * light[0] + ny * light[1] + nz * light[2]) / Math.max(Math.hypot(nx, ny, nz), 1e-30);
      const shade = 0.72 + 0.34 * lit;
      const left = Math.max(0, Math.ceil(Math.min(sx[a], sx[b], sx[c]) - 0.5));
      const last = Math.min(w - 1, Math.floor(Math.max(sx[a], sx[b], sx[c]) - 0.5));
      const top = Math.max(0, Math.ceil(Math.min(sy[a], sy[b], sy[c]) - 0.5));
      const bottom = Math.min(h - 1, Math.floor(Math.max(sy[a], sy[b], sy[c]) - 0.5));
      // the shares of the corners change evenly along a row: where all are positive is told at once
      const da = (sy[b] - sy[c]) / area;
      const db = (sy[c] - sy[a]) / area;
      const dc = -da - db;
      const px = left + 0.5;
      for (let y = top; y <= bottom; y++) {
        const py = y + 0.5;
        const wa = ((sx[b] - px) * (sy[c] - py) - (sx[c] - px) * (sy[b] - py)) / area;
        const wb = ((sx[c] - px) * (sy[a] - py) - (sx[a] - px) * (sy[c] - py)) / area;
        const wc = 1 - wa - wb;
        const from = Math.max(0, firstAt(wa, da), firstAt(wb, db), firstAt(wc, dc));
        const to = Math.min(last - left, -firstAt(wa, -da), -firstAt(wb, -db), -firstAt(wc, -dc));
        const row = y * w + left;
        const near = wa * sz[a] + wb * sz[b] + wc * sz[c];
        const slope = da * sz[a] + db * sz[b] + dc * sz[c];
        for (let s = from; s <= to; s++) {
          const z = near + s * slope;
          const at = row + s;
          if (z >= depth[at]) continue;
          depth[at] = z;
          big[at * 4] = rgb[0] * shade;
          big[at * 4 + 1] = rgb[1] * shade;
          big[at * 4 + 2] = rgb[2] * shade;
          big[at * 4 + 3] = 255;
        }
      }
    }
  }
  return halved(big, width, height);
}

/** A pixel whose middle is so near beyond an edge is drawn all the same, as a share. */
const EDGE = 1e-7;

/**
 * The first whole step at which a share that grows by `by` a step is not negative; with `by` turned round, the last one, negated.
 * Infinite where it never is; beyond all where it does not matter.
 */
function firstAt(share: number, by: number): number {
  if (by > 0) return Math.ceil((-share - EDGE) / by);
  return by === 0 && share < -EDGE ? Infinity : -Infinity;
}

function halved(big: Uint8ClampedArray, width: number, height: number): Uint8ClampedArray {
  const out = new Uint8ClampedArray(width * height * 4);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const p = (y * 4 * width + x * 2) * 4;
      const [q, r, s] = [p + 4, p + width * 8, p + width * 8 + 4];
      const [a, b, c, d] = [big[p + 3], big[q + 3], big[r + 3], big[s + 3]];
      const alpha = a + b + c + d;
      if (alpha === 0) continue;
      const to = (y * width + x) * 4;
      for (let k = 0; k < 3; k++)
        out[to + k] = (big[p + k] * a + big[q + k] * b + big[r + k] * c + big[s + k] * d) / alpha;
      out[to + 3] = alpha / 4;
    }
  }
  return out;
}
