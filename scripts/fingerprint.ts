// What comes out of the demo's plans and of random ones, as hashes: run it before and after a change that should change
// nothing. npm run fingerprint -- --out FILE, then npm run fingerprint -- --against FILE.
import { createHash } from 'node:crypto';
import { readFileSync, writeFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import {
  bodiesOf,
  type ComputedProject,
  computeProject,
  type Evaluation,
  EXPORT_FORMATS,
  type IndexedMesh,
  type PlanInput,
  parsePlan,
  pieceMesh,
  seatJoints,
  shapeProject,
  writeProject,
} from '@gephyra/core';
import { unzipSync } from 'fflate';
import { anchorInOne, hoop, lantern, visor } from '../demo/models.ts';
import { flukePlan, hoopPlan, lanternPlan } from '../demo/seed.ts';
import { random } from '../packages/core/testing/defects.ts';
import { fallback, kernel } from '../packages/core/testing/judges.ts';
import { modelOfMeshes } from '../packages/core/testing/models.ts';
import { randomCase } from '../packages/core/testing/random-plans.ts';

const { values } = parseArgs({
  options: {
    out: { type: 'string' },
    against: { type: 'string' },
    count: { type: 'string', default: '40' },
    seed: { type: 'string', default: '20261125' },
  },
});

const hash = (...bytes: (string | NodeJS.ArrayBufferView)[]): string => {
  const h = createHash('sha256');
  for (const b of bytes) h.update(b);
  return h.digest('hex').slice(0, 16);
};

/** Pieces, files in every format, faces, joints and findings of a plan on some surfaces. */
function printOf(meshes: readonly IndexedMesh[], input: PlanInput, seat: boolean): Record<string, unknown> {
  const plan = parsePlan(input);
  const source = bodiesOf(modelOfMeshes(meshes), 'Test');
  const model = shapeProject(plan, source, kernel);
  const project = computeProject(plan, model, { fallback, kernel });
  const { evaluation: e } = project;
  const out: Record<string, unknown> = { ...evaluated(e), files: filesOf(project) };
  if (seat) {
    const { joints, notes } = seatJoints(plan, e);
    const next = parsePlan({ ...plan, anchors: e.anchors, contacts: e.contacts, joints: [...plan.joints, ...joints] });
    const after = computeProject(next, model, { fallback, kernel });
    Object.assign(out, { seated: { chosen: joints, notes, ...evaluated(after.evaluation), files: filesOf(after) } });
  }
  return out;
}

const evaluated = (e: Evaluation) => ({
  pieces: e.pieces.map((p) => {
    const { mesh, tags, paint } = pieceMesh(p);
    const { within, axes, over } = p.build;
    return [
      `${p.code} ${p.name} ${p.key}`,
      p.volume,
      p.joints.join(),
      hash(
        mesh.positions,
        mesh.triangles,
        mesh.tags,
        JSON.stringify([tags, paint, { fits: within, axes, over }, p.aside]),
      ),
    ];
  }),
  faces: e.faces.map((f) => [f.id, f.pieces, f.area]),
  joints: e.joints.map((j) => [j.id, j.built, j.face, j.male]),
  ways: hash(JSON.stringify(e.ways)),
  loose: hash(JSON.stringify(e.loose)),
  kept: hash(JSON.stringify([e.anchors, e.contacts])),
  findings: e.findings.map((f) => `${f.severity} ${f.code} ${JSON.stringify(f.where)} ${f.message} ${mendOf(f)}`),
});

const mendOf = ({ mend }: Evaluation['findings'][number]): string =>
  mend ? `${mend.label} ${JSON.stringify(mend.change)}` : '';

function filesOf(project: ComputedProject): unknown {
  const pieces = project.evaluation.pieces.filter((p) => !p.aside);
  if (pieces.length === 0) return [];
  return EXPORT_FORMATS.flatMap((format) =>
    writeProject(project, pieces, 'Bell', format).files.map((f) => [f.name, fileHash(f)]),
  );
}

/** Of an archive its entries, as it holds the time when it was made. */
const fileHash = ({ name, bytes }: { name: string; bytes: Uint8Array }): string =>
  name.endsWith('.3mf') ? hash(...Object.entries(unzipSync(bytes)).flat()) : hash(bytes);

const prints: Record<string, unknown> = {};
const add = (name: string, meshes: readonly IndexedMesh[], plan: PlanInput, seat: boolean): void => {
  try {
    prints[name] = printOf(meshes, plan, seat);
  } catch (error) {
    prints[name] = { refused: String((error as { code?: string }).code ?? error), message: String(error) };
  }
};

const withTags = (m: Pick<IndexedMesh, 'positions' | 'triangles'>): IndexedMesh => ({
  positions: m.positions,
  triangles: m.triangles,
  tags: new Uint32Array(m.triangles.length / 3),
});
const bare = { version: 5, printer: hoopPlan.printer } satisfies PlanInput;
add('lantern', [withTags(lantern(kernel))], lanternPlan, true);
add('fluke', [withTags(anchorInOne(kernel))], flukePlan, true);
add('hoop', [hoop()], hoopPlan, true);
add('visor', [visor()], bare, false);
for (let i = 0; i < Number(values.count); i++) {
  const { meshes, plan } = randomCase(random(Number(values.seed) + i * 7919));
  add(`random ${i}`, meshes, plan, i % 4 === 0);
}

const text = JSON.stringify(prints, null, 1);
if (values.out) writeFileSync(values.out, text);
if (values.against) {
  const before = JSON.parse(readFileSync(values.against, 'utf8')) as Record<string, unknown>;
  const now = JSON.parse(text) as Record<string, unknown>;
  const differ = Object.keys({ ...before, ...now }).filter((k) => JSON.stringify(before[k]) !== JSON.stringify(now[k]));
  for (const name of differ) {
    console.log(`${name} differs`);
    const [a, b] = [before[name], now[name]].map((x) => (JSON.stringify(x, null, 1) ?? '').split('\n'));
    const at = a.findIndex((line, i) => line !== b[i]);
    console.log(`  before: ${a[at]}\n  now:    ${b[at]}`);
  }
  console.log(`${Object.keys(now).length - differ.length} of ${Object.keys(now).length} the same`);
  process.exitCode = differ.length > 0 ? 1 : 0;
}
