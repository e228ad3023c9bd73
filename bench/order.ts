import {
  applyChange,
  Blocking,
  bodiesOf,
  checkOrder,
  evaluateModel,
  finished,
  type Kernel,
  kernelTriangulator,
  modelOf,
  overlapsAtRest,
  parsePlan,
  partsTurned,
  proposeOrder,
  type SeamInput,
  seatJoints,
  writtenOrder,
} from '@gephyra/core';
import { modelOfMeshes } from '../packages/core/testing/models.ts';
import { blob } from '../packages/core/testing/shapes.ts';
import type { Row } from './measure.ts';

/** The order of joining of a large solid in some forty pieces, joints seated: proposed, checked, a step changed. */
export function benchOrder(kernel: Kernel): Row[] {
  const mesh = blob(380, 400, 900, (a, z) => 330 + 25 * Math.sin(5 * a + 3 * z));
  const plane = (origin: [number, number, number], normal: [number, number, number]) =>
    ({ kind: 'flat', origin, normal }) as const;
  const planes = [
    ...[-250, -90, 90, 250].map((z) => plane([0, 0, z], [0, 0, 1])),
    ...[-110, 110].map((x) => plane([x, 0, 0], [1, 0, 0])),
    ...[-110, 110].map((y) => plane([0, y, 0], [0, 1, 0])),
  ];
  const seams: SeamInput[] = planes.map((p, i) => ({ id: `s${i + 1}`, ...p }));
  const tools = { fallback: kernelTriangulator(kernel), kernel };
  const model = modelOf(bodiesOf(modelOfMeshes([mesh]), 'Bench'));
  const timed = <T>(work: () => T): [T, number] => {
    const start = performance.now();
    return [work(), performance.now() - start];
  };
  const bare = parsePlan({ version: 5, printer: { size: [330, 330, 330] }, seams });
  const [evaluation, evaluating] = timed(() => evaluateModel(bare, model, tools));
  const { joints } = seatJoints(bare, evaluation);
  const plan = applyChange(bare, { do: 'addJoints', joints });
  const [e, jointing] = timed(() => evaluateModel(plan, model, tools));
  const blocking = new Blocking(e);
  const [proposed, proposing] = timed(() => finished(proposeOrder(e, plan.seams, blocking)));
  const ordered = parsePlan({ ...plan, order: proposed.steps });
  const [assembly, checking] = timed(() => finished(checkOrder(ordered, e, new Blocking(e))));
  const written = writtenOrder(ordered, assembly.steps);
  const turned = parsePlan({ ...plan, order: partsTurned(written, written[written.length - 3].id) });
  finished(checkOrder(ordered, e, blocking));
  const [, changing] = timed(() => finished(checkOrder(turned, e, blocking)));
  const [overlaps, resting] = timed(() => finished(overlapsAtRest(e, kernel)));
  const row = (what: string, ms: number, wanted: string, ok = true): Row => ({
    what,
    measured: `${(ms / 1000).toFixed(2)} s, ${(ms / (evaluating + jointing)).toFixed(2)} ×`,
    wanted,
    ok,
  });
  const all = `${e.pieces.length} pieces, ${mesh.tags.length} triangles, ${joints.length} joints`;
  return [
    row(
      `${all}: proposed, against evaluating it`,
      proposing,
      'free, 5 s',
      proposed.locked.length === 0 && assembly.findings.length === 0,
    ),
    row('each of its steps checked anew', checking, 'told'),
    row('checked again after one step was turned', changing, '0.3 s'),
    row(`pieces that overlap at rest: ${overlaps.length}`, resting, 'none', overlaps.length === 0),
  ];
}
