import { type Affine, pieceColour, type Shaded, vecOf } from '@gephyra/core';
import * as THREE from 'three';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';
import type { BoxView, Drawable, EvaluationView, FaceView, Triple } from '../engine/types.ts';
import type { Book, Label, Marker, Shown } from '../project/shown.ts';
import { Furniture, loopLines, type PlacedLabel } from './furniture.ts';
import { clay, hatched, inks, parted } from './materials.ts';

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

interface PieceNode {
  readonly body: string;
  readonly colour: string;
  readonly group: THREE.Group;
  readonly material: THREE.MeshLambertMaterial;
  readonly skin: THREE.Mesh;
  readonly caps: THREE.Mesh[];
  readonly edges: THREE.LineSegments;
  readonly apart: Triple;
}

/** Draws the model; only when something has changed. Knows nothing of plans: it is told what to show. */
export class Scene {
  private readonly renderer: THREE.WebGLRenderer;
  private readonly scene = new THREE.Scene();
  private readonly camera = new THREE.PerspectiveCamera(26, 1, 1, 10_000);
  private readonly controls: OrbitControls;
  private readonly geometry = new Map<number, THREE.BufferGeometry>();
  private readonly pieces = new Map<string, PieceNode>();
  private readonly capMaterial = hatched();
  private readonly inks = inks();
  private readonly furniture = new Furniture(this.inks);
  private readonly ground = new THREE.Group();
  private readonly stand = parted();
  private readonly standIn = new THREE.Mesh(new THREE.BufferGeometry(), this.stand.material);
  private readonly openEdges = new THREE.LineSegments(new THREE.BufferGeometry(), this.inks.cutInFront);
  private readonly light = new THREE.DirectionalLight('#fff6e6', 2.1);
  private staffLabels: PlacedLabel[] = [];
  private box: BoxView = { min: [0, 0, 0], max: [1, 1, 1] };
  private framed = false;
  private pending = 0;
  private focused: Marker | null = null;
  private bookShown = '';
  private readonly clipPlane = new THREE.Plane();
  private clipped = false;
  private faces: readonly FaceView[] = [];
  private readonly tethers = new THREE.LineSegments(new THREE.BufferGeometry(), this.inks.dashed);

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly onLabels: (labels: Label[], pixelsPerMm: number) => void,
    private readonly onPick: (piece: string | null, x: number, y: number) => void,
  ) {
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: true, alpha: true });
    // reading the compiler's log back would stall the page
    this.renderer.debug.checkShaderErrors = import.meta.env.DEV;
    this.renderer.localClippingEnabled = true;
    this.camera.up.set(0, 0, 1);
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.enableDamping = false;
    this.controls.addEventListener('change', this.request);
    this.scene.add(
      new THREE.HemisphereLight('#fffaf0', '#9a8d78', 1.55),
      this.light,
      this.ground,
      this.furniture.group,
      this.openEdges,
      this.tethers,
    );
    this.tethers.frustumCulled = false;
    this.openEdges.frustumCulled = false;
    this.standIn.visible = false;
    this.scene.add(this.standIn);
    let down: [number, number] | null = null;
    canvas.addEventListener('pointerdown', (e) => {
      down = [e.clientX, e.clientY];
    });
    canvas.addEventListener('pointerup', (e) => {
      if (down && Math.hypot(e.clientX - down[0], e.clientY - down[1]) < 4) this.pick(e);
      down = null;
    });
  }

  /** Replaces the pieces; geometry with a known id stays on the graphics card, what nothing uses any more is freed. */
  setView(view: EvaluationView, buffers: ReadonlyMap<number, Drawable>): void {
    for (const [id, g] of buffers) {
      if (this.geometry.has(id)) continue;
      const geometry = geometryOf(g);
      geometry.addGroup(0, g.flat, 0);
      geometry.addGroup(g.flat, Infinity, 1);
      this.geometry.set(id, geometry);
    }
    for (const [id, geometry] of this.geometry) {
      if (buffers.has(id)) continue;
      geometry.dispose();
      this.geometry.delete(id);
    }
    for (const node of this.pieces.values()) {
      this.scene.remove(node.group);
      node.material.dispose();
      node.edges.geometry.dispose();
    }
    this.pieces.clear();
    this.faces = view.faces;
    const empty = new THREE.BufferGeometry();
    view.pieces.forEach((p, i) => {
      const group = new THREE.Group();
      const material = clay(pieceColour(i));
      // an open body shows its inside
      if (!p.closed || this.clipped) material.side = THREE.DoubleSide;
      if (this.clipped) material.clippingPlanes = [this.clipPlane];
      material.userData.open = !p.closed;
      const skin = new THREE.Mesh(this.geometry.get(p.skin) ?? empty, [this.capMaterial, material]);
      skin.userData.piece = p.key;
      const caps = p.caps.map((id) => new THREE.Mesh(this.geometry.get(id) ?? empty, [this.capMaterial, material]));
      for (const c of caps) c.userData.piece = p.key;
      const edges = new THREE.LineSegments(edgeLines(view, p.key), this.inks.ink);
      group.add(skin, ...caps, edges);
      this.scene.add(group);
      this.pieces.set(p.key, { body: p.body, colour: p.colour, group, material, skin, caps, edges, apart: p.apart });
    });
    if (JSON.stringify(view.box) !== JSON.stringify(this.box)) {
      this.box = view.box;
      this.layGround();
      if (!this.framed) this.look('corner');
      this.framed = true;
    }
    this.request();
  }

  /** The light stand-in that is drawn while a seam is dragged. */
  setStandIn(g: Shaded): void {
    this.standIn.geometry.dispose();
    this.standIn.geometry = geometryOf(g);
    // compiled and uploaded now, so that the first move of a seam need not wait for it
    const { visible } = this.standIn;
    this.standIn.visible = true;
    this.renderer.setScissorTest(true);
    this.renderer.setScissor(0, 0, 1, 1);
    this.renderer.render(this.scene, this.camera);
    this.renderer.setScissorTest(false);
    this.standIn.visible = visible;
    this.request();
  }

  /** The edges at which the model is open, drawn through everything so that they are found. */
  setOpenEdges(ends: Float32Array): void {
    this.openEdges.geometry.dispose();
    this.openEdges.geometry = new THREE.BufferGeometry();
    this.openEdges.geometry.setAttribute('position', new THREE.BufferAttribute(ends, 3));
    this.request();
  }

  show(shown: Shown, since: Affine): void {
    const matrix = new THREE.Matrix4().fromArray([...since, 0, 0, 0, 1]).transpose();
    for (const still of [this.openEdges, this.standIn]) {
      still.matrixAutoUpdate = false;
      still.matrix.copy(matrix);
    }
    const drag = shown.dragging;
    this.standIn.visible = drag !== null;
    if (drag) this.stand.plane.value.set(...drag.normal, drag.offset);
    let i = 0;
    for (const [key, node] of this.pieces) {
      const selected = key === shown.selectedPiece || node.body === shown.selectedBody;
      const faded = shown.seeThrough && !selected;
      node.group.visible =
        drag === null &&
        !shown.hidden.includes(node.body) &&
        (shown.book?.pieces.includes(key) ?? true) &&
        (shown.slide ? shown.slide.stays.includes(key) || shown.slide.moves.includes(key) : true) &&
        !(shown.only && shown.selectedPiece !== null && key !== shown.selectedPiece);
      this.pose(key, node, shown);
      const { material } = node;
      node.edges.visible = !shown.plain && shown.clip === null;
      material.color.set(shown.plain ? node.colour || '#c8b699' : pieceColour(i));
      material.emissive.set(selected ? '#1f5673' : '#000000');
      material.emissiveIntensity = selected ? 0.45 : 0;
      if (material.transparent !== faded) {
        material.transparent = faded;
        material.opacity = faded ? 0.24 : 1;
        material.depthWrite = !faded;
        material.needsUpdate = true;
      }
      i++;
    }
    this.clipTo(shown.clip);
    this.tether(shown.apart > 0 && drag === null && !shown.only && !shown.book && !shown.slide);
    const node = shown.selectedPiece === null ? undefined : this.pieces.get(shown.selectedPiece);
    this.furniture.furnish(shown, this.box, node?.group.position ?? new THREE.Vector3());
    this.openBook(shown.book);
    if (shown.focus && shown.focus !== this.focused) this.lookAt(shown.focus);
    this.focused = shown.focus;
    this.request();
  }

  /** Puts a piece where it is shown: apart from the others, opened like a book, or on its way in. */
  private pose(key: string, { group, apart }: PieceNode, { book, slide, ...shown }: Shown): void {
    group.quaternion.identity();
    group.position.set(apart[0], apart[1], apart[2]).multiplyScalar(shown.apart * 0.5);
    if (slide) {
      const { min, max } = this.box;
      const length = 0.35 * Math.hypot(max[0] - min[0], max[1] - min[1], max[2] - min[2]);
      group.position.set(...slide.way).multiplyScalar(slide.moves.includes(key) ? slide.share * length : 0);
    } else if (book) {
      const turn = key === book.pieces[0] ? book.angle : -book.angle;
      const hinge = new THREE.Vector3(...book.hinge);
      group.quaternion.setFromAxisAngle(new THREE.Vector3(...book.axis), turn);
      group.position.copy(hinge).sub(hinge.clone().applyQuaternion(group.quaternion));
    }
  }

  /** Looks into a book when it is opened, and at the whole model when it is closed. */
  private openBook(book: Book | null): void {
    const key = book ? book.pieces.join(' ') : '';
    if (key === this.bookShown) return;
    this.bookShown = key;
    this.ground.visible = book === null;
    if (!book) {
      this.look('corner');
      return;
    }
    const target = new THREE.Vector3(...book.hinge).addScaledVector(
      new THREE.Vector3(...book.towards),
      book.radius * 0.15,
    );
    const distance =
      (book.radius * 1.1) / Math.sin(THREE.MathUtils.degToRad(this.camera.fov / 2)) / Math.min(1, this.camera.aspect);
    // from the side and above, so that what stands out of the faces is seen to do so
    const from = new THREE.Vector3(...book.towards)
      .addScaledVector(new THREE.Vector3(...book.axis), 0.5)
      .add(new THREE.Vector3(0, 0, 0.4))
      .normalize();
    this.controls.target.copy(target);
    this.camera.position.copy(target).addScaledVector(from, distance);
    this.camera.near = Math.max(distance / 200, 1e-5);
    this.camera.far = distance * 20;
    this.camera.updateProjectionMatrix();
    this.controls.update();
  }

  /** Cuts the drawing off at a plane; materials change only when clipping begins or ends. */
  private clipTo(clip: Shown['clip']): void {
    if (clip) this.clipPlane.set(new THREE.Vector3(...clip.normal).negate(), clip.offset);
    const on = clip !== null;
    if (on === this.clipped) return;
    this.clipped = on;
    const planes = on ? [this.clipPlane] : null;
    this.capMaterial.clippingPlanes = planes;
    this.capMaterial.needsUpdate = true;
    for (const { material } of this.pieces.values()) {
      material.clippingPlanes = planes;
      material.side = on || material.userData.open ? THREE.DoubleSide : THREE.FrontSide;
      material.needsUpdate = true;
    }
  }

  /** Lines from each mating face to the one that it belongs on. */
  private tether(on: boolean): void {
    this.tethers.visible = on;
    if (!on) return;
    const points: THREE.Vector3[] = [];
    for (const { frame, pole, pieces } of this.faces) {
      const [a, b] = pieces.map((key) => this.pieces.get(key)?.group);
      if (!a?.visible || !b?.visible || a.position.distanceToSquared(b.position) < 1e-6) continue;
      const at = vecOf((k) => frame.origin[k] + frame.u[k] * pole.u + frame.v[k] * pole.v);
      for (const group of [a, b]) points.push(new THREE.Vector3(...at).add(group.position));
    }
    this.tethers.geometry.dispose();
    this.tethers.geometry = new THREE.BufferGeometry().setFromPoints(points);
    this.tethers.computeLineDistances();
  }

  /** Turns the camera so that the whole model is seen from a side. */
  look(from: Direction): void {
    const { min, max } = this.box;
    const centre = new THREE.Vector3(...min).add(new THREE.Vector3(...max)).multiplyScalar(0.5);
    const radius = new THREE.Vector3(...max).sub(new THREE.Vector3(...min)).length() / 2;
    const narrow = Math.min(1, this.camera.aspect);
    const distance = (radius * 1.12) / Math.sin(THREE.MathUtils.degToRad(this.camera.fov / 2)) / narrow;
    this.camera.position.copy(centre).addScaledVector(new THREE.Vector3(...DIRECTIONS[from]).normalize(), distance);
    this.camera.near = Math.max(distance / 200, 1e-5);
    this.camera.far = distance * 20;
    this.camera.updateProjectionMatrix();
    this.controls.target.copy(centre);
    this.controls.update();
    this.request();
  }

  /** Goes near a place without turning. */
  private lookAt({ at, radius }: Marker): void {
    const target = new THREE.Vector3(...at);
    const offset = this.camera.position.clone().sub(this.controls.target).normalize();
    const { min, max } = this.box;
    const size = new THREE.Vector3(...max).sub(new THREE.Vector3(...min)).length();
    const distance = Math.max(radius * 8, size * 0.12);
    this.controls.target.copy(target);
    this.camera.position.copy(target).addScaledVector(offset, distance);
    this.camera.near = Math.max(distance / 200, 1e-5);
    this.camera.updateProjectionMatrix();
    this.controls.update();
  }

  /** The ray that leaves the eye through a point of the canvas (pixels from its upper left), or through its middle. */
  rayAt(x?: number, y?: number): { origin: Triple; direction: Triple } {
    const { clientWidth: w, clientHeight: h } = this.canvas;
    // the camera may have turned since the last frame
    this.camera.updateMatrixWorld();
    const ray = new THREE.Raycaster();
    ray.setFromCamera(
      new THREE.Vector2(x === undefined ? 0 : (x / w) * 2 - 1, y === undefined ? 0 : 1 - (y / h) * 2),
      this.camera,
    );
    const { origin, direction } = ray.ray;
    return { origin: [origin.x, origin.y, origin.z], direction: [direction.x, direction.y, direction.z] };
  }

  /** Turns by angles in radians, and moves nearer by a factor: for the keyboard. */
  turn(azimuth: number, height: number, nearer: number): void {
    const offset = this.camera.position.clone().sub(this.controls.target);
    const s = new THREE.Spherical().setFromVector3(new THREE.Vector3(offset.x, offset.z, -offset.y));
    s.theta += azimuth;
    s.phi = Math.min(Math.PI - 0.01, Math.max(0.01, s.phi + height));
    s.radius /= nearer;
    const turned = new THREE.Vector3().setFromSpherical(s);
    this.camera.position.copy(this.controls.target).add(new THREE.Vector3(turned.x, -turned.z, turned.y));
    this.controls.update();
    this.request();
  }

  resize(width: number, height: number): void {
    this.renderer.setPixelRatio(Math.min(2, window.devicePixelRatio));
    this.renderer.setSize(width, height, false);
    const first = this.camera.aspect === 1;
    this.camera.aspect = width / Math.max(1, height);
    this.camera.updateProjectionMatrix();
    if (first && this.framed) this.look('corner');
    this.request();
  }

  dispose(): void {
    cancelAnimationFrame(this.pending);
    this.controls.dispose();
    for (const g of this.geometry.values()) g.dispose();
    this.renderer.dispose();
  }

  private readonly request = (): void => {
    if (this.pending) return;
    this.canvas.dataset.settled = 'false';
    this.pending = requestAnimationFrame(() => {
      this.pending = 0;
      this.draw();
    });
  };

  private draw(): void {
    this.light.position.copy(this.camera.position).sub(this.controls.target).normalize();
    this.light.position.add(new THREE.Vector3(-0.5, -0.2, 0.9));
    this.renderer.render(this.scene, this.camera);
    this.canvas.dataset.settled = String(this.pieces.size > 0);
    const { clientWidth: w, clientHeight: h } = this.canvas;
    const labels = [...this.furniture.labels, ...(this.ground.visible ? this.staffLabels : [])].flatMap(
      ({ text, at, kind }): Label[] => {
        const q = at.clone().project(this.camera);
        if (Math.abs(q.x) > 1.05 || Math.abs(q.y) > 1.05 || q.z > 1) return [];
        return [{ text, kind, x: ((q.x + 1) / 2) * w, y: ((1 - q.y) / 2) * h }];
      },
    );
    const distance = this.camera.position.distanceTo(this.controls.target);
    const pixelsPerMm = h / (2 * distance * Math.tan(THREE.MathUtils.degToRad(this.camera.fov / 2)));
    this.onLabels(labels, pixelsPerMm);
  }

  private pick(event: PointerEvent): void {
    const { left, top, width, height } = this.canvas.getBoundingClientRect();
    const at = new THREE.Vector2(((event.clientX - left) / width) * 2 - 1, 1 - ((event.clientY - top) / height) * 2);
    const ray = new THREE.Raycaster();
    ray.setFromCamera(at, this.camera);
    const hits = ray.intersectObjects(
      [...this.pieces.values()].filter((n) => n.group.visible).flatMap((n) => [n.skin, ...n.caps]),
      false,
    );
    const hit = hits.find((h) => !this.clipped || this.clipPlane.distanceToPoint(h.point) >= 0);
    this.onPick((hit?.object.userData.piece as string | undefined) ?? null, event.clientX - left, event.clientY - top);
  }

  /** A circle under the model and, beside it, a tide staff: a post with a mark every 10 mm and a number every 100. */
  private layGround(): void {
    for (const child of [...this.ground.children]) {
      this.ground.remove(child);
      (child as THREE.LineSegments).geometry.dispose();
    }
    const { min, max } = this.box;
    const height = max[2] - min[2];
    const centre = new THREE.Vector3((min[0] + max[0]) / 2, (min[1] + max[1]) / 2, min[2]);
    const radius = 0.62 * Math.hypot(max[0] - min[0], max[1] - min[1]);
    const circle: THREE.Vector3[] = [];
    for (let i = 0; i < 96; i++) {
      const a = (i / 96) * 2 * Math.PI;
      circle.push(centre.clone().add(new THREE.Vector3(radius * Math.cos(a), radius * Math.sin(a), 0)));
    }
    // a flat, wide model is seen from farther away
    const step = 10 ** Math.max(0, Math.floor(Math.log10(Math.max(height, radius, 1))) - 1);
    const foot = centre.clone().add(new THREE.Vector3(-radius, 0, 0));
    const marks: THREE.Vector3[] = [foot, foot.clone().add(new THREE.Vector3(0, 0, height))];
    this.staffLabels = [];
    for (let k = 0; k * step <= height; k++) {
      const at = foot.clone().add(new THREE.Vector3(0, 0, k * step));
      const long = k % 10 === 0 ? 0.1 : k % 5 === 0 ? 0.06 : 0.035;
      marks.push(at, at.clone().add(new THREE.Vector3(-radius * long, 0, 0)));
      if (k % 10 === 0) {
        const label = at.clone().add(new THREE.Vector3(-radius * 0.2, 0, 0));
        this.staffLabels.push({ text: String(k * step), at: label, kind: 'staff' });
      }
    }
    this.ground.add(
      new THREE.LineLoop(new THREE.BufferGeometry().setFromPoints(circle), this.inks.ground),
      new THREE.LineSegments(new THREE.BufferGeometry().setFromPoints(marks), this.inks.staff),
    );
  }
}

function geometryOf(g: Shaded): THREE.BufferGeometry {
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute('position', new THREE.BufferAttribute(g.positions, 3));
  geometry.setAttribute('normal', new THREE.BufferAttribute(g.normals, 3));
  geometry.setIndex(new THREE.BufferAttribute(g.index, 1));
  return geometry;
}

/** The outlines of a piece's mating faces. */
function edgeLines(view: EvaluationView, piece: string): THREE.BufferGeometry {
  const parts = view.faces
    .filter((f) => f.pieces.includes(piece))
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
