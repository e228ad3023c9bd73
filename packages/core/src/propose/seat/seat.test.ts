import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { soundJoints } from '../../../testing/joints.ts';
import { fallback, kernel, meshOfSolid } from '../../../testing/judges.ts';
import { cutBy, fan, flat, printer } from '../../../testing/plans.ts';
import { runs } from '../../../testing/runs.ts';
import { blob, box, moved, torus } from '../../../testing/shapes.ts';
import { cup } from '../../../testing/shells.ts';
import { type Body, bodiesOf } from '../../body/bodies.ts';
import type { FlatRegion } from '../../cut/regions.ts';
import { applyChange } from '../../document/change.ts';
import { wallLimits } from '../../document/limits.ts';
import { type Plan, parsePlan } from '../../document/schema.ts';
import { evaluate } from '../../evaluate/evaluate.ts';
import type { Evaluation } from '../../evaluate/model.ts';
import { readStl, writeStlBinary } from '../../formats/stl.ts';
import { edgeDistance } from '../../joints/room.ts';
import { stripOf } from '../../joints/strip.ts';
import { refitJoints } from '../../mating/refit.ts';
import { loopArea, nearestOnLoop, three, vecOf } from '../../mesh/index.ts';
import type { IndexedMesh } from '../../mesh/types.ts';
import { alongLine, alongWall, evenly } from './arrange.ts';
import { mirroredJoint } from './group.ts';
import { midWall } from './mid-wall.ts';
import { roomField } from './room-field.ts';
import { type SeatWish, seatJoints } from './seat.ts';
import { reflected, symmetryAxis } from './symmetry.ts';

const bodies = (mesh: IndexedMesh): Body[] => [...bodiesOf(readStl(writeStlBinary(mesh, 'x')), 'Test').bodies];
const horn = bodies(blob(30, 40, 300, (a, z) => 70 + 8 * Math.sin(5 * a) + 10 * z));
const hoop = bodies(torus(120, 90, 24, () => 16));
const bowl = bodies(cup(4));

function seated(body: readonly Body[], seams: object[], wish: SeatWish = {}, more: object = {}) {
  const plan = parsePlan({ version: 5, printer, seams, ...more });
  const before = evaluate(plan, body, { fallback });
  const seating = seatJoints(plan, before, wish);
  const furnished: Plan = parsePlan({ ...plan, joints: [...plan.joints, ...seating.joints] });
  return { plan: furnished, seating, e: evaluate(furnished, body, { fallback }) };
}

const scaled = (mesh: IndexedMesh, by: number): IndexedMesh => ({
  ...mesh,
  positions: mesh.positions.map((x) => x * by),
});

/** What is seated by itself is not warned about afterwards. */
function unwarned(e: Evaluation): void {
  const said = e.findings.filter((f) => f.where.joint && f.severity !== 'note').map((f) => f.message);
  expect(said).toEqual([]);
}

const sound = (e: Evaluation, body: readonly Body[], least: number): void => soundJoints(e, body[0].mesh, least);

describe('seating', () => {
  it('furnishes random cuts of a solid soundly, at least two or one that locks, the same every time', () => {
    const place = fc.integer({ min: -90, max: 90 });
    const tilt = fc.integer({ min: -5, max: 5 }).map((x) => x / 10);
    fc.assert(
      fc.property(place, place, tilt, tilt, (z, x, nx, ny) => {
        const seams = [flat('s1', [0, 0, z], [nx, ny, 1]), flat('s2', [x / 3, 0, 0], [1, ny, 0])];
        const { plan, seating, e } = seated(horn, seams);
        sound(e, horn, wallLimits(plan.printer).warn);
        unwarned(e);
        for (const f of e.faces) {
          const own = e.joints.filter((j) => j.face === f.id);
          const note = seating.notes.find((n) => n.face === f.id)!;
          expect(own.map((j) => j.id).sort()).toEqual([...note.joints].sort());
          if (own.length === 1) expect(own[0].form.turns).toBe(false);
          if (own.length === 0) expect(note.help).toBeTruthy();
        }
        expect(seated(horn, seams).seating).toEqual(seating);
      }),
      { numRuns: runs(6) },
    );
  });

  it('puts cones along the wall of a thin shell, evenly', () => {
    const thick = bodies(cup(5));
    const { seating, e } = seated(thick, [flat('s1', [0, 0, -10], [0, 0, 1])]);
    sound(e, thick, 1.2);
    unwarned(e);
    expect(new Set(e.joints.map((j) => j.kind))).toEqual(new Set(['cone']));
    const angles = e.joints.map((j) => Math.atan2(j.v, j.u)).sort((a, b) => a - b);
    const steps = angles.map((a, i) => (i === 0 ? a - angles[angles.length - 1] + 2 * Math.PI : a - angles[i - 1]));
    expect(Math.max(...steps) - Math.min(...steps)).toBeLessThan(0.2);
    expect(angles.length).toBe(Math.round((2 * Math.PI * 77) / 40));
    expect(seating.notes[0].why).toMatch(/cones .* a wall of 5/);
    const closer = seated(thick, [flat('s1', [0, 0, -10], [0, 0, 1])], { spacing: 20 });
    expect(closer.e.joints.length).toBeGreaterThan(1.8 * angles.length);
  });

  it('takes a lap where the wall is too thin for anything else, or where one is wanted', () => {
    const thin = bodies(cup(3));
    const { e, seating } = seated(thin, [flat('s1', [0, 0, 0], [0, 0, 1])]);
    sound(e, thin, 1.2);
    // round a circle a lap turns, which is said, but its walls hold
    expect(e.findings.filter((f) => f.where.joint && f.code !== 'joint.turns')).toEqual([]);
    expect(e.joints.map((j) => j.kind)).toEqual(['lap']);
    expect(seating.notes[0].why).toMatch(/^1 lap with a lip of .* a wall of 3/);
    const wanted = seated(bowl, [flat('s1', [0, 0, 0], [0, 0, 1])], { kind: 'lap' });
    expect(wanted.e.joints.map((j) => [j.kind, j.built])).toEqual([['lap', true]]);
    sound(wanted.e, bowl, 1.2);
  });

  it('prefers a lap to small cones on a thin wall where its lip prints standing', () => {
    const thin = bodies(cup(3.6));
    const seams = [flat('s1', [0, 0, 0], [0, 0, 1])];
    const resin = { ...printer, kind: 'resin' };
    const standing = seated(thin, seams, {}, { printer: resin });
    expect(standing.e.joints.map((j) => j.kind)).toEqual(['lap']);
    sound(standing.e, thin, 0.8);
    // printed on its side the lip would lie: cones hold there as well
    const keys = standing.e.pieces.map((p) => ({ key: p.key, pose: { up: [1, 0, 0] } }));
    const lying = seated(thin, seams, {}, { printer: resin, pieces: keys });
    expect(new Set(lying.e.joints.map((j) => j.kind))).toEqual(new Set(['cone']));
  });

  it('repeats round a fan, the male half on the same end, so that the segments stay equal', () => {
    const { e, plan } = seated(hoop, [fan('s1', [0, 0, 0], [0, 0, 1], 6, { up: [0, 1, 0] })]);
    sound(e, hoop, 1.2);
    expect(e.faces).toHaveLength(6);
    const of = (part: number) => e.joints.filter((j) => e.faces.find((f) => f.id === j.face)!.part === part);
    for (let part = 1; part < 6; part++) {
      expect(of(part).map((j) => [j.u.toFixed(2), j.v.toFixed(2), j.direction])).toEqual(
        of(0).map((j) => [j.u.toFixed(2), j.v.toFixed(2), j.direction]),
      );
    }
    const volumes = e.pieces.map((p) => p.volume);
    expect(Math.max(...volumes) - Math.min(...volumes)).toBeLessThan(0.5);
    expect(plan.joints.length).toBe(6 * of(0).length);
  });

  it('takes loose dowels across the mirror plane and mirrors what is beside it', () => {
    const bar = bodies(box([-90, -25, -20], [90, 25, 20]));
    const mirror = { normal: [1, 0, 0] as const, offset: 0 };
    const { e, seating, plan } = seated(
      bar,
      [flat('s1', [0, 0, 0], [1, 0, 0]), flat('s2', [-50, 0, 0], [1, 0, 0]), flat('s3', [50, 0, 0], [-1, 0, 0])],
      { mirror },
    );
    sound(e, bar, 1.2);
    const on = (seam: string) => e.joints.filter((j) => e.faces.find((f) => f.id === j.face)!.seam === seam);
    expect(new Set(on('s1').map((j) => j.kind))).toEqual(new Set(['dowel']));
    expect(on('s2').length).toBeGreaterThan(1);
    const point = (j: (typeof e.joints)[0]) => {
      const { frame } = e.faces.find((f) => f.id === j.face)!;
      return vecOf((k) => frame.origin[k] + frame.u[k] * j.u + frame.v[k] * j.v);
    };
    for (const j of on('s2')) {
      const [x, y, z] = point(j);
      const twin = on('s3').find((k) => Math.hypot(...point(k).map((c, i) => c - [-x, y, z][i])) < 0.05)!;
      expect(twin.kind).toBe(j.kind);
      // the outer piece has the male half on both sides, or on neither
      expect(twin.axis[0] * j.axis[0]).toBeLessThan(0);
    }
    // by hand it is the same: a joint's image is the one that seating put there
    const one = plan.joints.find((j) => j.seam === 's2')!;
    const image = mirroredJoint(one, e, mirror)!;
    const twins = plan.joints.filter((j) => j.seam === 's3');
    expect(twins.map((j) => [...j.at, j.male])).toContainEqual([
      ...image.at.map((x) => expect.closeTo(x, 2)),
      image.male,
    ]);
    expect({ ...image, at: one.at, seam: 's2', male: one.male, turn: one.turn }).toEqual(one);
    expect(mirroredJoint(one, e, { normal: [0, 1, 0.3], offset: 0 })).toBeNull();
    const middle = e.faces.find((f) => f.seam === 's1')!.id;
    expect(seating.notes.find((n) => n.face === middle)?.why).toContain('twins');
  });

  it('spreads joints all round a wide wall, two of them across from each other', () => {
    const pipe = bodies(
      meshOfSolid(
        kernel.Manifold.cylinder(80, 60, 60, 96, true).subtract(kernel.Manifold.cylinder(100, 44, 44, 96, true)),
      ),
    );
    const { e } = seated(pipe, [flat('s1', [0, 0, 3], [0, 0, 1])]);
    sound(e, pipe, 1.2);
    const angles = e.joints.map((j) => Math.atan2(j.v, j.u)).sort((a, b) => a - b);
    expect(angles.length).toBeGreaterThan(2);
    const steps = angles.map((a, i) => (i === 0 ? a - angles[angles.length - 1] + 2 * Math.PI : a - angles[i - 1]));
    expect(Math.max(...steps)).toBeLessThan(Math.PI * 1.06);
    const across = Math.max(...angles.flatMap((a) => angles.map((b) => Math.abs(a - b))));
    expect(across).toBeGreaterThan(2.4);
  });

  it('keeps clear of zones, of sockets of other faces and of what is there already', () => {
    const block = bodies(box([-60, -60, -60], [60, 60, 60]));
    const seams = [flat('s1', [0, 0, 0], [0, 0, 1]), flat('s2', [0, 0, 0], [1, 0, 0])];
    const zones = [{ id: 'z1', kind: 'sphere', at: [40, 40, 0], radius: 30 }];
    const joints = [{ id: 'mine', kind: 'pin', seam: 's1', at: [-30, -30], diameter: 10, depth: 10 }];
    const bare = parsePlan({ version: 5, printer, seams, zones, joints });
    const before = evaluate(bare, block, { fallback });
    const { e } = seated(block, seams, { faces: before.faces.map((f) => f.id) }, { zones, joints });
    sound(e, block, 1.2);
    expect(e.joints.length).toBeGreaterThan(8);
    for (const j of e.joints) {
      const { frame } = e.faces.find((f) => f.id === j.face)!;
      const p = vecOf((k) => frame.origin[k] + frame.u[k] * j.u + frame.v[k] * j.v);
      expect(Math.hypot(p[0] - 40, p[1] - 40, p[2])).toBeGreaterThan(30);
      expect(j.apart ?? Infinity).toBeGreaterThan(1.19);
    }
  });

  it('chooses cones where straight joints would bar the way, as in a fan of five', () => {
    const { e, seating } = seated(hoop, [fan('s1', [0, 0, 0], [0, 0, 1], 5)]);
    sound(e, hoop, 0.4);
    expect(e.joints.some((j) => j.kind === 'cone')).toBe(true);
    expect(seating.notes.some((n) => n.why.includes('no common way in'))).toBe(true);
    expect(e.ways.every((w) => w.out !== null)).toBe(true);
  });

  it('says why a face can take none, and what would help', () => {
    const foil = bodies(box([-60, -0.5, -60], [60, 0.5, 60]));
    const { seating } = seated(foil, [flat('s1', [0, 0, 0], [0, 0, 1])]);
    expect(seating.joints).toEqual([]);
    expect(seating.notes[0].why).toMatch(/at most 1 mm wide/);
    expect(seating.notes[0].help).toMatch(/thicker wall/);
  });
});

describe('where joints can stand', () => {
  // a slab that is thick on the left and thin on the right, cut along its length
  const wedge = bodies(
    moved(box([-100, -40, -30], [100, 40, 30]), (x, y, z) => [x, y, z > 0 ? 30 - (x + 100) * 0.11 : z]),
  );

  it('is told by what lies below the face: all of a large plain face is furnished where it is deep enough', () => {
    const { e, seating } = seated(wedge, [flat('s1', [0, 0, 0], [0, 0, 1])]);
    unwarned(e);
    expect(seating.notes[0].joints.length).toBeGreaterThanOrEqual(4);
    const us = e.joints.map((j) => j.u);
    expect(Math.max(...us) - Math.min(...us)).toBeGreaterThan(60);
  });

  it('leaves zones clear, and says so where nothing else is left', () => {
    const zone = (size: [number, number, number]) => ({
      zones: [{ id: 'z1', kind: 'box', at: [-60, 0, 0], size }],
    });
    const half = seated(wedge, [flat('s1', [0, 0, 0], [0, 0, 1])], {}, zone([80, 100, 20]));
    expect(half.e.joints.length).toBeGreaterThan(1);
    for (const j of half.e.joints) {
      const { frame } = half.e.faces[0];
      expect(frame.origin[0] + frame.u[0] * j.u + frame.v[0] * j.v).toBeGreaterThan(-20);
    }
    const none = seated(wedge, [flat('s1', [0, 0, 0], [0, 0, 1])], {}, zone([500, 500, 20]));
    expect(none.seating.notes[0].why).toMatch(/zone/);
  });

  it('gives the true reason where a face is wide but nothing lies under it', () => {
    const plate = bodies(box([-60, -60, 0], [60, 60, 4]));
    const { seating } = seated(plate, [flat('s1', [0, 0, 2], [0, 0, 1])]);
    expect(seating.joints).toEqual([]);
    expect(seating.notes[0].why).toMatch(/at most 2 mm of material/);
  });

  it('gives a face too small for anything else a cone in its middle, with its wall all round', () => {
    const bar = bodies(box([-2.6, -2.6, -30], [2.6, 2.6, 30]));
    const { e, seating } = seated(bar, [flat('s1', [0, 0, 0], [0, 0, 1])]);
    expect(seating.joints.map((j) => j.kind)).toEqual(['cone']);
    expect(e.findings.filter((f) => f.severity === 'stop')).toEqual([]);
    const [m] = e.measured;
    expect(Math.min(m.edge, ...m.walls)).toBeGreaterThanOrEqual(1.2 - 1e-6);
    const thinner = bodies(box([-1.9, -1.9, -30], [1.9, 1.9, 30]));
    expect(seated(thinner, [flat('s1', [0, 0, 0], [0, 0, 1])]).seating.joints).toEqual([]);
  });

  it('furnishes a narrow ring all along, corners only skipped', () => {
    const ring = bodies(
      meshOfSolid(kernel.Manifold.cube([150, 150, 60], true).subtract(kernel.Manifold.cube([141, 141, 80], true))),
    );
    const { e, seating } = seated(ring, [flat('s1', [0, 0, 0], [0, 0, 1])]);
    unwarned(e);
    // 4.5 mm of wall, 582 mm round, every 40 mm
    expect(seating.notes[0].joints.length).toBeGreaterThanOrEqual(12);
  });

  it('does not go by what is asked of 100 faces at once', () => {
    const block = bodies(box([-120, -120, -120], [120, 120, 120]));
    const seams = [-60, 0, 60].flatMap((at) =>
      three((a) => {
        const n = [0, 0, 0];
        n[a] = 1;
        return flat(
          `s${a}${at + 60}`,
          n.map((x) => x * at),
          n,
        );
      }),
    );
    const { e, seating } = seated(block, seams);
    expect(e.faces).toHaveLength(144);
    expect(seating.notes.filter((n) => n.joints.length === 0)).toEqual([]);
    unwarned(e);
  });
});

describe('a new size of the model', () => {
  it('keeps every gap and size, halved and doubled; what no longer holds is made smaller in one go, gaps kept', () => {
    const { plan, e } = seated(horn, [flat('s1', [0, 0, 0], [0, 0, 1])]);
    for (const factor of [2, 0.5, 0.35]) {
      const scaled = parsePlan({ ...plan, recipe: [{ kind: 'scale', factor }] });
      const now = evaluate(scaled, horn, { fallback });
      expect(scaled.joints).toEqual(plan.joints);
      now.joints.forEach((j, i) => {
        expect(j.gap).toBe(e.joints[i].gap);
        expect(j.form.shear).toBeCloseTo(e.joints[i].form.shear, 9);
        expect(j.form.depths).toEqual(e.joints[i].form.depths);
        expect(j.u).toBeCloseTo(factor * e.joints[i].u, 6);
      });
      const stops = now.findings.filter((f) => f.severity === 'stop' && f.where.joint);
      if (factor > 1) expect(stops).toEqual([]);
      else {
        expect(stops.length).toBeGreaterThan(0);
        const { change, resized, left } = refitJoints(scaled, now);
        expect(left).toEqual([]);
        const mended = applyChange(scaled, change!);
        const after = evaluate(mended, horn, { fallback });
        expect(after.findings.filter((f) => f.severity === 'stop' && f.where.joint)).toEqual([]);
        expect(resized.length).toBe(new Set(stops.map((f) => f.where.joint)).size);
        after.joints.forEach((j, i) => {
          expect(j.gap).toBe(e.joints[i].gap);
        });
      }
    }
  });

  it('can be met by seating anew, too, with the gaps that the joints had', () => {
    const { plan } = seated(horn, [flat('s1', [0, 0, 0], [0, 0, 1])]);
    const own = parsePlan({
      ...plan,
      recipe: [{ kind: 'scale', factor: 0.4 }],
      joints: plan.joints.map((j) => ({ ...j, gap: 0.17, fit: 'press' })),
    });
    const bare = { ...own, joints: [] };
    const before = evaluate(bare, horn, { fallback });
    const keep = { [before.faces[0].id]: { fit: 'press' as const, gap: 0.17 } };
    const { joints } = seatJoints(bare, before, { keep });
    expect(joints.length).toBeGreaterThan(0);
    const e = evaluate(parsePlan({ ...bare, joints: [...joints] }), horn, { fallback });
    sound(e, [{ ...horn[0], mesh: scaled(horn[0].mesh, 0.4) }], 0.4);
    expect(e.joints.every((j) => j.gap === 0.17)).toBe(true);
    expect(joints.every((j) => j.fit === 'press')).toBe(true);
  });
});

describe('what helps to place a joint', () => {
  const ring: FlatRegion = {
    outer2: circleLoop(40, 0, 0, 160),
    holes2: [circleLoop(36, 0, 0, 160, true)],
    area: Math.PI * (40 ** 2 - 36 ** 2),
  };
  const plate: FlatRegion = { outer2: Float64Array.of(-50, -20, 50, -20, 50, 20, -50, 20), holes2: [], area: 4000 };

  it('the room field is the distance to the edge, to half a cell', () => {
    for (const region of [ring, plate]) {
      const f = roomField(region, 0.5);
      for (let j = 0; j < f.height; j += 3) {
        for (let i = 0; i < f.width; i += 3) {
          const [u, v] = [f.u0 + (i + 0.5) * f.cell, f.v0 + (j + 0.5) * f.cell];
          const exact = Math.max(0, edgeDistance(region, u, v));
          expect(Math.abs(f.room[j * f.width + i] - exact)).toBeLessThan(0.75 * f.cell);
        }
      }
    }
  });

  it('the middle of a wall is as far from either side, all along it, once', () => {
    const places = midWall(ring, 2);
    for (const { at, thickness } of places) {
      expect(Math.hypot(...at)).toBeCloseTo(38, 1);
      expect(thickness).toBeCloseTo(4, 1);
    }
    expect(places.length).toBeGreaterThan(115);
    const strip = midWall({ outer2: Float64Array.of(0, 0, 60, 0, 60, 3, 0, 3), holes2: [], area: 180 }, 1);
    const along = strip.map((p) => p.at[0]);
    expect(along).toEqual([...along].sort((a, b) => a - b));
    expect(along.length).toBeGreaterThan(55);
    expect(along.length).toBeLessThan(66);
    expect(stripOf({ outer2: Float64Array.of(0, 0, 60, 0, 60, 3, 0, 3), holes2: [], area: 180 })).toEqual({
      thickness: expect.closeTo(3, 9),
      length: expect.closeTo(60, 9),
    });
  });

  it('an axis of symmetry takes the outline to itself, and there is none for what has none', () => {
    for (const region of [ring, plate]) {
      const axis = symmetryAxis(region)!;
      for (let i = 0; i < region.outer2.length; i += 2) {
        const q = reflected(axis, [region.outer2[i], region.outer2[i + 1]]);
        expect(nearestOnLoop(region.outer2, ...q).distance).toBeLessThan(0.6);
      }
    }
    const odd = Float64Array.of(0, 0, 50, 0, 50, 10, 20, 13, 18, 40, 0, 30);
    expect(loopArea(odd)).toBeGreaterThan(0);
    expect(symmetryAxis({ outer2: odd, holes2: [] })).toBeNull();
  });

  it('points along a line, along a wall, and with equal steps', () => {
    expect(alongLine([0, 0], [9, 3], 4)).toEqual([
      [0, 0],
      [3, 1],
      [6, 2],
      [9, 3],
    ]);
    expect(alongLine([0, 0], [8, 2], 1)).toEqual([[4, 1]]);
    const wall = alongWall(ring, 8, 1.5);
    expect(wall).toHaveLength(8);
    for (const p of wall) expect(Math.hypot(...p)).toBeCloseTo(38, 1);
    expect(alongWall(ring, 8, 2.5)).toEqual([]);
    expect(
      evenly([
        [0, 0],
        [10, 0],
        [1, 1],
        [2, 0],
      ]).map(([u]) => Number(u.toFixed(3))),
    ).toEqual([0, 10, 3.333, 6.667]);
  });

  it('makes no piece too large for its printer: what stands out is on the other piece, or is less deep', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 12 }), fc.boolean(), (spare, lowerTight) => {
        // 246 mm of height are usable; one of two halves has so much to spare
        const tight = 248 - spare;
        const z = lowerTight ? tight : 120;
        const height = lowerTight ? tight + 120 : 120 + tight;
        const desk = { name: 'Desk', size: [120, 120, 250] as [number, number, number], margin: 2 };
        const seams = [flat('s1', [30, 30, z], [0, 0, 1])];
        const e = cutBy(box([0, 0, 0], [60, 60, height]), seams, { printer: desk });
        expect(e.pieces.every((p) => p.build.within)).toBe(true);
        const plan = parsePlan({ version: 5, printer: desk, seams });
        const { joints } = seatJoints(plan, e);
        expect(joints.length).toBeGreaterThan(0);
        const after = cutBy(box([0, 0, 0], [60, 60, height]), seams, { printer: desk, joints: [...joints] });
        expect(after.findings.filter((f) => f.severity === 'stop')).toEqual([]);
      }),
      { numRuns: runs(12) },
    );
  });
});

function circleLoop(radius: number, x: number, y: number, n: number, backwards = false): Float64Array {
  const out = new Float64Array(n * 2);
  for (let i = 0; i < n; i++) {
    const a = ((backwards ? -i : i) / n) * 2 * Math.PI;
    out[i * 2] = x + radius * Math.cos(a);
    out[i * 2 + 1] = y + radius * Math.sin(a);
  }
  return out;
}
