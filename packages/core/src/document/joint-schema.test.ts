import { describe, expect, it } from 'vitest';
import { flat, printer } from '../../testing/plans.ts';
import { type Joint, jointSchema } from './joint-schema.ts';
import { checkPlan } from './schema.ts';

const at = { id: 'j1', seam: 's1', at: [0, 0] };
const least: Record<Joint['kind'], object> = {
  pin: { kind: 'pin', diameter: 6, depth: 5 },
  key: { kind: 'key', width: 10, depth: 6 },
  cone: { kind: 'cone', diameter: 6 },
  dowel: { kind: 'dowel', diameter: 8, depth: 12 },
  snap: { kind: 'snap', diameter: 8, depth: 16 },
  magnet: { kind: 'magnet', diameter: 6, thickness: 2 },
  lap: { kind: 'lap', lip: 1.2, depth: 4 },
};

describe('a joint of the plan', () => {
  it('of every kind needs only its sizes and its place', () => {
    for (const [kind, sizes] of Object.entries(least)) {
      expect(jointSchema.parse({ ...at, ...sizes })).toMatchObject({
        kind,
        fit: 'slip',
        male: '-',
        depthGap: 0.3,
        mouth: 0,
        turn: 0,
        enabled: true,
      });
    }
  });

  const refused: [Joint['kind'], object, string][] = [
    ['pin', { chamfer: 3 }, 'chamfer'],
    ['pin', { depth: 0.1 }, 'depth'],
    ['pin', { socketDepth: 4 }, 'socketDepth'],
    ['pin', { shape: 'star' }, 'shape'],
    ['pin', { gap: -0.1 }, 'gap'],
    ['pin', { gap: 0.2, fit: 'tight' }, 'fit'],
    ['pin', { lean: [0, 0, 0] }, 'lean'],
    ['pin', { width: 4 }, 'joints[0]'],
    ['key', { taper: 0.5, depth: 12 }, 'taper'],
    ['key', { taper: 1 }, 'taper'],
    ['key', { socketDepth: 2 }, 'socketDepth'],
    ['cone', { slope: 0.2 }, 'slope'],
    ['dowel', { depths: [5, 0] }, 'depths'],
    ['dowel', { stock: 'bone' }, 'stock'],
    ['snap', { slot: 5 }, 'slot'],
    ['snap', { barb: 1.7 }, 'barb'],
    ['magnet', { poles: ['n', 'x'] }, 'poles'],
    ['lap', { lean: [0, 0.2, 1] }, 'lean'],
    ['lap', { edge: 'middle' }, 'edge'],
  ];
  it.each(refused)('%s with %o is refused, by its path', (kind, more, path) => {
    const joints = [{ ...at, ...least[kind], ...more }];
    const { plan, issues } = checkPlan({ version: 2, printer, seams: [flat('s1', [0, 0, 0], [0, 0, 1])], joints });
    expect(plan).toBeNull();
    expect(issues[0].path).toContain(path);
    expect(issues[0].message.length).toBeGreaterThan(8);
  });

  it('lies on a seam or a contact that the plan has', () => {
    const contact = { id: 'c1', bodies: ['b1', 'b2'], origin: [0, 0, 0], normal: [0, 0, 1] };
    const joints = [{ ...at, ...least.pin, seam: 'c1' }];
    expect(checkPlan({ version: 2, printer, contacts: [contact], joints }).issues).toEqual([]);
    const [issue] = checkPlan({ version: 2, printer, joints }).issues;
    expect(issue).toEqual({ path: 'joints[0].seam', message: 'there is no seam “c1”' });
  });
});
