import type { CapRegion, Frame } from '../cut/index.ts';
import type { KeyedSolid } from './pieces.ts';

/** A region in which two pieces touch, at one seam. */
export interface MatingFace {
  readonly id: string;
  readonly seam: string;
  readonly body: string;
  /** the piece on the − side of the seam, and the one on its + side */
  readonly pieces: readonly [string, string];
  /** the region as a cap of either piece; their outlines are the same */
  readonly caps: readonly [CapRegion, CapRegion];
  readonly frame: Frame;
  /** mm² */
  readonly area: number;
}

/**
 * Pairs the cap regions of a body's pieces: both sides of a seam are cut from the same crossings by the same later
 * seams, so a mating face has the very same points on either side.
 */
export function matingFaces(
  body: string,
  solids: readonly KeyedSolid[],
  frames: ReadonlyMap<string, Frame>,
): MatingFace[] {
  const plus = new Map<string, { piece: string; cap: CapRegion }>();
  for (const { key, solid } of solids) {
    for (const cap of solid.caps) if (cap.side > 0) plus.set(fingerprint(cap), { piece: key, cap });
  }
  const faces: MatingFace[] = [];
  for (const { key, solid } of solids) {
    for (const cap of solid.caps) {
      const mate = cap.side < 0 ? plus.get(fingerprint(cap)) : undefined;
      if (!mate || cap.area <= 0) continue;
      faces.push({
        id: `${cap.seam}@${key}~${mate.piece}`,
        seam: cap.seam,
        body,
        pieces: [key, mate.piece],
        caps: [cap, mate.cap],
        frame: frames.get(cap.seam)!,
        area: cap.area,
      });
    }
  }
  return numbered(faces);
}

const prints = new WeakMap<CapRegion, string>();

/** Seam, number of points, and sums of a hash of each point's bits: the same for the same points in any order. */
function fingerprint(cap: CapRegion): string {
  const known = prints.get(cap);
  if (known) return known;
  let low = 0;
  let high = 0;
  let points = 0;
  for (const loop of [cap.outer2, ...cap.holes2]) {
    const bits = new Uint32Array(loop.buffer, loop.byteOffset, loop.length * 2);
    for (let i = 0; i < bits.length; i += 4) {
      let h = 0;
      for (let k = i; k < i + 4; k++) {
        h = Math.imul(h ^ bits[k], 0x9e3779b1);
        h ^= h >>> 15;
      }
      low = (low + h) >>> 0;
      h = Math.imul(h ^ (h >>> 13), 0x85ebca77);
      high = (high + (h ^ (h >>> 16))) >>> 0;
    }
    points += loop.length / 2;
  }
  const print = `${cap.seam}|${points}|${low}|${high}`;
  prints.set(cap, print);
  return print;
}

/** Faces between the same two pieces get .2, .3 … by where they sit. */
function numbered(faces: MatingFace[]): MatingFace[] {
  const groups = new Map<string, MatingFace[]>();
  for (const f of faces) groups.set(f.id, [...(groups.get(f.id) ?? []), f]);
  return faces.map((f) => {
    const group = groups.get(f.id)!;
    if (group.length === 1) return f;
    const sorted = [...group].sort((a, b) => a.caps[0].outer2[0] - b.caps[0].outer2[0] || b.area - a.area);
    const n = sorted.indexOf(f) + 1;
    return n === 1 ? f : { ...f, id: `${f.id}.${n}` };
  });
}
