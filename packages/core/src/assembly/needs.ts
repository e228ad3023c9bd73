import type { Evaluation } from '../evaluate/index.ts';
import type { AssemblyStep } from './model.ts';

type Joint = Pick<Evaluation['joints'][number], 'id' | 'kind'>;
type Loose = Pick<Evaluation['loose'][number], 'what' | 'length' | 'joints' | 'count'>;

/** What a step has of joints, by kind, and what is put in: how many of each, with lengths in mm. */
export interface StepNeeds {
  readonly kinds: readonly { readonly kind: Joint['kind']; readonly count: number }[];
  readonly loose: readonly { readonly what: string; readonly length: number | null; readonly count: number }[];
}

export function needsOf(
  step: Pick<AssemblyStep, 'joints'>,
  joints: readonly Joint[],
  loose: readonly Loose[],
): StepNeeds {
  const own = joints.filter((j) => step.joints.includes(j.id));
  const kinds = [...new Set(own.map((j) => j.kind))];
  return {
    kinds: kinds.map((kind) => ({ kind, count: own.filter((j) => j.kind === kind).length })),
    loose: loose.flatMap(({ what, length, joints: of, count }) => {
      const here = Math.round((of.filter((j) => step.joints.includes(j)).length * count) / of.length);
      return here > 0 ? [{ what, length, count: here }] : [];
    }),
  };
}
