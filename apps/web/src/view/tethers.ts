import { vecOf } from '@gephyra/core/plan';
import * as THREE from 'three';
import type { FaceView } from '../engine/types.ts';
import type { Inks } from './materials.ts';

/** Lines from each mating face to the one that it belongs on, while pieces are apart. */
export class Tethers {
  readonly lines: THREE.LineSegments;

  constructor(inks: Pick<Inks, 'dashed'>) {
    this.lines = new THREE.LineSegments(new THREE.BufferGeometry(), inks.dashed);
    this.lines.frustumCulled = false;
  }

  /** Draws those of some faces anew, from piece to piece as they stand. */
  show(faces: readonly FaceView[], groupOf: (piece: string) => THREE.Group | undefined): void {
    this.lines.visible = faces.length > 0;
    if (faces.length === 0) return;
    const points: THREE.Vector3[] = [];
    for (const { frame, pole, pieces } of faces) {
      const [a, b] = pieces.map(groupOf);
      if (!a?.visible || !b?.visible || a.position.distanceToSquared(b.position) < 1e-6) continue;
      const at = vecOf((k) => frame.origin[k] + frame.u[k] * pole.u + frame.v[k] * pole.v);
      for (const group of [a, b]) points.push(new THREE.Vector3(...at).add(group.position));
    }
    this.lines.geometry.dispose();
    this.lines.geometry = new THREE.BufferGeometry().setFromPoints(points);
    this.lines.computeLineDistances();
  }
}
