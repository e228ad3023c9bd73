import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { fallback } from '../../../testing/judges.ts';
import { printer } from '../../../testing/plans.ts';
import { parsePlan, type Seam } from '../../document/index.ts';
import { type Affine, dot, IDENTITY, topology, volume } from '../../mesh/index.ts';
import { seamSolid } from '../seam-solid.ts';
import { SEAM_KINDS, seamKind, seamSchema } from './index.ts';

const place = { origin: [0, 0, 10] as [number, number, number], normal: [0, 0, 1] as [number, number, number] };
const seams: Record<string, object> = {
  'a plane': { kind: 'flat' },
  'a plane in a box': { kind: 'flat', bound: { min: [-5, -5, 0], max: [5, 5, 20] } },
  'a fan': { kind: 'fan', count: 5 },
  'a ring': { kind: 'ring', radius: 12 },
  'a line': {
    kind: 'profile',
    points: [
      [-30, 0],
      [0, 8],
      [30, 0],
    ],
    curve: 'line',
  },
  'a bent line': {
    kind: 'profile',
    points: [
      [-30, 0],
      [0, 8],
      [30, 0],
    ],
    curve: 'free',
  },
};
const seamOf = (more: object): Seam =>
  parsePlan({ version: 5, printer, seams: [{ id: 's1', ...place, ...more }] as never }).seams[0];
const all = Object.entries(seams).map(([name, more]) => [name, seamOf(more)] as const);
const reach = { min: [-40, -40, 0] as const, max: [40, 40, 30] as const };
const mirrored: Affine = [-2, 0, 0, 0, 0, 2, 0, 0, 0, 0, 2, 0];

describe('a kind of seam', () => {
  it.each(all)('of %s has no plane beyond those it tells of, and a place for each that is flat', (_, seam) => {
    const kind = seamKind(seam);
    const planes = Array.from({ length: kind.planes(seam) }, (_, part) => kind.planeAt(seam, part, IDENTITY));
    expect(planes.every((p) => p === null)).toBe(kind.bent(seam));
    if (kind.way(seam) !== 'plane') expect(kind.planeAt(seam, kind.planes(seam), IDENTITY)).toBeNull();
    for (const p of planes) if (p) expect(Math.hypot(...p.frame.normal)).toBeCloseTo(1, 9);
  });

  it.each(all.filter(([, s]) => seamKind(s).way(s) === 'solid'))(
    'of %s is a closed solid whose flat facets lie in their planes, also on a mirrored model',
    (_, seam) => {
      for (const map of [IDENTITY, mirrored]) {
        const shape = seamKind(seam).shape!(seam, map, reach);
        const { facets } = shape;
        const mesh = seamSolid(shape, map, fallback);
        expect(topology(mesh).watertight).toBe(true);
        expect(volume(mesh)).toBeGreaterThan(0);
        mesh.triangles.forEach((v, h) => {
          const plane = facets[mesh.tags[Math.floor(h / 3)]]?.place.frame;
          if (!plane) return;
          const at = [0, 1, 2].map((a) => mesh.positions[3 * v + a]) as [number, number, number];
          expect(dot(at, plane.normal)).toBeCloseTo(plane.offset, 6);
        });
      }
    },
  );

  it.each(all)('of %s is asked for within what its schema takes, at both ends, whatever the scale', (_, seam) => {
    const takes = (set: object): boolean => seamSchema.safeParse({ ...seam, ...set }).success;
    for (const scale of [0.04, 1, 25.4]) {
      for (const field of seamKind(seam).fields(seam, scale)) {
        if (field.as === 'choice') expect(field.options.every((o) => takes(field.set(o.value)))).toBe(true);
        if (field.as === 'note' || field.as === 'tick' || field.as === 'choice') continue;
        expect(takes(field.set(field.value))).toBe(true);
        for (const end of [field.least, field.most])
          if (Number.isFinite(end)) expect([field.name, end, takes(field.set(end))]).toEqual([field.name, end, true]);
      }
    }
  });

  it('that goes round an axis begins with sizes that its schema takes, of models in metres as of those in micrometres', () => {
    const round = SEAM_KINDS.filter((kind) => seamKind({ kind }).about);
    expect(round.length).toBeGreaterThan(1);
    for (const kind of round) {
      for (const radius of [0.0001, 0.02, 1, 35, 90_000]) {
        const made = seamSchema.safeParse({ id: 's1', ...place, kind, ...seamKind({ kind }).about!(radius) });
        expect([kind, radius, made.success]).toEqual([kind, radius, true]);
      }
    }
  });

  it('is asked for by its name nowhere in the core but in its own file and the record', () => {
    const root = fileURLToPath(new URL('../../', import.meta.url));
    const asks = /\bkind (===|!==) '(fan|ring|profile)'|\bseam\.kind (===|!==)/;
    const found = readdirSync(root, { recursive: true, encoding: 'utf8' })
      .filter((f) => f.endsWith('.ts') && !f.endsWith('.test.ts') && !f.startsWith('document/'))
      .filter((f) => asks.test(readFileSync(root + f, 'utf8')));
    expect(found).toEqual([]);
  });
});
