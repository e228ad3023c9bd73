import { stepWords } from '../assembly/index.ts';
import type { Plan } from '../document/index.ts';
import type { Evaluation } from '../evaluate/index.ts';
import { bedName } from '../laying/index.ts';
import { joiningSteps } from '../mating/index.ts';
import { nextAtBench } from './next.ts';
import { copiesOf, isJoined, isPrinted, progressOf } from './progress.ts';

/** Where the build of a plan stands, in short. */
export interface Bench {
  readonly copies: number;
  readonly printed: number;
  readonly joined: number;
  /** what comes next, in words; empty when nothing does */
  readonly next: string;
}

/** Where the build stands; null while nothing was noted of it. */
export function benchOf(plan: Plan, { pieces, faces }: Evaluation): Bench | null {
  if (!plan.log || plan.log.length === 0) return null;
  const notes = new Map(plan.pieces.map((p) => [p.key, p]));
  const made = pieces.filter((p) => !p.aside).map(({ key }) => ({ key, copies: notes.get(key)?.copies ?? 1 }));
  const progress = progressOf(plan.log, copiesOf(made));
  const steps = joiningSteps(faces, plan.seams, plan.order).map((s) => ({ parts: s.groups }));
  const [next] = nextAtBench(plan, progress, steps);
  const codeOf = (key: string): string => pieces.find((p) => p.key === key)?.code ?? key;
  const wordsOf = (): string => {
    if (!next) return '';
    if (next.do === 'join') return `join ${stepWords(next.parts, codeOf)}`;
    return `print ${bedName(plan.beds.find((b) => b.id === next.bed)!, plan.beds)}`;
  };
  return {
    copies: progress.length,
    printed: progress.filter((p) => isPrinted(p.state)).length,
    joined: progress.filter((p) => isJoined(p.state)).length,
    next: wordsOf(),
  };
}
