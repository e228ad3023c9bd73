import { type Body, bodiesOfMesh } from '../body/index.ts';
import { boxOf, concatenate, type IndexedMesh, sizeOf } from '../mesh/index.ts';

/**
 * Changes the surfaces of some bodies together, and sorts what comes out into bodies again: each gets the id and name of the
 * body that most of its triangles come from; where several come from one, the largest keeps them and others get a number.
 *
 * While the change is made, tags say owner and paint at once: owner · paints + paint.
 */
export function regrouped(bodies: readonly Body[], change: (mesh: IndexedMesh) => IndexedMesh): Body[] {
  if (bodies.length === 0) return [];
  const paints = 1 + bodies.reduce((n, b) => b.mesh.tags.reduce((m, t) => Math.max(m, t), n), 0);
  const owned = bodies.map((b, i) => ({ ...b.mesh, tags: b.mesh.tags.map((t) => i * paints + t) }));
  const whole = concatenate(owned);
  const changed = change(whole);
  if (changed === whole) return [...bodies];
  const found = bodiesOfMesh(changed).bodies.map((shape) => {
    const votes = new Uint32Array(bodies.length);
    for (const t of shape.mesh.tags) votes[Math.floor(t / paints)]++;
    const owner = votes.indexOf(Math.max(...votes));
    return { shape: { ...shape, mesh: { ...shape.mesh, tags: shape.mesh.tags.map((t) => t % paints) } }, owner };
  });
  const size = (mesh: IndexedMesh): number => Math.hypot(...sizeOf(boxOf(mesh.positions)));
  const out: Body[] = [];
  bodies.forEach((body, i) => {
    const own = found.filter((f) => f.owner === i).sort((a, b) => size(b.shape.mesh) - size(a.shape.mesh));
    own.forEach(({ shape }, k) => {
      out.push({
        ...body,
        ...shape,
        id: k === 0 ? body.id : `${body.id}-${k + 1}`,
        name: k === 0 ? body.name : `${body.name} ${k + 1}`,
      });
    });
  });
  return out;
}

/** The connected solids of a body, each a body; the largest keeps its id. */
export const inSolids = (body: Body): Body[] => regrouped([body], (mesh) => ({ ...mesh }));
