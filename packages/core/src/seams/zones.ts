import { type FlatRegion, type Frame, inRegion } from '../cut/index.ts';
import type { Zone } from '../document/index.ts';
import {
  type Affine,
  cross,
  determinant,
  dot,
  type Loop2,
  mapPoint,
  mapVector,
  nearestOnLoop,
  perAxis,
  three,
  type Vec3,
  vecOf,
} from '../mesh/index.ts';

/** A zone as it stands on the model: a sphere, or a box by its centre and half its three edges. */
export type PlacedZone =
  | { readonly kind: 'sphere'; readonly id: string; readonly at: Vec3; readonly radius: number }
  | { readonly kind: 'box'; readonly id: string; readonly at: Vec3; readonly half: readonly [Vec3, Vec3, Vec3] };

/** Puts a zone onto the model. A sphere stays one: its radius grows by the cube root of the map's determinant. */
export function placeZone(zone: Zone, map: Affine): PlacedZone {
  const at = mapPoint(map, zone.at);
  if (zone.kind === 'sphere') {
    return { kind: 'sphere', id: zone.id, at, radius: zone.radius * Math.cbrt(Math.abs(determinant(map))) };
  }
  const half = three((a) => {
    const edge = [0, 0, 0] as [number, number, number];
    edge[a] = zone.size[a] / 2;
    return mapVector(map, edge);
  });
  return { kind: 'box', id: zone.id, at, half };
}

/** The stretch of a direction that a zone takes up: normal · x. */
export function zoneSpan(zone: PlacedZone, normal: Vec3): [number, number] {
  const middle = dot(zone.at, normal);
  const reach =
    zone.kind === 'sphere' ? zone.radius : zone.half.reduce((sum, edge) => sum + Math.abs(dot(edge, normal)), 0);
  return [middle - reach, middle + reach];
}

/** Whether a point of the model lies in a zone. */
export function inZone(zone: PlacedZone, point: Vec3): boolean {
  const d = perAxis(point, (x, a) => x - zone.at[a]);
  if (zone.kind === 'sphere') return Math.hypot(...d) < zone.radius;
  return zone.half.every((edge, k) => {
    // the edges need not be square: along each, measured square to the other two
    const n = cross(zone.half[(k + 1) % 3], zone.half[(k + 2) % 3]);
    return Math.abs(dot(d, n)) < Math.abs(dot(edge, n));
  });
}

/** How deep a face of a plane runs through a zone, mm: 0 where it keeps clear of it. */
export function depthInZone(zone: PlacedZone, frame: Frame, region: FlatRegion): number {
  const [low, high] = zoneSpan(zone, frame.normal);
  const depth = Math.min(frame.offset - low, high - frame.offset);
  if (depth <= 0) return 0;
  return meets(zone, frame, region) ? depth : 0;
}

function meets(zone: PlacedZone, frame: Frame, region: FlatRegion): boolean {
  const d = perAxis(zone.at, (x, a) => x - frame.origin[a]);
  if (zone.kind === 'sphere') {
    const [u, v, h] = [dot(d, frame.u), dot(d, frame.v), dot(zone.at, frame.normal) - frame.offset];
    if (inRegion(region, u, v)) return true;
    const radius = Math.sqrt(Math.max(0, zone.radius ** 2 - h * h));
    return [region.outer2, ...region.holes2].some((l) => nearestOnLoop(l, u, v).distance < radius);
  }
  const outline = boxInPlane(zone, frame);
  if (outline.length < 6) return false;
  const corners = (l: Loop2): [number, number][] =>
    Array.from({ length: l.length / 2 }, (_, i) => [l[i * 2], l[i * 2 + 1]]);
  const shape = { outer2: outline, holes2: [] };
  const loops = [region.outer2, ...region.holes2];
  return (
    corners(outline).some(([u, v]) => inRegion(region, u, v)) ||
    loops.some((l) => corners(l).some(([u, v]) => inRegion(shape, u, v))) ||
    loops.some((l) => crosses(l, outline))
  );
}

/** The outline of a box in a plane, counter-clockwise. */
function boxInPlane({ at, half }: Extract<PlacedZone, { kind: 'box' }>, frame: Frame): Loop2 {
  const corner = (i: number): Vec3 =>
    vecOf((k) => half.reduce((sum, edge, e) => sum + (i & (1 << e) ? edge[k] : -edge[k]), at[k]));
  const points: [number, number][] = [];
  for (let i = 0; i < 8; i++) {
    for (let e = 0; e < 3; e++) {
      if (i & (1 << e)) continue;
      const p = corner(i);
      const q = corner(i | (1 << e));
      const [a, b] = [dot(p, frame.normal) - frame.offset, dot(q, frame.normal) - frame.offset];
      if (a > 0 === b > 0) continue;
      const s = a / (a - b);
      const x = perAxis(p, (c, k) => c + s * (q[k] - c) - frame.origin[k]);
      points.push([dot(x, frame.u), dot(x, frame.v)]);
    }
  }
  const cu = points.reduce((sum, [u]) => sum + u, 0) / points.length;
  const cv = points.reduce((sum, [, v]) => sum + v, 0) / points.length;
  points.sort((a, b) => Math.atan2(a[1] - cv, a[0] - cu) - Math.atan2(b[1] - cv, b[0] - cu));
  return Float64Array.from(points.flat());
}

function crosses(a: Loop2, b: Loop2): boolean {
  const side = (px: number, py: number, qx: number, qy: number, x: number, y: number): boolean =>
    (qx - px) * (y - py) - (qy - py) * (x - px) > 0;
  for (let i = 0, j = a.length - 2; i < a.length; j = i, i += 2) {
    for (let k = 0, l = b.length - 2; k < b.length; l = k, k += 2) {
      const ab =
        side(a[j], a[j + 1], a[i], a[i + 1], b[l], b[l + 1]) !== side(a[j], a[j + 1], a[i], a[i + 1], b[k], b[k + 1]);
      const ba =
        side(b[l], b[l + 1], b[k], b[k + 1], a[j], a[j + 1]) !== side(b[l], b[l + 1], b[k], b[k + 1], a[i], a[i + 1]);
      if (ab && ba) return true;
    }
  }
  return false;
}
