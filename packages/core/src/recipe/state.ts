import type { Body, Import } from '../body/index.ts';
import type { Paint } from '../formats/index.ts';
import {
  type Affine,
  type Box,
  boxOf,
  IDENTITY,
  type IndexedMesh,
  mapPoint,
  mapped,
  uniteBoxes,
} from '../mesh/index.ts';

/** Bodies, and the map that brought the source's coordinates to where they are now. */
export interface Model {
  readonly bodies: readonly Body[];
  readonly map: Affine;
  readonly palette: readonly Paint[];
  /** whether the file said what unit its numbers are in */
  readonly unit: Import['unit'];
}

/** A model as it was imported. */
export const modelOf = (found: Pick<Import, 'bodies' | 'palette' | 'unit'>): Model => ({
  bodies: found.bodies,
  palette: found.palette,
  unit: found.unit,
  map: IDENTITY,
});

/** The box round all bodies. */
export const modelBox = (bodies: readonly Pick<Body, 'mesh'>[]): Box =>
  bodies.map((b) => boxOf(b.mesh.positions)).reduce((a, b) => uniteBoxes(a, b));

/** A body under a map; what is known of it is carried along. */
export function mappedBody(body: Body, m: Affine, map: (mesh: IndexedMesh, m: Affine) => IndexedMesh = mapped): Body {
  const mesh = map(body.mesh, m);
  if (mesh === body.mesh) return body;
  const [a, b, c, , d, e, f, , g, h, i] = m;
  const grows = Math.abs(a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g));
  const { crossed } = body;
  return {
    ...body,
    mesh,
    volume: body.volume * grows,
    ...(crossed && { crossed: { ...crossed, places: crossed.places.map((at) => mapPoint(m, at)) } }),
  };
}
