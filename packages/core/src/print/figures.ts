import { depthInside, hull2, type Vec3 } from '../mesh/index.ts';
import { columnsOf } from './columns.ts';
import { narrowest, sharpest, turnToFit } from './polygon.ts';
import { layDown, type Pose, poseTurn } from './pose.ts';
import { type PrintMesh, SURFACE } from './print-mesh.ts';
import { type Supports, supportsOf } from './support.ts';

/** What a printer asks of a pose. Lengths in mm. */
export interface PrintRule {
  /** x, y, z that a posed piece may take */
  readonly room: Vec3;
  /** steepest lean from upright that prints without support, radians */
  readonly overhang: number;
  readonly layer: number;
  /** share of its columns that support fills */
  readonly density: number;
  readonly kind: 'filament' | 'resin';
}

/** What a pose means for printing. Lengths, areas and volumes in mm, mm² and mm³. */
export interface Figures {
  /** what lies on the bed: facing down, within half a layer of it */
  readonly restArea: number;
  /** facing down, leaning farther than the printer's limit, not resting */
  readonly overhangArea: number;
  /** of it: skin */
  readonly skinOverhang: number;
  /** where support leaves its marks: on show faces, and on mating faces and joints */
  readonly showScars: number;
  readonly capScars: number;
  /** columns of support from the bed or the piece up, and the material of them by their density */
  readonly columnVolume: number;
  readonly supportVolume: number;
  /** of its columns: the share that stands on the piece, and that cannot be reached */
  readonly onPiece: number;
  readonly locked: number;
  readonly height: number;
  /** seen from above */
  readonly footprint: number;
  readonly fits: boolean;
  /** by how much it exceeds the printer along x, y, z */
  readonly over: Vec3;
  /** radians: the least turn about z, beyond the pose's own, with which it fits */
  readonly turn: number;
  /** how far within its rest the middle of its mass stands; negative: beside it */
  readonly stand: number;
  /** the same on rest and supports together */
  readonly standSupported: number;
  /** height of the middle of its mass over the width of its rest */
  readonly tip: number;
  /** longest side of the rest */
  readonly restLength: number;
  /** the sharpest corner of its rest, radians */
  readonly restCorner: number;
  /** how much its pegs stand up: 0 all lie along the layers (strong), 1 all across them */
  readonly pegsAcross: number;
}

/** A pose measured, with the supports that are drawn of it. */
export interface Measured {
  readonly figures: Figures;
  readonly supports: Supports;
}

/**
 * Measures a pose. Areas are sums over triangles, cut where they pass the level below which things rest; support comes from a
 * raster of cells of `cell` mm. With `reach` it is also told how much of it cannot be got at.
 */
export function measurePose(mesh: PrintMesh, pose: Pose, rule: PrintRule, cell: number, reach = false): Measured {
  const { positions: p, map } = layDown(mesh.positions, pose);
  const { triangles: t, normals, areas: areaOf, surface } = mesh;
  const turn = poseTurn(pose);
  const [ux, uy, uz] = [turn[8], turn[9], turn[10]];
  const level = rule.layer / 2;
  const steep = Math.sin(rule.overhang) + 1e-6;
  const count = t.length / 3;
  const hangs = new Uint8Array(count);
  const areas = new Float64Array(4);
  const touching: number[] = [];
  let restArea = 0;
  for (let i = 0; i < count; i++) {
    const down = -(normals[3 * i] * ux + normals[3 * i + 1] * uy + normals[3 * i + 2] * uz);
    if (down <= 0) continue;
    const resting = shareBelow(p, t, i, level, touching);
    restArea += areaOf[i] * down * resting;
    if (down <= steep) continue;
    hangs[i] = 1;
    areas[surface[i]] += areaOf[i] * (1 - resting);
  }
  const rest = hull2(touching);
  const supports = supportsOf(columnsOf({ positions: p, triangles: t }, cell), { hangs, surface }, level, reach);
  const high = heightOf(p);
  const middle = [0, 1, 2].map(
    (k) =>
      map[4 * k] * mesh.centre[0] + map[4 * k + 1] * mesh.centre[1] + map[4 * k + 2] * mesh.centre[2] + map[4 * k + 3],
  );
  const outline = hull2(laidHull(mesh, map));
  const fit = turnToFit(outline, rule.room[0], rule.room[1]);
  const over: Vec3 = [...fit.over, Math.max(0, high - rule.room[2])];
  const { width, long } = narrowest(rest);
  const onBed = footprintOf(supports.columns);
  const stand = depthInside(rest, middle[0], middle[1]);
  const across = mesh.pegs.map(({ axis }) => (axis[0] * ux + axis[1] * uy + axis[2] * uz) ** 2);
  const columns = Math.max(1e-12, supports.volume);
  return {
    supports,
    figures: {
      restArea,
      overhangArea: areas[0] + areas[1] + areas[2] + areas[3],
      skinOverhang: areas[SURFACE.skin] + areas[SURFACE.show],
      showScars: areas[SURFACE.show] + supports.footing[SURFACE.show],
      capScars:
        areas[SURFACE.cap] + areas[SURFACE.joint] + supports.footing[SURFACE.cap] + supports.footing[SURFACE.joint],
      columnVolume: supports.volume,
      supportVolume: supports.volume * rule.density,
      onPiece: supports.onPiece / columns,
      locked: supports.locked / columns,
      height: high,
      footprint: supports.covered,
      fits: over.every((x) => x <= 1e-6),
      over,
      turn: fit.spin,
      stand,
      standSupported: onBed.length === 0 ? stand : depthInside(hull2([...rest, ...onBed]), middle[0], middle[1]),
      tip: width > 0 ? middle[2] / width : Infinity,
      restLength: long,
      restCorner: sharpest(rest),
      pegsAcross: across.length === 0 ? 0 : across.reduce((a, b) => a + b) / across.length,
    },
  };
}

/** The ends of each row of columns that stand on the bed, as x y: their hull is that of all of them. */
function footprintOf(columns: Float32Array): number[] {
  const out: number[] = [];
  for (let k = 0; k < columns.length; k += 4) {
    if (columns[k + 2] !== 0) continue;
    const n = out.length;
    // a row's first is kept, its last is overwritten
    if (n >= 4 && out[n - 3] === columns[k + 1] && out[n - 1] === columns[k + 1]) out.length = n - 2;
    out.push(columns[k], columns[k + 1]);
  }
  return out;
}

/** What support could take at most, were nothing of the piece in its way: hanging triangles by their height over the bed, mm³. */
export function mostSupport(
  { positions: p, triangles: t, normals, areas }: PrintMesh,
  up: Vec3,
  rule: PrintRule,
): number {
  const steep = Math.sin(rule.overhang) + 1e-6;
  const n = p.length / 3;
  const heights = new Float64Array(n);
  let low = Infinity;
  for (let v = 0; v < n; v++) {
    heights[v] = p[3 * v] * up[0] + p[3 * v + 1] * up[1] + p[3 * v + 2] * up[2];
    if (heights[v] < low) low = heights[v];
  }
  let sum = 0;
  for (let i = 0; i < areas.length; i++) {
    const down = -(normals[3 * i] * up[0] + normals[3 * i + 1] * up[1] + normals[3 * i + 2] * up[2]);
    if (down <= steep) continue;
    const middle = (heights[t[3 * i]] + heights[t[3 * i + 1]] + heights[t[3 * i + 2]]) / 3;
    sum += areas[i] * down * (middle - low);
  }
  return sum;
}

function heightOf(p: Float64Array): number {
  let high = 0;
  for (let i = 2; i < p.length; i += 3) if (p[i] > high) high = p[i];
  return high;
}

function laidHull({ hull: { positions: h } }: PrintMesh, m: readonly number[]): number[] {
  const out: number[] = [];
  for (let i = 0; i < h.length; i += 3) {
    out.push(m[0] * h[i] + m[1] * h[i + 1] + m[2] * h[i + 2], m[4] * h[i] + m[5] * h[i + 1] + m[6] * h[i + 2]);
  }
  return out;
}

/** The share of a triangle's area that lies below a level; the corners of that part are put to `touching`, as x y. */
function shareBelow(p: Float64Array, t: Uint32Array, i: number, level: number, touching: number[]): number {
  const [a, b, c] = [3 * t[3 * i], 3 * t[3 * i + 1], 3 * t[3 * i + 2]];
  const [za, zb, zc] = [p[a + 2], p[b + 2], p[c + 2]];
  if (za >= level && zb >= level && zc >= level) return 0;
  for (const [k, m] of [
    [a, b],
    [b, c],
    [c, a],
  ]) {
    const [zk, zm] = [p[k + 2], p[m + 2]];
    if (zk < level) touching.push(p[k], p[k + 1]);
    if (zk < level === zm < level) continue;
    const share = (level - zk) / (zm - zk);
    touching.push(p[k] + share * (p[m] - p[k]), p[k + 1] + share * (p[m + 1] - p[k + 1]));
  }
  if (za < level && zb < level && zc < level) return 1;
  const [low, mid, high] = [za, zb, zc].sort((x, y) => x - y);
  return level <= mid
    ? ((level - low) * (level - low)) / ((mid - low) * (high - low))
    : 1 - ((high - level) * (high - level)) / ((high - low) * (high - mid));
}
