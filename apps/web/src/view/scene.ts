import type { Affine, Shaded } from '@gephyra/core/plan';
import * as THREE from 'three';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';
import type { BoxView, Drawable, EvaluationView, FaceView, Triple } from '../engine/types.ts';
import { type Book, type Label, type Marker, type Shown, shiftOf } from '../project/shown.ts';
import { edgeLines, geometryOf } from './buffers.ts';
import { type Direction, Eye } from './eye.ts';
import { Fittings } from './fittings.ts';
import { Furniture, type PlacedLabel } from './furniture.ts';
import { groundOf } from './ground.ts';
import { apartLabels } from './labels.ts';
import { Bed, type LyingHit, type PieceDrawing } from './lying.ts';
import { clay, hatched, inks, parted, specks } from './materials.ts';
import { Tethers } from './tethers.ts';

interface PieceNode {
  readonly body: string;
  readonly tint: string;
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
  private readonly fittings = new Fittings();
  private readonly bed = new Bed(this.inks);
  private readonly ground = new THREE.Group();
  private readonly stand = parted();
  private readonly standIn = new THREE.Mesh(new THREE.BufferGeometry(), this.stand.material);
  private readonly openEdges = new THREE.LineSegments(new THREE.BufferGeometry(), this.inks.cutInFront);
  private readonly light = new THREE.DirectionalLight('#fff6e6', 2.1);
  private staffLabels: PlacedLabel[] = [];
  private staff: THREE.Object3D | null = null;
  private box: BoxView = { min: [0, 0, 0], max: [1, 1, 1] };
  private framed = false;
  private disposed = false;
  private pending = 0;
  private focused: Marker | null = null;
  private bookShown = '';
  private lyingShown = '';
  /** what is framed in place of the model */
  private lyingBox: BoxView | null = null;
  private drawings: ReadonlyMap<string, PieceDrawing> = new Map();
  private readonly clipPlane = new THREE.Plane();
  private clipped = false;
  private faces: readonly FaceView[] = [];
  /** show faces, by body */
  private readonly stamps = new Map<string, THREE.Mesh>();
  private readonly tethers = new Tethers(this.inks);

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
      this.fittings.group,
      this.bed.group,
      this.openEdges,
      this.tethers.lines,
    );
    this.openEdges.frustumCulled = false;
    this.standIn.visible = false;
    this.scene.add(this.standIn);
    void this.warmUp();
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
    for (const mesh of this.stamps.values()) this.scene.remove(mesh);
    this.stamps.clear();
    for (const { body, geometry } of view.show) {
      const mesh = new THREE.Mesh(this.geometry.get(geometry), this.inks.show);
      this.scene.add(mesh);
      this.stamps.set(body, mesh);
    }
    const empty = new THREE.BufferGeometry();
    for (const p of view.pieces) {
      const group = new THREE.Group();
      const material = clay(p.tint);
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
      const { body, tint, colour, apart } = p;
      this.pieces.set(p.key, { body, tint, colour, group, material, skin, caps, edges, apart });
    }
    this.fittings.set(view.fittings, this.geometry, new Map([...this.pieces].map(([key, { group }]) => [key, group])));
    this.drawings = new Map(
      [...this.pieces].map(([key, { tint, skin, caps }]) => [
        key,
        { tint, skin: skin.geometry, caps: caps.map((c) => c.geometry) },
      ]),
    );
    if (JSON.stringify(view.box) !== JSON.stringify(this.box)) {
      this.box = view.box;
      this.layGround();
      if (!this.framed) this.look('corner');
      else if (this.lyingShown === '') this.eye.follow(view.box);
      this.framed = true;
    }
    this.request();
  }

  /** The light stand-in that is drawn while a seam is dragged. */
  setStandIn(g: Shaded): void {
    this.standIn.geometry.dispose();
    this.standIn.geometry = geometryOf(g);
    // uploaded now, so that the first move of a seam need not wait for it
    const { visible } = this.standIn;
    this.standIn.visible = true;
    this.drawUnseen();
    this.standIn.visible = visible;
    this.request();
  }

  /** Has all shaders made while there is nothing to draw yet. */
  private async warmUp(): Promise<void> {
    const group = specks([clay('#ffffff'), this.capMaterial, this.stand.material, ...Object.values(this.inks)]);
    this.scene.add(group);
    await this.renderer.compileAsync(this.scene, this.eye.camera).catch(() => {});
    if (this.disposed) return;
    this.drawUnseen();
    // kept, as what nothing uses any more is forgotten
    group.visible = false;
  }

  /** Draws where nothing of it is seen. */
  private drawUnseen(): void {
    this.renderer.setScissorTest(true);
    this.renderer.setScissor(0, 0, 1, 1);
    this.renderer.render(this.scene, this.eye.camera);
    this.renderer.setScissorTest(false);
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
    for (const [key, node] of this.pieces) {
      const selected = key === shown.selectedPiece || node.body === shown.selectedBody;
      const faded = shown.seeThrough && !selected;
      node.group.visible =
        drag === null &&
        shown.lying === null &&
        !shown.hidden.includes(node.body) &&
        (shown.book?.pieces.includes(key) ?? true) &&
        (shown.build?.has(key) ?? true) &&
        [shown.slide, shown.swung].every((g) => !g || g.stays.includes(key) || g.moves.includes(key)) &&
        !(shown.only && shown.selectedPiece !== null && key !== shown.selectedPiece);
      this.pose(key, node, shown);
      const { material } = node;
      node.edges.visible = !shown.plain && shown.clip === null;
      material.color.set(shown.plain ? node.colour || '#c8b699' : node.tint);
      material.emissive.set(selected ? '#1f5673' : '#000000');
      material.emissiveIntensity = selected ? 0.45 : 0;
      if (material.transparent !== faded) {
        material.transparent = faded;
        material.opacity = faded ? 0.24 : 1;
        material.depthWrite = !faded;
        material.needsUpdate = true;
      }
    }
    // they lie on the model as it is together
    const opened = shown.book !== null || shown.slide !== null || shown.swung !== null;
    const together = shown.apart === 0 && drag === null && !shown.only && !opened && !shown.build && !shown.lying;
    for (const [body, mesh] of this.stamps) mesh.visible = together && !shown.clip && !shown.hidden.includes(body);
    this.clipTo(shown.clip);
    // inside what is closed nobody sees them
    const inside = opened || shown.apart > 0 || shown.build !== null || shown.seeThrough || shown.clip !== null;
    const fitted = inside && drag === null && shown.lying === null;
    this.fittings.show(fitted, fitted && !opened && !shown.only);
    const tethered = shown.apart > 0 && !shown.build && drag === null && !shown.only && !opened && !shown.lying;
    this.tethers.show(tethered ? this.faces : [], (key) => this.pieces.get(key)?.group);
    this.furniture.furnish(shown, this.box, (piece) => this.pieces.get(piece)?.group.position ?? new THREE.Vector3());
    this.bed.show(shown.lying, this.drawings);
    this.openEdges.visible = shown.lying === null;
    this.openBed(shown.lying);
    this.openBook(shown.book);
    if (shown.focus && shown.focus !== this.focused) this.eye.near(shown.focus, this.box);
    this.focused = shown.focus;
    this.request();
  }

  /** Puts a piece where it is shown: apart from the others, opened like a book, or on its way in. */
  private pose(key: string, { group, apart }: PieceNode, { book, slide, swung, build, ...shown }: Shown): void {
    group.quaternion.identity();
    group.position.set(...shiftOf({ apart }, shown.apart));
    if (build) group.position.set(...(build.get(key) ?? [0, 0, 0]));
    else if (slide) {
      const { min, max } = this.box;
      const length = 0.35 * Math.hypot(max[0] - min[0], max[1] - min[1], max[2] - min[2]);
      group.position.set(...slide.way).multiplyScalar(slide.moves.includes(key) ? slide.share * length : 0);
    } else if (swung) turnAbout(group, swung.centre, swung.axis, swung.moves.includes(key) ? swung.angle : 0);
    else if (book) turnAbout(group, book.hinge, book.axis, key === book.pieces[0] ? book.angle : -book.angle);
  }

  /** Looks at a bed when another is shown, and at the model when none is. */
  private openBed(lying: Shown['lying']): void {
    const name = lying?.frame.name ?? '';
    if (name === this.lyingShown) return;
    this.lyingShown = name;
    this.ground.visible = lying === null;
    this.lyingBox = lying?.frame.box ?? null;
    this.look('corner');
  }

  /** Looks into a book when it is opened, and at the whole model when it is closed. */
  private openBook(book: Book | null): void {
    const key = book ? book.pieces.join(' ') : '';
    if (key === this.bookShown) return;
    this.bookShown = key;
    this.ground.visible = book === null && this.lyingShown === '';
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
    this.fittings.clip(planes);
    for (const { material } of this.pieces.values()) {
      material.clippingPlanes = planes;
      material.side = on || material.userData.open ? THREE.DoubleSide : THREE.FrontSide;
      material.needsUpdate = true;
    }
  }

  /** The whole model from a side. */
  look(from: Direction): void {
    this.eye.look(this.lyingBox ?? this.box, from);
  }

  /** The ray that leaves the eye through a point of the canvas, pixels from its upper left. */
  rayAt(x: number, y: number): { origin: Triple; direction: Triple } {
    const { origin, direction } = this.eye.ray(x, y).ray;
    return { origin: [origin.x, origin.y, origin.z], direction: [direction.x, direction.y, direction.z] };
  }

  /** What lies on the bed where a point of the canvas is; null where nothing does. */
  lyingAt(x: number, y: number): LyingHit | null {
    return this.bed.hitBy(this.eye.ray(x, y));
  }

  /** Whether a drag turns the model, or is left to whoever wants it for something else. */
  set turning(on: boolean) {
    this.controls.mouseButtons.LEFT = on ? THREE.MOUSE.ROTATE : null;
    this.controls.touches.ONE = on ? THREE.TOUCH.ROTATE : null;
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
    this.disposed = true;
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
    // looked along, the staff says nothing
    const staff = this.ground.visible && Math.abs(camera.getWorldDirection(new THREE.Vector3()).z) < ALONG;
    if (this.staff) this.staff.visible = staff;
    this.renderer.render(this.scene, camera);
    this.canvas.dataset.settled = String(this.pieces.size > 0 && !this.eye.moving);
    const labels = [...this.furniture.labels, ...(staff ? this.staffLabels : [])].flatMap(
      ({ text, at, kind }): Label[] => {
        const seen = this.eye.seen(at);
        return seen ? [{ text, kind, x: seen[0], y: seen[1] }] : [];
      },
    );
    this.onLabels(apartLabels(labels), this.eye.pixelsPerMm());
  }

  private pick(event: PointerEvent): void {
    const { left, top } = this.canvas.getBoundingClientRect();
    const ray = this.eye.ray(event.clientX - left, event.clientY - top);
    const seen = [...this.pieces.values()].filter((n) => n.group.visible).flatMap((n) => [n.skin, ...n.caps]);
    const hits = ray.intersectObjects([...seen, ...this.bed.meshes], false);
    const hit = hits.find((h) => !this.clipped || this.clipPlane.distanceToPoint(h.point) >= 0);
    this.onPick((hit?.object.userData.piece as string | undefined) ?? null, event.clientX - left, event.clientY - top);
  }

  private layGround(): void {
    for (const child of [...this.ground.children]) {
      this.ground.remove(child);
      (child as THREE.LineSegments).geometry.dispose();
    }
    const { circle, staff, labels } = groundOf(this.box, this.inks);
    this.ground.add(circle, staff);
    this.staff = staff;
    this.staffLabels = labels;
  }
}

/** Of a direction that is steeper than that, the upright ruler is looked along. */
const ALONG = 0.94;

function turnAbout(group: THREE.Group, place: Triple, axis: Triple, angle: number): void {
  const at = new THREE.Vector3(...place);
  group.quaternion.setFromAxisAngle(new THREE.Vector3(...axis), angle);
  group.position.copy(at).sub(at.clone().applyQuaternion(group.quaternion));
}
