import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { flat, printer } from '../../../testing/plans.ts';
import { checkPlan } from '../../document/schema.ts';
import { converted, JOINT_KINDS, type Joint, jointSchema, kindOf, newJoint } from './index.ts';

const at = { id: 'j1', seam: 's1', at: [0, 0] };
const least: Record<Joint['kind'], object> = {
  pin: { kind: 'pin', diameter: 6, depth: 5 },
  key: { kind: 'key', width: 10, depth: 6 },
  cone: { kind: 'cone', diameter: 6 },
  dowel: { kind: 'dowel', diameter: 8, depth: 12 },
  snap: { kind: 'snap', diameter: 8, depth: 16 },
  ball: { kind: 'ball', diameter: 12, neck: 6 },
  hinge: { kind: 'hinge', diameter: 9, length: 27, pin: 3 },
  screw: { kind: 'screw', grip: 4 },
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
    ['screw', { size: 'M7' }, 'size'],
    ['screw', { grip: 0.1 }, 'grip'],
    ['magnet', { poles: ['n', 'x'] }, 'poles'],
    ['lap', { lean: [0, 0.2, 1] }, 'lean'],
    ['lap', { edge: 'middle' }, 'edge'],
  ];
  it.each(refused)('%s with %o is refused, by its path', (kind, more, path) => {
    const joints = [{ ...at, ...least[kind], ...more }];
    const { plan, issues } = checkPlan({ version: 5, printer, seams: [flat('s1', [0, 0, 0], [0, 0, 1])], joints });
    expect(plan).toBeNull();
    expect(issues[0].path).toContain(path);
    expect(issues[0].message.length).toBeGreaterThan(8);
  });

  it('lies on a seam or a contact that the plan has', () => {
    const contact = { id: 'c1', bodies: ['b1', 'b2'], origin: [0, 0, 0], normal: [0, 0, 1] };
    const joints = [{ ...at, ...least.pin, seam: 'c1' }];
    expect(checkPlan({ version: 5, printer, contacts: [contact], joints }).issues).toEqual([]);
    const [issue] = checkPlan({ version: 5, printer, joints }).issues;
    expect(issue).toEqual({ path: 'joints[0].seam', message: 'there is no seam “c1”' });
  });
});

const placed = { id: 'j1', seam: 's1', at: [3, 4] as [number, number] };
const made = JOINT_KINDS.flatMap((kind) =>
  [1.5, 3, 6, 10].map((size) => jointSchema.parse(newJoint(kind, placed, size)) as Joint),
);

describe('a kind of joint', () => {
  it('has usual sizes that the plan takes, and says what they are', () => {
    for (const joint of made) {
      const kind = kindOf(joint);
      expect(kind.title(joint)).toMatch(/\w{3}/);
      expect(kind.sizes(joint)).toMatch(/^(Ø )?[\d.]+( × [\d.]+)?$/);
      expect(kind.male).toMatch(/^[A-Z]/);
      expect(kind.sizeOf(joint)).toBeGreaterThan(0);
    }
    expect(new Set(made.map((j) => j.kind)).size).toBe(JOINT_KINDS.length);
  });

  it('made wider, deeper or thicker is one that the plan takes, and as large as was asked for', () => {
    for (const joint of made) {
      const kind = kindOf(joint);
      for (const fields of [kind.resized(joint, 4), kind.thicker(joint, 0.9).set, kind.angular(joint)?.set]) {
        if (fields) expect(jointSchema.safeParse({ ...joint, ...fields }).success).toBe(true);
      }
      const wider = kind.resized(joint, 4);
      if (wider) expect(kind.sizeOf({ ...joint, ...wider } as Joint)).toBe(4);
      if ('depth' in joint) {
        const deeper = jointSchema.parse({ ...joint, ...kind.deepened(joint, joint.depth + 1) });
        expect(deeper).toMatchObject({ depth: joint.depth + 1 });
      }
    }
  });

  it('tells its sizes as people set them, each within its bounds, and takes what is set', () => {
    for (const joint of made) {
      const fields = kindOf(joint).fields(joint, ['A1', 'A2']);
      expect(new Set(fields.map((f) => f.label)).size).toBe(fields.length);
      for (const field of fields) {
        if (field.as === 'note' || field.as === 'tick') continue;
        const takes = (set: object) => jointSchema.safeParse({ ...joint, ...set }).success;
        const where = [joint.kind, field.label];
        if (field.as === 'choice') {
          expect(field.options.map((o) => o.value)).toContain(field.value);
          expect([...where, takes(field.set(field.value))]).toEqual([...where, true]);
        } else {
          expect([...where, takes(field.set(field.value))]).toEqual([...where, true]);
          expect(field.value).toBeGreaterThanOrEqual(field.least);
          expect(field.value).toBeLessThanOrEqual(field.most);
          for (const end of [field.least, field.most])
            expect.soft([...where, end, takes(field.set(end))]).toEqual([...where, end, true]);
          // its bounds are the schema's, or narrower by its other sizes: beyond them nothing is taken
          const beyond = field.set(field.least - (field.as === 'count' ? 1 : 0.02));
          expect([...where, takes(beyond)]).toEqual([...where, false]);
        }
      }
    }
  });

  it('a deep key made narrower is no deeper than its taper lets it be', () => {
    const key = jointSchema.parse({ ...placed, kind: 'key', width: 39, height: 4, depth: 13 });
    const narrower = jointSchema.parse({ ...key, ...kindOf(key).resized(key, 19.6) });
    expect(narrower).toMatchObject({ width: 19.6, height: 2.01 });
    expect((narrower as { depth: number }).depth).toBeLessThan(13);
  });

  it('becomes another where it is, with all that both have, about as large; back again it has them still', () => {
    const kept = { fit: 'snug', male: '+', turn: 0.5, depthGap: 0.7, mouth: 0.4, gap: 0.11, enabled: false, part: 2 };
    for (const joint of made) {
      for (const kind of JOINT_KINDS) {
        const other = jointSchema.parse(converted({ ...joint, ...kept } as Joint, kind));
        expect(other).toMatchObject({ ...placed, ...kept, kind });
        const [from, to] = [kindOf(joint), kindOf(other)];
        if (from.follows === to.follows && from.sizeOf(joint) >= 5)
          expect(Math.abs(to.sizeOf(other) - from.sizeOf(joint))).toBeLessThan(0.51);
        expect(jointSchema.parse(converted(other, joint.kind))).toMatchObject({ ...placed, ...kept });
      }
    }
    const leaning = jointSchema.parse({ ...newJoint('pin', placed, 6), lean: [0, 0.2, 1] });
    expect(converted(leaning, 'key')).toMatchObject({ lean: [0, 0.2, 1] });
    expect(converted(leaning, 'lap')).not.toHaveProperty('lean');
  });

  it('that stands out has a male half in its form; one that is loose has what is put in', () => {
    const wish = { u: 0, v: 0, turn: 0, lean: [0, 0] as const, gap: 0.2, depthGap: 0.3, mouth: 0 };
    for (const joint of made) {
      const kind = kindOf(joint);
      const form = kind.form(joint, wish);
      if (kind.follows === 'place') expect(form.own.some((s) => s.kind === 'male')).toBe(kind.stands);
      if (!kind.stands) expect(kind.loose(joint, 1, 0.2)).not.toBeNull();
    }
  });
});

// what a new kind touches is its folder and the registry: nobody else asks for a kind by its name
describe('names of kinds', () => {
  const root = fileURLToPath(new URL('../../../../../', import.meta.url));
  const allowed = [/\/joints\/kinds\//, /\/propose\/seat\/specs\.ts$/];
  it('are tested for nowhere but in their folders and in what is seated by itself', () => {
    const names = JOINT_KINDS.join('|');
    // by a test, or by a field of its form that only it has
    const asks = new RegExp(
      `kind\\)? ?[!=]== '(${names})'|case '(${names})'|[fF]orm!?\\.(${names})\\b|\\b(${names})\\?:`,
    );
    const found = ['packages/core/src', 'apps/web/src', 'apps/server/src', 'apps/cli/src'].flatMap((folder) =>
      readdirSync(`${root}${folder}`, { recursive: true, encoding: 'utf8' })
        .filter((f) => /\.tsx?$/.test(f) && !/\.test\./.test(f))
        .map((f) => `${folder}/${f}`)
        .filter((f) => !allowed.some((a) => a.test(f)))
        .filter((f) => asks.test(readFileSync(`${root}${f}`, 'utf8'))),
    );
    expect(found).toEqual([]);
  });
});
