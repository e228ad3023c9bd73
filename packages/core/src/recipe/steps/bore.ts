import { type Body, shapeOf } from '../../body/index.ts';
import type { StepOf } from '../../document/index.ts';
import { GephyraError } from '../../errors.ts';
import {
  type Blocks,
  buildBlocks,
  insideSolid,
  mapPoint,
  pointAlong,
  rayHits,
  sub,
  type Vec3,
  vecOf,
} from '../../mesh/index.ts';
import { boreSolid, differenceOf, framesAlong, type Route, routeThrough, usualBend } from '../../solid/index.ts';
import { inSolids } from '../regroup.ts';
import { requireClosed } from './closed.ts';
import type { Bench, HeavyStep, Work } from './step.ts';
import { lengthText } from './words.ts';

export const bore: HeavyStep<StepOf<'bore'>> = {
  work: bored,
};

/** Along a bore a wall is measured so often, mm. */
const STEP = 1;
/** In so many directions round it. */
const ROUND = 32;
/** A wall under this is said to be thin, mm. */
const THIN = 1.2;

function bored(step: StepOf<'bore'>, { state, chosen, inPlace, tools, progress }: Bench): Work {
  requireClosed(chosen, 'bored');
  const places = step.points.map((p) => mapPoint(state.map, p));
  const route = routeThrough(places, step.bend ?? usualBend(step.diameter));
  progress(0.1, 'Laying out the bore');
  const taken = boreSolid(tools.kernel, route, step.diameter + 2 * step.gap, {
    mouth: step.mouth,
    blind: step.blind,
    sink: step.sink,
    slot: step.slot && { wider: widerBy(step), turn: step.slot.turn },
  });
  const notes: string[] = [];
  const cut = chosen.flatMap((body, i) => {
    progress(0.2 + (i / chosen.length) * 0.7, `Boring ${body.name}`);
    const mesh = differenceOf(tools.kernel, body.mesh, [{ ...taken, tags: taken.tags.map(() => body.mesh.tags[0]) }]);
    const through = wallAlong(body, route, step);
    if (through === null) return [body];
    notes.push(`Through ${body.name}: ${through}`);
    return inSolids({ ...body, ...shapeOf(mesh) });
  });
  if (notes.length === 0) {
    throw new GephyraError('bore.misses', 'This bore meets none of the bodies. Pick its places on the model.');
  }
  return {
    bodies: inPlace(cut),
    notes: [`The route is ${lengthText(Number(route.length.toFixed(1)))} long.`, ...notes],
    deviation: null,
  };
}

/** How much wider than thick a bore is: a slot for a strap. */
const widerBy = ({ slot, diameter }: StepOf<'bore'>): number => Math.max(0, (slot?.width ?? 0) - diameter);

/** What wall a bore leaves in a body beside it, in words, to the skin as it was before; null where it runs through none of it. */
function wallAlong({ mesh }: Body, { line, length }: Route, step: StepOf<'bore'>): string | null {
  const radius = step.diameter / 2 + step.gap;
  const blocks = buildBlocks(mesh);
  // beside its mouths a bore leaves the skin by right
  const mouth = 2 * radius + step.mouth + (step.sink?.depth ?? 0) + THIN;
  const half = widerBy(step) / 2;
  const frames = framesAlong(line, step.slot?.turn);
  let inside = 0;
  let open: number | null = null;
  let least = { wall: Infinity, at: 0 };
  let before = 0;
  line.slice(1).forEach(({ at: to }, i) => {
    const from = line[i].at;
    const long = Math.hypot(...sub(to, from));
    const n = Math.max(1, Math.round(long / STEP));
    for (let k = 0; k < n; k++) {
      const share = (k + 0.5) / n;
      const at = pointAlong(from, sub(to, from), share);
      const along = before + share * long;
      if (!insideSolid(blocks, at)) continue;
      inside += long / n;
      if (along < mouth || (!step.blind && along > length - mouth)) continue;
      const wall = Math.min(...allRound(frames[i + 1], radius, half).map((d) => nearestHit(blocks, at, d.way) - d.own));
      if (wall < least.wall) least = { wall, at: along };
      if (wall <= 0) open ??= along;
    }
    before += long;
  });
  if (inside === 0) return null;
  const far = (x: number): string => lengthText(Number(x.toFixed(1)));
  if (open !== null)
    return `${far(inside)}; it breaks through the skin ${far(open)} along. Move it, or make it thinner.`;
  if (!Number.isFinite(least.wall)) return `${far(inside)}.`;
  const said = `${far(inside)}, with at least ${far(least.wall)} of wall (${far(least.at)} along).`;
  return least.wall < THIN ? `${said} That is thin: move it, or make it thinner.` : said;
}

const nearestHit = (blocks: Blocks, at: Vec3, way: Vec3): number => {
  const ahead = rayHits(blocks, at, way).filter((t) => t > 0);
  return ahead.length > 0 ? Math.min(...ahead) : Infinity;
};

/** Directions all round a bore, square to its way, each with how far it reaches there itself; `half`: of what it is wider than thick. */
function allRound([u, v]: readonly [Vec3, Vec3], radius: number, half: number): { way: Vec3; own: number }[] {
  return Array.from({ length: ROUND }, (_, i) => {
    const a = (i / ROUND) * 2 * Math.PI;
    const [cos, sin] = [Math.abs(Math.cos(a)), Math.abs(Math.sin(a))];
    // its flat side, or its round end
    const flat = sin > 0 ? radius / sin : Infinity;
    const own = flat * cos <= half ? flat : half * cos + Math.sqrt(radius ** 2 - (half * sin) ** 2);
    return { way: vecOf((k) => u[k] * Math.cos(a) + v[k] * Math.sin(a)), own };
  });
}
