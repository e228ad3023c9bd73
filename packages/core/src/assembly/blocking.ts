import { type Evaluation, type Piece, pieceMesh } from '../evaluate/index.ts';
import { excessOf, type Guide } from '../joints/index.ts';
import { dot, scale, type Vec3 } from '../mesh/index.ts';
import type { MatingFace } from '../seams/index.ts';
import { BENT, meets, type Seen, type Swept, seenAlong } from './sweep.ts';

/** A mating face between two pieces by their numbers; the normal points from the first to the second. */
export interface Between {
  readonly face: MatingFace;
  readonly a: number;
  readonly b: number;
  readonly normal: Vec3;
  /** of the joints on it, with axes from the first to the second */
  readonly guides: readonly (Guide & { readonly joint: string })[];
}

/** Why a piece cannot be drawn off another along a direction. */
export type Hold =
  | { readonly by: 'face'; readonly face: string }
  | { readonly by: 'joint'; readonly joint: string }
  /** it meets it after so many mm */
  | { readonly by: 'shape'; readonly after: number };

/** A face holds what would go into it by more than this, cosine. */
const INTO = 1e-4;

/** Whether a piece is part of the whole: made, and no spare alternate. */
export const takesPart = (piece: Piece): boolean => !piece.aside && !piece.spare;

/** Which pieces stand in each other's way, along any direction. What was found is kept. */
export class Blocking {
  readonly pieces: readonly Piece[];
  readonly between: readonly Between[];
  /** faces by the pieces they are of */
  readonly facesOf: readonly (readonly Between[])[];
  private readonly swept: (Swept | null)[];
  private readonly views = new Map<string, (Seen | undefined)[]>();
  private readonly answers = new Map<string, boolean>();
  private readonly numbers = new Map<string, number>();

  constructor({ pieces, faces, measured }: Evaluation) {
    this.pieces = pieces.filter(takesPart);
    const numberOf = new Map(this.pieces.map((p, i) => [p.key, i]));
    this.swept = this.pieces.map(() => null);
    const guides = new Map<string, Between['guides'][number][]>();
    for (const { formed, face, joint } of measured) {
      const { freedom } = formed.form;
      if (freedom === null) continue;
      const axis = dot(formed.axis, face.frame.normal) > 0 ? formed.axis : scale(formed.axis, -1);
      guides.set(face.id, [...(guides.get(face.id) ?? []), { axis, freedom, joint: joint.id }]);
    }
    this.between = faces.flatMap((face) => {
      const [a, b] = face.pieces.map((k) => numberOf.get(k));
      if (a === undefined || b === undefined) return [];
      return [{ face, a, b, normal: face.frame.normal, guides: guides.get(face.id) ?? [] }];
    });
    this.facesOf = this.pieces.map((_, i) => this.between.filter((f) => f.a === i || f.b === i));
  }

  /** What holds piece a on piece b when a is drawn off along `way`: their faces and joints, then their shapes. */
  hold(a: number, b: number, way: Vec3): Hold | null {
    const near = this.joined(a, b, way);
    if (near) return near;
    if (!this.shapes(a, b, way)) return null;
    return { by: 'shape', after: meets(this.seen(a, way), this.seen(b, way), false) ?? 0 };
  }

  /** Whether anything holds piece a on piece b along `way`. */
  held(a: number, b: number, way: Vec3): boolean {
    return this.joined(a, b, way) !== null || this.shapes(a, b, way);
  }

  /** What holds two pieces together where they touch. */
  private joined(a: number, b: number, way: Vec3): Hold | null {
    for (const f of this.facesOf[a]) {
      if (f.a !== b && f.b !== b) continue;
      // away from b
      const out = f.a === a ? scale(f.normal, -1) : f.normal;
      if (dot(out, way) < -INTO) return { by: 'face', face: f.face.id };
      for (const g of f.guides) {
        const axis = f.a === a ? scale(g.axis, -1) : g.axis;
        if (excessOf(way, { axis, freedom: g.freedom }) > 0) return { by: 'joint', joint: g.joint };
      }
    }
    return null;
  }

  /** Whether the shape of b is in the way of a. One question and its mirror image are the same. */
  private shapes(a: number, b: number, way: Vec3): boolean {
    const turned = way.find((x) => Math.abs(x) > 1e-12)! < 0;
    const [p, q, d] = turned ? [b, a, scale(way, -1)] : [a, b, way];
    const key = `${d.map((x) => x.toFixed(9)).join()} ${p} ${q}`;
    let known = this.answers.get(key);
    if (known === undefined) {
      known = meets(this.seen(p, d), this.seen(q, d), true) !== null;
      this.answers.set(key, known);
    }
    return known;
  }

  private seen(i: number, way: Vec3): Seen {
    const key = way.map((x) => x.toFixed(9)).join();
    let views = this.views.get(key);
    if (!views) {
      // a few directions at a time: each holds every piece's triangles
      if (this.views.size >= 6) this.views.delete(this.views.keys().next().value!);
      views = [];
      this.views.set(key, views);
    }
    views[i] ??= seenAlong(this.shape(i), way);
    return views[i];
  }

  /** A piece with its joints as it is swept: what lies in one seam, and the halves of one joint, never meet. */
  shape(i: number): Swept {
    const known = this.swept[i];
    if (known) return known;
    const { mesh, tags } = pieceMesh(this.pieces[i]);
    const number = (name: string): number => {
      const n = this.numbers.get(name) ?? this.numbers.size;
      this.numbers.set(name, n);
      return n;
    };
    const of = tags.map((t) => {
      if (t.kind === 'skin') return -1;
      if (t.kind === 'cap') return t.seam === '' ? BENT : number(`cap ${t.seam}`);
      return number(t.joint);
    });
    const made = { mesh, of: Int32Array.from(mesh.tags, (t) => of[t]) };
    this.swept[i] = made;
    return made;
  }
}
