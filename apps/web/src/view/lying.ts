import * as THREE from 'three';
import type { Triple } from '../engine/types.ts';
import type { Lying } from '../project/shown.ts';
import { clay, type Inks } from './materials.ts';

/** At most so many columns of support are drawn: more would be a grey block. */
const MOST_COLUMNS = 3000;

/** A piece's drawing as it is kept for the view: skin and caps. */
export interface PieceDrawing {
  readonly tint: string;
  readonly skin: THREE.BufferGeometry;
  readonly caps: readonly THREE.BufferGeometry[];
}

/** A place of what lies on a bed. */
export interface LyingHit {
  /** the piece whose geometry it has, and whether that was met on its skin */
  readonly of: string;
  readonly skin: boolean;
  /** the outward normal on the bed */
  readonly onBed: Triple;
  /** where that is on the model, and the normal there */
  readonly at: Triple;
  readonly normal: Triple;
}

/**
 * Clay on a bed: what hangs over is ochre, and level rules tell its layers. Both are told by the normal and height on the bed,
 * so that they need no geometry of their own.
 */
function lyingClay(colour: THREE.Color, { overhang, rest, rules }: { overhang: number; rest: number; rules: number }) {
  const material = clay(colour);
  material.onBeforeCompile = (shader) => {
    shader.uniforms.steep = { value: Math.sin(overhang) + 1e-3 };
    shader.uniforms.rest = { value: rest };
    shader.uniforms.rules = { value: rules };
    shader.vertexShader = shader.vertexShader
      .replace('#include <common>', '#include <common>\nvarying float bedHeight;\nvarying vec3 bedNormal;')
      .replace(
        '#include <begin_vertex>',
        `#include <begin_vertex>
         bedHeight = (modelMatrix * vec4(position, 1.0)).z;
         bedNormal = mat3(modelMatrix) * normal;`,
      );
    shader.fragmentShader = shader.fragmentShader
      .replace(
        '#include <common>',
        '#include <common>\nvarying float bedHeight;\nvarying vec3 bedNormal;\nuniform float steep;\nuniform float rest;\nuniform float rules;',
      )
      .replace(
        '#include <color_fragment>',
        `#include <color_fragment>
         float down = -normalize(bedNormal).z;
         float over = smoothstep(steep - 0.02, steep + 0.02, down) * step(rest, bedHeight);
         diffuseColor.rgb = mix(diffuseColor.rgb, vec3(0.76, 0.47, 0.08), over * 0.85);
         float rule = abs(fract(bedHeight / rules - 0.5) - 0.5) * rules / max(fwidth(bedHeight), 1e-4);
         diffuseColor.rgb *= 1.0 - 0.13 * (1.0 - smoothstep(0.5, 1.2, rule)) * step(fwidth(bedHeight), rules * 0.4);`,
      );
  };
  material.customProgramCacheKey = () => 'lying';
  return material;
}

/** Pieces as they lie on a bed, their supports, and the bed. */
export class Bed {
  readonly group = new THREE.Group();
  private readonly materials: THREE.Material[] = [];
  private shown: Lying | null = null;
  private drawings: ReadonlyMap<string, PieceDrawing> | null = null;

  constructor(private readonly inks: Inks) {}

  /** The meshes that can be picked; each knows its thing's key. */
  get meshes(): THREE.Object3D[] {
    return this.group.children.filter((c) => c.userData.piece !== undefined);
  }

  /** What a ray meets first of what lies here; null where it meets nothing. */
  hitBy(ray: THREE.Raycaster): LyingHit | null {
    const [hit] = ray.intersectObjects(this.meshes, false);
    if (!hit?.face) return null;
    const { x, y, z } = hit.face.normal.clone().transformDirection(hit.object.matrixWorld);
    const { of, skin } = hit.object.userData as { of: string; skin: boolean };
    const at = hit.object.worldToLocal(hit.point.clone());
    return { of, skin, onBed: [x, y, z], at: at.toArray(), normal: hit.face.normal.toArray() };
  }

  /** Draws what lies, or nothing. */
  show(lying: Lying | null, drawings: ReadonlyMap<string, PieceDrawing>): void {
    if (lying === this.shown && drawings === this.drawings) return;
    this.shown = lying;
    this.drawings = drawings;
    for (const child of [...this.group.children]) {
      this.group.remove(child);
      if (!(child instanceof THREE.Mesh) && !(child instanceof THREE.LineSegments)) continue;
      if (child.userData.own) child.geometry.dispose();
    }
    for (const material of this.materials.splice(0)) material.dispose();
    if (!lying) return;
    this.addPlate(lying);
    for (const thing of lying.things) {
      const drawing = drawings.get(thing.of);
      if (!drawing) continue;
      const colour = new THREE.Color(thing.bad ? '#b8574a' : (thing.colour ?? drawing.tint));
      const material = lyingClay(colour, lying);
      // joints and letters are a shade darker: from above their walls are not seen
      const deeper = lyingClay(colour.clone().multiplyScalar(0.62), lying);
      for (const m of [material, deeper]) {
        if (!thing.chosen) continue;
        m.emissive.set('#1f5673');
        m.emissiveIntensity = 0.3;
      }
      this.materials.push(material, deeper);
      for (const [i, geometry] of [drawing.skin, ...drawing.caps].entries()) {
        // a cap's face is its first group, all of a skin its second
        const mesh = new THREE.Mesh(geometry, i === 0 ? [material, material] : [material, deeper]);
        mesh.matrixAutoUpdate = false;
        mesh.matrix.fromArray([...thing.lay, 0, 0, 0, 1]).transpose();
        mesh.userData = { piece: thing.key, of: thing.of, skin: i === 0 };
        this.group.add(mesh);
      }
    }
    if (lying.stamped) this.addStamps(lying.stamped);
    if (lying.columns) this.addColumns(lying.columns);
    // what is picked before the next frame lies where it will be drawn
    this.group.updateMatrixWorld(true);
  }

  /** The bed: a sheet with a rim, a rule every 10 mm, and what is kept free of it. */
  private addPlate({ plate }: Lying): void {
    const { width, depth, margin, keepOut } = plate;
    const sheet = new THREE.Mesh(new THREE.PlaneGeometry(width, depth), this.inks.bed);
    sheet.position.set(width / 2, depth / 2, -0.3);
    sheet.userData = { own: true };
    const lines: number[] = [];
    const line = (x0: number, y0: number, x1: number, y1: number): void => {
      lines.push(x0, y0, -0.1, x1, y1, -0.1);
    };
    for (let x = 20; x < width; x += 20) line(x, 0, x, depth);
    for (let y = 20; y < depth; y += 20) line(0, y, width, y);
    this.addLines(lines, this.inks.bedRule);
    const rim: number[] = [];
    const box = (x: number, y: number, w: number, d: number): void => {
      rim.push(x, y, 0, x + w, y, 0, x + w, y, 0, x + w, y + d, 0, x + w, y + d, 0, x, y + d, 0, x, y + d, 0, x, y, 0);
    };
    box(0, 0, width, depth);
    if (margin > 0) box(margin, margin, width - 2 * margin, depth - 2 * margin);
    this.addLines(rim, this.inks.staff);
    const blocked: number[] = [];
    for (const { at, size } of keepOut) {
      const [x, y] = at;
      blocked.push(x, y, 0, x + size[0], y + size[1], 0, x + size[0], y, 0, x, y + size[1], 0);
    }
    if (blocked.length > 0) this.addLines(blocked, this.inks.cut);
    this.group.add(sheet);
  }

  /** Show faces of the first thing that lies there. */
  private addStamps(triangles: Float32Array): void {
    const [thing] = this.group.children.filter((c) => c.userData.piece !== undefined);
    if (!thing) return;
    const geometry = new THREE.BufferGeometry();
    geometry.setAttribute('position', new THREE.BufferAttribute(triangles, 3));
    const mesh = new THREE.Mesh(geometry, this.inks.show);
    mesh.matrixAutoUpdate = false;
    mesh.matrix.copy(thing.matrix);
    mesh.userData = { own: true };
    this.group.add(mesh);
  }

  private addColumns(columns: Float32Array): void {
    const count = columns.length / 4;
    const step = Math.max(1, Math.ceil(count / MOST_COLUMNS));
    const lines: number[] = [];
    for (let i = 0; i < count; i += step) {
      const [x, y, low, high] = columns.subarray(4 * i, 4 * i + 4);
      lines.push(x, y, low, x, y, high);
    }
    this.addLines(lines, this.inks.column);
  }

  private addLines(points: readonly number[], material: THREE.Material): void {
    const geometry = new THREE.BufferGeometry();
    geometry.setAttribute('position', new THREE.Float32BufferAttribute(points, 3));
    const lines = new THREE.LineSegments(geometry, material);
    lines.userData = { own: true };
    this.group.add(lines);
  }
}
