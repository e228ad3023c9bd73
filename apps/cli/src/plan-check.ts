import { checkPlan, GephyraError } from '@gephyra/core';
import { type Arguments, readInput } from './arguments.ts';

/** Parses JSON, or says where it breaks off. */
export async function readJson(path: string): Promise<unknown> {
  const text = new TextDecoder().decode(await readInput(path));
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new GephyraError('input', `${path} is no JSON: ${(error as Error).message}.`);
  }
}

/** Names what is wrong in a plan, by path, one line each. */
export async function planCheck({ words, flags }: Arguments): Promise<number> {
  const path = flags.get('check');
  if (!path || words.length > 0) throw new GephyraError('usage', 'Say plan --check PLAN.json.');
  const { issues } = checkPlan(await readJson(path));
  if (flags.has('json')) console.log(JSON.stringify({ valid: issues.length === 0, issues }));
  else if (issues.length === 0) console.log('The plan is sound.');
  for (const issue of issues) console.error(`${issue.path}: ${issue.message}`);
  return issues.length === 0 ? 0 : 1;
}
