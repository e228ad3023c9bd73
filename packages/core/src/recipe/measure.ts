import type { Body } from '../body/index.ts';
import { makeFrame, sectionAt } from '../cut/index.ts';
import type { Step } from '../document/index.ts';
import { type Affine, loopArea, loopLength, mapNormal, mapPoint, sub } from '../mesh/index.ts';

export type TakenMeasure = Extract<Step, { kind: 'tailor' }>['measure'];

/**
 * Takes a measure of the model as it stands, mm: the distance of two points, or a girth.
 *
 *      outer girth: along the largest outline of the section      ( (      ) )
 *      inner girth: along the largest hollow in it, where a wearer would be
 *
 * Places are given in the source's coordinates and go by the map. 0 where the plane meets nothing.
 */
export function takeMeasure(measure: TakenMeasure, bodies: readonly Body[], map: Affine): number {
  if ('points' in measure) {
    const [a, b] = measure.points.map((p) => mapPoint(map, p));
    return Math.hypot(...sub(a, b));
  }
  const frame = makeFrame(mapPoint(map, measure.girth), mapNormal(map, measure.along));
  const chosen = measure.body === undefined ? bodies : bodies.filter((b) => b.id === measure.body);
  let outer = 0;
  let inner = 0;
  for (const body of chosen) {
    for (const loop of sectionAt(body.mesh, frame).loops) {
      const length = loopLength(loop);
      // a surface without thickness has one outline for both sides
      if (loopArea(loop) > 0 || !body.topology.watertight) outer = Math.max(outer, length);
      if (loopArea(loop) < 0 || !body.topology.watertight) inner = Math.max(inner, length);
    }
  }
  return measure.side === 'inner' ? inner : outer;
}
