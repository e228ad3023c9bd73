import { type CapRegion, type Frame, fromFrame, type Solid, type Triangulator, triangulate } from '../cut/index.ts';
import { type IndexedMesh, type Loop2, sameNumbers } from '../mesh/index.ts';
import type { Stack } from './form.ts';

/** One stack of a joint as it is to be built into a cap. */
export interface Half extends Stack {
  readonly joint: string;
}

/** Whether halves are of the same joints, with the same numbers in all of their rings. */
export function sameHalves(a: readonly Half[], b: readonly Half[]): boolean {
  return (
    a.length === b.length &&
    a.every(({ kind, joint, rings }, i) => {
      const other = b[i];
      return (
        kind === other.kind &&
        joint === other.joint &&
        rings.length === other.rings.length &&
        rings.every((r, k) => r.height === other.rings[k].height && sameNumbers(r.loop, other.rings[k].loop))
      );
    })
  );
}

/**
 * A cap with joints built in.
 *
 * Vertices 0 … ids.length − 1 are the solid's vertices `ids`; the rest are new, at `extra` (xyz).
 * `owners[i]` is −1 for a triangle of the cap itself, else the index in `halves` of the joint half it belongs to.
 */
export interface BuiltCap {
  readonly ids: Uint32Array;
  readonly extra: Float64Array;
  readonly triangles: Uint32Array;
  readonly owners: Int32Array;
  readonly halves: readonly Half[];
}

/**
 * Builds joint halves into a cap without any boolean operation: the first ring of each becomes a hole of the cap, which
 * is triangulated again, and walls and a floor are added on the hole's vertices. A void leaves the cap as it is.
 *
 *   cap  ______      ______          male: walls stand outward from the cap, seen from outside
 *              |    |                socket: the same prism reversed, on the other side's cap
 *              |____|
 *
 * The outlines must lie inside the region, apart from each other. `frame` is the cap's plane.
 */
export function buildCap(region: CapRegion, frame: Frame, halves: readonly Half[], fallback: Triangulator): BuiltCap {
  const ids = new Uint32Array(region.outer.length + region.holes.reduce((n, h) => n + h.length, 0));
  ids.set(region.outer);
  let at = region.outer.length;
  for (const h of region.holes) {
    ids.set(h, at);
    at += h.length;
  }
  const mouths = halves.map((h) => (h.kind === 'void' ? null : reversed(h.rings[0].loop)));
  const flat = triangulate(region.outer2, [...region.holes2, ...mouths.filter((m) => m !== null)], fallback);

  // Below its plane (side −1) the piece's outside is along the normal. Cap, walls and floors are all written as seen from
  // there, so on the other side every triangle is turned round: walls of a male half go out along the outside, those of
  // a socket the other way, which turns their faces towards the axis.
  const outside = region.side < 0 ? 1 : -1;
  const extra: number[] = [];
  const triangles: number[] = [];
  const owner: number[] = [];
  const add = (a: number, b: number, c: number, joint: number): void => {
    if (outside < 0) triangles.push(a, c, b);
    else triangles.push(a, b, c);
    owner.push(joint);
  };
  const addRing = (loop: Loop2, height: number): number => {
    const start = ids.length + extra.length / 3;
    for (let i = 0; i < loop.length; i += 2) extra.push(...fromFrame(frame, loop[i], loop[i + 1], height));
    return start;
  };
  const mouthAt = mouths.map((mouth) => (mouth ? addRing(mouth, 0) : -1));
  const one = (a: number, b: number): boolean => a < ids.length && b < ids.length && ids[a] === ids[b];
  for (let i = 0; i < flat.length; i += 3) {
    const [a, b, c] = [flat[i], flat[i + 1], flat[i + 2]];
    // where an outline touches itself two corners may be one vertex: without the triangle its two sides meet
    if (!one(a, b) && !one(b, c) && !one(c, a)) add(a, b, c, -1);
  }
  halves.forEach(({ kind, rings }, j) => {
    const n = rings[0].loop.length / 2;
    const direction = kind === 'male' ? outside : -outside;
    const inOrder = (start: number): number[] => Array.from({ length: n }, (_, i) => start + i);
    let ring: number[];
    if (kind === 'void') {
      ring = inOrder(addRing(rings[0].loop, rings[0].height * direction));
      for (let i = 1; i + 1 < n; i++) add(ring[0], ring[i + 1], ring[i], j);
    } else {
      // the mouth is a hole of the cap, whose points run backwards
      ring = inOrder(mouthAt[j]).reverse();
    }
    for (const { loop, height } of rings.slice(1)) {
      const start = addRing(loop, height * direction);
      for (let i = 0; i < n; i++) {
        const k = (i + 1) % n;
        add(ring[i], ring[k], start + k, j);
        add(ring[i], start + k, start + i, j);
      }
      ring = inOrder(start);
    }
    for (let i = 1; i + 1 < n; i++) add(ring[0], ring[i], ring[i + 1], j);
  });
  return {
    ids,
    extra: Float64Array.from(extra),
    triangles: Uint32Array.from(triangles),
    owners: Int32Array.from(owner),
    halves,
  };
}

/** A solid with its built caps as one closed mesh: the skin's triangles with their tags, then the caps in turn, tag 0. */
export function cappedMesh(solid: Solid, caps: readonly BuiltCap[]): IndexedMesh {
  const positions = new Float64Array(solid.positions.length + caps.reduce((n, c) => n + c.extra.length, 0));
  const triangles = new Uint32Array(solid.triangles.length + caps.reduce((n, c) => n + c.triangles.length, 0));
  const tags = new Uint32Array(triangles.length / 3);
  positions.set(solid.positions);
  triangles.set(solid.triangles);
  tags.set(solid.tags);
  let vertices = solid.positions.length / 3;
  let at = solid.triangles.length;
  for (const cap of caps) {
    for (let i = 0; i < cap.triangles.length; i++) {
      const v = cap.triangles[i];
      triangles[at + i] = v < cap.ids.length ? cap.ids[v] : vertices + v - cap.ids.length;
    }
    positions.set(cap.extra, vertices * 3);
    vertices += cap.extra.length / 3;
    at += cap.triangles.length;
  }
  return { positions, triangles, tags };
}

function reversed(loop: Loop2): Loop2 {
  const out = new Float64Array(loop.length);
  for (let i = 0; i < loop.length; i += 2) {
    out[loop.length - 2 - i] = loop[i];
    out[loop.length - 1 - i] = loop[i + 1];
  }
  return out;
}
