// What proposals come to over models of many kinds, against a grid of planes in the same run: npm run corpus [-- name or kind] [--effort=n] [--symmetric] [--seat] [--json].
import {
  bodiesOf,
  buildBlocks,
  EVEN_WISHES,
  type Evaluation,
  evaluateModel,
  figuresOf,
  gridFor,
  loadSimplifier,
  type Model,
  mirrorOf,
  mirrorPlane,
  modelBox,
  modelOf,
  type PartingFigures,
  type Plan,
  parsePlan,
  proposeSeams,
  seatJoints,
} from '@gephyra/core';
import { CORPUS, type Sample } from '../packages/core/testing/corpus.ts';
import { fallback, kernel } from '../packages/core/testing/judges.ts';
import { modelOfMeshes } from '../packages/core/testing/models.ts';

const args = process.argv.slice(2);
const JOINT_ROOM = 8;
const bare = parsePlan({ version: 5, printer: { name: 'Desktop 220', size: [224, 224, 252], margin: 2 } });

interface Row {
  readonly name: string;
  readonly kind: Sample['kind'];
  readonly triangles: number;
  readonly grid: PartingFigures;
  readonly search: PartingFigures;
  /** pieces without a mirror image; null without a mirror plane */
  readonly unlike: number | null;
  readonly seated: { faces: number; bare: number; stops: number } | null;
  readonly firstSeconds: number;
  readonly seconds: number;
}

function gridOf(model: Model): PartingFigures {
  const box = modelBox(model.bodies);
  const { planes } = gridFor(
    model.bodies.map((b) => buildBlocks(b.mesh)),
    box,
    { printer: bare.printer, axes: [0, 1, 2], spacing: 'even', jointRoom: JOINT_ROOM, clear: [[], [], []] },
  );
  const middle = box.min.map((x, a) => (x + box.max[a]) / 2);
  const seams = planes.flatMap((places, axis) =>
    places.map((at) => ({
      kind: 'flat' as const,
      origin: middle.map((m, a) => (a === axis ? at : m)) as [number, number, number],
      normal: [0, 1, 2].map((a) => (a === axis ? 1 : 0)) as [number, number, number],
    })),
  );
  const plan: Plan = parsePlan({ ...bare, seams: seams.map((s, i) => ({ id: `s${i + 1}`, ...s })) });
  return figuresOf(evaluateModel(plan, model, { fallback, kernel }));
}

/** What seating makes of a proposal: faces, those that stay bare, and stop findings. */
function seatedOn(plan: Plan, model: Model, evaluation: Evaluation): { faces: number; bare: number; stops: number } {
  const { joints, notes } = seatJoints(plan, evaluation);
  const after = evaluateModel(parsePlan({ ...plan, joints }), model, { fallback, kernel });
  return {
    faces: notes.length,
    bare: notes.filter((n) => n.joints.length === 0).length,
    stops: after.findings.filter((f) => f.severity === 'stop').length,
  };
}

function row(sample: Sample, effort: number): Row {
  const mesh = sample.make();
  const model = modelOf(bodiesOf(modelOfMeshes([mesh]), sample.name));
  const grid = gridOf(model);
  const mirror = args.includes('--symmetric') ? mirrorOf(mirrorPlane([mesh])) : null;
  const start = performance.now();
  let first = 0;
  const { figures, unlike, plan, evaluation } = proposeSeams(
    bare,
    model,
    { printers: [bare.printer], wishes: EVEN_WISHES, jointRoom: JOINT_ROOM, keep: 'all', effort, mirror, seed: 0 },
    { fallback, kernel },
    ({ answered }) => {
      if (answered && first === 0) first = performance.now();
      return true;
    },
  );
  const end = performance.now();
  const seated = args.includes('--seat') ? seatedOn(plan, model, evaluation) : null;
  return {
    seated,
    name: sample.name,
    kind: sample.kind,
    triangles: mesh.tags.length,
    grid,
    search: figures,
    unlike,
    firstSeconds: ((first || end) - start) / 1000,
    seconds: (end - start) / 1000,
  };
}

function median(list: readonly number[]): number {
  const sorted = [...list].sort((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)];
}

const effort = Number(args.find((a) => a.startsWith('--effort='))?.slice(9) ?? 0);
const wanted = args.find((a) => !a.startsWith('--'));
await loadSimplifier();
const rows: Row[] = [];
for (const sample of CORPUS) {
  if (wanted && sample.kind !== wanted && !sample.name.includes(wanted)) continue;
  const r = row(sample, effort);
  rows.push(r);
  const { grid: g, search: s } = r;
  if (!args.includes('--json')) {
    console.log(
      `${r.kind.padEnd(11)} ${r.name.padEnd(18)} ${String(r.triangles).padStart(8)}  pieces ${g.pieces} → ${s.pieces}  slivers ${g.slivers} → ${s.slivers}  too large ${s.pieces - s.fits}  open ${s.pieces - s.closed}  area × ${(s.seamArea / g.seamArea).toFixed(2)}  seen × ${(s.seenLength / g.seenLength).toFixed(2)}  ${r.unlike === null ? '' : `unlike ${r.unlike}  `}${r.seated ? `bare ${r.seated.bare} of ${r.seated.faces}, stops ${r.seated.stops}  ` : ''}first ${r.firstSeconds.toFixed(1)} s  all ${r.seconds.toFixed(1)} s`,
    );
  }
}
const ratio = (of: (f: PartingFigures) => number, list = rows): number =>
  median(list.map((r) => of(r.search) / of(r.grid)));
const limbed = rows.filter((r) => r.kind === 'limbed');
const sum = {
  models: rows.length,
  pieces: ratio((f) => f.pieces),
  piecesLimbed: limbed.length > 0 ? ratio((f) => f.pieces, limbed) : null,
  more: rows.filter((r) => r.search.pieces > r.grid.pieces).map((r) => r.name),
  withSlivers: rows.filter((r) => r.search.slivers > 0).map((r) => r.name),
  tooLarge: rows.filter((r) => r.search.fits < r.search.pieces).map((r) => r.name),
  open: rows.filter((r) => r.search.closed < r.search.pieces).map((r) => r.name),
  seamArea: ratio((f) => f.seamArea),
  seenLength: ratio((f) => f.seenLength),
  bareFaces:
    rows.reduce((n, r) => n + (r.seated?.bare ?? 0), 0) /
    Math.max(
      1,
      rows.reduce((n, r) => n + (r.seated?.faces ?? 0), 0),
    ),
  stops: rows.reduce((n, r) => n + (r.seated?.stops ?? 0), 0),
  seconds: median(rows.map((r) => r.seconds)),
};
console.log(args.includes('--json') ? JSON.stringify({ rows, sum }) : sum);
