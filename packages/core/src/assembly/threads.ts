import type { Finding, Mend, Plan, StepOf } from '../document/index.ts';
import type { Evaluation } from '../evaluate/index.ts';
import { boreRoute } from '../mating/index.ts';
import {
  type Blocks,
  boxOf,
  buildBlocks,
  distanceTo,
  dot,
  insideSolid,
  inverse,
  mapVector,
  normalize,
  pointAlong,
  scale,
  sub,
  type Tree,
  treeOf,
  type Vec3,
} from '../mesh/index.ts';
import type { Route } from '../solid/index.ts';
import { radians } from '../units.ts';
import type { Blocking } from './blocking.ts';
import { writtenOrder } from './edit.ts';
import type { AssemblyStep, Thread } from './model.ts';
import { codesOf } from './words.ts';

/** It is looked at so often along its way, mm, and so often at most. */
const STEP = 1;
const MOST = 2000;
/** A piece is round it where its wall is nearer than this beyond the gap, mm. */
const WALL = 0.5;
/** A wall may come so much nearer than its radius: chords, and numbers of the kernel, mm. */
const SLACK = 0.05;
/** A part may come along it that comes so nearly along it, cosine. */
const ALONG = Math.cos(radians(0.5));
/** What bends is threaded where it has so many of its diameters before its end; what is moved sideways is out after so many. */
const FREE = 3;
const SIDEWAYS = 10;

/** A piece's shape as it is asked how near it is to a place. */
interface Shape {
  readonly key: string;
  readonly box: ReturnType<typeof boxOf>;
  readonly tree: () => Tree;
  readonly blocks: () => Blocks;
}

/**
 * What runs through the bores of a plan: through which pieces, and after which step of joining it is put in, as late as can be.
 * What is straight is taken for stiff: it comes in along its own line, with the way before one end free as far as it is long; pieces that
 * come later come along it. What is bent is threaded, where there is a little room before one of its ends; or else through each
 * piece as it comes.
 */
export function threadsOf(
  plan: Plan,
  e: Evaluation,
  steps: readonly AssemblyStep[],
  blocking: Blocking,
): { threads: Thread[]; findings: Finding[] } {
  const bores = [...plan.recipe.entries()].flatMap(([place, step]) =>
    step.kind === 'bore' && step.enabled && step.stock ? [{ place, bore: step, stock: step.stock }] : [],
  );
  if (bores.length === 0) return { threads: [], findings: [] };
  const shapes = blocking.pieces.map((p, i): Shape => {
    const { mesh } = blocking.shape(i);
    let blocks: Blocks | undefined;
    return {
      key: p.key,
      box: boxOf(mesh.positions),
      tree: () => treeOf(mesh),
      blocks: () => {
        blocks ??= buildBlocks(mesh);
        return blocks;
      },
    };
  });
  const codeOf = (key: string): string => blocking.pieces.find((p) => p.key === key)!.code;
  const threads: Thread[] = [];
  const findings: Finding[] = [];
  for (const { place, bore, stock: name } of bores) {
    const route = boreRoute(bore, e.map);
    if (!route) continue;
    const what = `${name} ${Number(bore.diameter.toFixed(2))}`;
    const { pieces, stopped } = piecesAlong(route, bore, shapes);
    if (pieces.length === 0) continue;
    const stock = stockOf(route, bore.diameter / 2);
    const put = stopped ? { after: null, against: null } : putIn(stock, pieces, shapes, steps);
    threads.push({ bore: place, what, length: Number(route.length.toFixed(2)), pieces, after: put.after });
    if (stopped) {
      findings.push({
        code: 'stock.stopped',
        severity: 'warn',
        where: { piece: stopped.key },
        message: `${what} is stopped in ${codeOf(stopped.key)}, ${stopped.along.toFixed(0)} mm along its bore: move what stands in it, or bore that body, too.`,
      });
    } else if (put.after === null) {
      findings.push({
        code: 'stock.shut',
        severity: 'warn',
        where: { piece: pieces[0] },
        message: `${what} cannot be put in: both ends of its bore are shut off when ${codesOf(pieces, codeOf)} are joined, and they do not come along it. Let a part come along the bore, or lead one end out.`,
        ...(put.against !== null && { mend: alongBore(plan, e, steps, put.against, stock.straight!) }),
      });
    }
  }
  return { threads, findings };
}

/** Lets a step's part come along a bore. */
function alongBore(plan: Plan, { map }: Evaluation, steps: readonly AssemblyStep[], at: number, way: Vec3): Mend {
  const out = dot(steps[at].out, way) < 0 ? scale(way, -1) : way;
  const [x, y, z] = normalize(mapVector(inverse(map), out));
  const order = writtenOrder(plan, steps).map((s, i) =>
    i === at ? { ...s, way: [x, y, z] as [number, number, number] } : s,
  );
  return { label: 'Let it come along the bore', change: { do: 'set', set: { order } } };
}

/** Places along a route at equal distances, its ends included, with how far along each is. */
function placesOn({ line, length }: Route): { at: Vec3; along: number }[] {
  const step = Math.max(STEP, length / MOST);
  const out: { at: Vec3; along: number }[] = [];
  let before = 0;
  line.slice(1).forEach(({ at: to }, i) => {
    const from = line[i].at;
    const long = Math.hypot(...sub(to, from));
    const n = Math.max(1, Math.round(long / step));
    for (let k = 0; k < n; k++)
      out.push({ at: pointAlong(from, sub(to, from), k / n), along: before + (k / n) * long });
    before += long;
  });
  return [...out, { at: line[line.length - 1].at, along: length }];
}

const within = (box: Shape['box'], at: Vec3, by: number): boolean =>
  at.every((x, k) => x >= box.min[k] - by && x <= box.max[k] + by);

/** Whether what is so thick has no room at a place beside a piece. */
const narrow = (shape: Shape, at: Vec3, radius: number): boolean =>
  within(shape.box, at, radius) &&
  (distanceTo(shape.tree(), at, radius) < radius - SLACK || insideSolid(shape.blocks(), at));

/** The pieces that a bore runs through, in order, and where what runs through it is stopped. */
function piecesAlong(
  route: Route,
  { diameter, gap }: StepOf<'bore'>,
  shapes: readonly Shape[],
): { pieces: string[]; stopped: { key: string; along: number } | null } {
  const radius = diameter / 2;
  const reach = radius + gap + WALL;
  const found = new Map<string, { sum: number; count: number }>();
  let stopped: { key: string; along: number } | null = null;
  for (const { at, along } of placesOn(route)) {
    for (const shape of shapes) {
      if (!within(shape.box, at, reach)) continue;
      if (narrow(shape, at, radius)) {
        // its ends are flat, and what is farther in is looked at there
        if (along > radius && along < route.length - radius) stopped ??= { key: shape.key, along };
      } else if (distanceTo(shape.tree(), at, reach) >= reach) continue;
      const known = found.get(shape.key) ?? { sum: 0, count: 0 };
      found.set(shape.key, { sum: known.sum + along, count: known.count + 1 });
    }
  }
  const pieces = [...found].sort(([, a], [, b]) => a.sum / a.count - b.sum / b.count).map(([key]) => key);
  return { pieces, stopped };
}

/** What runs through a bore, as it is moved: places on it, and its own way where it is straight. */
interface Stock {
  readonly route: Route;
  readonly radius: number;
  readonly places: readonly Vec3[];
  readonly straight: Vec3 | null;
}

function stockOf(route: Route, radius: number): Stock {
  const [first] = route.line;
  // its ends are flat: a ball fits where they are no nearer
  const every = Math.max(1, Math.round(radius / 2 / STEP));
  return {
    route,
    radius,
    places: placesOn(route)
      .filter(({ along }, i) => i % every === 0 && along > radius && along < route.length - radius)
      .map((p) => p.at),
    straight: route.line.every((l) => dot(l.way, first.way) > ALONG) ? first.way : null,
  };
}

/** Whether one end of it goes on so far through free room. */
function endFree(
  { route: { line }, radius }: Stock,
  shapes: readonly Shape[],
  end: 'first' | 'last',
  far: number,
): boolean {
  const { at, way } = line[end === 'first' ? 0 : line.length - 1];
  const out = end === 'first' ? scale(way, -1) : way;
  for (let t = radius; t <= far; t += Math.max(STEP, far / MOST)) {
    const tip = pointAlong(at, out, t);
    if (shapes.some((s) => narrow(s, tip, radius))) return false;
  }
  return true;
}

/** Whether it can be moved out of pieces along a direction: straight along itself, or sideways as far as they reach. */
function leaves(stock: Stock, shapes: readonly Shape[], way: Vec3): boolean {
  const { straight, route, radius, places } = stock;
  const along = straight ? dot(straight, way) : 0;
  if (Math.abs(along) > ALONG) return endFree(stock, shapes, along > 0 ? 'last' : 'first', route.length);
  const far = SIDEWAYS * 2 * radius;
  for (let t = radius / 2; t <= far; t += radius / 2) {
    const near = shapes.filter((s) => places.some((p) => within(s.box, pointAlong(p, way, t), radius)));
    if (near.length === 0) return true;
    if (places.some((p) => near.some((s) => narrow(s, pointAlong(p, way, t), radius)))) return false;
  }
  return true;
}

type Joining = Pick<AssemblyStep, 'parts' | 'out'>;

/**
 * The last moment at which it can be put in, in steps that are done by then. Where there is none: null, and the step that does not come along
 * it, if all would do but for that.
 */
function putIn(
  stock: Stock,
  pieces: readonly string[],
  shapes: readonly Shape[],
  steps: readonly Joining[],
): { after: number } | { after: null; against: number | null } {
  const { straight, radius } = stock;
  const some = (keys: ReadonlySet<string>): Shape[] => shapes.filter((s) => keys.has(s.key));
  let against: number | null = null;
  for (let done = steps.length; done >= 0; done--) {
    const held = joinedAfter(steps.slice(0, done), pieces);
    const own = some(held);
    const later = steps.slice(done);
    // along itself, through one of its ends; or sideways, where the next part comes from
    const ends = (['first', 'last'] as const).some((end) =>
      endFree(stock, own, end, straight ? stock.route.length : FREE * 2 * radius),
    );
    const next = later.find((s) => s.parts.some((p) => p.some((k) => held.has(k))));
    const laid = next && [next.out, scale(next.out, -1)].some((w) => leaves(stock, own, w));
    if (!ends && !laid) continue;
    if (!straight && ends) return { after: done };
    const stops = later.findIndex((step) => !comesOn(stock, step, held, pieces, some));
    if (stops < 0) return { after: done };
    if (ends) against ??= done + stops;
  }
  // threaded through each as it comes
  return straight ? { after: null, against } : { after: firstOf(steps, pieces) };
}

/** Whether what a step joins to that which holds it comes on over it; it is held by all of it then. */
function comesOn(
  stock: Stock,
  { parts, out }: Joining,
  held: Set<string>,
  pieces: readonly string[],
  some: (keys: ReadonlySet<string>) => Shape[],
): boolean {
  const own = parts.map((p) => p.some((k) => held.has(k)));
  if (!own.some((x) => x)) return true;
  const moves = own[own.length - 1];
  const free = parts.every((p, i) => {
    if (own[i] || !p.some((k) => pieces.includes(k))) return true;
    // seen from this part
    return leaves(stock, some(new Set(p)), moves ? out : scale(out, -1));
  });
  if (free) for (const key of parts.flat()) held.add(key);
  return free;
}

/** The pieces of that which has most of some by then, all that is joined to it included. */
function joinedAfter(steps: readonly Joining[], pieces: readonly string[]): Set<string> {
  const groups = new Map<string, Set<string>>(pieces.map((k) => [k, new Set([k])]));
  for (const { parts } of steps) {
    const all = new Set(parts.flat());
    for (const key of all) groups.set(key, all);
  }
  const count = (group: ReadonlySet<string>): number => pieces.filter((k) => group.has(k)).length;
  return pieces.map((k) => groups.get(k)!).reduce((a, b) => (count(b) > count(a) ? b : a));
}

/** The number of steps before the first that joins some of these pieces. */
function firstOf(steps: readonly Joining[], pieces: readonly string[]): number {
  const first = steps.findIndex(({ parts }) => parts.some((p) => p.some((k) => pieces.includes(k))));
  return first < 0 ? steps.length : first;
}
