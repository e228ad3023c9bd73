import {
  type Affine,
  bendWay,
  dot,
  type Fan,
  fromFrame,
  inverse,
  makeFrame,
  mapPoint,
  type Point,
  perAxis,
  type Seam,
  type SweptLine,
  seamKind,
  vecOf,
} from '@gephyra/core/plan';
import type { BoxView, Triple } from '../../engine/types.ts';

const corners = (box: BoxView): Triple[] =>
  Array.from({ length: 8 }, (_, i) => vecOf((a) => (i & (1 << a) ? box.max[a] : box.min[a])));

/** Sheets that show where a seam runs that is no plane: corners of quads, twelve numbers a quad, on the model. */
export function seamSheets(seam: Seam, map: Affine, box: BoxView): Float32Array {
  const kind = seamKind(seam);
  const swept = kind.swept?.(seam);
  const fan = kind.fan?.(seam, map);
  return Float32Array.from([
    ...(fan ? bladeSheets(fan, box) : []),
    ...(swept ? sweptSheets(seam, swept, map, box) : []),
  ]);
}

/** Half-planes from their axis past the model. */
function bladeSheets({ x, y, blades }: Fan, box: BoxView): number[] {
  const quads: number[] = [];
  for (const { frame, ray } of blades) {
    const { origin, v } = frame;
    const outward = vecOf((a) => ray[0] * x[a] + ray[1] * y[a]);
    const reach = corners(box).map((c) => perAxis(c, (x, a) => x - origin[a]));
    const far = Math.max(...reach.map((d) => dot(d, outward))) * 1.06;
    if (far <= 0) continue;
    const rim = 0.06 * far;
    const low = Math.min(...reach.map((d) => dot(d, v))) - rim;
    const high = Math.max(...reach.map((d) => dot(d, v))) + rim;
    const at = (r: number, h: number): number[] => origin.map((x, a) => x + outward[a] * r + v[a] * h);
    quads.push(...at(0, low), ...at(far, low), ...at(far, high), ...at(0, high));
  }
  return quads;
}

const STEPS = 12;

/** A line that is swept along a seam's normal. */
function sweptSheets(seam: Seam, { line, bend }: SweptLine, map: Affine, box: BoxView): number[] {
  const frame = makeFrame(seam.origin, seam.normal, seam.up);
  const back = inverse(map);
  const along = corners(box).map((c) => {
    const p = mapPoint(back, c);
    return dot(
      perAxis(p, (x, a) => x - frame.origin[a]),
      frame.normal,
    );
  });
  const [low, high] = [Math.min(...along), Math.max(...along)];
  const [su, sv] = bendWay(line);
  const steps = bend === 0 ? 1 : STEPS;
  const at = ([u, v]: Point, k: number): Triple => {
    const t = (2 * k) / steps - 1;
    const shift = bend * (1 - t * t);
    return mapPoint(map, fromFrame(frame, u + su * shift, v + sv * shift, low + ((high - low) * k) / steps));
  };
  const quads: number[] = [];
  for (let k = 0; k < steps; k++) {
    for (let i = 1; i < line.length; i++) {
      quads.push(...at(line[i - 1], k), ...at(line[i], k), ...at(line[i], k + 1), ...at(line[i - 1], k + 1));
    }
  }
  return quads;
}
