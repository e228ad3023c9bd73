import { makeFrame } from '@gephyra/core';
import * as THREE from 'three';
import { beforeEach, describe, expect, it } from 'vitest';
import type { Shown } from '../project/shown.ts';
import { Furniture, loopLines } from './furniture.ts';
import type { Inks } from './materials.ts';

const line = () => new THREE.LineBasicMaterial();
const inks = {
  cutInFront: line(),
  inkInFront: line(),
  cut: line(),
  staff: line(),
  dashed: new THREE.LineDashedMaterial(),
  sheet: new THREE.MeshBasicMaterial(),
  fill: new THREE.MeshBasicMaterial(),
} as unknown as Inks;
const NOTHING: Shown = {
  selectedPiece: null,
  apart: 0,
  seeThrough: false,
  plain: false,
  crate: null,
  sheet: null,
  quads: null,
  boxes: [],
  clip: null,
  only: false,
  dragging: null,
  highlightFace: null,
  book: null,
  swung: null,
  slide: null,
  build: null,
  lying: null,
  hidden: [],
  selectedBody: null,
  markers: [],
  path: null,
  focus: null,
};
const model = { min: [0, 0, 0], max: [100, 60, 300] } as const;
const still = new THREE.Vector3();

describe('what is drawn beside the pieces', () => {
  let furniture: Furniture;
  const show = (more: Partial<Shown>, shift = still): THREE.Box3 => {
    furniture.furnish({ ...NOTHING, ...more }, model, (piece) => (piece === 'b1:+' ? shift : still));
    return new THREE.Box3().setFromObject(furniture.group);
  };
  const texts = () => furniture.labels.map((l) => l.text);
  beforeEach(() => {
    furniture = new Furniture(inks);
  });

  it('is nothing when nothing is shown, and what was shown before is gone', () => {
    show({ markers: [{ at: [0, 0, 0], radius: 5, text: 'hole' }], quads: new Float32Array(24) });
    expect(furniture.group.children.length).toBeGreaterThan(0);
    expect(texts()).toEqual(['hole']);
    show({});
    expect(furniture.group.children).toEqual([]);
    expect(texts()).toEqual([]);
  });

  it('the crate has the printer’s size where it stands, its measures beside it, and follows a piece that is moved', () => {
    const crate = { size: [220, 210, 250], at: [-60, -75, 0], follows: true } as const;
    const there = show({ crate, selectedPiece: 'b1:+' }, new THREE.Vector3(0, 0, 40));
    expect(there.min.toArray()).toEqual([-60, -75, 40]);
    expect(there.max.toArray()).toEqual([160, 135, 290]);
    expect(texts()).toEqual(['220', '210', '250']);
    expect(show({ crate: { ...crate, follows: false } }, new THREE.Vector3(0, 0, 40)).min.z).toBe(0);
  });

  it('a seam’s sheet reaches beyond the model on every side, in its own plane', () => {
    const frame = makeFrame([10, 20, 150], [0, 0, 1]);
    const section = { loops: [Float64Array.of(-5, -5, 5, -5, 0, 5)], area: 50, frame };
    const box = show({ sheet: { frame, section, faint: [Float64Array.of(1, 1, 2, 1, 2, 2)] } });
    expect(box.min.z).toBeCloseTo(150, 5);
    expect(box.max.z).toBeCloseTo(150, 5);
    for (const axis of ['x', 'y'] as const) {
      expect(box.min[axis]).toBeLessThan(0);
      expect(box.max[axis]).toBeGreaterThan(axis === 'x' ? 100 : 60);
    }
    // sheet and rim, the section, what is not cut
    expect(furniture.group.children).toHaveLength(4);
    // of a seam that cuts a part it reaches no farther than that, with a rim
    const loops = [Float64Array.of(1, 1, 3, 1, 3, 2, 1, 2)];
    const own = show({ sheet: { frame, section: { frame, area: 2, loops }, part: true } });
    expect(
      own
        .getSize(new THREE.Vector3())
        .toArray()
        .sort((a, b) => b - a)[0],
    ).toBeLessThan(4);
    show({ sheet: { frame, section: null } });
    expect(furniture.group.children).toHaveLength(2);
  });

  it('a marker is ringed as large as it is, and never too small to be seen', () => {
    const large = show({ markers: [{ at: [10, 10, 10], radius: 30 }] });
    expect(large.max.x - large.min.x).toBeCloseTo(60, 4);
    expect(large.getCenter(new THREE.Vector3()).toArray().map(Math.round)).toEqual([10, 10, 10]);
    const tiny = show({ markers: [{ at: [10, 10, 10], radius: 0 }] });
    expect(tiny.max.x - tiny.min.x).toBeGreaterThan(3);
  });

  it('boxes and measured paths have their words where they are', () => {
    const box = show({
      boxes: [{ box: { min: [1, 2, 3], max: [4, 6, 9] }, text: 'keep clear' }],
      path: null,
    });
    expect([box.min.toArray(), box.max.toArray()]).toEqual([
      [1, 2, 3],
      [4, 6, 9],
    ]);
    show({
      path: {
        places: [
          [0, 0, 0],
          [10, 0, 0],
          [10, 20, 0],
        ],
        text: '30.0 mm',
      },
    });
    expect(furniture.labels[0]).toMatchObject({ text: '30.0 mm', kind: 'mark' });
    expect(furniture.labels[0].at.toArray()).toEqual([5, 10, 0]);
    // one place is no path yet
    show({ path: { places: [[0, 0, 0]], text: '0 mm' } });
    expect(texts()).toEqual([]);
  });

  it('a face is outlined on both of its pieces, wherever they are', () => {
    const frame = makeFrame([0, 0, 7], [0, 0, 1]);
    const outer = Float64Array.of(0, 0, 4, 0, 4, 3, 0, 3);
    const highlightFace = { frame, outer, holes: [], pieces: ['b1:+', 'b1:-'] } as unknown as Shown['highlightFace'];
    const box = show({ highlightFace }, new THREE.Vector3(0, 0, 20));
    expect([box.min.toArray(), box.max.toArray()]).toEqual([
      [0, 0, 7],
      [4, 3, 27],
    ]);
    expect(furniture.group.children).toHaveLength(2);
  });

  it('loops of a plane are closed lines in space', () => {
    const frame = makeFrame([0, 0, 7], [0, 0, 1]);
    const square = Float64Array.of(0, 0, 4, 0, 4, 3, 0, 3);
    const p = loopLines([square, square], frame).getAttribute('position');
    expect(p.count).toBe(16);
    let length = 0;
    for (let i = 0; i < p.count; i += 2) {
      length += Math.hypot(p.getX(i) - p.getX(i + 1), p.getY(i) - p.getY(i + 1), p.getZ(i) - p.getZ(i + 1));
      expect(p.getZ(i)).toBe(7);
    }
    expect(length).toBeCloseTo(28, 9);
  });
});
