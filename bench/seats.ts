import {
  bodiesOf,
  type Evaluation,
  evaluateModel,
  jointSchema,
  type Kernel,
  kernelTriangulator,
  measureJoint,
  modelOf,
  type Plan,
  parsePlan,
  poleOf,
  roomField,
  type SeamInput,
  seatJoints,
  stripOf,
  wallLimits,
} from '@gephyra/core';
import { anchorInOne, hoop, lantern, visor } from '../demo/models.ts';
import { random } from '../packages/core/testing/defects.ts';
import { modelOfMeshes } from '../packages/core/testing/models.ts';
import { blob, box, torus } from '../packages/core/testing/shapes.ts';
import type { Row } from './measure.ts';

type Mesh = ReturnType<typeof box>;

const LARGE = 1000;

/** Whether a small pin, tried all over a face, would hold anywhere: what seating should have found. */
function couldTakeOne(e: Evaluation, plan: Plan, face: Evaluation['faces'][number]): boolean {
  const { warn } = wallLimits(plan.printer);
  const place = e.context.places.get(face.plane)!;
  const field = roomField(face.region, Math.max(1, poleOf(face.region).distance / 8), 60);
  const taken = new Map<string, never[]>();
  for (let j = 0; j < field.height; j++) {
    for (let i = 0; i < field.width; i++) {
      if (field.room[j * field.width + i] < 2.5) continue;
      const at = place.toSource([field.u0 + (i + 0.5) * field.cell, field.v0 + (j + 0.5) * field.cell]);
      for (const male of ['+', '-'] as const) {
        const pin = {
          id: 'probe',
          kind: 'pin',
          shape: 'hexagon',
          seam: face.seam,
          at,
          diameter: 3,
          depth: 1.5,
          chamfer: 0.3,
          male,
        };
        const joint = jointSchema.parse({ ...pin, ...(face.part !== undefined && { part: face.part }) });
        const m = measureJoint(joint, e.context, taken)?.measured;
        if (m && m.face.id === face.id && !m.overlap && Math.min(m.edge, m.root, ...m.walls) >= warn) return true;
      }
    }
  }
  return false;
}

/** Seating on the demo's models and forty made ones: large faces left bare, joints as wanted, time. */
export function benchSeats(kernel: Kernel): Row[] {
  const next = random(11);
  const flat = (id: string, origin: number[], normal: number[]): SeamInput =>
    ({ id, kind: 'flat', origin, normal }) as SeamInput;
  const cases: [Mesh, SeamInput[]][] = [lantern(kernel), anchorInOne(kernel), hoop(), visor()].map((m) => [
    { positions: m.positions, triangles: m.triangles, tags: new Uint32Array(m.triangles.length / 3) },
    [flat('s1', [0, 0, 60], [0.1, 0, 1]), flat('s2', [7, 0, 0], [1, 0.05, 0]), flat('s3', [0, 5, 0], [0, 1, 0.1])],
  ]);
  for (let i = 0; i < 40; i++) {
    const waves = 2 + Math.floor(next() * 6);
    const size = 60 + next() * 160;
    const mesh =
      i % 3 === 0
        ? box(
            [-size, -size * (0.3 + next() * 0.7), -size * (0.3 + next() * 0.7)],
            [size, size * 0.8, size * (0.2 + next())],
          )
        : i % 3 === 1
          ? blob(40, 50, size * 3, (a, z) => size + size * 0.15 * Math.sin(waves * a + 3 * z))
          : torus(size * 1.4, 60, 24, (a) => size * (0.3 + 0.1 * Math.sin(waves * a)));
    const tilt = (): number => (next() < 0.4 ? 0 : next() - 0.5);
    cases.push([
      mesh,
      [
        flat('s1', [0, 0, (next() - 0.5) * size], [tilt(), tilt(), 1]),
        flat('s2', [(next() - 0.5) * size, 0, 0], [1, tilt(), tilt()]),
        flat('s3', [0, (next() - 0.5) * size, 0], [tilt(), 1, tilt()]),
      ],
    ]);
  }
  let faces = 0;
  let large = 0;
  let bare = 0;
  let missed = 0;
  let asWanted = 0;
  let ms = 0;
  let evaluated = 0;
  for (const [mesh, seams] of cases) {
    const plan = parsePlan({ version: 5, printer: { size: [220, 220, 250] }, seams });
    const model = modelOf(bodiesOf(modelOfMeshes([mesh]), 'Bench'));
    const before = performance.now();
    const e = evaluateModel(plan, model, { fallback: kernelTriangulator(kernel), kernel });
    evaluated += performance.now() - before;
    const start = performance.now();
    const { notes } = seatJoints(plan, e);
    ms += performance.now() - start;
    for (const face of e.faces) {
      faces++;
      const placed = notes.find((n) => n.face === face.id)!.joints.length;
      const { thickness, length } = stripOf(face.region);
      if (face.area < LARGE || thickness < 7) continue;
      large++;
      const wanted = length > 8 * thickness ? length / 110 : Math.sqrt(face.area / 100) / 3.2;
      if (placed >= Math.max(2, Math.min(6, Math.round(wanted)))) asWanted++;
      if (placed > 0) continue;
      bare++;
      if (couldTakeOne(e, plan, face)) missed++;
    }
  }
  return [
    {
      what: `${faces} faces, ${large} plain ones over 10 cm²: left bare, and of these could take a pin`,
      measured: `${bare}, ${missed}`,
      wanted: 'none that could',
      ok: missed === 0,
    },
    {
      what: 'as many joints as wanted',
      measured: `${((100 * asWanted) / large).toFixed(1)} %`,
      wanted: '98 %',
      ok: asWanted >= 0.98 * large,
    },
    {
      what: 'time to seat them, against evaluating them',
      measured: `${(ms / 1000).toFixed(2)} s, ${(ms / evaluated).toFixed(2)} ×`,
      wanted: 'told',
      ok: true,
    },
  ];
}
