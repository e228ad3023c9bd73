import { type Body, shapeOf } from '../../body/index.ts';
import type { Step } from '../../document/index.ts';
import { concatenate, type IndexedMesh } from '../../mesh/index.ts';
import { oneSidedDistance } from '../../repair/index.ts';
import { bodiesNamed, type Deviation } from '../bodies.ts';
import { regrouped } from '../regroup.ts';
import type { Bench, ChangedMesh, Setting, Work } from './step.ts';

/** Lays out what a step works on. Throws GephyraError `recipe.body` when it names one that is gone. */
export function benchFor(step: Step, setting: Setting): Bench {
  const { state, locked, progress } = setting;
  const named = 'on' in step && step.on ? bodiesNamed(step.on, state.bodies) : null;
  const chosen = named ?? state.bodies.filter((b) => !locked.includes(b.id));
  const others = state.bodies.filter((b) => !chosen.includes(b));
  const inPlace = (bodies: readonly Body[]): readonly Body[] => inOrder(state.bodies, [...others, ...bodies]);
  const surfaces = (what: string, change: (mesh: IndexedMesh) => ChangedMesh): Work => {
    const notes: string[] = [];
    const parts = [...new Set(chosen.map((b) => b.part))];
    const bodies = parts.flatMap((part, i) => {
      progress(i / parts.length, what);
      const own = chosen.filter((b) => b.part === part);
      return regrouped(own, (mesh) => {
        const done = change(mesh);
        notes.push(...(done.notes ?? []));
        return done.mesh;
      });
    });
    progress(0.9, 'Measuring how far the surface has moved');
    const before = concatenate(chosen.map((b) => b.mesh));
    const deviation = bodies.length > 0 ? deviationOf(before, concatenate(bodies.map((b) => b.mesh))) : null;
    return { bodies: inPlace(bodies), notes, deviation };
  };
  const each = (what: string, change: (body: Body, progress: (share: number) => void) => ChangedMesh): Work => {
    const notes: string[] = [];
    const bodies = chosen.map((body, i) => {
      const { mesh, notes: own = [] } = change(body, (share) =>
        progress((i + share * 0.85) / chosen.length, `${what}: ${body.name}`),
      );
      notes.push(...own);
      return { ...body, ...shapeOf(mesh) };
    });
    return { bodies: inPlace(bodies), notes, deviation: null };
  };
  return { ...setting, chosen, inPlace, surfaces, each };
}

const deviationOf = (before: IndexedMesh, after: IndexedMesh): Deviation => ({
  old: oneSidedDistance(before, after),
  added: oneSidedDistance(after, before),
});

/** The bodies as they were ordered before; new ones behind the one they come from. */
export function inOrder(before: readonly Body[], now: readonly Body[]): Body[] {
  const rank = (b: Body): number => {
    const at = before.findIndex((x) => x.id === b.id);
    return at >= 0 ? at : before.findIndex((x) => b.id.startsWith(`${x.id}-`)) + 0.5;
  };
  return [...now].sort((a, b) => rank(a) - rank(b));
}
