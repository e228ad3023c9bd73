import { add, distance, pointAlong, scale } from '@gephyra/core/plan';
import type { EvaluationView, Triple } from '../engine/types.ts';
import { type Marker, shiftOf } from './shown.ts';

interface Selected {
  readonly joint: string | null;
  readonly face: string | null;
  readonly piece: string | null;
  readonly body: string | null;
  readonly seam: string | null;
}

/**
 * Where what is selected is seen, and how much around it: the most particular thing counts, a joint before its face, a piece
 * before its body, then a seam by its faces. `apart`: mm between neighbours while the model is taken apart. Null when nothing
 * is selected, or it is gone.
 */
export function selectedPlace(view: EvaluationView, selected: Selected, apart: number): Marker | null {
  /** Where something of these pieces is seen: between them, when there are several. */
  const seen = (place: Marker, keys: readonly string[]): Marker => {
    const shifts = view.pieces.filter((p) => keys.includes(p.key)).map((p) => shiftOf(p, apart));
    return { ...place, at: shifts.reduce((at, s) => pointAlong(at, s, 1 / shifts.length), place.at) };
  };
  const joint = view.joints.find((j) => j.id === selected.joint);
  const home = view.faces.find((f) => f.id === joint?.face);
  if (joint && home) {
    const at = pointAlong(pointAlong(home.frame.origin, home.frame.u, joint.u), home.frame.v, joint.v);
    // out past the edge of its face: from nearer, one that lies deep inside would be behind a wall
    const radius = Math.max(9, 3 * Math.max(...joint.depths), 2.5 * (joint.edge ?? 0));
    return seen({ at, radius }, home.pieces);
  }
  const face = view.faces.find((f) => f.id === selected.face);
  if (face) return seen(ofFaces([face]), face.pieces);
  const piece = view.pieces.find((p) => p.key === selected.piece);
  if (piece) return seen(ofBox(piece.box), [piece.key]);
  const body = view.bodies.find((b) => b.id === selected.body);
  if (body) return ofBox(body.box);
  const faces = view.faces.filter((f) => f.seam === selected.seam);
  if (faces.length === 0) return null;
  return seen(
    ofFaces(faces),
    faces.flatMap((f) => f.pieces),
  );
}

const ofBox = ({ min, max }: { readonly min: Triple; readonly max: Triple }): Marker => ({
  at: scale(add(min, max), 0.5),
  radius: distance(min, max) / 2,
});

function ofFaces(faces: EvaluationView['faces']): Marker {
  const places = faces.flatMap(({ frame, outer }) =>
    Array.from({ length: outer.length / 2 }, (_, i) =>
      pointAlong(pointAlong(frame.origin, frame.u, outer[i * 2]), frame.v, outer[i * 2 + 1]),
    ),
  );
  const low = [Infinity, Infinity, Infinity] as [number, number, number];
  const high = [-Infinity, -Infinity, -Infinity] as [number, number, number];
  for (const p of places) {
    for (let a = 0; a < 3; a++) {
      low[a] = Math.min(low[a], p[a]);
      high[a] = Math.max(high[a], p[a]);
    }
  }
  return ofBox({ min: low, max: high });
}
