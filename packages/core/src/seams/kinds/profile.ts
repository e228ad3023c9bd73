import { z } from 'zod';
import { asking, note } from '../../asked.ts';
import { fromFrame, makeFrame } from '../../cut/index.ts';
import { GephyraError } from '../../errors.ts';
import { coordinate, uv } from '../../fields.ts';
import { type Affine, inverse, loopArea, vecOf } from '../../mesh/index.ts';
import { extentIn } from './extent.ts';
import { bendWay, leftOf, sampled } from './line.ts';
import { planeId, type SeamPlace, seamPlace } from './place.ts';
import { type AnySeam, common, type Extent, flats, type Kind, NO_SHAPE, type Point } from './seam-kind.ts';

const profileSchema = z.strictObject({
  ...common,
  kind: z.literal('profile'),
  /** the line, (u, v) in the plane square to the sweep */
  points: z.array(uv).min(2).max(400),
  /** straight from point to point; an arc through three; a smooth curve through all */
  curve: z.enum(['line', 'arc', 'free']).default('line'),
  /** how far the middle of the sheet stands out sideways along the sweep */
  bend: coordinate.default(0),
  flats,
});

export type ProfileSeam = z.output<typeof profileSchema>;

/** A drawn line swept along the seam's normal: what lies to its left is on its + side. */
export const profile: Kind<typeof profileSchema> = {
  schema: profileSchema,
  kind: 'profile',
  title: 'Line along',
  said: (seam) => `${seam.points.length} points`,
  way: () => 'solid',
  planes: (seam) => seam.points.length - 1,
  planeAt: stretchPlace,
  bent: (seam) => seam.curve !== 'line' || seam.bend !== 0,
  round: false,
  shape(seam, map, reach) {
    const frame = makeFrame(seam.origin, seam.normal, seam.up);
    const extent = extentIn(frame, reach, inverse(map));
    const line = sampled(seam);
    if (line.length < 2) return NO_SHAPE;
    const { outline, facetOf } = sheetOutline(line, seam.curve === 'line', extent);
    if (crossesItself(outline)) {
      const why = 'The drawn line crosses itself, or its ends do where they run on straight';
      throw new GephyraError('seam.tangled', `${why}. Move its points apart.`);
    }
    const facets = line.slice(1).map((_, part) => {
      const place = stretchPlace(seam, part, map);
      return place && { plane: planeId(seam.id, part), place };
    });
    return {
      solid: { as: 'swept', outline, facetOf, frame, extent, bend: seam.bend, sideways: bendWay(line) },
      facets: [...facets, null],
    };
  },
  swept: (seam) => ({ line: sampled(seam), bend: seam.bend }),
  fields: (seam) => {
    const ask = asking(profileSchema.shape, seam);
    return [
      ask.choice(
        'curve',
        'Curve',
        [
          { value: 'line', label: 'straight' },
          { value: 'arc', label: 'arc' },
          { value: 'free', label: 'free' },
        ],
        { shown: 'keys' },
      ),
      ask.length('bend', 'Bend along the sweep', { says: 'Bend' }),
      note(
        profile.bent(seam)
          ? 'On bent faces joints stand on flats. Straight stretches without a bend need none.'
          : 'Each straight stretch is a flat face and carries joints.',
      ),
    ];
  },
};

function stretchPlace(seam: ProfileSeam, part: number, map: Affine): SeamPlace | null {
  if (seam.curve !== 'line' || seam.bend !== 0) return null;
  const source = makeFrame(seam.origin, seam.normal, seam.up);
  const [from, to] = sampled(seam).slice(part, part + 2);
  if (!from || !to) return null;
  const [nu, nv] = leftOf(from, to);
  const origin = fromFrame(source, (from[0] + to[0]) / 2, (from[1] + to[1]) / 2);
  const normal = vecOf((k) => source.u[k] * nu + source.v[k] * nv) as AnySeam['normal'];
  return seamPlace({ origin: [...origin], normal, up: [...source.normal] as AnySeam['normal'] }, map);
}

/** Whether two sides of a closed outline that are no neighbours cross; sides in one line do not. */
function crossesItself(outline: readonly Point[]): boolean {
  const n = outline.length;
  const reach = Math.max(...outline.map(([x, y]) => Math.hypot(x - outline[0][0], y - outline[0][1])));
  const none = 1e-9 * reach * reach;
  const side = ([ax, ay]: Point, [bx, by]: Point, [x, y]: Point): number => {
    const cross = (bx - ax) * (y - ay) - (by - ay) * (x - ax);
    return Math.abs(cross) <= none ? 0 : Math.sign(cross);
  };
  for (let i = 0; i < n; i++) {
    const [a, b] = [outline[i], outline[(i + 1) % n]];
    for (let k = i + 2; k < n; k++) {
      if (i === 0 && k === n - 1) continue;
      const [c, d] = [outline[k], outline[(k + 1) % n]];
      if (side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0) return true;
    }
  }
  return false;
}

/** Everything to the left of the line, as a closed outline: the line itself, run on straight past the model, and a wide bow. */
function sheetOutline(line: readonly Point[], flat: boolean, { centre, radius }: Extent) {
  const n = line.length;
  const closed = Math.hypot(line[0][0] - line[n - 1][0], line[0][1] - line[n - 1][1]) < 1e-6 * radius;
  if (closed) {
    const outline = line.slice(0, -1);
    const area = loopArea(Float64Array.from(outline.flat()));
    if (area >= 0) return { outline, facetOf: outline.map((_, i) => (flat ? i : n - 1)) };
    return {
      outline: outline.toReversed(),
      facetOf: outline.map((_, i) => (flat ? (2 * n - 4 - i) % (n - 1) : n - 1)),
    };
  }
  const far = 3 * Math.max(radius, ...line.map((p) => Math.hypot(p[0] - centre[0], p[1] - centre[1])));
  const first = outTo(line[0], line[1], centre, far);
  const last = outTo(line[n - 1], line[n - 2], centre, far);
  const angle = (p: Point): number => Math.atan2(p[1] - centre[1], p[0] - centre[0]);
  const from = angle(last);
  const sweep = (((angle(first) - from) % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI);
  const steps = Math.max(2, Math.ceil(sweep / 0.5));
  const bow = Array.from({ length: steps - 1 }, (_, i): Point => {
    const a = from + (sweep * (i + 1)) / steps;
    return [centre[0] + far * Math.cos(a), centre[1] + far * Math.sin(a)];
  });
  const outline = [first, ...line.slice(1, -1), last, ...bow];
  // the first and last stretch run on in line, so their ends need no corner
  const facetOf = outline.map((_, i) => (flat && i < n - 1 ? i : n - 1));
  return { outline, facetOf };
}

/** From `inner` through `end` and on, to a circle. */
function outTo(end: Point, inner: Point, [cx, cy]: readonly [number, number], far: number): Point {
  const l = Math.hypot(end[0] - inner[0], end[1] - inner[1]);
  const [dx, dy] = [(end[0] - inner[0]) / l, (end[1] - inner[1]) / l];
  const [px, py] = [end[0] - cx, end[1] - cy];
  const b = px * dx + py * dy;
  const s = -b + Math.sqrt(Math.max(0, b * b - (px * px + py * py - far * far)));
  return [end[0] + s * dx, end[1] + s * dy];
}
