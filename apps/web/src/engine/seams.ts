import {
  type AlikeGroup,
  alikeSearch,
  axisVector,
  type Blocks,
  type Body,
  type ColourLine,
  colourLines,
  cross,
  dot,
  type Evaluation,
  type FlatRegion,
  type Frame,
  fitBands,
  type GridPlan,
  type GridWish,
  gridFor,
  type IndexedMesh,
  isClosed,
  type Landmark,
  type Limb,
  landmarksAlong,
  limbAxis,
  type MirrorPlane,
  makeFrame,
  modelBox,
  type Plan,
  type Profile,
  perAxis,
  pieceDeviation,
  placeZone,
  profileAlong,
  type RoundAxis,
  rayHits,
  roundAxis,
  type SharedFile,
  type Showing,
  type SideReadout,
  type SizedBody,
  seamReadout,
  seamShowing,
  sharedFiles,
  three,
  type Vec3,
  vecOf,
  zoneSpan,
} from '@gephyra/core';
import type { HeldModel } from './held-model.ts';
import type { Tell } from './tell.ts';
import type { Triple } from './types.ts';

/** Sections along a seam's direction, and what is to be known of the places along it. Places are normal · x. */
export interface AlongView {
  readonly at: Float64Array;
  readonly area: Float64Array;
  readonly perimeter: Float64Array;
  readonly regions: Uint16Array;
  readonly from: number;
  readonly to: number;
  readonly landmarks: readonly Landmark[];
  /** stretches in which both sides fit the printer */
  readonly bands: readonly (readonly [number, number])[];
  /** stretches to be kept clear */
  readonly clear: readonly (readonly [number, number])[];
}

/** Stretches of a section's outlines and how thick the wall is there, mm. Five numbers each: u, v, u, v, thickness. */
export type WallView = Float32Array;

export interface SeamSides {
  readonly sides: readonly SideReadout[];
  readonly showing: Showing | null;
}

const STATIONS = 180;
let kept: { key: string; meshes: readonly IndexedMesh[]; profile: Profile } | null = null;

/** The profile along a frame's normal, kept for the last direction. */
export function profileOf(meshes: readonly IndexedMesh[], frame: Frame): Profile {
  const key = frame.normal.join();
  const same =
    kept?.key === key && kept.meshes.length === meshes.length && kept.meshes.every((m, i) => m === meshes[i]);
  if (!kept || !same) kept = { key, meshes, profile: profileAlong(meshes, frame, STATIONS) };
  return kept.profile;
}

/** Everything about the places along a seam's direction. `others`: places of other seams that part what it cuts the same way. */
export function along(
  plan: Plan,
  map: Parameters<typeof placeZone>[1],
  meshes: readonly IndexedMesh[],
  frame: Frame,
  others: readonly number[],
  mirror: MirrorPlane | null,
): AlongView {
  const profile = profileOf(meshes, frame);
  const { normal } = frame;
  const clear = plan.zones.map((z) => zoneSpan(placeZone(z, map), normal));
  const landmarks = landmarksAlong({
    profile,
    normal,
    meshes,
    printer: plan.printer,
    others,
    mirror,
    clear,
  });
  const stops = [profile.from, ...others, profile.to].sort((a, b) => a - b);
  const bands = stops.slice(1).flatMap((high, i) => fitBands(profile, normal, plan.printer, stops[i], high));
  const { at, area, perimeter, regions, from, to } = profile;
  return { at, area, perimeter, regions, from, to, landmarks, bands, clear };
}

/** How thick the walls of a section are along their outlines: to the opposite outline, square to the wall, in the plane. */
export function wallsOf(regions: readonly FlatRegion[]): WallView {
  const out: number[] = [];
  for (const region of regions) {
    const loops = [region.outer2, ...region.holes2];
    const total = loops.reduce((n, l) => n + l.length / 2, 0);
    // long outlines are looked at in fewer places
    const skip = Math.max(1, Math.ceil(total / 700));
    for (const l of loops) {
      for (let i = 0; i < l.length; i += 2 * skip) {
        const j = Math.min(i + 2 * skip, l.length);
        const [x1, y1] = [l[i], l[i + 1]];
        const [x2, y2] = j >= l.length ? [l[0], l[1]] : [l[j], l[j + 1]];
        const length = Math.hypot(x2 - x1, y2 - y1);
        if (length < 1e-9) continue;
        // solid lies on the left
        const thick = across(loops, (x1 + x2) / 2, (y1 + y2) / 2, -(y2 - y1) / length, (x2 - x1) / length);
        out.push(x1, y1, x2, y2, thick);
      }
    }
  }
  return Float32Array.from(out);
}

function across(loops: readonly Float64Array[], x: number, y: number, dx: number, dy: number): number {
  let best = Infinity;
  for (const l of loops) {
    for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2) {
      const ex = l[i] - l[j];
      const ey = l[i + 1] - l[j + 1];
      const det = dx * ey - dy * ex;
      if (Math.abs(det) < 1e-12) continue;
      const qx = l[j] - x;
      const qy = l[j + 1] - y;
      const s = (qx * ey - qy * ex) / det;
      const t = (qx * dy - qy * dx) / det;
      if (s > 1e-6 && t >= 0 && t <= 1 && s < best) best = s;
    }
  }
  return best;
}

/** What a seam leaves on its sides, and how much of it will be seen. */
export function sidesOf(e: Evaluation, bodies: readonly SizedBody[], seam: string): SeamSides {
  const faces = e.faces.filter((f) => f.seam === seam);
  const largest = faces.reduce<(typeof faces)[number] | null>((a, f) => (a && a.area >= f.area ? a : f), null);
  const home = largest && bodies.find((b) => b.body.id === largest.bodies[0]);
  const own = faces.filter((f) => f.plane === largest?.plane && f.bodies[0] === largest.bodies[0]);
  return {
    sides: seamReadout(e, seam),
    showing:
      largest && home
        ? seamShowing(
            home,
            largest.frame,
            own.map((f) => f.region),
          )
        : null,
  };
}

/** The local axis of the limb at a picked place of the surface. */
export function limbAt(
  bodies: readonly { body: Pick<Body, 'id'>; blocks(): Blocks }[],
  body: string,
  at: Triple,
  normal: Triple,
): (Limb & { at: Triple }) | null {
  const home = bodies.find((b) => b.body.id === body);
  if (!home) return null;
  const inward: Triple = [-normal[0], -normal[1], -normal[2]];
  const hits = rayHits(home.blocks(), at, inward).filter((s) => s > 1e-4);
  const depth = hits.length > 0 ? Math.min(...hits) / 2 : 0;
  const inside = perAxis(at, (x, k) => x + inward[k] * depth);
  const limb = limbAxis(home.blocks(), inside);
  return limb && { ...limb, at: inside };
}

/** The axis of the circle or hole at a picked place. */
export function axisAt(
  bodies: readonly { body: Pick<Body, 'id'>; blocks(): Blocks }[],
  body: string,
  at: Triple,
  normal: Triple,
): RoundAxis | null {
  const home = bodies.find((b) => b.body.id === body);
  return home ? roundAxis(home.blocks(), at, normal) : null;
}

/** The fewest seams across the axes after which everything fits. */
export function gridOf(
  plan: Plan,
  map: Parameters<typeof placeZone>[1],
  bodies: readonly SizedBody[],
  wish: Pick<GridWish, 'axes' | 'spacing' | 'jointRoom'>,
  tell?: Tell,
): GridPlan {
  const zones = plan.zones.map((z) => placeZone(z, map));
  const clear = three((axis) => zones.map((z) => zoneSpan(z, axisVector(axis))));
  return gridFor(
    bodies.map((b) => b.blocks()),
    modelBox(bodies.map((b) => b.body)),
    { ...wish, printer: plan.printer, clear },
    tell,
  );
}

/** Pieces that are one file, and how far declared copies differ from what they are copies of. */
export interface AlikeView {
  readonly groups: readonly AlikeGroup[];
  /** by piece: the piece whose file it is made from */
  readonly files: ReadonlyMap<string, SharedFile>;
  readonly declared: readonly {
    readonly key: string;
    readonly of: string;
    readonly mirrored: boolean;
    readonly deviation: number;
  }[];
}

/** What of a plan's pieces is made from one file. */
export async function alikeOf(plan: Plan, e: Evaluation, turn: () => Promise<void>): Promise<AlikeView> {
  const piece = (key: string) => e.pieces.find((p) => p.key === key);
  const search = alikeSearch(e, plan.alike);
  let step = search.next();
  while (!step.done) {
    await turn();
    step = search.next();
  }
  const groups = step.value;
  return {
    groups,
    files: sharedFiles(e, groups, plan.pieces),
    declared: plan.pieces.flatMap(({ key, copyOf }) => {
      const [a, b] = [piece(key), copyOf && piece(copyOf.key)];
      if (!a || !b || !copyOf) return [];
      return [{ key, of: copyOf.key, mirrored: copyOf.mirrored, deviation: pieceDeviation(b, a, copyOf.mirrored) }];
    }),
  };
}

/** How far pieces move when the model is taken apart: the sum of the ways out over its seams' sides. */
export function waysApart(plan: Plan, e: Evaluation): Map<string, Triple> {
  const whole = new Set(
    plan.seams
      .filter((s) => s.enabled && s.kind === 'flat' && !s.scope && !s.bound && (s.regions?.mode ?? 'all') === 'all')
      .map((s) => s.id),
  );
  const planes = new Map(e.faces.filter((f) => whole.has(f.seam)).map((f) => [f.plane, f.frame]));
  return new Map(
    e.pieces.map((p) => {
      const way: [number, number, number] = [0, 0, 0];
      const add = (n: Triple, side: number): void => {
        for (let a = 0; a < 3; a++) way[a] += n[a] * side;
      };
      const middle = perAxis(p.box.min, (x, a) => (x + p.box.max[a]) / 2);
      for (const f of planes.values()) add(f.normal, Math.sign(dot(f.normal, middle) - f.offset));
      const seen = new Set<string>();
      for (const f of e.faces) {
        if (whole.has(f.seam) || !f.pieces.includes(p.key) || seen.has(f.plane)) continue;
        seen.add(f.plane);
        add(f.frame.normal, f.pieces[1] === p.key ? 1 : -1);
      }
      return [p.key, way];
    }),
  );
}

/** A line between two colours of a body, with the plane that follows it best, and four corners of that. */
export interface ColourLineView extends Omit<ColourLine, 'colours'> {
  readonly body: string;
  /** names or hex codes of the file's colours */
  readonly colours: readonly [PaintView, PaintView];
  readonly quad: Float32Array;
  /** of the bent line */
  readonly quads: Float32Array;
}

interface PaintView {
  readonly name: string;
  /** '' when the file gives none */
  readonly colour: string;
}

const NO_PAINT: PaintView = { name: '', colour: '' };

/** A quad for each stretch of a bent line, `far` either way along its sweep. */
function bentQuads(
  { at, normal }: ColourLine,
  { sweep, points }: NonNullable<ColourLine['bent']>,
  far: number,
): Float32Array {
  const along = cross(normal, sweep);
  const place = ([t, h]: readonly [number, number], s: number): Vec3 =>
    vecOf((k) => at[k] + t * along[k] + h * normal[k] + s * sweep[k]);
  return Float32Array.from(
    points
      .slice(1)
      .flatMap((p, i) => [place(points[i], -far), place(p, -far), place(p, far), place(points[i], far)].flat()),
  );
}

/** The lines between colours on all closed bodies as they lie, longest first. */
export function colourLinesOf(held: HeldModel, document: unknown): ColourLineView[] {
  held.posed(document);
  const { palette } = held.base;
  const paint = (tag: number): PaintView => palette[tag] ?? NO_PAINT;
  return held.model.bodies
    .filter(isClosed)
    .flatMap((b) =>
      colourLines(b.mesh).map((line): ColourLineView => {
        const { u, v } = makeFrame(line.at, line.normal);
        const far = line.length / 4;
        const corner = (x: number, y: number): Vec3 => vecOf((k) => line.at[k] + far * (x * u[k] + y * v[k]));
        return {
          ...line,
          body: b.id,
          colours: [paint(line.colours[0]), paint(line.colours[1])],
          quad: Float32Array.from([corner(-1, -1), corner(1, -1), corner(1, 1), corner(-1, 1)].flat()),
          quads: line.bent ? bentQuads(line, line.bent, far) : new Float32Array(0),
        };
      }),
    )
    .sort((a, b) => b.length - a.length);
}
