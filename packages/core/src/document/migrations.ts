/** The version of plan documents that is written. A change of the document's form makes a new one, with a step from the last. */
export const PLAN_VERSION = 2;

type Doc = Readonly<Record<string, unknown>>;

const isDoc = (x: unknown): x is Doc => typeof x === 'object' && x !== null && !Array.isArray(x);
const list = (x: unknown): readonly unknown[] => (Array.isArray(x) ? x : []);

/** By the version that it takes: what makes the next of it. Each is pure, and leaves alone what it does not know. */
const STEPS: Readonly<Record<number, (plan: Doc) => Doc>> = {
  // a fit is how tightly a joint's halves sit, and nothing else: sizing to a wearer is tailoring
  1: (plan) => ({
    ...plan,
    ...('recipe' in plan && {
      recipe: Array.isArray(plan.recipe)
        ? list(plan.recipe).map((s) => (isDoc(s) && s.kind === 'fit' ? { ...s, kind: 'tailor' } : s))
        : plan.recipe,
    }),
  }),
};

/** The version a document says it has; null when it says none. */
export const versionOf = (input: unknown): number | null =>
  isDoc(input) && Number.isInteger(input.version) ? (input.version as number) : null;

/**
 * A plan document of any earlier version as today's. One that is no document of an earlier version comes back as it is, for
 * the schema to judge.
 */
export function migrated(input: unknown): unknown {
  let plan = input;
  for (let v = versionOf(plan); v !== null && v >= 1 && v < PLAN_VERSION; v = versionOf(plan)) {
    plan = { ...STEPS[v](plan as Doc), version: v + 1 };
  }
  return plan;
}
