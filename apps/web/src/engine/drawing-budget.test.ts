import { expect, it } from 'vitest';
import { budgetOf, drawingBudget } from './drawing-budget.ts';

it('draws fewer triangles where a processor stands in for the graphics card', () => {
  const card = budgetOf('ANGLE (Maker, Model 12, OpenGL 4.6)');
  for (const name of ['ANGLE (SwiftShader Device (Subzero))', 'llvmpipe (LLVM 15, 256 bits)', 'Basic Render Driver']) {
    const { whole, drawn } = budgetOf(name);
    expect(drawn).toBeLessThan(card.drawn / 2);
    expect(whole).toBeGreaterThan(drawn);
  }
  // where nothing tells, a card is taken for granted
  expect(drawingBudget()).toEqual(card);
});
