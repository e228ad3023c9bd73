import { perAxis } from '@gephyra/core/plan';
import * as THREE from 'three';
import type { BoxView, FrameView, Triple } from '../engine/types.ts';
import type { Filled, Label, Marker, Shown } from '../project/shown.ts';
import type { Inks } from './materials.ts';

/** A label at a place of the model, before it is known where on the screen that is. */
export interface PlacedLabel {
  readonly text: string;
  readonly at: THREE.Vector3;
  readonly kind: Label['kind'];
}

/** What is drawn beside the pieces: the crate, sheets of seams, sections, markers, paths, boxes. */
export class Furniture {
  readonly group = new THREE.Group();
  labels: PlacedLabel[] = [];
  private box: BoxView = { min: [0, 0, 0], max: [1, 1, 1] };

  constructor(private readonly inks: Inks) {}

  /** Draws it all anew. `box`: of the model; `shiftOf`: how far a piece is from its place. */
  furnish(shown: Shown, box: BoxView, shiftOf: (piece: string) => THREE.Vector3): void {
    this.box = box;
    for (const child of [...this.group.children]) {
      this.group.remove(child);
      if (child instanceof THREE.Mesh || child instanceof THREE.Line) child.geometry.dispose();
    }
    this.labels = [];
    const { crate, selectedPiece } = shown;
    const follows = crate?.follows && selectedPiece !== null;
    if (crate) this.addCrate(crate.size, crate.at, follows ? shiftOf(selectedPiece) : new THREE.Vector3());
    if (shown.sheet) this.addSheet(shown.sheet);
    if (shown.quads) this.addQuads(shown.quads);
    for (const { box, text } of shown.boxes) this.addBox(box, text);
    if (shown.clip?.fill) this.addFill(shown.clip.fill);
    for (const m of shown.markers) this.addMarker(m);
    if (shown.path) this.addPath(shown.path.places, shown.path.text);
    if (shown.highlightFace) {
      // on both of its pieces, wherever these are
      const { frame, outer, holes, pieces } = shown.highlightFace;
      for (const piece of pieces) {
        const lines = new THREE.LineSegments(loopLines([outer, ...holes], frame), this.inks.cutInFront);
        lines.position.copy(shiftOf(piece));
        this.group.add(lines);
      }
    }
  }

  /** Three rings round a place, and its word. */
  private addMarker({ at, radius, text }: Marker): void {
    const points: THREE.Vector3[] = [];
    const centre = new THREE.Vector3(...at);
    const r = Math.max(radius, this.reach() * 0.008);
    for (const [u, v] of [
      [0, 1],
      [0, 2],
      [1, 2],
    ]) {
      for (let i = 0; i < 24; i++) {
        for (const k of [i, i + 1]) {
          const a = (k / 24) * 2 * Math.PI;
          const p = centre.clone();
          p.setComponent(u, p.getComponent(u) + r * Math.cos(a));
          p.setComponent(v, p.getComponent(v) + r * Math.sin(a));
          points.push(p);
        }
      }
    }
    this.group.add(new THREE.LineSegments(new THREE.BufferGeometry().setFromPoints(points), this.inks.cutInFront));
    if (text) this.labels.push({ text, at: centre.clone().add(new THREE.Vector3(0, 0, r * 1.6)), kind: 'mark' });
  }

  private addPath(places: readonly Triple[], text: string): void {
    const points = places.map((p) => new THREE.Vector3(...p));
    if (points.length > 1) {
      this.group.add(new THREE.Line(new THREE.BufferGeometry().setFromPoints(points), this.inks.inkInFront));
      this.labels.push({ text, at: points[0].clone().lerp(points[points.length - 1], 0.5), kind: 'mark' });
    }
  }

  /** The diagonal of the model, mm. */
  private reach(): number {
    const { min, max } = this.box;
    return Math.hypot(max[0] - min[0], max[1] - min[1], max[2] - min[2]);
  }

  /** The printer's volume, dashed, its measures on its edges. */
  private addCrate([w, d, h]: Triple, [x, y, z]: Triple, shift: THREE.Vector3): void {
    const corners = Array.from({ length: 8 }, (_, i) =>
      new THREE.Vector3(x + (i & 1 ? w : 0), y + (i & 2 ? d : 0), z + (i & 4 ? h : 0)).add(shift),
    );
    const pairs = [0, 1, 0, 2, 3, 1, 3, 2, 4, 5, 4, 6, 7, 5, 7, 6, 0, 4, 1, 5, 2, 6, 3, 7];
    const geometry = new THREE.BufferGeometry().setFromPoints(pairs.map((i) => corners[i]));
    const dash = Math.max(w, d, h) / 60;
    this.inks.dashed.dashSize = dash;
    this.inks.dashed.gapSize = dash * 0.7;
    const lines = new THREE.LineSegments(geometry, this.inks.dashed);
    lines.computeLineDistances();
    this.group.add(lines);
    const middle = (a: number, b: number) => corners[a].clone().lerp(corners[b], 0.5);
    this.labels.push(
      { text: String(w), at: middle(4, 5), kind: 'crate' },
      { text: String(d), at: middle(5, 7), kind: 'crate' },
      { text: String(h), at: middle(1, 5), kind: 'crate' },
    );
  }

  /**
   * The selected seam: a red sheet over the model's reach, or over what it cuts where that is a part; the section in it outlined
   * in ink.
   */
  private addSheet({ frame, section, faint = [], part = false }: NonNullable<Shown['sheet']>): void {
    const { min, max } = this.box;
    const origin = new THREE.Vector3(...frame.origin);
    const u = new THREE.Vector3(...frame.u);
    const v = new THREE.Vector3(...frame.v);
    let [u0, u1, v0, v1] = [Infinity, -Infinity, Infinity, -Infinity];
    const reach = (a: number, b: number): void => {
      u0 = Math.min(u0, a);
      u1 = Math.max(u1, a);
      v0 = Math.min(v0, b);
      v1 = Math.max(v1, b);
    };
    const own = part ? (section?.loops ?? []) : [];
    for (const l of own) for (let i = 0; i < l.length; i += 2) reach(l[i], l[i + 1]);
    for (let i = 0; i < 8 && own.length === 0; i++) {
      const q = new THREE.Vector3(i & 1 ? max[0] : min[0], i & 2 ? max[1] : min[1], i & 4 ? max[2] : min[2]).sub(
        origin,
      );
      reach(q.dot(u), q.dot(v));
    }
    const rim = (own.length > 0 ? 0.2 : 0.09) * Math.max(u1 - u0, v1 - v0);
    const at = (a: number, b: number) => origin.clone().addScaledVector(u, a).addScaledVector(v, b);
    const quad = [at(u0 - rim, v0 - rim), at(u1 + rim, v0 - rim), at(u1 + rim, v1 + rim), at(u0 - rim, v1 + rim)];
    const geometry = new THREE.BufferGeometry().setFromPoints(quad);
    geometry.setIndex([0, 1, 2, 0, 2, 3]);
    const sheet = new THREE.Mesh(geometry, this.inks.sheet);
    const rimLine = new THREE.LineLoop(new THREE.BufferGeometry().setFromPoints(quad), this.inks.cut);
    this.group.add(sheet, rimLine);
    if (!section) return;
    this.group.add(new THREE.LineSegments(loopLines(section.loops, section.frame), this.inks.inkInFront));
    if (faint.length > 0) this.group.add(new THREE.LineSegments(loopLines(faint, section.frame), this.inks.staff));
  }

  /** A seam that is no plane: red sheets with a rim. */
  private addQuads(corners: Float32Array): void {
    const index: number[] = [];
    const rims: number[] = [];
    for (let q = 0; q < corners.length / 12; q++) {
      const a = q * 4;
      index.push(a, a + 1, a + 2, a, a + 2, a + 3);
      rims.push(a, a + 1, a + 2, a + 3);
    }
    const geometry = new THREE.BufferGeometry();
    geometry.setAttribute('position', new THREE.BufferAttribute(corners, 3));
    geometry.setIndex(index);
    const edges = new THREE.BufferGeometry();
    edges.setAttribute('position', new THREE.BufferAttribute(corners.slice(), 3));
    edges.setIndex(rims);
    this.group.add(new THREE.Mesh(geometry, this.inks.sheet), new THREE.LineSegments(edges, this.inks.cut));
  }

  private addBox({ min, max }: BoxView, text: string): void {
    const size = perAxis(max, (x, a) => x - min[a]);
    const edges = new THREE.LineSegments(
      new THREE.EdgesGeometry(new THREE.BoxGeometry(...(size as [number, number, number]))),
      this.inks.cutInFront,
    );
    edges.position.set((min[0] + max[0]) / 2, (min[1] + max[1]) / 2, (min[2] + max[2]) / 2);
    this.group.add(edges);
    if (text) this.labels.push({ text, at: new THREE.Vector3(min[0], min[1], max[2]), kind: 'mark' });
  }

  private addFill({ positions, index }: Filled): void {
    const geometry = new THREE.BufferGeometry();
    geometry.setAttribute('position', new THREE.BufferAttribute(positions, 3));
    geometry.setIndex(new THREE.BufferAttribute(index, 1));
    this.group.add(new THREE.Mesh(geometry, this.inks.fill));
  }
}

/** Loops of a plane as line segments in space. */
export function loopLines(loops: readonly Float64Array[], frame: FrameView): THREE.BufferGeometry {
  const count = loops.reduce((n, l) => n + l.length, 0);
  const positions = new Float32Array(count * 3);
  let k = 0;
  const put = (l: Float64Array, i: number): void => {
    for (let a = 0; a < 3; a++) positions[k++] = frame.origin[a] + frame.u[a] * l[i] + frame.v[a] * l[i + 1];
  };
  for (const l of loops) {
    for (let i = 0; i < l.length; i += 2) {
      put(l, i);
      put(l, (i + 2) % l.length);
    }
  }
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute('position', new THREE.BufferAttribute(positions, 3));
  return geometry;
}
