import {
  type Assembly,
  Blocking,
  checkOrder,
  computeProject,
  finished,
  GephyraError,
  holdWords,
  kernelTriangulator,
  type Order,
  overlapsAtRest,
  parsePlan,
  planSchema,
  proposeOrder,
} from '@gephyra/core';
import type { Arguments } from './arguments.ts';
import { writeText } from './files.ts';
import { type PlanProject, planProject } from './plan-project.ts';

/** A plan's project with the order it has, or else one that is found; each step checked. */
export function ordered(given: PlanProject): PlanProject & { assembly: Assembly; order: Order | null } {
  const { plan, shaped, kernel, project } = given;
  if (plan.order) return { ...given, order: null, assembly: assembled(given) };
  const order = finished(proposeOrder(project.evaluation, plan.seams, new Blocking(project.evaluation)));
  const { anchors, codes, contacts } = project.evaluation;
  const next = parsePlan({ ...plan, anchors, codes, contacts, order: order.steps });
  const after = {
    ...given,
    plan: next,
    project: computeProject(next, shaped, { fallback: kernelTriangulator(kernel), kernel }),
  };
  return { ...after, order, assembly: assembled(after) };
}

const assembled = ({ plan, project: { evaluation } }: PlanProject): Assembly =>
  finished(checkOrder(plan, evaluation, new Blocking(evaluation)));

/**
 * Says the order of joining step by step: what comes to what, which way, how far, and what is in its way. A plan without an order gets
 * one, which --out writes. Exit code 2 when a step is blocked or pieces lock each other.
 */
export async function order({ words, flags }: Arguments): Promise<number> {
  const model = flags.get('model');
  const out = flags.get('out');
  if (words.length !== 1 || !model) {
    throw new GephyraError('usage', 'Say order PLAN.json --model FILE [--out PLAN2.json].');
  }
  const given = await planProject(words[0], model);
  const began = performance.now();
  const { plan, project, assembly, order: proposed } = ordered(given);
  const seconds = (performance.now() - began) / 1000;
  const codes = new Map(project.evaluation.pieces.map((p) => [p.key, p.code]));
  const codeOf = (key: string): string => codes.get(key) ?? key;
  if (out) await writeText(out, `${JSON.stringify(planSchema.parse(plan), null, 2)}\n`);
  const steps = assembly.steps.map((s) => ({
    parts: s.parts.map((p) => p.map(codeOf)),
    out: s.out,
    travel: s.travel,
    area: s.area,
    minutes: s.minutes,
    blocked: s.blockers.map((b) => ({ comes: codeOf(b.comes), stays: codeOf(b.stays), why: holdWords(b.hold) })),
  }));
  const locked = (proposed?.locked ?? []).map((l) => ({ pieces: l.pieces.map(codeOf), pair: l.pair.map(codeOf) }));
  const overlaps = finished(overlapsAtRest(project.evaluation, given.kernel)).map(({ pieces, volume }) => ({
    pieces: pieces.map(codeOf),
    volume,
  }));
  const blocked = steps.filter((s) => s.blocked.length > 0).length;
  if (flags.has('json'))
    console.log(JSON.stringify({ steps, blocked, locked, overlaps, proposed: proposed !== null, seconds }));
  else {
    steps.forEach((s, i) => {
      const [last, ...rest] = [...s.parts].reverse();
      const way = s.out.map((x) => x.toFixed(3)).join(' ');
      console.log(
        `${i + 1}. ${last.join(' ')} to ${rest
          .reverse()
          .map((p) => p.join(' '))
          .join(' and ')}: off along ${way}, ${s.travel.toFixed(1)} mm`,
      );
      for (const b of s.blocked) console.log(`   blocked: ${b.comes}, ${b.stays}: ${b.why}`);
    });
    for (const l of locked)
      console.log(`locked: ${l.pair.join(' and ')} hold each other whichever way they are drawn.`);
    for (const o of overlaps)
      console.log(`${o.pieces.join(' and ')} are in each other by ${o.volume.toFixed(0)} mm³ where they belong.`);
    console.log(`${steps.length} steps, ${blocked} blocked.`);
  }
  return blocked + locked.length > 0 ? 2 : 0;
}
