import { type Frame, fromFrame, type Solid, type Triangulator } from '../cut/index.ts';
import type { Plan } from '../document/index.ts';
import type { Prism } from '../joints/index.ts';
import { type BuiltLap, buildLap, followsWall, type JointOf, type LapLine, lapLine } from '../joints/kinds/index.ts';
import { inZone, LAP_TAG, type MatingFace, type PlacedZone } from '../seams/index.ts';
import type { MatingCache } from './mating-cache.ts';
import type { JointContext, PlacedJoint } from './model.ts';

/** A lap on its face: where it runs, or why it cannot. */
export interface FoundLap {
  readonly line: LapLine | null;
  readonly trouble: string;
}

/** Finds where a lap runs on a face, and whether the skin beside it is a strip that it can follow. */
export function findLap(
  joint: JointOf<'lap'>,
  [u, v]: readonly [number, number],
  gap: number,
  face: MatingFace,
  solids: readonly [Solid, Solid],
  zones: readonly PlacedZone[],
  cache: MatingCache,
  fallback: Triangulator,
): FoundLap {
  if (face.contact) return { line: null, trouble: 'A lap needs a seam; here two bodies lie against each other.' };
  const { lip, edge, setback, depth } = joint;
  const heights = [-depth, 0, depth];
  const kept = (x: number, y: number): boolean =>
    zones.some((z) => heights.some((h) => inZone(z, fromFrame(face.frame, x, y, h))));
  const holes = face.region.holes2.length > 0;
  const key = JSON.stringify([
    cache.idOf(face.region.outer2),
    holes && [u, v],
    lip,
    edge,
    setback,
    gap,
    zones,
    zones.length > 0 && depth,
  ]);
  const line = cache.lapLines.get(
    key,
    () => lapLine(face.region, [u, v], joint, gap, zones.length > 0 ? kept : null),
    () => 8000,
  );
  if (typeof line === 'string') return { line: null, trouble: line };
  const built = lapInto(
    joint,
    gap,
    line,
    face,
    solids,
    [0, 1].map((s) => capPlace(face, solids[s], s)),
    cache,
    fallback,
  );
  return { line, trouble: typeof built === 'string' ? built : '' };
}

const capPlace = (face: MatingFace, solid: Solid, side: number): number => solid.caps.indexOf(face.caps[side]);

/**
 * The two solids of a face with a lap built in, or why that cannot be; kept for the same solids. `solids` may have laps of
 * other faces already; `caps` says where among each one's caps the face's is.
 */
function lapInto(
  joint: JointOf<'lap'>,
  gap: number,
  line: LapLine,
  face: MatingFace,
  solids: readonly [Solid, Solid],
  caps: readonly number[],
  cache: MatingCache,
  fallback: Triangulator,
): BuiltLap | string {
  const [own, other] = joint.male === '-' ? [0, 1] : [1, 0];
  const { lip, depth, depthGap, edge, setback } = joint;
  const key = JSON.stringify([
    solids.map((s) => cache.idOf(s)),
    caps,
    line.loop,
    line.seed,
    line.lip.ends,
    own,
    [lip, depth, depthGap, edge, setback, gap],
  ]);
  const piece = (side: number) => ({ solid: solids[side], cap: solids[side].caps[caps[side]] });
  return cache.laps.get(
    key,
    () =>
      buildLap(
        piece(own),
        piece(other),
        {
          line,
          frame: face.frame,
          direction: own === 0 ? 1 : -1,
          heights: [depth, depth + depthGap],
          tag: LAP_TAG,
        },
        fallback,
      ),
    (b) => (typeof b === 'string' ? 200 : sizeOf(b.male) + sizeOf(b.socket)),
  );
}

const sizeOf = (s: Solid): number => s.positions.byteLength + s.triangles.byteLength + s.tags.byteLength;

/** How thick the plates are that stand for a lap's step when walls are measured, mm. */
const PLATE = 0.05;

/** The step of a rebate (or of a lip, for what stands on the other side) as thin upright plates inside it. */
export function stepPlates(
  line: LapLine,
  side: 'lip' | 'rebate',
  frame: Frame,
  direction: 1 | -1,
  depth: number,
): Prism[] {
  const { step } = line[side];
  const n = step.length;
  const out: Prism[] = [];
  for (let i = 0; i < (line.closed ? n : n - 1); i++) {
    const [a, b] = [step[i], step[(i + 1) % n]];
    const l = Math.hypot(b[0] - a[0], b[1] - a[1]);
    if (l < 1e-6) continue;
    // the strip is on the right of its step
    const [x, y] = [((b[1] - a[1]) / l) * PLATE, (-(b[0] - a[0]) / l) * PLATE];
    const outline = Float64Array.of(a[0] + x, a[1] + y, b[0] + x, b[1] + y, b[0], b[1], a[0], a[1]);
    out.push({ frame, outline, depth, direction });
  }
  return out;
}

/** A lap's outline on its face, for drawing: along the wall's edge and back along its step. */
export function lapOutline({ edge, closed, ...line }: LapLine, side: 'lip' | 'rebate'): Float64Array {
  const { step } = line[side];
  const back = (closed ? [...step, step[0]] : [...step]).reverse();
  return Float64Array.from([...edge, ...back].flat());
}

/** The solids of pieces that have laps, by their keys: one lap after the other, as two may meet on one piece. */
export function lapPieces(
  plan: Plan,
  placed: readonly PlacedJoint[],
  faces: readonly MatingFace[],
  around: JointContext['around'],
  cache: MatingCache,
  fallback: Triangulator,
): { lapped: Map<string, Solid>; failed: Map<string, string> } {
  const out = new Map<string, Solid>();
  const failed = new Map<string, string>();
  for (const p of placed) {
    const joint = plan.joints.find((j) => j.id === p.id);
    if (!p.built || !p.lap || !joint || !followsWall(joint)) continue;
    const face = faces.find((f) => f.id === p.face)!;
    const cut = face.pieces.map((key, side) => around.get(face.bodies[side])!.solids.get(key)!);
    const solids = face.pieces.map((key, side) => out.get(key) ?? cut[side]) as [Solid, Solid];
    const caps = cut.map((solid, side) => capPlace(face, solid, side));
    const built = lapInto(joint, p.gap, p.lap, face, solids, caps, cache, fallback);
    if (typeof built === 'string') {
      failed.set(p.id, built);
      continue;
    }
    out.set(p.male!, built.male);
    out.set(p.socket!, built.socket);
  }
  return { lapped: out, failed };
}
