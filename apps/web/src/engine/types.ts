import type {
  Affine,
  Box,
  CodeEntry,
  Contact,
  Finding,
  Fitting,
  Frame,
  LoosePart,
  MatingFace,
  Piece,
  PlacedJoint,
  Pole,
  Shaded,
  StepReport,
  Vec3,
} from '@gephyra/core';

export type Triple = Vec3;
export type BoxView = Box;
export type FrameView = Frame;

/** A body as the recipe made it, in mm. */
export interface BodyView {
  readonly id: string;
  readonly name: string;
  readonly box: BoxView;
  readonly triangles: number;
  readonly volume: number;
  readonly closed: boolean;
  readonly openEdges: number;
  readonly shells: number;
  /** the colour most of it has in the file, or empty */
  readonly colour: string;
}

/** The model as the worker holds it: what the heavy steps of a recipe made. */
export interface ModelView {
  readonly box: BoxView;
  readonly triangles: number;
  /** the unit the file names */
  readonly unit: string | null;
  /** what each heavy step did */
  readonly reports: readonly StepReport[];
  /** from the source's coordinates to where the heavy steps left it */
  readonly map: Affine;
  /** both ends of every open edge, xyz each */
  readonly openEdges: Float32Array;
}

/** A piece as the interface shows it. `skin` and `caps` are ids of geometry. */
export interface PieceView extends Omit<Piece, 'solid' | 'caps'> {
  /** it is told from its neighbours by */
  readonly tint: string;
  /** the colour most of its body has in the file, or empty */
  readonly colour: string;
  readonly skin: number;
  readonly caps: readonly number[];
  /** where the piece goes when the model is taken apart: the sum of its sides of all seams */
  readonly apart: Triple;
  /** sentences that keep it from being exported unless the maker says so */
  readonly stops: readonly string[];
  /** how many findings are of it, of its body or of its faces */
  readonly findings: number;
}

export interface FaceView
  extends Pick<MatingFace, 'id' | 'seam' | 'contact' | 'alternate' | 'part' | 'plane' | 'pieces' | 'area' | 'frame'> {
  readonly outer: Float64Array;
  readonly holes: readonly Float64Array[];
  readonly pole: Pole;
}

/** A joint as the interface shows it: without what it is built from. */
export interface JointView
  extends Omit<PlacedJoint, 'form' | 'direction' | 'axis' | 'next' | 'lap' | 'exit' | 'alternates'> {
  /** how deep it goes into the own piece and into its neighbour */
  readonly depths: readonly [number, number];
  /** mm² that would have to shear */
  readonly shear: number;
  /** outlines on the face: what stands out of, or goes into, the own piece and its neighbour */
  readonly own: readonly OutlineView[];
  readonly other: readonly OutlineView[];
}

export interface OutlineView {
  readonly kind: 'male' | 'socket' | 'void';
  readonly loop: Float64Array;
}

/** How two groups of pieces go together. */
export interface WayView {
  readonly groups: readonly [readonly string[], readonly string[]];
  readonly faces: readonly string[];
  /** the second group is drawn off this way; null: there is no way */
  readonly out: Triple | null;
}

/** Rods and magnets that are equal. */
export interface LooseView extends Omit<LoosePart, 'mesh'> {
  readonly printed: boolean;
}

export interface EvaluationView {
  /** from the source's coordinates to the model as it is shown */
  readonly map: Affine;
  readonly box: BoxView;
  readonly bodies: readonly BodyView[];
  readonly pieces: readonly PieceView[];
  readonly faces: readonly FaceView[];
  readonly joints: readonly JointView[];
  readonly ways: readonly WayView[];
  readonly loose: readonly LooseView[];
  /** what is put into joints and bores, where it belongs */
  readonly fittings: readonly FittingView[];
  readonly contacts: readonly Contact[];
  /** faces that are to be seen, by body: geometry of each, and how much they are, mm² */
  readonly show: readonly { readonly body: string; readonly geometry: number; readonly area: number }[];
  readonly findings: readonly Finding[];
  readonly codes: readonly CodeEntry[];
  readonly anchors: readonly { key: string; at: [number, number, number] }[];
  /** skins are drawn with fewer triangles than they have */
  readonly lighter: boolean;
  /** geometry that was not sent before, by id */
  readonly fresh: readonly Drawable[];
  readonly milliseconds: number;
}

/** Loose parts where they belong, by their geometry. */
export interface FittingView extends Omit<Fitting, 'mesh'> {
  readonly geometry: number;
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
