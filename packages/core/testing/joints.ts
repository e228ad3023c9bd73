import { type Frame, fromFrame } from '../src/cut/index.ts';
import type { Stack } from '../src/joints/index.ts';
import type { Evaluation, PlacedJoint } from '../src/plan/index.ts';
import { kernel } from './judges.ts';

type Solid = ReturnType<typeof kernel.Manifold.hull>;

/** A stack as the kernel makes it: hulls of its rings two by two, joined. `direction`: +1 along the frame's normal. */
export function stackSolid(stack: Stack, frame: Frame, direction: number): Solid {
  const points = stack.rings.map(({ loop, height }) =>
    Array.from(
      { length: loop.length / 2 },
      (_, i) => [...fromFrame(frame, loop[i * 2], loop[i * 2 + 1], height * direction)] as [number, number, number],
    ),
  );
  const slabs = points.slice(1).map((ring, i) => kernel.Manifold.hull([...points[i], ...ring]));
  return slabs.reduce((sum, s) => sum.add(s));
}

/** The solid of a joint's halves in a piece: what is added to it and what is taken away. */
export function halvesIn(e: Evaluation, joint: PlacedJoint, piece: string): { added: Solid[]; taken: Solid[] } {
  const face = e.faces.find((f) => f.id === joint.face)!;
  const side = face.pieces.indexOf(piece);
  const own = joint.male === piece;
  const solids = (own ? joint.form.own : joint.form.other).map((stack) => ({
    stack,
    solid: stackSolid(stack, face.frames[side], stack.kind === 'male' || !own ? joint.direction : -joint.direction),
  }));
  return {
    added: solids.filter((s) => s.stack.kind === 'male').map((s) => s.solid),
    taken: solids.filter((s) => s.stack.kind !== 'male').map((s) => s.solid),
  };
}
