import { type CapRegion, makeFrame, type Solid, type Triangulator } from '../cut/index.ts';
import { GephyraError } from '../errors.ts';
import { buildCap, cappedMesh, type Half, type Stack } from '../joints/index.ts';
import { type Joint, type JointInput, jointSchema, kindOf } from '../joints/kinds/index.ts';
import { engraved, textWidth } from '../labels/index.ts';
import { formOf, looseRod } from '../mating/index.ts';
import { type IndexedMesh, volume } from '../mesh/index.ts';

/** A ladder of gaps to try a kind of joint with. Lengths in mm. */
export interface CouponWish {
  /** sizes as in a plan; its place, gap and fit do not matter */
  readonly joint: Omit<JointInput, 'id' | 'seam' | 'at'> & Record<string, unknown>;
  readonly from: number;
  readonly step: number;
  readonly count: number;
}

export interface Coupon {
  /** the block with the ladder of sockets, the one to try in them, and a rod or two where there is one; each on the bed */
  readonly parts: readonly { readonly name: string; readonly mesh: IndexedMesh }[];
  readonly gaps: readonly number[];
  /** of all parts, mm³ */
  readonly volume: number;
  /** to print them, minutes: seven tenths filled, 3 mm³ a second, as small parts print */
  readonly minutes: number;
}

/** Deeper than this a joint tells no more about its fit. */
const DEEPEST = 5;
const TEXT = 4;
/** Height of the stub's foot, mm. */
const STUB = 3;
const WALL = 2;
/** Filament laid in a minute by an ordinary printer, mm³, and the share of a small part that is filled: an estimate. */
const RATE = 180;
const FILLED = 0.7;

/**
 * A test piece for fits: a block with one socket for each gap, engraved with the gaps, and a stub with the male half, which
 * is tried in them. Both print without support, openings up.
 *
 *    ______________________________
 *   |  o    o    o    o    o    o  |       stub    _
 *   | .05  .1  .15  .2  .25  .3    |            __|o|__
 *
 * Throws GephyraError `coupon.gaps` when the ladder has a gap that cannot be, `plan.invalid` for impossible sizes.
 */
export function couponOf(wish: CouponWish, fallback: Triangulator): Coupon {
  const { from, step, count } = wish;
  const gaps = Array.from({ length: count }, (_, i) => Number((from + step * i).toFixed(4)));
  if (!Number.isInteger(count) || count < 2 || count > 12 || !gaps.every((g) => g >= 0 && g <= 2) || step <= 0) {
    throw new GephyraError('coupon.gaps', 'A coupon has 2 to 12 gaps from 0 to 2 mm, each larger than the one before.');
  }
  const joint = couponJoint(wish);
  const at = (u: number, v: number, gap: number) =>
    formOf(joint, { u, v, turn: 0, lean: [0, 0], gap, depthGap: joint.depthGap, mouth: joint.mouth });
  const widest = reachOf(at(0, 0, gaps[gaps.length - 1]).other);
  const texts = gaps.map((g) => String(g).replace(/^0\./, '.'));
  const pitch = Math.max(2 * widest + WALL, Math.max(...texts.map((t) => textWidth(t, TEXT))) + WALL);
  const back = 2 * widest + 2 * WALL;
  const deep = at(0, 0, gaps[0]).depths[1];
  const height = deep + 1.2;
  const length = pitch * count + WALL;
  const width = back + TEXT + 2;
  const middle = (i: number): number => WALL / 2 + pitch * (i + 0.5);
  const sockets = gaps.flatMap((gap, i) => at(middle(i), width - back / 2, gap).other.filter((s) => s.kind !== 'male'));
  const numbers = texts.flatMap((t, i) => engraved(t, middle(i) - textWidth(t, TEXT) / 2, 2, TEXT, 0.6));
  const ladder = blockWith([0, 0], [length, width], height, [...sockets, ...numbers], fallback);
  const parts = [{ name: 'Ladder', mesh: ladder }];

  // what stands out is tried on a stub, what is loose by itself; what is bought is there
  const { stands } = kindOf(joint);
  const stubSize = 2 * Math.max(widest, reachOf(at(0, 0, stands ? 0 : gaps[0]).own)) + 2 * WALL;
  const far = width + 4;
  const rod = looseRod(joint, gaps[0]);
  if (rod) parts.push({ name: 'Rod', mesh: shifted(rod, [0, far + stubSize / 2, 0]) });
  if (stands) {
    const stack = at(stubSize / 2, far + stubSize / 2, 0).own.filter((s) => s.kind === 'male');
    parts.push({
      name: 'Stub',
      mesh: blockWith([0, far], [stubSize, far + stubSize], STUB, stack, fallback),
    });
  }
  const total = parts.reduce((sum, p) => sum + volume(p.mesh), 0);
  return { parts, gaps, volume: total, minutes: (total * FILLED) / RATE };
}

function couponJoint(wish: CouponWish): Joint {
  const joint = kindOf(wish.joint).trial(wish.joint) as CouponWish['joint'];
  const deep = (x: unknown): number => Math.min(DEEPEST, typeof x === 'number' ? x : DEEPEST);
  const { depths: _, socketDepth: __, lean: ___, gap: ____, ...rest } = joint;
  const shallow = kindOf(joint).shallower ? { depth: deep(joint.depth) } : {};
  const parsed = jointSchema.safeParse({ ...rest, ...shallow, id: 'coupon', seam: 'coupon', at: [0, 0] });
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  throw new GephyraError('plan.invalid', `The coupon's ${issue.path.join('.')} ${issue.message}.`);
}

const reachOf = (stacks: readonly Stack[]): number =>
  Math.max(...stacks.flatMap((s) => s.rings.flatMap((r) => [...r.loop].map(Math.abs))));

/** A block from z = 0 to `height` with stacks built into its top. */
function blockWith(
  [x0, y0]: readonly [number, number],
  [x1, y1]: readonly [number, number],
  height: number,
  stacks: readonly Stack[],
  fallback: Triangulator,
): IndexedMesh {
  const positions = Float64Array.of(
    x0,
    y0,
    0,
    x1,
    y0,
    0,
    x1,
    y1,
    0,
    x0,
    y1,
    0,
    x0,
    y0,
    height,
    x1,
    y0,
    height,
    x1,
    y1,
    height,
    x0,
    y1,
    height,
  );
  const sides = [0, 1, 2, 3].flatMap((i) => {
    const k = (i + 1) % 4;
    return [i, k, k + 4, i, k + 4, i + 4];
  });
  const triangles = Uint32Array.from([0, 2, 1, 0, 3, 2, ...sides]);
  const top: CapRegion = {
    seam: 'top',
    side: -1,
    outer: Uint32Array.of(4, 5, 6, 7),
    holes: [],
    outer2: Float64Array.of(x0, y0, x1, y0, x1, y1, x0, y1),
    holes2: [],
    area: (x1 - x0) * (y1 - y0),
    triangles: Uint32Array.of(4, 5, 6, 4, 6, 7),
  };
  const solid: Solid = { positions, triangles, tags: new Uint32Array(triangles.length / 3), caps: [top] };
  const halves = stacks.map((s): Half => ({ ...s, joint: '' }));
  return cappedMesh(solid, [buildCap(top, makeFrame([0, 0, height], [0, 0, 1], [0, 1, 0]), halves, fallback)]);
}

function shifted(mesh: IndexedMesh, by: readonly number[]): IndexedMesh {
  return { ...mesh, positions: mesh.positions.map((x, i) => x + by[i % 3]) };
}
