import type { Finding, FitResult, Shaded } from '@gephyra/core';

export type Triple = readonly [number, number, number];

export interface BoxView {
  readonly min: Triple;
  readonly max: Triple;
}

/** The model as the worker holds it, in the source's own size. */
export interface ModelView {
  readonly box: BoxView;
  readonly triangles: number;
  readonly notes: readonly string[];
  /** both ends of every open edge, xyz each */
  readonly openEdges: Float32Array;
}

/** A piece as the interface shows it. `skin` and `caps` are ids of geometry. */
export interface PieceView {
  readonly key: string;
  readonly code: string;
  readonly name: string;
  readonly body: string;
  readonly size: Triple;
  readonly box: BoxView;
  readonly volume: number;
  readonly triangles: number;
  readonly closed: boolean;
  readonly fit: FitResult;
  readonly joints: readonly string[];
  readonly skin: number;
  readonly caps: readonly number[];
  /** where the piece goes when the model is taken apart: the sum of its sides of all seams */
  readonly apart: Triple;
  /** sentences that keep it from being exported unless the maker says so */
  readonly stops: readonly string[];
}

export interface FaceView {
  readonly id: string;
  readonly seam: string;
  readonly pieces: readonly [string, string];
  readonly area: number;
  readonly outer: Float64Array;
  readonly holes: readonly Float64Array[];
  readonly pole: { readonly u: number; readonly v: number; readonly distance: number };
  readonly frame: FrameView;
}

export interface FrameView {
  readonly origin: Triple;
  readonly normal: Triple;
  readonly u: Triple;
  readonly v: Triple;
  readonly offset: number;
}

export interface JointView {
  readonly id: string;
  readonly face: string | null;
  readonly u: number;
  readonly v: number;
  readonly male: string | null;
  readonly socket: string | null;
  readonly edge: number | null;
  readonly wall: number | null;
  readonly root: number | null;
  readonly apart: number | null;
  readonly built: boolean;
  readonly socketDepth: number;
  /** outlines on the face */
  readonly maleLoop: Float64Array;
  readonly socketLoop: Float64Array;
}

export interface EvaluationView {
  readonly factor: number;
  readonly box: BoxView;
  readonly pieces: readonly PieceView[];
  readonly faces: readonly FaceView[];
  readonly joints: readonly JointView[];
  readonly findings: readonly Finding[];
  readonly anchors: readonly { key: string; at: [number, number, number] }[];
  /** geometry that was not sent before, by id */
  readonly fresh: readonly Drawable[];
  readonly milliseconds: number;
}

/** Buffers of a skin or a cap. Of a cap, the first `flat` indices are the face itself, the rest its joints. */
export interface Drawable extends Shaded {
  readonly id: number;
  readonly flat: number;
}

export interface SectionView {
  readonly loops: readonly Float64Array[];
  readonly area: number;
  readonly frame: FrameView;
}

export interface ProfileView {
  readonly at: Float64Array;
  readonly area: Float64Array;
  readonly from: number;
  readonly to: number;
}
