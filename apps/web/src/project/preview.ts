import { applyChange, type Plan, type StepInput } from '@gephyra/core/plan';

/** The plan that is shown while a step is tried, and why the step cannot be tried; the plan itself stays as it is. */
export function previewed(plan: Plan, step: StepInput | null): { readonly plan: Plan; readonly fault: string | null } {
  if (!step) return { plan, fault: null };
  try {
    return { plan: applyChange(plan, { do: 'addStep', step }), fault: null };
  } catch (error) {
    return { plan, fault: (error as Error).message };
  }
}
