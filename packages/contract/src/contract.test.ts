import { JOINT_KINDS, newJoint } from '@gephyra/core';
import { describe, expect, it } from 'vitest';
import {
  equipment,
  healthReport,
  isAskedJob,
  JOBS,
  job,
  projectName,
  readWish,
  renameProject,
  routes,
  savePlan,
  stepRevision,
} from './index.ts';

const refused = (schema: { safeParse: (x: unknown) => { success: boolean } }, x: unknown): boolean =>
  !schema.safeParse(x).success;

describe('a name', () => {
  it('is trimmed, has at least a letter, and holds nothing that cannot be shown', () => {
    expect(projectName.parse('  Ebb-bell lantern 🐚 ')).toBe('Ebb-bell lantern 🐚');
    for (const name of ['', '   ', 'a'.repeat(121), 'nul\u0000', 'lone \ud800 half']) {
      expect([name, refused(renameProject, { name })]).toEqual([name, true]);
    }
    expect(refused(renameProject, { name: 'Bell', owner: 'me' })).toBe(true);
  });
});

describe('a revision', () => {
  it('is a whole number that the record can count to', () => {
    for (const basedOn of [0, 1, 2 ** 31 - 1])
      expect(refused(stepRevision, { gesture: 'gesture-1', basedOn })).toBe(false);
    for (const basedOn of [-1, 0.5, 2 ** 31, Number.NaN, '3', null])
      expect(refused(stepRevision, { gesture: 'gesture-1', basedOn })).toBe(true);
    expect(refused(savePlan, { gesture: 'gesture-1', basedOn: 1, label: '', plan: {} })).toBe(true);
    expect(refused(savePlan, { gesture: 'gesture-1', basedOn: 1, label: 'Move Neck', plan: {} })).toBe(false);
  });
});

describe('what is asked of a job', () => {
  it('names pieces and a format that can be written', () => {
    const wish = { revision: 3, format: 'stl', pieces: ['b1/s1+'] };
    expect(refused(JOBS.export.wish, wish)).toBe(false);
    for (const as of ['place', 'print', 'beds', 'sheet'])
      expect(refused(JOBS.export.wish, { ...wish, as })).toBe(false);
    for (const wrong of [
      { as: 'wrapped' },
      { pieces: [] },
      { format: 'exe' },
      { pieces: ['x'.repeat(2001)] },
      { revision: -1 },
      { more: 1 },
    ]) {
      expect([wrong, refused(JOBS.export.wish, { ...wish, ...wrong })]).toEqual([wrong, true]);
    }
  });

  it('is a recipe of steps that are known, and bodies that are locked', () => {
    expect(readWish('shape', { steps: [] })).toEqual({ steps: [], locked: [] });
    expect(refused(JOBS.shape.wish, { steps: [{ id: 'r1', kind: 'melt' }] })).toBe(true);
    expect(refused(JOBS.shape.wish, { steps: [], locked: Array(5001).fill('b1') })).toBe(true);
  });
});

describe('kinds of work', () => {
  it('are asked for by a page, or only done by the server', () => {
    expect(Object.keys(JOBS).filter(isAskedJob)).toEqual(['shape', 'health', 'export', 'archive']);
    for (const none of ['import', 'summary', 'melt', 'constructor', '']) expect(isAskedJob(none)).toBe(false);
  });
});

describe('the equipment', () => {
  const preset = (joint: object) => ({ presets: [{ name: 'Head', joint }] });

  it('keeps joints of every kind as presets, and none that cannot be built', () => {
    for (const kind of JOINT_KINDS) {
      const { id: _, seam: __, at: ___, ...joint } = newJoint(kind, { id: 'j1', seam: 's1', at: [0, 0] }, 8);
      expect([kind, refused(equipment, preset(joint))]).toEqual([kind, false]);
    }
    for (const joint of [{}, { kind: 'pin', diameter: 0, depth: 5 }, { kind: 'nail', diameter: 3 }]) {
      expect(refused(equipment, preset(joint))).toBe(true);
    }
  });

  it('keeps printers with what coupons said of them', () => {
    const printer = { name: 'Desktop 220', size: [220, 220, 250] };
    const kept = equipment.parse({ printers: [{ ...printer, materials: [{ name: 'PLA' }] }] });
    expect(kept.printers[0].materials[0]).toMatchObject({ name: 'PLA', results: [], prints: [] });
    const how = (more: object) => ({ printers: [{ ...printer, ...more }] });
    expect(refused(equipment, how({ keepOut: [{ at: [0, 0], size: [10, 10] }] }))).toBe(false);
    expect(refused(equipment, how({ keepOut: [{ at: [0, 0], size: [0, 10] }] }))).toBe(true);
    expect(refused(equipment, how({ materials: [{ name: 'PLA', setting: { layer: 0.12 } }] }))).toBe(false);
    for (const setting of [{ layer: 0 }, { walls: 2.5 }, { infill: 1.2 }, { colour: 'red' }]) {
      expect([setting, refused(equipment, how({ materials: [{ name: 'PLA', setting }] }))]).toEqual([setting, true]);
    }
    const timed = (print: object) =>
      how({ materials: [{ name: 'PLA', prints: [{ date: '2026-11-23', hours: 3, estimate: 2, ...print }] }] });
    expect(refused(equipment, timed({}))).toBe(false);
    for (const wrong of [{ hours: 0 }, { estimate: -1 }, { date: 'Monday' }])
      expect([wrong, refused(equipment, timed(wrong))]).toEqual([wrong, true]);
    const result = (more: object) => ({
      printers: [
        { ...printer, materials: [{ name: 'PLA', results: [{ date: '2026-11-23', kind: 'pin', gaps: {}, ...more }] }] },
      ],
    });
    expect(refused(equipment, result({ gaps: { slip: 0.3 } }))).toBe(false);
    for (const wrong of [
      { date: '23.11.2026' },
      { kind: 'nail' },
      { gaps: { slip: -0.1 } },
      { gaps: { tight: 0.1 } },
    ]) {
      expect([wrong, refused(equipment, result(wrong))]).toEqual([wrong, true]);
    }
    expect(refused(equipment, { printers: [{ ...printer, size: [220, 0, 250] }] })).toBe(true);
  });
});

describe('answers', () => {
  it('tell a job by a state and a kind that are known', () => {
    const one = {
      id: 'j',
      kind: 'export',
      state: 'running',
      progress: 0.5,
      what: 'Writing',
      projectId: null,
      fileName: null,
      error: null,
    };
    expect(refused(job, one)).toBe(false);
    for (const wrong of [{ kind: 'lunch' }, { state: 'resting' }, { error: 'no' }, { progress: null }]) {
      expect([wrong, refused(job, { ...one, ...wrong })]).toEqual([wrong, true]);
    }
  });

  it('tell the health of bodies by defects that are known', () => {
    const report = (kind: string) => ({
      bodies: [
        {
          body: 'b1',
          closed: false,
          triangles: 12,
          shells: 1,
          cavities: 0,
          crossingsTested: true,
          defects: [{ kind, count: 1, places: [{ at: [1, 2, 3], radius: 4 }] }],
        },
      ],
      overlaps: [{ bodies: ['b1', 'b2'], at: [0, 0, 0] }],
    });
    expect(refused(healthReport, report('holes'))).toBe(false);
    expect(refused(healthReport, report('rust'))).toBe(true);
  });
});

describe('addresses', () => {
  it('hold whatever a name or an id holds', () => {
    expect(routes.upload('a/b "buoy"&truncated=take?#.stl', false)).toBe(
      '/api/projects?file=a%2Fb%20%22buoy%22%26truncated%3Dtake%3F%23.stl',
    );
    expect(routes.plan('../../etc')).toBe('/api/projects/..%2F..%2Fetc/plan');
    expect(new URL(routes.thumbnail('p1', 'a b&c'), 'http://localhost').searchParams.get('v')).toBe('a b&c');
  });
});
