import { expect } from 'vitest';
import { type Frame, fromFrame } from '../src/cut/index.ts';
import type { Evaluation } from '../src/evaluate/model.ts';
import { pieceMesh } from '../src/evaluate/piece-mesh.ts';
import { toPrintable } from '../src/formats/index.ts';
import type { Stack } from '../src/joints/index.ts';
import type { PlacedJoint } from '../src/mating/model.ts';
import { type IndexedMesh, ringMesh, topology } from '../src/mesh/index.ts';
import type { MatingFace } from '../src/seams/model.ts';
import { toKernel } from '../src/solid/index.ts';
import { judge, kernel } from './judges.ts';

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

/**
 * What seated joints must be: without a stop, all built, at least `least` mm of wall left round every socket by the kernel's
 * own distance to the outside of the model, pieces that are closed and that the kernel takes, and none reaching into another.
 */
export function soundJoints(e: Evaluation, model: IndexedMesh, least: number): void {
  expect(e.findings.filter((f) => f.severity === 'stop' && f.where.joint)).toEqual([]);
  expect(e.joints.filter((j) => !j.built)).toEqual([]);
  const skin = toKernel(kernel, model);
  const outside = kernel.Manifold.cube([1900, 1900, 1900], true).subtract(skin);
  for (const j of e.joints) {
    for (const key of [j.male!, j.socket!]) {
      for (const socket of halvesIn(e, j, key).taken) {
        expect(socket.minGap(outside, 5)).toBeGreaterThan(least - 0.02);
        socket.delete();
      }
    }
  }
  const solids = new Map(
    e.pieces.map((p) => {
      const { mesh } = pieceMesh(p);
      expect(topology(mesh).watertight).toBe(true);
      expect(judge(toPrintable(mesh).mesh).status).toBe('NoError');
      return [p.key, toKernel(kernel, mesh)] as const;
    }),
  );
  for (const f of e.faces) {
    const [a, b] = f.pieces.map((key) => solids.get(key)!);
    expect(a.intersect(b).volume()).toBeLessThan(f.area * 1e-6 * 400);
  }
  for (const solid of [skin, outside, ...solids.values()]) solid.delete();
}

/** A printed rod in its assembled place, on the model. */
export function rodInPlace(placed: PlacedJoint, face: MatingFace): IndexedMesh | null {
  const { rod } = placed.form;
  if (!rod) return null;
  const { frame } = face;
  const rings = rod.map(({ loop, height }) =>
    Array.from({ length: loop.length / 2 }, (_, i) =>
      fromFrame(frame, loop[i * 2], loop[i * 2 + 1], height * placed.direction),
    ),
  );
  return ringMesh(placed.direction > 0 ? rings : [...rings].reverse());
}
