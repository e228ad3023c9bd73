import type { Closing, OrderPart, OrderStep } from '../document/index.ts';
import type { Evaluation } from '../evaluate/index.ts';
import { joiningSteps } from '../mating/index.ts';
import { dot, inverse, mapVector, normalize, type Vec3 } from '../mesh/index.ts';
import type { Between, Blocking } from './blocking.ts';
import { closingWith, jointsOn } from './closing.ts';
import { freeWay, SAME, waysOf } from './ways.ts';

/** Pieces that no direction frees from each other. */
export interface Locked {
  readonly pieces: readonly string[];
  /** two of them that hold each other whichever way either is drawn */
  readonly pair: readonly [string, string];
}

export interface Order {
  readonly steps: readonly OrderStep[];
  readonly locked: readonly Locked[];
  /** steps that join more than two groups at once */
  readonly jigs: number;
}

/** Closures that are grown towards a half. */
const GROWN = 6;
/** What a step costs: being uneven, a face, so much area to be glued (mm²). */
const COST = { uneven: 20, face: 0.3, area: 50_000 };

type Group = readonly number[];

/** A tree of joining: a piece, or parts of which the last is drawn off along `way`. */
type Node =
  | { readonly piece: number }
  | { readonly parts: readonly Node[]; readonly way: Vec3 | null; readonly height: number };

/**
 * An order of joining for all pieces, found by taking apart: a group is split in two where one half can be drawn off the other
 * as a whole, again and again (non-directional blocking graphs, after Wilson and Latombe, Artificial Intelligence 71,
 * 1994). What can be split off a group can be split off any part of it, so nothing is ever taken back. Evenly split, so
 * that pairs are joined first, then sections, then the whole. Yields the share that is done; the same pieces give the same order.
 */
export function* proposeOrder(
  e: Evaluation,
  seams: Parameters<typeof joiningSteps>[1],
  blocking: Blocking,
): Generator<number, Order> {
  const { map, faces } = e;
  const { pieces, between } = blocking;
  const back = inverse(map);
  const locked: Locked[] = [];
  let jigs = 0;
  let done = 0;
  function* apart(group: Group): Generator<number, Node> {
    if (group.length === 1) {
      done++;
      yield done / pieces.length;
      return { piece: group[0] };
    }
    const split = bestSplit(group, blocking) ?? cutSplit(group, faces, seams, blocking);
    if (!split) {
      locked.push({ pieces: group.map((i) => pieces[i].key), pair: holdingPair(group, blocking) });
      done += group.length;
      return asCut(group);
    }
    if (split.parts.length > 2) jigs++;
    const parts: Node[] = [];
    for (const p of split.parts) parts.push(yield* apart(p));
    return { parts, way: split.way, height: 1 + Math.max(...parts.map(heightOf)) };
  }
  /** As it was cut, where nothing better is found. */
  const asCut = (group: Group): Node => {
    const keys = new Set(group.map((i) => pieces[i].key));
    const nodes = new Map(group.map((i) => [pieces[i].key, { piece: i } as Node]));
    const own = faces.filter((f) => f.pieces.every((k) => keys.has(k)));
    let last: Node = { piece: group[0] };
    for (const { groups } of joiningSteps(own, seams)) {
      const parts = groups.map((g) => nodes.get(g[0])!);
      last = { parts, way: null, height: 1 + Math.max(...parts.map(heightOf)) };
      for (const key of groups.flat()) nodes.set(key, last);
    }
    return last;
  };

  const names = new Map<Node, string>();
  const inner: { node: Exclude<Node, { piece: number }>; first: number }[] = [];
  const gather = (node: Node): number => {
    if ('piece' in node) return node.piece;
    const first = Math.min(...node.parts.map(gather));
    inner.push({ node, first });
    return first;
  };
  const all = pieces.map((_, i) => i);
  for (const group of components(all, between)) gather(yield* apart(group));
  inner.sort((x, y) => x.node.height - y.node.height || x.first - y.first);
  const partOf = (node: Node): OrderPart =>
    'piece' in node ? { piece: pieces[node.piece].key } : { step: names.get(node)! };
  const piecesOf = (node: Node): number[] => ('piece' in node ? [node.piece] : node.parts.flatMap(piecesOf));
  const closingAt = (node: Exclude<Node, { piece: number }>): Closing => {
    const partOfPiece = new Map(node.parts.flatMap((p, k) => piecesOf(p).map((i) => [i, k] as const)));
    const closed = between.filter(
      (f) => partOfPiece.has(f.a) && partOfPiece.has(f.b) && partOfPiece.get(f.a) !== partOfPiece.get(f.b),
    );
    return closingWith(
      jointsOn(
        e,
        closed.map((f) => f.face.id),
      ),
    );
  };
  const steps = inner.map(({ node }, i): OrderStep => {
    const id = `o${i + 1}`;
    const parts = node.parts.map(partOf);
    names.set(node, id);
    const way =
      node.way && (normalize(mapVector(back, node.way)).map((x) => Number(x.toFixed(9))) as [number, number, number]);
    return { id, parts, ...(way && { way }), closing: closingAt(node), by: 'search' };
  });
  return { steps, locked, jigs };
}

const heightOf = (node: Node): number => ('piece' in node ? 0 : node.height);

/** The parts of a group that hang together by faces, each by the numbers of its pieces. */
function components(
  group: Group,
  between: readonly Between[],
  without: (f: Between) => boolean = () => false,
): number[][] {
  const inside = new Set(group);
  const next = new Map<number, number[]>(group.map((i) => [i, []]));
  for (const f of between) {
    if (!inside.has(f.a) || !inside.has(f.b) || without(f)) continue;
    next.get(f.a)!.push(f.b);
    next.get(f.b)!.push(f.a);
  }
  const out: number[][] = [];
  const seen = new Set<number>();
  for (const start of group) {
    if (seen.has(start)) continue;
    const part = [start];
    seen.add(start);
    for (let k = 0; k < part.length; k++) {
      for (const n of next.get(part[k])!) {
        if (seen.has(n)) continue;
        seen.add(n);
        part.push(n);
      }
    }
    out.push(part.sort((a, b) => a - b));
  }
  return out;
}

interface Split {
  /** the last is drawn off the others along `way` */
  readonly parts: readonly Group[];
  readonly way: Vec3;
  readonly cost: number;
}

/** The cheapest way of drawing one part of a group off the rest; null when nothing of it can be drawn off. */
function bestSplit(group: Group, blocking: Blocking): Split | null {
  const inside = new Set(group);
  const own = blocking.between.filter((f) => inside.has(f.a) && inside.has(f.b));
  let best: Split | null = null;
  let jig: Split | null = null;
  const weigh = (moving: Group, way: Vec3): void => {
    if (moving.length === 0 || moving.length === group.length) return;
    const set = new Set(moving);
    const crossed = own.filter((f) => set.has(f.a) !== set.has(f.b));
    if (crossed.length === 0) return;
    const stay = components(
      group.filter((i) => !set.has(i)),
      own,
    );
    const come = components(moving, own);
    const area = crossed.reduce((s, f) => s + f.face.area, 0);
    const uneven = Math.abs(moving.length / group.length - 0.5);
    const cost = COST.uneven * uneven + COST.face * crossed.length + area / COST.area;
    const parts = [...stay, ...come];
    if (parts.length === 2) {
      if (!best || cost < best.cost - 1e-9) best = { parts, way, cost };
    } else if (come.length === 1 && parts.length <= 12) {
      const held = cost + 100 * parts.length;
      if (!jig || held < jig.cost - 1e-9) jig = { parts, way, cost: held };
    }
  };
  for (const way of waysOf(own)) {
    // who must come along when a piece is drawn off
    const along = group.map((i) => group.filter((j) => j !== i && blocking.held(i, j, way)));
    const indexOf = new Map(group.map((i, k) => [i, k]));
    const closure = (start: readonly number[]): number[] => {
      const set = new Set(start);
      const list = [...start];
      for (let k = 0; k < list.length; k++) {
        for (const j of along[indexOf.get(list[k])!]) {
          if (set.has(j)) continue;
          set.add(j);
          list.push(j);
        }
      }
      return list.sort((a, b) => a - b);
    };
    const closures = group.map((i) => closure([i]));
    for (const c of closures) weigh(c, way);
    // all that never has to come with a piece
    for (const i of group)
      weigh(
        group.filter((_, k) => !closures[k].includes(i)),
        way,
      );
    const small = [...closures].sort((a, b) => a.length - b.length || a[0] - b[0]).slice(0, GROWN);
    for (const start of small) {
      let set = start;
      while (set.length < group.length / 2) {
        const have = new Set(set);
        const near = own.filter((f) => have.has(f.a) !== have.has(f.b)).map((f) => (have.has(f.a) ? f.b : f.a));
        const grown = near.map((n) => closure([...set, n])).sort((a, b) => a.length - b.length || a[0] - b[0])[0];
        if (!grown || grown.length === group.length) break;
        set = grown;
        weigh(set, way);
      }
    }
    // the sides of a seam, drawn off square to it
    const square = own.filter((f) => Math.abs(dot(f.normal, way)) > SAME);
    for (const seam of new Set(square.map((f) => f.face.plane))) {
      for (const side of components(group, own, (f) => f.face.plane === seam)) {
        if (side.length < group.length && closure(side).length === side.length) weigh(side, way);
      }
    }
  }
  return best ?? jig;
}

/**
 * The sides of what was cut first of a group, where all their faces and joints together leave a way that is none of the normals or
 * axes; null when there is none.
 */
function cutSplit(
  group: Group,
  faces: Evaluation['faces'],
  seams: Parameters<typeof joiningSteps>[1],
  blocking: Blocking,
): Split | null {
  const numberOf = new Map(group.map((i) => [blocking.pieces[i].key, i]));
  const own = faces.filter((f) => f.pieces.every((k) => numberOf.has(k)));
  const last = joiningSteps(own, seams).at(-1);
  if (!last) return null;
  const [stay, come] = last.groups.map((keys) => keys.map((k) => numberOf.get(k)!));
  const moved = new Set(come);
  const inside = new Set(group);
  const crossing = blocking.between.filter(
    (f) => inside.has(f.a) && inside.has(f.b) && moved.has(f.a) !== moved.has(f.b),
  );
  const { out, blockers } = freeWay(come, stay, crossing, null, blocking);
  return blockers.length > 0 ? null : { parts: [stay, come], way: out, cost: 0 };
}

/** Two pieces of a locked group that hold each other along most directions, the pair that touches most first. */
function holdingPair(group: Group, blocking: Blocking): [string, string] {
  const inside = new Set(group);
  const own = blocking.between.filter((f) => inside.has(f.a) && inside.has(f.b));
  const ways = waysOf(own);
  let most = -1;
  let pair: [number, number] = [group[0], group[1]];
  for (const f of own) {
    const held = ways.filter((w) => blocking.held(f.a, f.b, w) && blocking.held(f.b, f.a, w)).length;
    const share = held + Math.min(0.5, f.face.area / 1e6);
    if (share <= most) continue;
    most = share;
    pair = [f.a, f.b];
  }
  return [blocking.pieces[pair[0]].key, blocking.pieces[pair[1]].key];
}
