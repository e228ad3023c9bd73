import {
  applyRecipe,
  bodiesOf,
  boxOf,
  concatenate,
  type IndexedMesh,
  isClosed,
  type Kernel,
  kernelStatus,
  modelOf,
  sizeOf,
  stepSchema,
  twoSidedDistance,
  volume,
} from '@gephyra/core';
import { DAMAGES, damaged, random } from '../packages/core/testing/defects.ts';
import { modelOfMeshes } from '../packages/core/testing/models.ts';
import { blob, torus } from '../packages/core/testing/shapes.ts';
import type { Row } from './measure.ts';

const CASES = 500;

/** Damages closed models in 500 ways, each kind on its own and in mixtures, mends them, and counts what came out whole. */
export function benchMend(kernel: Kernel): Row[] {
  const { vertProperties, triVerts } = kernel.Manifold.cube([60, 40, 30], true)
    .subtract(kernel.Manifold.cylinder(50, 10, 10, 24).translate([0, 0, -25]))
    .refine(6)
    .getMesh();
  const shapes: IndexedMesh[] = [
    blob(30, 36, 100, (a, z) => 40 + 6 * Math.sin(3 * a) + 5 * Math.cos(4 * z)),
    torus(40, 64, 30, (a) => 12 + 2 * Math.sin(4 * a)),
    { positions: Float64Array.from(vertProperties), triangles: triVerts, tags: new Uint32Array(triVerts.length / 3) },
  ];
  const kinds = Object.keys(DAMAGES);
  const next = random(7);
  const outcomes = new Map<string, number>();
  for (let i = 0; i < CASES; i++) {
    const shape = shapes[i % shapes.length];
    const single = i < kinds.length * shapes.length;
    const count = single ? 1 : 1 + Math.floor(next() * 4);
    const chosen = single
      ? [kinds[Math.floor(i / shapes.length)]]
      : Array.from({ length: count }, () => kinds[Math.floor(next() * kinds.length)]);
    const outcome = outcomeOf(kernel, shape, damaged(shape, chosen, 1000 + i));
    outcomes.set(outcome, (outcomes.get(outcome) ?? 0) + 1);
  }
  const good = outcomes.get('whole') ?? 0;
  const rest = [...outcomes].filter(([k]) => k !== 'whole').map(([k, n]) => `${n} ${k}`);
  return [
    {
      what: `${CASES} damaged models of ${kinds.length} kinds of damage, mended`,
      measured: `${((good / CASES) * 100).toFixed(1)} % whole${rest.length > 0 ? ` (${rest.join(', ')})` : ''}`,
      wanted: '98 %, none passed off',
      ok: good >= CASES * 0.98 && !outcomes.has('passed off'),
    },
  ];
}

function outcomeOf(kernel: Kernel, original: IndexedMesh, bad: IndexedMesh): string {
  const found = bodiesOf(modelOfMeshes([bad]), 'prop');
  const { bodies } = applyRecipe([stepSchema.parse({ kind: 'mend' })], modelOf(found), { tools: { kernel } });
  if (bodies.some((b) => !isClosed(b))) return 'open, and said so';
  if (bodies.some((b) => kernelStatus(kernel, b.mesh) !== 'NoError')) return 'passed off';
  const whole = concatenate(bodies.map((b) => b.mesh));
  if (Math.abs(volume(whole) / volume(original) - 1) > 0.01) return 'of another volume';
  const size = Math.hypot(...sizeOf(boxOf(original.positions)));
  return twoSidedDistance(original, whole) > size * 0.005 ? 'farther than 0.5 %' : 'whole';
}
