import { scale } from '@gephyra/core';
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
