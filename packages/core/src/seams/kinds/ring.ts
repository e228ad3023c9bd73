import { makeFrame } from '../../cut/index.ts';
import { type Affine, determinant, inverse } from '../../mesh/index.ts';
import type { Point } from './line.ts';
import type { SeamKind, SeamOf } from './seam-kind.ts';
import { extentIn, swept } from './swept.ts';

/** A round wall about an axis: what lies within it is on its + side. */
export const ring: SeamKind<SeamOf<'ring'>> = {
  title: 'Ring round',
  way: () => 'solid',
  planes: () => 0,
  planeAt: () => null,
  bent: () => true,
  round: false,
  solid(seam, map, reach, fallback) {
    const source = makeFrame(seam.origin, seam.normal, seam.up);
    const extent = extentIn(source, reach, inverse(map));
    const outline = circle(seam.radius, scaleOf(map));
    const facetOf = outline.map(() => 0);
    return { mesh: swept(outline, facetOf, source, map, extent, 0, [0, 1], fallback), facets: [null] };
  },
};

/** Chords of round seams keep within this of the circle, mm. */
const CHORD = 0.02;

const scaleOf = (map: Affine): number => Math.cbrt(Math.abs(determinant(map)));

function circle(radius: number, scale: number): Point[] {
  const n = Math.min(360, Math.max(24, Math.ceil(Math.PI / Math.acos(1 - Math.min(0.5, CHORD / (radius * scale))))));
  return Array.from({ length: n }, (_, i) => {
    const a = (i / n) * 2 * Math.PI;
    return [radius * Math.cos(a), radius * Math.sin(a)];
  });
}
