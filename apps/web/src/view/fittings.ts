import type { Tone } from '@gephyra/core/plan';
import * as THREE from 'three';
import type { FittingView } from '../engine/types.ts';
import { clay } from './materials.ts';

const COLOURS: Record<Tone, string> = { printed: '#d9c9a3', bought: '#8d969c', north: '#a84433', south: '#2f5f80' };

/** What is put into joints and bores: rods, magnets, screws, strips. Each goes with a piece. */
export class Fittings {
  /** what stays where it is */
  readonly group = new THREE.Group();
  private readonly materials: Readonly<Record<Tone, THREE.MeshLambertMaterial>> = {
    printed: clay(COLOURS.printed),
    bought: clay(COLOURS.bought),
    north: clay(COLOURS.north),
    south: clay(COLOURS.south),
  };
  private made: THREE.Mesh[] = [];

  /** What there is now, and the groups of the pieces; what was made before is taken out of theirs. */
  set(
    list: readonly FittingView[],
    geometry: ReadonlyMap<number, THREE.BufferGeometry>,
    groups: ReadonlyMap<string, THREE.Group>,
  ): void {
    for (const mesh of this.made) mesh.removeFromParent();
    this.made = list.map(({ piece, tone, geometry: id }) => {
      const mesh = new THREE.Mesh(geometry.get(id), this.materials[tone]);
      ((piece === null ? undefined : groups.get(piece)) ?? this.group).add(mesh);
      return mesh;
    });
  }

  /** Shows them, or hides all of them; those that stay where they are by themselves. */
  show(on: boolean, staying: boolean): void {
    for (const mesh of this.made) mesh.visible = on;
    this.group.visible = staying;
  }

  /** Cuts them off at planes, as the pieces are; null: not. */
  clip(planes: THREE.Plane[] | null): void {
    for (const material of Object.values(this.materials)) {
      material.clippingPlanes = planes;
      material.side = planes ? THREE.DoubleSide : THREE.FrontSide;
      material.needsUpdate = true;
    }
  }
}
