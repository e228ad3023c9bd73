import * as THREE from 'three';
import type { BoxView, Triple } from '../engine/types.ts';
import type { Book, Marker } from '../project/shown.ts';

/** Where the model can be looked at from. */
export type Direction = 'front' | 'back' | 'left' | 'right' | 'top' | 'under' | 'corner';

const DIRECTIONS: Record<Direction, Triple> = {
  front: [0, -1, 0],
  back: [0, 1, 0],
  left: [-1, 0, 0],
  right: [1, 0, 0],
  top: [0, -0.001, 1],
  under: [0, -0.001, -1],
  corner: [0.55, -0.8, 0.36],
};

/** What is framed anew when the model has become so much larger or smaller. */
const CHANGED = 4 / 3;
/** What is framed is taken so much larger, so that it does not touch the edge. */
const ROOM = 1.12;
/** How long a soft move takes, ms. */
const SOFT = 260;

/**
 * The camera and what it looks at. What lies over the top of the picture, as a toolbar does, is kept clear: the middle of the
 * picture is the middle of what is free.
 *
 *     +-----------+
 *     | toolbar   |  inset
 *     |-----------|
 *     |     x     |  where the target is seen
 *     |           |
 *     +-----------+
 */
export class Eye {
  readonly camera = new THREE.PerspectiveCamera(26, 1, 1, 10_000);
  private width = 1;
  private height = 1;
  private inset = 0;
  /** diagonal of what was framed last, mm */
  private framed = 0;
  private move = 0;

  /** `target`: what it turns round; `changed`: called after every change. */
  constructor(
    readonly target: THREE.Vector3,
    private readonly changed: () => void,
  ) {
    this.camera.up.set(0, 0, 1);
  }

  /** The size of the picture and how much of its top is covered, CSS px. True when the picture had no size before. */
  resize(width: number, height: number, inset = this.inset): boolean {
    const first = this.width === 1;
    this.width = Math.max(1, width);
    this.height = Math.max(1, height);
    this.inset = Math.min(inset, this.height / 2);
    this.camera.aspect = this.width / this.height;
    this.camera.setViewOffset(this.width, this.height, 0, -this.inset / 2, this.width, this.height);
    this.camera.updateProjectionMatrix();
    return first;
  }

  /** The middle of what is free of the picture, CSS px from its upper left. */
  get middle(): readonly [number, number] {
    return [this.width / 2, (this.height + this.inset) / 2];
  }

  /** How far away something of this radius just fills what is free. */
  private distanceFor(radius: number): number {
    const free = (this.height - this.inset) / this.height;
    return radius / Math.sin(THREE.MathUtils.degToRad(this.camera.fov / 2)) / Math.min(free, this.camera.aspect);
  }

  private stand(target: THREE.Vector3, from: THREE.Vector3, distance: number): void {
    this.target.copy(target);
    this.camera.position.copy(target).addScaledVector(from, distance);
    this.camera.near = Math.max(distance / 200, 1e-5);
    this.camera.far = distance * 20;
    this.camera.updateProjectionMatrix();
    this.changed();
  }

  /** The whole of a box from a side. */
  look(box: BoxView, from: Direction): void {
    this.stop();
    const { centre, radius } = sphereOf(box);
    this.framed = radius * 2;
    this.stand(centre, new THREE.Vector3(...DIRECTIONS[from]).normalize(), this.distanceFor(radius * ROOM));
  }

  /** The whole of a box as it is looked at now, softly, if it is of another size than what was framed last. */
  follow(box: BoxView): void {
    const { centre, radius } = sphereOf(box);
    const ratio = (radius * 2) / this.framed;
    if (ratio < CHANGED && ratio > 1 / CHANGED) return;
    this.framed = radius * 2;
    this.go(centre, this.distanceFor(radius * ROOM));
  }

  /** Goes near a place without turning. */
  near({ at, radius }: Marker, box: BoxView): void {
    this.go(new THREE.Vector3(...at), Math.max(radius * 8, sphereOf(box).radius * 0.24));
  }

  /** Goes without turning to where a place, with what is around it, fills what is free. */
  fit({ at, radius }: Marker): void {
    this.go(new THREE.Vector3(...at), this.distanceFor(radius * ROOM));
  }

  /** Looks into a face that is opened like a book, from the side and above, so that what stands out is seen to do so. */
  into(book: Book): void {
    this.stop();
    const towards = new THREE.Vector3(...book.towards);
    const target = new THREE.Vector3(...book.hinge).addScaledVector(towards, book.radius * 0.15);
    const from = towards.addScaledVector(new THREE.Vector3(...book.axis), 0.5).add(new THREE.Vector3(0, 0, 0.4));
    this.stand(target, from.normalize(), this.distanceFor(book.radius * 1.1));
  }

  /** Turns by angles in radians, and moves nearer by a factor: for the keyboard. */
  turn(azimuth: number, height: number, nearer: number): void {
    this.stop();
    const offset = this.camera.position.clone().sub(this.target);
    const s = new THREE.Spherical().setFromVector3(new THREE.Vector3(offset.x, offset.z, -offset.y));
    s.theta += azimuth;
    s.phi = Math.min(Math.PI - 0.01, Math.max(0.01, s.phi + height));
    s.radius /= nearer;
    const turned = new THREE.Vector3().setFromSpherical(s);
    this.camera.position.copy(this.target).add(new THREE.Vector3(turned.x, -turned.z, turned.y));
    this.changed();
  }

  /** The ray that leaves the eye through a point of the picture, CSS px from its upper left. */
  ray(x: number, y: number): THREE.Raycaster {
    // the camera may have turned since the last frame
    this.camera.updateMatrixWorld();
    const ray = new THREE.Raycaster();
    ray.setFromCamera(new THREE.Vector2((x / this.width) * 2 - 1, 1 - (y / this.height) * 2), this.camera);
    return ray;
  }

  /** Where a place is seen, CSS px from the upper left; null when it is behind or outside. */
  seen(at: THREE.Vector3): readonly [number, number] | null {
    const q = at.clone().project(this.camera);
    if (Math.abs(q.x) > 1.05 || Math.abs(q.y) > 1.05 || q.z > 1) return null;
    return [((q.x + 1) / 2) * this.width, ((1 - q.y) / 2) * this.height];
  }

  /** At the depth of the target. */
  pixelsPerMm(): number {
    const distance = this.camera.position.distanceTo(this.target);
    return this.height / (2 * distance * Math.tan(THREE.MathUtils.degToRad(this.camera.fov / 2)));
  }

  /** Where it looks from, as a unit vector from the target. */
  private from(): THREE.Vector3 {
    return this.camera.position.clone().sub(this.target).normalize();
  }

  /** A soft move to another target and distance in the same direction; at once for those who want no motion. */
  private go(target: THREE.Vector3, distance: number): void {
    this.stop();
    const from = this.from();
    const still = typeof matchMedia === 'undefined' || matchMedia('(prefers-reduced-motion: reduce)').matches;
    if (still) {
      this.stand(target, from, distance);
      return;
    }
    const start = {
      target: this.target.clone(),
      distance: this.camera.position.distanceTo(this.target),
      at: performance.now(),
    };
    const step = (): void => {
      const s = Math.min(1, (performance.now() - start.at) / SOFT);
      const eased = s * s * (3 - 2 * s);
      // distances go by their ratio, so that it looks as fast near as far
      this.stand(start.target.clone().lerp(target, eased), from, start.distance * (distance / start.distance) ** eased);
      this.move = s < 1 ? requestAnimationFrame(step) : 0;
    };
    this.move = requestAnimationFrame(step);
  }

  /** Whether a soft move is under way. */
  get moving(): boolean {
    return this.move !== 0;
  }

  /** Ends a soft move where it is. */
  stop(): void {
    if (this.move) cancelAnimationFrame(this.move);
    this.move = 0;
  }
}

function sphereOf({ min, max }: { readonly min: Triple; readonly max: Triple }): {
  centre: THREE.Vector3;
  radius: number;
} {
  const [low, high] = [new THREE.Vector3(...min), new THREE.Vector3(...max)];
  return { centre: low.clone().add(high).multiplyScalar(0.5), radius: Math.max(1e-6, high.sub(low).length() / 2) };
}
