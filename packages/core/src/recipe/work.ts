import type { Step, StepOf } from '../document/index.ts';
import { GephyraError } from '../errors.ts';
import {
  boxOf,
  buildBlocks,
  buildTree,
  concatenate,
  halfEdges,
  type IndexedMesh,
  mapPoint,
  nearest,
  noPlace,
  rayHits,
  shells,
  sizeOf,
  splitBy,
  turnedOver,
  type Vec3,
  weldWithin,
} from '../mesh/index.ts';
import {
  type Body,
  bodiesOfMesh,
  closeHoles,
  cornerFans,
  crossings,
  dropDuplicates,
  dropFlat,
  isClosed,
  mendSurface,
  oneSidedDistance,
  orientConsistently,
  pairEdges,
  resolveCrowded,
  shapeOf,
  splitFans,
  twoSidedDistance,
  usualTolerance,
  without,
} from '../repair/index.ts';
import { flatFaceAt, hollowSpace, offsetSurface, sided, wallOf } from '../skin/index.ts';
import { differenceOf, type Kernel, kernelStatus, lightened, rod, simplified, unionOf } from '../solid/index.ts';
import { bodiesNamed, type Deviation } from './bodies.ts';
import { inSolids, regrouped } from './regroup.ts';
import { type Model, modelBox } from './state.ts';

/** What heavy steps need, loaded beforehand. */
export interface Tools {
  readonly kernel: Kernel;
}

/** How a model stands, in numbers that a mend should bring down. */
export interface Counts {
  readonly bodies: number;
  readonly closed: number;
  readonly triangles: number;
  readonly openEdges: number;
  readonly nonManifoldEdges: number;
  readonly inconsistentEdges: number;
  /** mm³ */
  readonly volume: number;
}

export function countsOf(bodies: readonly Body[]): Counts {
  const sum = (f: (b: Body) => number): number => bodies.reduce((n, b) => n + f(b), 0);
  return {
    bodies: bodies.length,
    closed: bodies.filter(isClosed).length,
    triangles: sum((b) => b.mesh.tags.length),
    openEdges: sum((b) => b.topology.openEdges),
    nonManifoldEdges: sum((b) => b.topology.nonManifoldEdges),
    inconsistentEdges: sum((b) => b.topology.inconsistentEdges),
    volume: sum((b) => b.volume),
  };
}

export interface Work {
  readonly bodies: readonly Body[];
  readonly notes: readonly string[];
  readonly deviation: Deviation | null;
}

interface Setting {
  readonly state: Model;
  readonly tools: Tools;
  readonly locked: readonly string[];
  readonly progress: (share: number, what: string) => void;
}

/** Does one heavy step. Throws what its operation throws, and GephyraError `recipe.body`, `recipe.open`. */
export function workOf(step: Step, setting: Setting): Work {
  const { state, locked, progress } = setting;
  const named = 'on' in step && step.on ? bodiesNamed(step.on, state.bodies) : null;
  const chosen = named ?? state.bodies.filter((b) => !locked.includes(b.id));
  const others = state.bodies.filter((b) => !chosen.includes(b));
  const inPlace = (bodies: readonly Body[], rest: readonly Body[] = others): readonly Body[] =>
    inOrder(state.bodies, [...rest, ...bodies]);
  const surfaces = (
    what: string,
    change: (mesh: IndexedMesh) => { mesh: IndexedMesh; notes?: readonly string[] },
  ): Work => {
    const notes: string[] = [];
    const parts = [...new Set(chosen.map((b) => b.part))];
    const bodies = parts.flatMap((part, i) => {
      progress(i / parts.length, what);
      const own = chosen.filter((b) => b.part === part);
      return regrouped(own, (mesh) => {
        const done = change(mesh);
        notes.push(...(done.notes ?? []));
        return done.mesh;
      });
    });
    progress(0.9, 'Measuring how far the surface has moved');
    const before = concatenate(chosen.map((b) => b.mesh));
    const deviation = bodies.length > 0 ? deviationOf(before, concatenate(bodies.map((b) => b.mesh))) : null;
    return { bodies: inPlace(bodies), notes, deviation };
  };
  const each = (
    what: string,
    change: (body: Body, progress: (share: number) => void) => { mesh: IndexedMesh; notes?: readonly string[] },
  ): Work => {
    const notes: string[] = [];
    const bodies = chosen.map((body, i) => {
      const { mesh, notes: own = [] } = change(body, (share) =>
        progress((i + share * 0.85) / chosen.length, `${what}: ${body.name}`),
      );
      notes.push(...own);
      return { ...body, ...shapeOf(mesh) };
    });
    return { bodies: inPlace(bodies), notes, deviation: null };
  };
  switch (step.kind) {
    case 'weld':
      return surfaces('Welding', (mesh) => ({ mesh: dropDuplicates(weldWithin(mesh, step.tolerance)).mesh }));
    case 'drop':
      return surfaces('Dropping', (mesh) => ({ mesh: dropped(mesh, step) }));
    case 'split':
      return surfaces('Splitting', (mesh) => {
        const { mesh: resolved, dropped: gone } = resolveCrowded(pairEdges(mesh).mesh);
        return {
          mesh: splitFans(resolved, cornerFans(resolved, halfEdges(resolved))).mesh,
          notes: gone > 0 ? [`${gone} triangles of inner sheets and fins went.`] : [],
        };
      });
    case 'orient':
      return surfaces('Turning', (mesh) => {
        const { mesh: out, oneSided } = orientConsistently(mesh);
        return { mesh: out, notes: oneSided > 0 ? ['A surface is one-sided: it has no outside.'] : [] };
      });
    case 'close':
      return surfaces('Closing holes', (mesh) => {
        const {
          mesh: out,
          closed,
          openings,
          failed,
        } = closeHoles(orientConsistently(mesh).mesh, { ...step, most: step.most ?? Infinity });
        return {
          mesh: out,
          notes: [
            `${closed} holes were closed.`,
            ...(openings > 0 ? [`${openings} were left, as they are meant to be open or wider than asked.`] : []),
            ...(failed > 0 ? [`${failed} could not be closed: their rim does not close. Mend all may do it.`] : []),
          ],
        };
      });
    case 'mend': {
      const tolerance = step.tolerance ?? usualTolerance(modelSize(state));
      const work = surfaces('Mending', (mesh) => mendSurface(mesh, tolerance, step.openings));
      return { ...work, ...checkedSolids(work, chosen, setting) };
    }
    case 'join': {
      requireClosed(chosen, 'joined');
      progress(0.1, 'Joining');
      const mesh = unionOf(
        setting.tools.kernel,
        chosen.map((b) => b.mesh),
      );
      const first = chosen[0];
      const joined = inSolids({ ...first, ...shapeOf(mesh), name: step.name ?? first.name });
      return {
        bodies: inPlace(joined),
        notes: joined.length > 1 ? [`They make ${joined.length} solids, as not all of them touch.`] : [],
        deviation: null,
      };
    }
    case 'separate':
      return { bodies: inPlace(chosen.flatMap(separated)), notes: [], deviation: null };
    case 'takeOut':
      return takenOut(step, setting);
    case 'simplify':
      return simplify(step, chosen, inPlace, progress);
    case 'wall':
      return each('Making the wall', (body, inner) => {
        // a triangle without area has no side
        const skin = orientConsistently(dropFlat(dropDuplicates(body.mesh).mesh, step.thickness * 1e-6).mesh).mesh;
        const made = wallOf(skin, step.thickness, step.side, step.cell, inner);
        const mesh = tidied(withTag(made.mesh, body.mesh.tags[0]), made.cell);
        return { mesh, notes: [sampled(body, made.cell)] };
      });
    case 'hollow':
      requireClosed(chosen, 'hollowed');
      return each('Hollowing', (body, inner) => hollowed(step, body, setting, inner));
    default:
      throw new GephyraError('recipe.step', `The step “${step.kind}” is not heavy work.`);
  }
}

const deviationOf = (before: IndexedMesh, after: IndexedMesh): Deviation => ({
  old: oneSidedDistance(before, after),
  added: oneSidedDistance(after, before),
});

const modelSize = (state: Model): number => Math.hypot(...sizeOf(modelBox(state.bodies)));

const sampled = (body: Body, cell: number): string =>
  `${body.name}: sampled with cells of ${Number(cell.toFixed(3))} mm; flat and gently curved places are exact to about ${Number((cell * 0.05).toFixed(3))} mm, sharp edges are rounded by up to ${Number((cell * 0.6).toFixed(2))} mm.`;

/** The bodies as they were ordered before; new ones behind the one they come from. */
function inOrder(before: readonly Body[], now: readonly Body[]): Body[] {
  const rank = (b: Body): number => {
    const at = before.findIndex((x) => x.id === b.id);
    return at >= 0 ? at : before.findIndex((x) => b.id.startsWith(`${x.id}-`)) + 0.5;
  };
  return [...now].sort((a, b) => rank(a) - rank(b));
}

function requireClosed(bodies: readonly Body[], what: string): void {
  const open = bodies.find((b) => !isClosed(b));
  if (!open) return;
  throw new GephyraError(
    'recipe.open',
    `${open.name} is open, so it cannot be ${what}. Mend it first, or leave it out.`,
    {
      body: open.id,
    },
  );
}

/** After mending a body counts as closed only when the kernel takes it; of those still open it is said why. */
function checkedSolids(
  work: Work,
  before: readonly Body[],
  { tools, progress }: Setting,
): Pick<Work, 'notes' | 'bodies'> {
  progress(0.95, 'Checking the solids');
  const notes = [...work.notes];
  const known = new Set(before.map((b) => b.mesh));
  const bodies = work.bodies.map((b) => {
    if (!isClosed(b) || known.has(b.mesh)) return b;
    const refused = kernelStatus(tools.kernel, b.mesh);
    return refused === 'NoError' ? b : { ...b, refused };
  });
  const open = bodies.filter((b) => !isClosed(b));
  for (const b of open.slice(0, 8)) {
    const t = b.topology;
    const why = [
      t.openEdges > 0 ? `${t.openEdges} open edges` : '',
      t.nonManifoldEdges > 0 ? `${t.nonManifoldEdges} edges of more than two triangles` : '',
      t.inconsistentEdges > 0 ? `${t.inconsistentEdges} edges whose sides disagree` : '',
      b.loose > 0 ? `${b.loose} loose shells` : '',
      b.refused === undefined ? '' : `the solid kernel refuses it (${b.refused})`,
    ].filter(Boolean);
    notes.push(`${b.name} is still open: ${why.join(', ')}.`);
  }
  if (open.length > 8) notes.push(`${open.length - 8} more bodies are still open.`);
  return { notes, bodies };
}

function dropped(mesh: IndexedMesh, step: StepOf<'drop'>): IndexedMesh {
  let out = step.duplicates ? dropDuplicates(mesh).mesh : mesh;
  if (step.slivers > 0) out = dropFlat(out, step.slivers).mesh;
  if (step.dust <= 0) return out;
  const found = shells(out);
  const parts = splitBy(out, found.ofTriangle, found.count);
  const small = parts.map((p) => sizeOf(boxOf(p.positions)).every((x) => x < step.dust) && !isHollow(p));
  if (!small.includes(true)) return out;
  const drop = Uint8Array.from(found.ofTriangle, (s) => (small[s] ? 1 : 0));
  return without(out, drop);
}

/** A closed shell that is inside out bounds a hollow, and is no dust. */
const isHollow = (mesh: IndexedMesh): boolean => {
  const shape = shapeOf(mesh);
  return shape.topology.watertight && shape.volume < 0;
};

/** One body per shell; hollows stay with what is round them. */
function separated(body: Body): Body[] {
  const found = shells(body.mesh);
  if (found.count === 1) return [body];
  const shapes =
    body.loose > 0
      ? splitBy(body.mesh, found.ofTriangle, found.count).map((m) => shapeOf(m))
      : bodiesOfMesh(body.mesh).bodies;
  return shapes.map((shape, i) => ({
    ...body,
    ...shape,
    id: i === 0 ? body.id : `${body.id}-${i + 1}`,
    name: shapes.length > 1 ? `${body.name} ${i + 1}` : body.name,
  }));
}

function takenOut(step: StepOf<'takeOut'>, { state, tools, progress }: Setting): Work {
  const [rider] = bodiesNamed([step.body], state.bodies);
  const from = bodiesNamed(step.from, state.bodies).filter((b) => b !== rider);
  requireClosed([rider, ...from], 'taken out or cut');
  progress(0.1, `Making room round ${rider.name}`);
  const room = step.gap > 0 ? offsetSurface(rider.mesh, step.gap) : rider.mesh;
  const notes: string[] = [];
  const cut = from.flatMap((b, i) => {
    progress(0.2 + (i / from.length) * 0.7, `Cutting ${b.name}`);
    const mesh = differenceOf(tools.kernel, b.mesh, [room]);
    if (mesh.tags.length === 0) {
      notes.push(`Nothing of ${b.name} is left.`);
      return [];
    }
    return inSolids({ ...b, ...shapeOf(mesh) });
  });
  const rest = state.bodies.filter((b) => !from.includes(b));
  return { bodies: inOrder(state.bodies, [...rest, ...cut]), notes, deviation: null };
}

function simplify(
  step: StepOf<'simplify'>,
  chosen: readonly Body[],
  inPlace: (bodies: readonly Body[]) => readonly Body[],
  progress: Setting['progress'],
): Work {
  const total = chosen.reduce((n, b) => n + b.mesh.tags.length, 0);
  let worst = 0;
  const notes: string[] = [];
  const bodies = chosen.map((b, i) => {
    progress(i / chosen.length, `Simplifying ${b.name}`);
    const goal = step.triangles === undefined ? 4 : (step.triangles * b.mesh.tags.length) / total;
    let error = step.deviation ?? Infinity;
    for (let k = 0; k < 8; k++) {
      const mesh = simplified(b.mesh, goal, Math.min(error, 1e6));
      const shape = shapeOf(mesh);
      const off = twoSidedDistance(b.mesh, mesh);
      // of very few triangles a solid may come out torn, or turned inside out
      const torn = b.topology.watertight && !(shape.topology.watertight && shape.volume > 0);
      if (!torn && (step.deviation === undefined || off <= step.deviation)) {
        worst = Math.max(worst, off);
        return { ...b, ...shape, loose: b.loose };
      }
      if (torn && step.deviation === undefined)
        error = Math.hypot(...sizeOf(boxOf(b.mesh.positions))) * 0.01 * 0.5 ** k;
      else error *= 0.6;
    }
    notes.push(`${b.name} was left as it is: it could not be made simpler that way.`);
    return b;
  });
  return { bodies: inPlace(bodies), notes, deviation: { old: worst, added: worst } };
}

const withTag = (mesh: IndexedMesh, tag: number): IndexedMesh => ({ ...mesh, tags: mesh.tags.fill(tag) });

/**
 * Flat places of a sampled surface need few triangles; and where cells touch along an edge the surface is taken apart. Taking
 * triangles away may fold it through itself, so less is taken then.
 */
function tidied(mesh: IndexedMesh, cell: number): IndexedMesh {
  const whole = pairEdges(mesh).mesh;
  for (const error of [0.04, 0.034, 0.028, 0.02]) {
    const light = lightened(whole, cell * error);
    const tree = buildTree(light);
    if (crossings(tree, tree, 1, 1).pairs === 0) return light;
  }
  return whole;
}

function hollowed(
  step: StepOf<'hollow'>,
  body: Body,
  { state, tools }: Setting,
  progress: (share: number) => void,
): { mesh: IndexedMesh; notes: string[] } {
  const box = boxOf(body.mesh.positions);
  const reach = Math.hypot(...sizeOf(box)) * 0.02;
  const onBody = (at: Vec3): boolean =>
    [0, 1, 2].every((a) => at[a] > box.min[a] - reach && at[a] < box.max[a] + reach);
  const faces = step.open.map((at) => mapPoint(state.map, at)).filter(onBody);
  const open = [...new Set(faces.flatMap((at) => flatFaceAt(body.mesh, at)))];
  const { cavity, cell } = hollowSpace(body.mesh, step.thickness, open, step.cell, (s) => progress(s * 0.8));
  const space = tidied(withTag(cavity, body.mesh.tags[0]), cell);
  const notes = [sampled(body, cell)];
  const drains = step.drains
    .map((d) => ({ at: mapPoint(state.map, d.at), diameter: d.diameter }))
    .filter((d) => onBody(d.at));
  if (open.length === 0 && drains.length === 0) return { mesh: concatenate([body.mesh, turnedOver(space)]), notes };
  const rods = drains.map((d) => {
    const made = drainRod(body.mesh, space, d.at, d.diameter, step.thickness);
    if (!made)
      throw new GephyraError(
        'skin.drain',
        'A drain hole does not reach the hollow from where it is. Pick another place.',
      );
    return made;
  });
  progress(0.9);
  return { mesh: differenceOf(tools.kernel, body.mesh, [space, ...rods]), notes };
}

/** A rod from outside the skin, square to it, into the hollow; null when the hollow is not met. */
function drainRod(
  mesh: IndexedMesh,
  space: IndexedMesh,
  at: Vec3,
  diameter: number,
  thickness: number,
): IndexedMesh | null {
  const tree = buildTree(mesh);
  const place = noPlace();
  nearest(tree, at[0], at[1], at[2], Infinity, place);
  const { faceNormals } = sided(mesh);
  const n = [0, 1, 2].map((a) => faceNormals[place.triangle * 3 + a]);
  const hits = rayHits(buildBlocks(space), [place.x, place.y, place.z], [-n[0], -n[1], -n[2]]);
  if (hits.length === 0) return null;
  const depth = Math.min(...hits) + thickness * 0.5 + diameter * 0.25;
  const start = [place.x, place.y, place.z].map((x, a) => x + n[a] * (diameter + thickness));
  return rod(
    start,
    [place.x, place.y, place.z].map((x, a) => x - n[a] * depth),
    diameter,
  );
}
