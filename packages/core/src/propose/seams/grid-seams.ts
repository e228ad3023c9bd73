import { isClosed } from '../../body/index.ts';
import { freeId, type Plan, type SeamInput } from '../../document/index.ts';
import { type Affine, axisVector, type Box, boxOf, buildBlocks, three, uniteBoxes } from '../../mesh/index.ts';
import type { Model } from '../../recipe/index.ts';
import { placeZone, planeInSource, zoneSpan } from '../../seams/index.ts';
import { type GridPlan, gridFor } from '../seek/index.ts';

/**
 * Seams square to the axes after which every piece of a model fits the main printer: what is always found, and quickly, where a
 * search for fewer pieces comes to no end. None where the printer is too small for pieces with joints between them.
 */
export function gridSeams(plan: Plan, { bodies, map }: Model, jointRoom: number): SeamInput[] {
  const closed = bodies.filter(isClosed);
  if (closed.length === 0) return [];
  const box = closed.map((b) => boxOf(b.mesh.positions)).reduce(uniteBoxes);
  const zones = plan.zones.map((z) => placeZone(z, map));
  const blocks = closed.map((b) => buildBlocks(b.mesh));
  const clear = three((axis) => zones.map((z) => zoneSpan(z, axisVector(axis))));
  const wish = { printer: plan.printer, axes: [0, 1, 2], jointRoom };
  const tries = [
    { spacing: 'even' as const, clear },
    { spacing: 'necks' as const, clear },
    // better through a zone than not at all: there is a finding for it
    { spacing: 'even' as const, clear: [[], [], []] },
  ];
  for (const how of tries) {
    const { planes, over } = gridFor(blocks, box, { ...wish, ...how });
    if (over === 0) return seamsAt(plan, planes, box, map);
  }
  return [];
}

function seamsAt(plan: Plan, planes: GridPlan['planes'], box: Box, map: Affine): SeamInput[] {
  const seams: SeamInput[] = [];
  planes.forEach((places, axis) => {
    for (const at of places) {
      const origin = three((a) => (a === axis ? at : (box.min[a] + box.max[a]) / 2)) as [number, number, number];
      const normal = [...axisVector(axis)] as [number, number, number];
      const place = planeInSource({ origin, normal }, map);
      const name = `Across ${'xyz'[axis]} at ${at.toFixed(0)}`;
      seams.push({ id: freeId('s', [...plan.seams, ...seams]), kind: 'flat', name, ...place });
    }
  });
  return seams;
}
