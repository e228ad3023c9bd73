import { type Evaluation, pieceMesh } from '../evaluate/index.ts';
import { everywhere } from '../mating/index.ts';
import { type Affine, cross, IDENTITY, turning, type Vec3, vecOf } from '../mesh/index.ts';
import { type Kernel, Placeable } from '../solid/index.ts';
import { radians } from '../units.ts';
import { takesPart } from './blocking.ts';

/** How far two groups of pieces can be swung about a joint, as found by trying. Angles in radians, lengths mm, on the model. */
export interface Swing {
  readonly joint: string;
  /** what is swung about, and the pieces that stay and that come along */
  readonly centre: Vec3;
  readonly stays: readonly string[];
  readonly moves: readonly string[];
  /** where they can be swung to: unit, in the face, with how far that is free */
  readonly ways: readonly { readonly towards: Vec3; readonly free: number }[];
  /** out of the pieces that stay, into those that move: leans towards a way when it is swung */
  readonly out: Vec3;
}

/** It is tried by steps, and to within so much. */
const STEP = radians(5);
const FINE = radians(0.5);
/** So much more of the pieces in each other than at rest is a collision, mm³. */
const MEETS = 0.05;
/** First only what lies within so many times the farthest place of the face is looked at. */
const NEAR = 1.6;

/** The turn of what is swung: an angle towards a way. */
const swungBy = ({ centre, out }: Pick<Swing, 'centre' | 'out'>, towards: Vec3, angle: number): Affine =>
  turning(cross(out, towards), angle, centre);

/**
 * Swings what hangs on a ball in all directions, or on a hinge in its own, until the kernel finds pieces in each other: first the two pieces
 * near the joint, then all of both groups. Null where the joint does not swing or is not built. Yields the share that is done.
 */
export function* swingOf(e: Evaluation, id: string, kernel: Kernel): Generator<number, Swing | null> {
  const pieces = new Map(e.pieces.map((p) => [p.key, p]));
  const found = e.joints.find((j) => j.id === id);
  const joint = found && everywhere(found).find((j) => ![j.male, j.socket].some((key) => pieces.get(key ?? '')?.spare));
  const face = e.faces.find((f) => f.id === joint?.face);
  if (!joint?.built || !face) return null;
  const { swings } = joint.form;
  if (!swings) return null;
  const { frame, region } = face;
  const centre = vecOf(
    (k) =>
      frame.origin[k] + joint.u * frame.u[k] + joint.v * frame.v[k] + swings.centre * joint.direction * frame.normal[k],
  );
  const out = vecOf((k) => -joint.axis[k]);
  const moves = hangingOn(e, joint.male!, joint.socket!);
  const stays = hangingOn(e, joint.socket!, joint.male!);
  let reach = 0;
  for (let i = 0; i < region.outer2.length; i += 2)
    reach = Math.max(reach, Math.hypot(region.outer2[i] - joint.u, region.outer2[i + 1] - joint.v));
  const solidOf = (key: string): Placeable => new Placeable(kernel, pieceMesh(pieces.get(key)!).mesh);
  const held = new Map([...stays, ...moves].map((key) => [key, solidOf(key)]));
  const near = [joint.socket!, joint.male!].map((key) => held.get(key)!.within(centre, reach * NEAR + swings.centre));
  try {
    const swing = { centre, out };
    // what was taken off lets it swing so far: a little less is a good guess
    const told = Math.max(0, swings.made - STEP / 4);
    const rest = near[0].overlap(near[1], IDENTITY);
    const allowed = (s: string, m: string): number => (s === joint.socket && m === joint.male ? rest : 0) + MEETS;
    const ways: { towards: Vec3; free: number }[] = [];
    for (const [w, a] of swings.ways.entries()) {
      const towards = vecOf((k) => Math.cos(a) * frame.u[k] + Math.sin(a) * frame.v[k]);
      const nearFree = (angle: number): boolean =>
        near[0].overlap(near[1], swungBy(swing, towards, angle)) < rest + MEETS;
      const allFree = (angle: number): boolean => {
        const turn = swungBy(swing, towards, angle);
        return stays.every((s) => moves.every((m) => held.get(s)!.overlap(held.get(m)!, turn) < allowed(s, m)));
      };
      const free = farthest(nearFree, swings.most, told);
      ways.push({ towards, free: allFree(free) ? free : farthest(allFree, free, free) });
      yield (w + 1) / swings.ways.length;
    }
    return { joint: id, centre, out, stays, moves, ways };
  } finally {
    for (const solid of [...held.values(), ...near]) solid.delete();
  }
}

/** A piece and what is joined to it otherwise than through another: that one is left out, and what is joined to both. */
function hangingOn({ pieces, faces }: Evaluation, own: string, other: string): string[] {
  const there = new Set(pieces.filter(takesPart).map((p) => p.key));
  const reach = (from: string, without: string): Set<string> => {
    const found = new Set([from]);
    for (const key of found) {
      for (const f of faces) {
        const next = f.pieces[0] === key ? f.pieces[1] : f.pieces[1] === key ? f.pieces[0] : null;
        if (next !== null && next !== without && there.has(next)) found.add(next);
      }
    }
    return found;
  };
  const beyond = reach(other, own);
  return [...reach(own, other)].filter((key) => !beyond.has(key));
}

/** How far up to `most` something stays free, when it is once met for good: by steps from a guess or from nothing, then halves. */
function farthest(free: (angle: number) => boolean, most: number, guess: number): number {
  const start = guess < most && free(guess) ? guess : 0;
  let [low, high] = [start, Math.min(start + STEP, most)];
  while (free(high)) {
    low = high;
    if (high >= most) return most;
    high = Math.min(most, high + STEP);
  }
  while (high - low > FINE) {
    const middle = (low + high) / 2;
    if (free(middle)) low = middle;
    else high = middle;
  }
  return low;
}
