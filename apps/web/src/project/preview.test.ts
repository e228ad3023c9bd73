import { parsePlan } from '@gephyra/core';
import { describe, expect, it } from 'vitest';
import { previewed } from './preview.ts';

const plan = parsePlan({
  version: 5,
  printer: { size: [200, 200, 200] },
  recipe: [{ id: 'r1', kind: 'wall', thickness: 3 }],
});

describe('a step that is tried', () => {
  it('is in the plan that is shown, where it will be, and not in the one that is saved', () => {
    const { plan: shown, fault } = previewed(plan, { kind: 'scale', factor: 2 });
    expect(fault).toBeNull();
    // a new size goes before walls, which are made at the size the model has then
    expect(shown.recipe.map((s) => s.kind)).toEqual(['scale', 'wall']);
    expect(plan.recipe).toHaveLength(1);
  });

  it('that cannot be is told, and the plan is shown as it is', () => {
    const { plan: shown, fault } = previewed(plan, { kind: 'scale', factor: -1 });
    expect(shown).toBe(plan);
    expect(fault).toMatch(/factor/);
  });

  it('shows the plan itself when there is none', () => {
    expect(previewed(plan, null)).toEqual({ plan, fault: null });
  });
});
