import * as THREE from 'three';
import type { BoxView } from '../engine/types.ts';
import type { PlacedLabel } from './furniture.ts';
import type { Inks } from './materials.ts';

/** What a model of this box stands on: a circle, and the tide staff beside it with its heights. */
export function groundOf(
  { min, max }: BoxView,
  inks: Inks,
): { circle: THREE.Line; staff: THREE.Line; labels: PlacedLabel[] } {
  const height = max[2] - min[2];
  const centre = new THREE.Vector3((min[0] + max[0]) / 2, (min[1] + max[1]) / 2, min[2]);
  const radius = 0.62 * Math.hypot(max[0] - min[0], max[1] - min[1]);
  const round: THREE.Vector3[] = [];
  for (let i = 0; i < 96; i++) {
    const a = (i / 96) * 2 * Math.PI;
    round.push(centre.clone().add(new THREE.Vector3(radius * Math.cos(a), radius * Math.sin(a), 0)));
  }
  // a flat, wide model is seen from farther away
  const step = 10 ** Math.max(0, Math.floor(Math.log10(Math.max(height, radius, 1))) - 1);
  const foot = centre.clone().add(new THREE.Vector3(-radius, 0, 0));
  const marks: THREE.Vector3[] = [foot, foot.clone().add(new THREE.Vector3(0, 0, height))];
  const labels: PlacedLabel[] = [];
  for (let k = 0; k * step <= height; k++) {
    const at = foot.clone().add(new THREE.Vector3(0, 0, k * step));
    const long = k % 10 === 0 ? 0.1 : k % 5 === 0 ? 0.06 : 0.035;
    marks.push(at, at.clone().add(new THREE.Vector3(-radius * long, 0, 0)));
    if (k % 10 === 0) {
      const label = at.clone().add(new THREE.Vector3(-radius * 0.2, 0, 0));
      labels.push({ text: String(k * step), at: label, kind: 'staff' });
    }
  }
  return {
    circle: new THREE.LineLoop(new THREE.BufferGeometry().setFromPoints(round), inks.ground),
    staff: new THREE.LineSegments(new THREE.BufferGeometry().setFromPoints(marks), inks.staff),
    labels,
  };
}
