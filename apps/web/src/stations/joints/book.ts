import { cross, dot, length, normalize, pointAlong, radians, vecOf } from '@gephyra/core/plan';
import type { EvaluationView, FaceView, Triple } from '../../engine/types.ts';
import type { Book } from '../../project/shown.ts';

/** Where the model is looked at from. */
const TOWARDS: Triple = [0.55, -0.8, 0.36];

/** How far either half is turned, radians. */
const ANGLE = radians(72);

/**
 * A face's two pieces opened like a book: hinged at the far edge of the face, so that both halves look at whoever looks.
 *
 *     A | B          \     /
 *       |      ->   A \   / B        p: from the hinge across the face, towards the eye
 *       o hinge        \ /
 */
export function bookOf(face: FaceView, view: EvaluationView): Book {
  const { frame } = face;
  const n = frame.normal;
  // of the directions in the plane the one that leads to the eye
  const flat = pointAlong(TOWARDS, n, -dot(TOWARDS, n));
  const p = normalize(length(flat) > 1e-3 ? flat : frame.v);
  const axis = cross(n, p);
  let far = Infinity;
  let [low, high] = [Infinity, -Infinity];
  for (let i = 0; i < face.outer.length; i += 2) {
    const q = pointAlong(pointAlong(frame.origin, frame.u, face.outer[i]), frame.v, face.outer[i + 1]);
    far = Math.min(far, dot(q, p));
    low = Math.min(low, dot(q, axis));
    high = Math.max(high, dot(q, axis));
  }
  const boxes = face.pieces.map((key) => view.pieces.find((x) => x.key === key)?.box);
  // the covers must not run into each other, whatever sticks out behind the hinge
  let behind = 0;
  for (const box of boxes) {
    if (!box) continue;
    for (let c = 0; c < 8; c++) {
      const q: Triple = vecOf((a) => ((c >> a) & 1 ? box.max[a] : box.min[a]));
      behind = Math.max(behind, far - dot(q, p));
    }
  }
  const middle = (low + high) / 2;
  const o = frame.origin;
  const hinge = pointAlong(pointAlong(o, p, far - behind - dot(o, p)), axis, middle - dot(o, axis));
  const spans = boxes.flatMap((box) => (box ? [Math.hypot(...box.max.map((x, a) => x - box.min[a]))] : []));
  return {
    pieces: face.pieces,
    hinge,
    axis,
    angle: ANGLE,
    towards: p,
    radius: Math.max(10, ...spans) * 0.8,
  };
}
