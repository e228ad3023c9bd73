import { add, distance, pointAlong, scale } from '@gephyra/core';
import type { EvaluationView, Triple } from '../engine/types.ts';
import type { Marker } from './shown.ts';

interface Selected {
  readonly joint: string | null;
  readonly face: string | null;
  readonly piece: string | null;
  readonly body: string | null;
  readonly seam: string | null;
}

/**
 * Where what is selected lies on the model, and how much around it: the most particular thing counts, a joint before its
 * face, a piece before its body, then a seam by its faces. Null when nothing is selected, or it is gone.
 */
export function selectedPlace(view: EvaluationView, selected: Selected): Marker | null {
  const joint = view.joints.find((j) => j.id === selected.joint);
  const home = view.faces.find((f) => f.id === joint?.face);
  if (joint && home) {
    const at = pointAlong(pointAlong(home.frame.origin, home.frame.u, joint.u), home.frame.v, joint.v);
    return { at, radius: Math.max(3, ...joint.depths) };
  }
  const face = view.faces.find((f) => f.id === selected.face);
  if (face) return ofFaces([face]);
  const piece = view.pieces.find((p) => p.key === selected.piece);
  if (piece) return ofBox(piece.box);
  const body = view.bodies.find((b) => b.id === selected.body);
  if (body) return ofBox(body.box);
  const faces = view.faces.filter((f) => f.seam === selected.seam);
  return faces.length > 0 ? ofFaces(faces) : null;
}

/** A place is looked at from eight times its radius: what is to fill the view is taken at a third of its own. */
const FILLS = 1 / 3;

const ofBox = ({ min, max }: { readonly min: Triple; readonly max: Triple }): Marker => ({
  at: scale(add(min, max), 0.5),
  radius: (distance(min, max) / 2) * FILLS,
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
