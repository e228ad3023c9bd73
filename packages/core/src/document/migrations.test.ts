import { readdirSync, readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { migrated, PLAN_VERSION } from './migrations.ts';
import { checkPlan, parsePlan } from './schema.ts';

const folder = new URL('./fixtures/', import.meta.url);
const fixtures = new Map(
  readdirSync(folder).map((name) => [
    Number(/^plan-(\d+)\.json$/.exec(name)![1]),
    JSON.parse(readFileSync(new URL(name, folder), 'utf8')) as Record<string, unknown>,
  ]),
);

describe('migrations', () => {
  it('have a document of every earlier version to show for', () => {
    expect([...fixtures.keys()].sort()).toEqual(Array.from({ length: PLAN_VERSION - 1 }, (_, i) => i + 1));
  });

  it.each([...fixtures])('open a document of version %i, and lose nothing of it', (version, old) => {
    expect(old.version).toBe(version);
    const before = structuredClone(old);
    const plan = parsePlan(old);
    expect(plan.version).toBe(PLAN_VERSION);
    expect(old).toEqual(before);
    // what was said in the old document is said in the new one, but for what was renamed
    const said = JSON.parse(
      JSON.stringify(old)
        .replace('"kind":"fit"', '"kind":"tailor"')
        .replace(/(?<!"pose":\{)"up":(\[[^\]]*\])/, '"pose":{"up":$1}'),
    ) as object;
    expect(plan).toMatchObject({ ...said, version: PLAN_VERSION });
  });

  it('1 to 2: sizing to a wearer is called tailoring; a joint keeps its fit', () => {
    const plan = parsePlan(fixtures.get(1));
    expect(plan.recipe.map((s) => s.kind)).toEqual(['unit', 'tailor', 'turn']);
    expect(plan.joints[0].fit).toBe('snug');
  });

  it('2 to 3: what points up while a piece prints is part of its pose', () => {
    const plan = parsePlan(fixtures.get(2));
    expect(plan.pieces[1]).toMatchObject({ key: 'b1/s1+', pose: { up: [0, 0, -1], spin: 0, by: 'hand' } });
    expect(plan.pieces[0].pose).toBeUndefined();
  });

  it('3 to 4: regions of a seam with a scope are still told apart on the whole body’s section', () => {
    const { seams } = parsePlan(fixtures.get(3));
    expect(seams[2]).toMatchObject({ scope: ['b1/s1-'], regions: { mode: 'only', seeds: [[1, 2]], of: 'body' } });
    const now = parsePlan({ ...fixtures.get(3), version: 4 });
    expect(now.seams[2]).toMatchObject({ regions: { mode: 'only', seeds: [[1, 2]] } });
    expect(now.seams[2]).not.toHaveProperty('regions.of');
  });

  it('leave today’s documents as they are, and whatever else for the schema to refuse', () => {
    const plan = parsePlan(fixtures.get(1));
    expect(migrated(plan)).toBe(plan);
    fc.assert(
      fc.property(fc.oneof(fc.jsonValue(), fc.record({ version: fc.integer(), recipe: fc.jsonValue() })), (input) => {
        expect(() => migrated(input)).not.toThrow();
        expect(checkPlan(input).plan).toBeNull();
      }),
    );
  });

  it('a newer one is refused, saying so', () => {
    const newer = { ...fixtures.get(1), version: PLAN_VERSION + 3 };
    expect(() => parsePlan(newer)).toThrow(
      `This plan was written by a newer Gephyra (its form is version ${PLAN_VERSION + 3}; up to ${PLAN_VERSION} can be read here). Open it with that one.`,
    );
    expect(checkPlan(newer).issues[0].path).toBe('version');
  });
});
