import {
  computeProject,
  faceName,
  finishedUnless,
  GephyraError,
  kernelTriangulator,
  mirrorIn,
  mirrorSearch,
  parsePlan,
  planSchema,
  seatJoints,
} from '@gephyra/core';
import type { Arguments } from './arguments.ts';
import { writeText } from './files.ts';
import { limitOf } from './limit.ts';
import { planProject } from './plan-project.ts';

/**
 * Seats joints on all mating faces that have none, and writes the plan with them. Says of every face what it got and why,
 * or what would help. Exit code 2 when the plan has stop findings.
 */
export async function seat({ words, flags }: Arguments): Promise<number> {
  const model = flags.get('model');
  const out = flags.get('out');
  if (words.length !== 1 || !model || !out) {
    throw new GephyraError('usage', 'Say seat PLAN.json --model FILE --out PLAN2.json.');
  }
  const limit = limitOf(flags);
  const { plan, shaped, kernel, project } = await planProject(words[0], model);
  const { evaluation: e } = project;
  const start = performance.now();
  const mirror = mirrorIn(finishedUnless(mirrorSearch(shaped.bodies.map((b) => b.mesh)), limit.enough));
  const seating = seatJoints(plan, e, { mirror }, () => !limit.enough());
  const seconds = (performance.now() - start) / 1000;
  const next = parsePlan({
    ...plan,
    anchors: e.anchors,
    codes: e.codes,
    contacts: e.contacts,
    joints: [...plan.joints, ...seating.joints],
  });
  const { stops } = computeProject(next, shaped, { fallback: kernelTriangulator(kernel), kernel });
  await writeText(out, `${JSON.stringify(planSchema.parse(next), null, 2)}\n`);
  const result = {
    plan: out,
    seated: seating.joints.length,
    faces: seating.notes.map(({ face, joints, why, help }) => ({ face, joints, why, ...(help && { help }) })),
    stops: stops.map(({ code, where, message }) => ({ code, where, message })),
    seconds,
  };
  if (flags.has('json')) console.log(JSON.stringify(result));
  else {
    for (const f of result.faces) console.log(`${faceName(e, f.face)}: ${f.why}${f.help ? ` ${f.help}` : ''}`);
    for (const s of stops) console.log(`stop: ${s.message}`);
    console.log(`${result.seated} joints on ${result.faces.length} faces. The plan is in ${out}.`);
  }
  return stops.length > 0 ? 2 : 0;
}
