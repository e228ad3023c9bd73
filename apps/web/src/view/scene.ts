import { type Affine, pieceColour, type Shaded, vecOf } from '@gephyra/core';
import * as THREE from 'three';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';
import type { BoxView, Drawable, EvaluationView, FaceView, Triple } from '../engine/types.ts';
import { type Book, type Label, type Marker, type Shown, shiftOf } from '../project/shown.ts';
import { type Direction, Eye } from './eye.ts';
import { Furniture, loopLines, type PlacedLabel } from './furniture.ts';
import { clay, hatched, inks, parted } from './materials.ts';

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
  private readonly eye: Eye;
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
    const target = new THREE.Vector3();
    this.eye = new Eye(target, () => {
      this.controls.update();
      this.request();
    });
    this.controls = new OrbitControls(this.eye.camera, canvas);
    this.controls.target = target;
    this.controls.enableDamping = false;
    this.controls.addEventListener('start', () => this.eye.stop());
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
      if (this.framed) this.eye.follow(view.box);
      else this.look('corner');
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
    this.renderer.render(this.scene, this.eye.camera);
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
    if (shown.focus && shown.focus !== this.focused) this.eye.near(shown.focus, this.box);
    this.focused = shown.focus;
    this.request();
  }

  /** Puts a piece where it is shown: apart from the others, opened like a book, or on its way in. */
  private pose(key: string, { group, apart }: PieceNode, { book, slide, ...shown }: Shown): void {
    group.quaternion.identity();
    group.position.set(...shiftOf({ apart }, shown.apart));
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
    this.eye.into(book);
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

  /** The whole model from a side. */
  look(from: Direction): void {
    this.eye.look(this.box, from);
  }

  /** The ray that leaves the eye through a point of the canvas, pixels from its upper left. */
  rayAt(x: number, y: number): { origin: Triple; direction: Triple } {
    const { origin, direction } = this.eye.ray(x, y).ray;
    return { origin: [origin.x, origin.y, origin.z], direction: [direction.x, direction.y, direction.z] };
  }

  /** Turns by angles in radians, and moves nearer by a factor: for the keyboard. */
  turn(azimuth: number, height: number, nearer: number): void {
    this.eye.turn(azimuth, height, nearer);
  }

  /** Goes to where a place fills the view, without turning. */
  fit(place: Marker): void {
    this.eye.fit(place);
  }

  /** The middle of what is free of the canvas, pixels from its upper left. */
  get middle(): readonly [number, number] {
    return this.eye.middle;
  }

  /** Fits the drawing to the canvas, CSS px; `covered`: what lies over its top. */
  resize(width: number, height: number, covered: number): void {
    this.renderer.setPixelRatio(Math.min(2, window.devicePixelRatio));
    this.renderer.setSize(width, height, false);
    const first = this.eye.resize(width, height, covered);
    if (first && this.framed) this.look('corner');
    this.request();
  }

  dispose(): void {
    cancelAnimationFrame(this.pending);
    this.eye.stop();
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
    const { camera, target } = this.eye;
    this.light.position.copy(camera.position).sub(target).normalize();
    this.light.position.add(new THREE.Vector3(-0.5, -0.2, 0.9));
    this.renderer.render(this.scene, camera);
    this.canvas.dataset.settled = String(this.pieces.size > 0 && !this.eye.moving);
    const labels = [...this.furniture.labels, ...(this.ground.visible ? this.staffLabels : [])].flatMap(
      ({ text, at, kind }): Label[] => {
        const seen = this.eye.seen(at);
        return seen ? [{ text, kind, x: seen[0], y: seen[1] }] : [];
      },
    );
    this.onLabels(labels, this.eye.pixelsPerMm());
  }

  private pick(event: PointerEvent): void {
    const { left, top } = this.canvas.getBoundingClientRect();
    const ray = this.eye.ray(event.clientX - left, event.clientY - top);
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
