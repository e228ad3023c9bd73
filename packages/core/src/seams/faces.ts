import { type CapRegion, commonRegions, type FlatRegion, type Frame } from '../cut/index.ts';
import { seamOfPlane } from './kinds/index.ts';
import type { KeyedSolid, MatingFace } from './model.ts';

/**
 * Pairs the cap regions of a body's pieces: both sides of a seam are cut from the same crossings by the same later
 * seams, so a mating face has the very same points on either side.
 */
export function matingFaces(
  body: string,
  solids: readonly KeyedSolid[],
  frames: ReadonlyMap<string, Frame>,
): MatingFace[] {
  const plus = new Map<string, Side>();
  for (const { key, solid } of solids) {
    for (const cap of solid.caps) if (cap.side > 0) plus.set(fingerprint(cap), { piece: key, cap });
  }
  const faces: MatingFace[] = [];
  const alone: Side[] = [];
  const pair = ({ piece, cap }: Side, mate: Side, region: FlatRegion): void => {
    const frame = frames.get(cap.seam)!;
    faces.push({
      id: `${cap.seam}@${piece}~${mate.piece}`,
      plane: cap.seam,
      ...seamOfPlane(cap.seam),
      contact: false,
      bodies: [body, body],
      pieces: [piece, mate.piece],
      caps: [cap, mate.cap],
      region,
      frame,
      frames: [frame, frame],
      area: region.area,
    });
  };
  for (const { key, solid } of solids) {
    for (const cap of solid.caps) {
      if (cap.side > 0 || cap.area <= 0) continue;
      const print = fingerprint(cap);
      const mate = plus.get(print);
      if (mate) {
        pair({ piece: key, cap }, mate, cap);
        plus.delete(print);
      } else alone.push({ piece: key, cap });
    }
  }
  // a later seam cut one side only, or the kernel has rounded each side in its own way
  for (const side of alone) {
    for (const mate of plus.values()) {
      if (mate.cap.seam !== side.cap.seam || mate.cap.area <= 0) continue;
      for (const region of commonRegions(side.cap, mate.cap)) pair(side, mate, region);
    }
  }
  return numbered(faces);
}

interface Side {
  readonly piece: string;
  readonly cap: CapRegion;
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
export function numbered(faces: MatingFace[]): MatingFace[] {
  const groups = new Map<string, MatingFace[]>();
  for (const f of faces) groups.set(f.id, [...(groups.get(f.id) ?? []), f]);
  return faces.map((f) => {
    const group = groups.get(f.id)!;
    if (group.length === 1) return f;
    const sorted = [...group].sort((a, b) => a.region.outer2[0] - b.region.outer2[0] || b.area - a.area);
    const n = sorted.indexOf(f) + 1;
    return n === 1 ? f : { ...f, id: `${f.id}.${n}` };
  });
}
