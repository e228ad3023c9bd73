import * as THREE from 'three';
import { describe, expect, it } from 'vitest';
import { type Direction, Eye } from './eye.ts';

const box = { min: [-50, -30, 0], max: [50, 30, 300] } as const;
const corners = [...Array(8).keys()].map(
  (i) => new THREE.Vector3(box[i & 1 ? 'max' : 'min'][0], box[i & 2 ? 'max' : 'min'][1], box[i & 4 ? 'max' : 'min'][2]),
);
const middle = new THREE.Vector3(0, 0, 150);

function open(width: number, height: number, covered: number) {
  let changes = 0;
  const eye: Eye = new Eye(new THREE.Vector3(), () => {
    // as the controls do it: the camera looks at its target
    changes++;
    eye.camera.lookAt(eye.target);
    eye.camera.updateMatrixWorld();
  });
  eye.resize(width, height, covered);
  return { eye, changes: () => changes };
}

const SIZES = [
  [700, 640, 90],
  [1300, 500, 60],
  [400, 900, 120],
] as const;
const WAYS: readonly Direction[] = ['front', 'back', 'left', 'right', 'top', 'under', 'corner'];

describe('what is seen', () => {
  it('is the whole model, in the middle of what no toolbar covers, from every side and in every shape of window', () => {
    for (const [w, h, covered] of SIZES) {
      const { eye } = open(w, h, covered);
      for (const from of WAYS) {
        eye.look(box, from);
        const [x, y] = eye.seen(middle)!;
        expect(x).toBeCloseTo(w / 2, 4);
        expect(y).toBeCloseTo((h + covered) / 2, 4);
        expect(eye.middle).toEqual([w / 2, (h + covered) / 2]);
        for (const c of corners) {
          const [cx, cy] = eye.seen(c)!;
          expect([from, cx > 0 && cx < w, cy > covered && cy < h]).toEqual([from, true, true]);
        }
      }
    }
  });

  it('is where a ray through that point goes', () => {
    const { eye } = open(700, 640, 90);
    eye.look(box, 'corner');
    for (const c of corners) {
      const [x, y] = eye.seen(c)!;
      expect(eye.ray(x, y).ray.distanceToPoint(c)).toBeLessThan(1e-6);
    }
    // behind the eye there is nothing to see
    expect(eye.seen(eye.camera.position.clone().multiplyScalar(3))).toBeNull();
  });

  it('is framed anew when the model has another size, in the same direction, and left alone when it has not', () => {
    const { eye, changes } = open(700, 640, 0);
    eye.look(box, 'corner');
    const from = eye.camera.position.clone().sub(eye.target).normalize();
    const before = [eye.camera.position.distanceTo(eye.target), changes()] as const;
    eye.follow({ min: [-50, -30, 0], max: [50, 30, 340] });
    expect(changes()).toBe(before[1]);
    eye.follow({ min: [-15, -9, 0], max: [15, 9, 90] });
    expect(eye.camera.position.distanceTo(eye.target) / before[0]).toBeCloseTo(0.3, 6);
    expect(eye.camera.position.clone().sub(eye.target).normalize().distanceTo(from)).toBeLessThan(1e-9);
    expect(eye.target.toArray()).toEqual([0, 0, 45]);
  });

  it('comes near a place without turning, near enough to see it and not inside it', () => {
    const { eye } = open(700, 640, 0);
    eye.look(box, 'left');
    const from = eye.camera.position.clone().sub(eye.target).normalize();
    eye.near({ at: [0, 0, 280], radius: 6 }, box);
    expect(eye.target.toArray()).toEqual([0, 0, 280]);
    expect(eye.camera.position.clone().sub(eye.target).normalize().distanceTo(from)).toBeLessThan(1e-9);
    const distance = eye.camera.position.distanceTo(eye.target);
    expect(distance).toBeGreaterThan(6 * 4);
    expect(eye.camera.near).toBeLessThan(distance - 6);
  });

  it('takes a place with what is around it into what is free, without turning', () => {
    for (const [w, h, covered] of SIZES) {
      const { eye } = open(w, h, covered);
      eye.look(box, 'corner');
      const from = eye.camera.position.clone().sub(eye.target).normalize();
      eye.fit({ at: [50, 30, 300], radius: 20 });
      expect(eye.camera.position.clone().sub(eye.target).normalize().distanceTo(from)).toBeLessThan(1e-9);
      const right = new THREE.Vector3(1, 0, 0).applyQuaternion(eye.camera.quaternion);
      const up = new THREE.Vector3(0, 1, 0).applyQuaternion(eye.camera.quaternion);
      const edges = [right, right.clone().negate(), up, up.clone().negate()].map(
        (d) => eye.seen(eye.target.clone().addScaledVector(d, 20))!,
      );
      for (const [x, y] of edges) expect([x > 0 && x < w, y > covered && y < h]).toEqual([true, true]);
      // and it fills it: most of the narrower way is taken
      const span = Math.max(edges[0][0] - edges[1][0], edges[3][1] - edges[2][1]);
      expect(span / Math.min(w, h - covered)).toBeGreaterThan(0.75);
    }
  });

  it('turns by the keyboard round its target and keeps its distance, and never over the pole', () => {
    const { eye } = open(700, 640, 0);
    eye.look(box, 'front');
    const distance = eye.camera.position.distanceTo(eye.target);
    eye.turn(Math.PI / 2, 0, 1);
    expect(eye.camera.position.distanceTo(eye.target)).toBeCloseTo(distance, 6);
    expect(Math.abs(eye.camera.position.x)).toBeCloseTo(distance, 4);
    eye.turn(0, -10, 1);
    expect(eye.camera.position.z - eye.target.z).toBeGreaterThan(0.99 * distance);
    eye.turn(0, 0, 2);
    expect(eye.camera.position.distanceTo(eye.target)).toBeCloseTo(distance / 2, 6);
  });

  it('has a scale at the depth of its target', () => {
    const { eye } = open(700, 640, 90);
    eye.look(box, 'front');
    const [a, b] = [eye.seen(new THREE.Vector3(0, 0, 150))!, eye.seen(new THREE.Vector3(10, 0, 150))!];
    expect((b[0] - a[0]) / 10).toBeCloseTo(eye.pixelsPerMm(), 6);
  });
});
