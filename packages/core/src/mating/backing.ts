import {
  atOffset,
  besideLoop,
  commonRegions,
  type FlatRegion,
  type Frame,
  inRegion,
  insidePoint,
  makeFrame,
  prismOf,
  regionsOfLoops,
  sectionAt,
  type Triangulator,
} from '../cut/index.ts';
import type { Finding, Plan, Seam } from '../document/index.ts';
import { type IndexedMesh, type Loop2, loopArea, nearestOnLoop } from '../mesh/index.ts';
import type { MatingFace } from '../seams/index.ts';
import { mm } from '../units.ts';
import type { LoosePart } from './loose.ts';
import type { Around } from './model.ts';
import { bandsBeside } from './open-band.ts';

// A band inside a hollow piece that bridges its seam. It is as narrow as the hollow is anywhere along its width, so that it
// slides in straight, square to the seam:
//
//      |  wall            wall  |
//      | |  band        band  | |
//   ===|=|====== seam ========|=|===
//      | |                    | |
//      |  |                  |  |

type Backing = NonNullable<Seam['backing']>;

/** Heights at which the hollow is looked at are this far apart at the most, mm. */
const STEP = 1;

/** Where it lies as it is printed. */
const FLAT = makeFrame([0, 0, 0], [0, 0, 1], [0, 1, 0]);

interface Band {
  readonly mesh: IndexedMesh;
  /** how far it lies from the wall at the most, its gap included, mm */
  readonly off: number;
}

/** The backing strips of a plan's seams, as loose parts to print, and where there can be none. */
export function backingStrips(
  plan: Pick<Plan, 'seams'>,
  faces: readonly MatingFace[],
  around: ReadonlyMap<string, Around>,
  fallback: Triangulator,
): { parts: LoosePart[]; findings: Finding[] } {
  const parts: LoosePart[] = [];
  const findings: Finding[] = [];
  for (const { id, backing, enabled } of plan.seams) {
    if (!backing || !enabled) continue;
    const own = faces.filter((f) => f.seam === id && !f.contact);
    const sorry = (face: string | undefined, message: string): void => {
      findings.push({
        code: 'seam.backing',
        severity: 'warn',
        where: { seam: id, ...(face && { face }) },
        message,
        mend: { label: 'Leave the strip out', change: { do: 'setSeam', id, set: { backing: undefined } } },
      });
    };
    const hollow = own.filter((f) => f.region.holes2.length > 0);
    const put = (face: MatingFace, found: readonly Band[] | string): void => {
      if (typeof found === 'string') {
        sorry(face.id, found);
        return;
      }
      for (const band of found) {
        parts.push({
          kind: 'strip',
          what: `backing strip ${backing.width} wide, ${backing.thickness} thick, up to ${mm(band.off)} off the wall`,
          stock: null,
          diameter: backing.thickness,
          length: null,
          joints: [],
          seam: id,
          face: face.id,
          count: 1,
          mesh: band.mesh,
        });
      }
    };
    for (const face of hollow) {
      const body = around.get(face.bodies[0])!;
      for (const hole of face.region.holes2)
        put(
          face,
          knownBands(hole, backing, () => bandIn(hole, face, body, backing, fallback)),
        );
    }
    if (hollow.length > 0) continue;
    // open shells: those of their faces that no wall bends round are let be, where another has a strip
    const open = own.map((face) => {
      const body = around.get(face.bodies[0])!;
      return knownBands(face.region.outer2, backing, () => bandsAt(face, body, backing, fallback));
    });
    const some = open.some((found) => typeof found !== 'string');
    for (const [i, face] of own.entries()) {
      if (some ? typeof open[i] !== 'string' : i === 0) put(face, open[i]);
    }
  }
  return { parts, findings };
}

/** By the outline of a hollow, or of a face, which is the same one as long as its face is: the strips that were made for it last. */
const bands = new WeakMap<Loop2, { readonly asked: string; readonly found: readonly Band[] | string }>();

function knownBands(outline: Loop2, backing: Backing, make: () => readonly Band[] | string): readonly Band[] | string {
  const asked = JSON.stringify(backing);
  const known = bands.get(outline);
  if (known?.asked === asked) return known.found;
  const found = make();
  bands.set(outline, { asked, found });
  return found;
}

const reversed = (l: Loop2): Loop2 => {
  const out = new Float64Array(l.length);
  for (let i = 0; i < l.length; i += 2) out.set([l[i], l[i + 1]], l.length - 2 - i);
  return out;
};

const regionOf = (outer2: Loop2, holes2: readonly Loop2[] = []): FlatRegion => ({
  outer2,
  holes2,
  area: holes2.reduce((sum, h) => sum + loopArea(h), loopArea(outer2)),
});

function bandIn(
  hole: Loop2,
  face: MatingFace,
  { sized }: Around,
  backing: Backing,
  fallback: Triangulator,
): Band[] | string {
  const { width, thickness, gap } = backing;
  const seed = insidePoint(regionOf(reversed(hole)));
  const half = width / 2;
  const count = Math.max(2, Math.ceil(width / STEP));
  let common: FlatRegion | null = null;
  const hollows: { hollow: FlatRegion; islands: readonly FlatRegion[] }[] = [];
  for (let i = 0; i <= count; i++) {
    const at = hollowAt(sized, face.frame, -half + (width * i) / count, seed);
    if (!at) return `The hollow is not as deep as half the strip, ${mm(half)}, on both sides of the seam.`;
    hollows.push(at);
    common = common ? (largest(commonRegions(common, at.hollow)) ?? null) : at.hollow;
    if (!common) break;
  }
  const outer = common && (gap > 0 ? besideLoop(common.outer2, gap) : common.outer2);
  const inner = outer && besideLoop(outer, thickness);
  if (!outer) return 'The hollow changes too much beside the seam for a strip that slides in straight.';
  const band = regionOf(outer, inner ? [reversed(inner)] : []);
  for (const { islands } of hollows) {
    if (islands.some((island) => commonRegions(band, island).length > 0)) {
      return 'Something stands in the hollow where the strip would lie.';
    }
  }
  const off = Math.max(...hollows.map(({ hollow }) => farthest(outer, hollow.outer2)));
  return [{ mesh: prismOf(band, FLAT, 0, width, fallback), off }];
}

/** The strips along the wall of an open shell at a face. */
function bandsAt(face: MatingFace, body: Around, backing: Backing, fallback: Triangulator): Band[] | string {
  const found = bandsBeside(face, body, backing);
  if (typeof found === 'string') return found;
  return found.map(({ region, off }) => ({ mesh: prismOf(region, FLAT, 0, backing.width, fallback), off }));
}

const largest = (list: readonly FlatRegion[]): FlatRegion | undefined => [...list].sort((a, b) => b.area - a.area)[0];

/** The hollow round a place at a height above a plane, and what stands in it; null when there it is no hollow. */
function hollowAt(
  { mesh, blocks }: Around['sized'],
  frame: Frame,
  height: number,
  [u, v]: readonly [number, number],
): { hollow: FlatRegion; islands: readonly FlatRegion[] } | null {
  const { loops } = sectionAt(mesh, atOffset(frame, frame.offset + height), blocks());
  const regions = regionsOfLoops(loops).filter((r) => r.area > 0);
  const round = regions.flatMap((r) => r.holes2.map((h) => regionOf(reversed(h)))).filter((h) => inRegion(h, u, v));
  const hollow = round.sort((a, b) => a.area - b.area)[0];
  if (!hollow) return null;
  const islands = regions.filter((r) => inRegion(hollow, r.outer2[0], r.outer2[1]));
  return { hollow, islands };
}

/** How far corners of a loop are from another loop at the most, mm. */
function farthest(loop: Loop2, from: Loop2): number {
  let most = 0;
  for (let i = 0; i < loop.length; i += 2) most = Math.max(most, nearestOnLoop(from, loop[i], loop[i + 1]).distance);
  return most;
}
