import { kindOf, type Shaded } from '@gephyra/core/plan';
import * as THREE from 'three';
import type { EvaluationView } from '../engine/types.ts';
import { loopLines } from './furniture.ts';

/** What the worker shaded, as the graphics card takes it. */
export function geometryOf(g: Shaded): THREE.BufferGeometry {
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute('position', new THREE.BufferAttribute(g.positions, 3));
  geometry.setAttribute('normal', new THREE.BufferAttribute(g.normals, 3));
  geometry.setIndex(new THREE.BufferAttribute(g.index, 1));
  return geometry;
}

/** The outlines of a piece's mating faces; of one that was taken off to swing there is nothing left to outline. */
export function edgeLines(view: EvaluationView, piece: string): THREE.BufferGeometry {
  const gone = view.joints.filter((j) => j.built && j.male === piece && kindOf(j).swings).map((j) => j.face);
  const parts = view.faces
    .filter((f) => f.pieces.includes(piece) && !gone.includes(f.id))
    .map((f) => loopLines([f.outer, ...f.holes], f.frame).getAttribute('position').array as Float32Array);
  const positions = new Float32Array(parts.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const p of parts) {
    positions.set(p, at);
    at += p.length;
  }
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute('position', new THREE.BufferAttribute(positions, 3));
  return geometry;
}
