import { type IndexedMesh, triangleCross, type Vec3 } from '../mesh/index.ts';
import { hullOf, type Kernel, lightened } from '../solid/index.ts';

/** What a triangle of a piece is part of, for printing. */
export const SURFACE = { skin: 0, show: 1, cap: 2, joint: 3 } as const;

/** A joint's male half on a piece. */
export interface Peg {
  readonly joint: string;
  /** unit; the way it stands out */
  readonly axis: Vec3;
}

/** A mating face of a piece. */
export interface Cap {
  readonly seam: string;
  /** unit, out of the piece */
  readonly normal: Vec3;
  /** mm² */
  readonly area: number;
}

/** A finished piece as it is looked at for printing: one closed mesh, mm. */
export interface PrintMesh {
  readonly positions: Float64Array;
  readonly triangles: Uint32Array;
  /** one of SURFACE for each triangle */
  readonly surface: Uint8Array;
  /** of each triangle: its unit normal, and its area, mm² */
  readonly normals: Float64Array;
  readonly areas: Float64Array;
  /** mm³ */
  readonly volume: number;
  /** of its mass */
  readonly centre: Vec3;
  /** vertices of its convex hull, and the hull's triangles as indices into them */
  readonly hull: { readonly positions: Float64Array; readonly triangles: Uint32Array };
  readonly caps: readonly Cap[];
  readonly pegs: readonly Peg[];
}

/** Pieces with more triangles are looked at by a stand-in, whose surface is so near to theirs, mm: a quarter of a layer. */
const HEAVY = 120_000;
const HEAVY_ERROR = 0.05;

/**
 * A closed mesh as it is looked at for printing: all skin where `parts` say nothing else. Of a very fine one a stand-in is
 * looked at, with the mass of the whole; that needs the simplifier loaded.
 */
export function printMesh(
  kernel: Kernel,
  { positions, triangles }: Pick<IndexedMesh, 'positions' | 'triangles'>,
  parts: Partial<Pick<PrintMesh, 'surface' | 'caps' | 'pegs'>> = {},
): PrintMesh {
  const { surface = new Uint8Array(triangles.length / 3), caps = [], pegs = [] } = parts;
  const mass = massOf(positions, triangles);
  const whole = { positions, triangles, surface, caps, pegs, ...mass };
  if (surface.length <= HEAVY) return { ...whole, hull: hullOf(kernel, positions) };
  const light = lighter(whole, HEAVY_ERROR);
  return { ...whole, ...light, volume: mass.volume, centre: mass.centre, hull: hullOf(kernel, light.positions) };
}

/** What is measured once of a closed mesh: the normals of its triangles, its volume and the middle of its mass. */
function massOf(
  positions: Float64Array,
  triangles: Uint32Array,
): Pick<PrintMesh, 'normals' | 'areas' | 'volume' | 'centre'> {
  const normals = new Float64Array(triangles.length);
  const areas = new Float64Array(triangles.length / 3);
  const [ox, oy, oz] = positions.length > 0 ? [positions[0], positions[1], positions[2]] : [0, 0, 0];
  let six = 0;
  let [x, y, z] = [0, 0, 0];
  for (let i = 0; i < triangles.length; i += 3) {
    const n = triangleCross(positions, triangles, i / 3);
    const twice = Math.hypot(n[0], n[1], n[2]);
    areas[i / 3] = twice / 2;
    if (twice > 0) for (let k = 0; k < 3; k++) normals[i + k] = n[k] / twice;
    const [a, b, c] = [triangles[i] * 3, triangles[i + 1] * 3, triangles[i + 2] * 3];
    const [ax, ay, az] = [positions[a] - ox, positions[a + 1] - oy, positions[a + 2] - oz];
    const v = ax * n[0] + ay * n[1] + az * n[2];
    six += v;
    x += v * (ax + positions[b] + positions[c] - 2 * ox);
    y += v * (ay + positions[b + 1] + positions[c + 1] - 2 * oy);
    z += v * (az + positions[b + 2] + positions[c + 2] - 2 * oz);
  }
  const centre: Vec3 = six === 0 ? [ox, oy, oz] : [ox + x / (4 * six), oy + y / (4 * six), oz + z / (4 * six)];
  return { normals, areas, volume: six / 6, centre };
}

/** How far the surface of a lighter stand-in may be from a piece's, mm. */
const LIGHT_ERROR = 0.1;

const stands = new WeakMap<PrintMesh, PrintMesh>();

/** A stand-in of a piece with fewer triangles, for looking at many poses; kept. Needs the simplifier loaded. */
export function lightPrint(mesh: PrintMesh): PrintMesh {
  let stand = stands.get(mesh);
  if (!stand) {
    stand = { ...mesh, ...lighter(mesh, LIGHT_ERROR), volume: mesh.volume, centre: mesh.centre };
    stands.set(mesh, stand);
  }
  return stand;
}

function lighter(
  { positions, triangles, surface }: Pick<PrintMesh, 'positions' | 'triangles' | 'surface'>,
  error: number,
) {
  const light = lightened({ positions, triangles, tags: Uint32Array.from(surface) }, error);
  return {
    ...massOf(light.positions, light.triangles),
    positions: light.positions,
    triangles: light.triangles,
    surface: Uint8Array.from(light.tags),
  };
}
