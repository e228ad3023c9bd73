import { createRequire } from 'node:module';
import {
  bodiesOf,
  boxOfShadow,
  type Evaluation,
  estimateOf,
  evaluate,
  type IndexedMesh,
  type Kernel,
  kernelTriangulator,
  layDown,
  loadSimplifier,
  measurePose,
  type NestItem,
  nest,
  type Piece,
  type Plan,
  type PrintContext,
  parsePlan,
  posesFor,
  printMeshOf,
  printRule,
  printSettingOf,
  shadowArea,
  shadowOf,
  UPRIGHT,
} from '@gephyra/core';
import { hoop, lantern, visor } from '../demo/models.ts';
import { modelOfMeshes } from '../packages/core/testing/models.ts';
import { blob, torus } from '../packages/core/testing/shapes.ts';
import { growth, type Row } from './measure.ts';

// its module file is none to Node
type Library = typeof import('maxrects-packer');
const { MaxRectsPacker, Rectangle } = createRequire(import.meta.url)('maxrects-packer') as Library & {
  Rectangle: typeof import('maxrects-packer/dist/geom/Rectangle').Rectangle;
};

const time = <T>(run: () => T): { ms: number; value: T } => {
  const start = performance.now();
  const value = run();
  return { ms: performance.now() - start, value };
};

/** A figure that is to be at most (or at least) what is wanted. */
const row = (what: string, value: number, wanted: number, least = false): Row => ({
  what,
  measured: value.toPrecision(3),
  wanted: `${least ? 'at least' : 'at most'} ${wanted}`,
  ok: least ? value >= wanted : value <= wanted,
});

const PRINTER = { name: 'Desktop 220', size: [220, 220, 250] as [number, number, number] };

/** A waved body of so many triangles, in forty pieces: nine levels, three planes across. */
function forty(triangles: number): { plan: Plan; mesh: IndexedMesh } {
  const side = Math.round(Math.sqrt(triangles / 2));
  const mesh = blob(side, side, 900, (a, z) => 190 + 14 * Math.sin(6 * a) + 18 * Math.cos(5 * z));
  const level = (i: number) => ({
    id: `s${i}`,
    kind: 'flat' as const,
    origin: [0, 0, -360 + i * 90] as [number, number, number],
    normal: [0.02 * i, 0.03, 1] as [number, number, number],
  });
  const seams = [
    ...Array.from({ length: 9 }, (_, i) => level(i)),
    {
      id: 'sx',
      kind: 'flat' as const,
      origin: [2, 0, 0] as [number, number, number],
      normal: [1, 0.04, 0] as [number, number, number],
    },
    {
      id: 'sy',
      kind: 'flat' as const,
      origin: [0, 3, 0] as [number, number, number],
      normal: [0.03, 1, 0] as [number, number, number],
    },
  ];
  return { plan: parsePlan({ version: 5, printer: PRINTER, seams }), mesh };
}

function contextOf(kernel: Kernel, plan: Plan, mesh: IndexedMesh): PrintContext {
  const tools = { fallback: kernelTriangulator(kernel), kernel };
  const { bodies } = bodiesOf(modelOfMeshes([mesh]), 'Bench');
  const evaluation: Evaluation = evaluate(plan, bodies, tools);
  return { kernel, plan, evaluation, shared: new Map() };
}

/** Poses of all pieces, and how that grows with the triangles. */
function poses(kernel: Kernel): Row[] {
  const points: { size: number; time: number }[] = [];
  let last = 0;
  let pieces = 0;
  for (const triangles of [75_000, 150_000, 300_000]) {
    const { plan, mesh } = forty(triangles);
    const context = contextOf(kernel, plan, mesh);
    pieces = context.evaluation.pieces.length;
    const rule = printRule(plan.printer);
    const { ms } = time(() => {
      for (const piece of context.evaluation.pieces) posesFor(printMeshOf(context, piece), rule, 'support', 1);
    });
    points.push({ size: triangles, time: ms });
    last = ms;
  }
  return [
    row(`poses of ${pieces} pieces, 300 k triangles, s`, last / 1000, 10),
    row('growth with triangles, exponent', growth(points), 1.15),
  ];
}

/** Support of pieces as modelled, on their largest cap, and in the pose that was found. */
function support(kernel: Kernel): Row[] {
  const sum = { modelled: 0, cap: 0, found: 0, fit: 0, all: 0 };
  const look = (context: PrintContext, piece: Piece): void => {
    const rule = printRule(context.plan.printer);
    const mesh = printMeshOf(context, piece);
    const of = (up: readonly [number, number, number]) => measurePose(mesh, { up, spin: 0 }, rule, 1).figures;
    sum.modelled += of([0, 0, 1]).columnVolume;
    const cap = [...mesh.caps].sort((a, b) => b.area - a.area)[0];
    sum.cap += of(cap ? [-cap.normal[0], -cap.normal[1], -cap.normal[2]] : [0, 0, 1]).columnVolume;
    const [best] = posesFor(mesh, rule, 'support');
    sum.found += best.figures.columnVolume;
    sum.fit += best.figures.fits ? 1 : 0;
    sum.all++;
  };
  const flat = (id: string, origin: [number, number, number], normal: [number, number, number]) => ({
    id,
    kind: 'flat' as const,
    origin,
    normal,
  });
  const tagged = ({ positions, triangles }: Pick<IndexedMesh, 'positions' | 'triangles'>): IndexedMesh => ({
    positions,
    triangles: Uint32Array.from(triangles),
    tags: new Uint32Array(triangles.length / 3),
  });
  const props: [IndexedMesh, Plan['seams']][] = [
    [
      tagged(lantern(kernel)),
      parsePlan({
        version: 5,
        printer: PRINTER,
        seams: [flat('s1', [0, 0, 200], [0, 0, 1]), flat('s2', [0, 0, 379.5], [0, 0, 1])],
      }).seams,
    ],
    [
      tagged(hoop()),
      parsePlan({
        version: 5,
        printer: PRINTER,
        seams: [{ id: 's1', kind: 'fan', origin: [0, 0, 0], normal: [0, 0, 1], count: 6 }],
      }).seams,
    ],
    [
      tagged(visor()),
      parsePlan({
        version: 5,
        printer: PRINTER,
        seams: [flat('s1', [0, 0, 0], [1, 0, 0]), flat('s2', [0, 0, 120], [0, 0, 1])],
      }).seams,
    ],
  ];
  // waved bodies and rings, leaned and cut at odd places
  for (let k = 0; k < 40; k++) {
    const mesh =
      k % 4 === 3
        ? torus(70 + k, 96, 32, (a, b) => 18 + 3 * Math.sin((3 + (k % 5)) * a + b))
        : blob(40, 40, 220 + 6 * k, (a, z) => 60 + (k % 7) * 6 * Math.sin((2 + (k % 4)) * a + 3 * z) * (1 - z * z));
    const seams = [
      flat('s1', [0, 0, -30 + k], [0.1 * (k % 3), 0.2, 1]),
      flat('s2', [(k % 5) * 4, 0, 0], [1, 0.1 * (k % 4), 0.1]),
    ];
    props.push([mesh, parsePlan({ version: 5, printer: PRINTER, seams }).seams]);
  }
  for (const [mesh, seams] of props) {
    const context = contextOf(kernel, parsePlan({ version: 5, printer: PRINTER, seams }), mesh);
    for (const piece of context.evaluation.pieces) look(context, piece);
  }
  return [
    row(`support found to as modelled, ${sum.all} pieces`, sum.found / sum.modelled, 0.3),
    row('support found to on the largest cap', sum.found / sum.cap, 0.75),
    row('share of pieces that fit as found', sum.fit / sum.all, 0.9, true),
  ];
}

/** Beds against smallest rectangles packed with quarter turns, the same spacing. */
function nesting(kernel: Kernel): Row[] {
  let seed = 7;
  const random = (): number => {
    seed = (seed * 1103515245 + 12345) % 2 ** 31;
    return seed / 2 ** 31;
  };
  let [own, theirs, worse, sets] = [0, 0, 0, 0];
  let [area, beds] = [0, 0];
  let slowest = 0;
  const run = (items: NestItem[]): void => {
    const { ms, value } = time(() => nest(items, { width: 216, depth: 216, spacing: 4, brim: 0, keepOut: [] }));
    if (items.length >= 55) slowest = Math.max(slowest, ms);
    const packer = new MaxRectsPacker(216, 216, 4, {
      smart: true,
      pot: false,
      square: false,
      allowRotation: true,
      border: 0,
    });
    packer.addArray(
      items.map(({ shadow }) => {
        const { min, max } = boxOfShadow(smallest(shadow));
        return new Rectangle(Math.min(216, Math.ceil(max[0] - min[0])), Math.min(216, Math.ceil(max[1] - min[1])));
      }),
    );
    own += value.beds;
    theirs += packer.bins.length;
    if (value.beds > packer.bins.length) worse++;
    area += items.reduce((sum, i) => sum + shadowArea(i.shadow), 0);
    beds += value.beds;
    sets++;
  };
  for (let k = 0; k < 20; k++) {
    const { plan, mesh } = forty(12_000 + 400 * k);
    const context = contextOf(kernel, plan, mesh);
    const items = context.evaluation.pieces.map((piece, i): NestItem => {
      const m = printMeshOf(context, piece);
      const cap = [...m.caps].sort((a, b) => b.area - a.area)[0];
      const up = cap && random() < 0.7 ? cap.normal.map((x) => -x) : [0, 0, 1];
      const { positions } = layDown(m.positions, { up: up as [number, number, number], spin: 0 });
      const scale = 0.35 + 0.5 * random();
      const shadow = shadowOf({ positions: positions.map((x) => x * scale), triangles: m.triangles });
      return { id: `p${i}`, like: `p${i}`, shadow, hours: 1, height: 10 };
    });
    run(k % 4 === 0 ? [...items, ...items.slice(0, 20).map((i) => ({ ...i, id: `${i.id}b` }))] : items);
  }
  return [
    row(`beds to maxrects, ${sets} sets`, own / theirs, 0.88),
    row('sets with more beds than maxrects', worse, 0),
    row('share of the beds that is covered', area / (beds * 216 * 216), 0.55, true),
    row('60 pieces, s', slowest / 1000, 3),
  ];
}

/** A shadow turned so that the box round it is smallest. */
function smallest(shadow: readonly Float64Array[]): readonly Float64Array[] {
  let best = shadow;
  let least = Infinity;
  for (let d = 0; d < 90; d += 2) {
    const [c, s] = [Math.cos((d * Math.PI) / 180), Math.sin((d * Math.PI) / 180)];
    const turned = shadow.map((l) =>
      l.map((_, i) => (i % 2 === 0 ? c * l[i] - s * l[i + 1] : s * l[i - 1] + c * l[i])),
    );
    const { min, max } = boxOfShadow(turned);
    const area = (max[0] - min[0]) * (max[1] - min[1]);
    if (area < least) [best, least] = [turned, area];
  }
  return best;
}

/** Poses, supports, beds and estimates. */
export async function benchPrint(kernel: Kernel): Promise<Row[]> {
  await loadSimplifier();
  const { plan, mesh } = forty(100_000);
  const context = contextOf(kernel, parsePlan({ ...plan, seams: [] }), mesh);
  const whole = printMeshOf(context, context.evaluation.pieces[0]);
  const setting = printSettingOf(plan.printer);
  estimateOf(whole, UPRIGHT, 0, setting, 'filament');
  const { ms } = time(() => estimateOf(whole, UPRIGHT, 0, setting, 'filament'));
  return [
    ...poses(kernel),
    ...support(kernel),
    ...nesting(kernel),
    row('estimate of 100 k triangles, s', ms / 1000, 0.1),
  ];
}
