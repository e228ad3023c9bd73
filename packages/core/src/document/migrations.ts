/** The version of plan documents that is written. A change of the document's form makes a new one, with a step from the last. */
export const PLAN_VERSION = 5;

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
  // what points up while a piece prints is part of its pose
  2: (plan) => ({
    ...plan,
    ...(Array.isArray(plan.pieces) && {
      pieces: plan.pieces.map((p: unknown) => {
        if (!isDoc(p) || !('up' in p)) return p;
        const { up, ...rest } = p;
        return { ...rest, pose: { up } };
      }),
    }),
  }),
  // the regions of a seam that is meant for some pieces were told apart on the whole body's section; now on those pieces' own
  3: (plan) => ({
    ...plan,
    ...(Array.isArray(plan.seams) && {
      seams: plan.seams.map((s: unknown) =>
        isDoc(s) && 'scope' in s && isDoc(s.regions) ? { ...s, regions: { ...s.regions, of: 'body' } } : s,
      ),
    }),
  }),
  // the order of joining is new
  4: (plan) => plan,
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
