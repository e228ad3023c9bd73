import { type Affine, scale } from '@gephyra/core/plan';
import type { BoxView, FaceView, FrameView, PieceView, SectionView, Triple } from '../engine/types.ts';

/** How far a piece is from its place while the model is taken apart. `apart`: mm between neighbours. */
export const shiftOf = (piece: Pick<PieceView, 'apart'>, apart: number): Triple => scale(piece.apart, apart / 2);

/** What the view shows beside the pieces. */
export interface Shown {
  readonly selectedPiece: string | null;
  /** mm between neighbours when taken apart */
  readonly apart: number;
  readonly seeThrough: boolean;
  /** one colour for all, before anything is cut */
  readonly plain: boolean;
  /** the printer's volume; `follows` the selected piece when the model is taken apart */
  readonly crate: { readonly size: Triple; readonly at: Triple; readonly follows: boolean } | null;
  readonly sheet: {
    readonly frame: FrameView;
    readonly section: SectionView | null;
    /** outlines that are not cut */
    readonly faint?: readonly Float64Array[];
    /** it reaches no farther than the section */
    readonly part?: boolean;
  } | null;
  /** where a seam that is no plane runs: corners of quads, twelve numbers each */
  readonly quads: Float32Array | null;
  /** boxes drawn by their edges: a bound, a zone to be kept clear */
  readonly boxes: readonly { readonly box: BoxView; readonly text: string }[];
  /** what lies beyond the plane, along its normal, is not drawn; `fill` closes the model there */
  readonly clip: { readonly normal: Triple; readonly offset: number; readonly fill: Filled | null } | null;
  /** nothing but the selected piece is drawn */
  readonly only: boolean;
  /** while a seam is dragged: its plane over the stand-in of the model */
  readonly dragging: { readonly normal: Triple; readonly offset: number } | null;
  readonly highlightFace: FaceView | null;
  /** the two pieces of a face opened, and nothing else */
  readonly book: Book | null;
  /** two groups of pieces on their way together, and nothing else */
  readonly slide: Slide | null;
  /** what hangs on a joint swung about it, with what it hangs on, and nothing else */
  readonly swung: Swung | null;
  /** how far each piece is from its place while it is put together, by its key; those that are not named are not drawn */
  readonly build: ReadonlyMap<string, Triple> | null;
  /** pieces on a bed, and nothing of the model */
  readonly lying: Lying | null;
  /** bodies that are not drawn */
  readonly hidden: readonly string[];
  /** the body whose pieces stand out */
  readonly selectedBody: string | null;
  /** places that are ringed, over everything */
  readonly markers: readonly Marker[];
  /** a line from place to place, with what it measures */
  readonly path: { readonly places: readonly Triple[]; readonly text: string } | null;
  /** looked at when it changes: a place and how much around it */
  readonly focus: Marker | null;
}

/** Two pieces turned away from each other round a hinge. */
export interface Book {
  readonly pieces: readonly [string, string];
  readonly hinge: Triple;
  readonly axis: Triple;
  /** of either, radians */
  readonly angle: number;
  /** where both faces look then */
  readonly towards: Triple;
  /** of what there is to see, mm */
  readonly radius: number;
}

/** The second group drawn off the first. */
export interface Slide {
  readonly stays: readonly string[];
  readonly moves: readonly string[];
  readonly way: Triple;
  /** 0: together; 1: as far apart as they are large */
  readonly share: number;
}

/** Pieces turned about a place, beside those that stay. */
export interface Swung {
  readonly stays: readonly string[];
  readonly moves: readonly string[];
  readonly centre: Triple;
  readonly axis: Triple;
  /** radians */
  readonly angle: number;
}

/** Pieces as they lie on a printer's bed, whose front left corner is the origin. */
export interface Lying {
  readonly things: readonly {
    /** what a pick of it tells */
    readonly key: string;
    /** the piece whose geometry it has */
    readonly of: string;
    /** from the model to the bed */
    readonly lay: Affine;
    readonly chosen: boolean;
    /** it overlaps or leaves the bed */
    readonly bad: boolean;
    /** of what it is printed from; without it the piece's tint */
    readonly colour?: string | undefined;
  }[];
  readonly plate: {
    readonly width: number;
    readonly depth: number;
    readonly margin: number;
    readonly keepOut: readonly { readonly at: readonly [number, number]; readonly size: readonly [number, number] }[];
  };
  /** columns of support: x, y, from z, to z */
  readonly columns: Float32Array | null;
  /** show faces of the first thing, nine numbers a triangle, where they are on the model */
  readonly stamped: Float32Array | null;
  /** steepest lean from upright that is no overhang, radians; below `rest` mm things lie on the bed */
  readonly overhang: number;
  readonly rest: number;
  /** a rule every so many mm of height */
  readonly rules: number;
  /** framed when it changes: what it is called, and its height, mm */
  readonly frame: { readonly name: string; readonly box: BoxView };
  /** what is seen, in words */
  readonly caption: string;
}

/** Triangles of a filled section. */
export interface Filled {
  readonly positions: Float32Array;
  readonly index: Uint32Array;
}

export interface Marker {
  readonly at: Triple;
  /** mm */
  readonly radius: number;
  readonly text?: string;
}

/** A label at a place of the model. */
export interface Label {
  readonly text: string;
  readonly x: number;
  readonly y: number;
  readonly kind: 'crate' | 'staff' | 'mark';
}
