import type { Body } from '../body/index.ts';
import type { CapRegion, Cell, FlatRegion, Frame, Solid } from '../cut/index.ts';
import type { Contact, Finding, Plan } from '../document/index.ts';
import type { Blocks, Box } from '../mesh/index.ts';
import type { SeamPlace } from './kinds/index.ts';
/** A body at the plan's size. */
export interface SizedBody {
  readonly key: string;
  readonly body: Body;
  readonly mesh: Body['mesh'];
  readonly box: Box;
  /** how near to a plane a vertex counts as on it, mm */
  readonly window: number;
  blocks(): Blocks;
}

/** A body after some seams, and what the last one met. */
export interface Stage {
  readonly key: string;
  readonly cells: readonly Cell[];
  /** effective frame of each plane so far */
  readonly frames: ReadonlyMap<string, Frame>;
  /** the last seam met the body */
  readonly cuts: boolean;
  /** it lies flush with faces that look both ways */
  readonly film: boolean;
  /** keys in its scope that stand for no piece of this body */
  readonly gone: readonly string[];
  /** its seeds that lie in no region of this body */
  readonly astray: number;
  /** of a flat seam that is limited: the regions it cut, cell by cell */
  readonly regions: readonly FlatRegion[];
  /** why the kernel could not cut it; what it was meant for stays whole */
  readonly refused: string;
  /** flats that could not be worked in, by their numbers */
  readonly lost: readonly number[];
  /** what tells apart the pieces that its scope was compared with */
  readonly anchors: readonly Anchor[];
}

/** A solid with the key it is known by. */
export interface KeyedSolid {
  readonly key: string;
  readonly solid: Solid;
  readonly box: Box;
}

/** A point inside a piece that shares its seams with others, in the source model's coordinates. */
export type Anchor = Plan['anchors'][number];

/** A region in which two pieces touch: at a seam, or where two bodies lie against each other. */
export interface MatingFace {
  readonly id: string;
  /** the seam, or the contact of two bodies */
  readonly seam: string;
  readonly contact: boolean;
  /** the body that takes the lead's place here: its joints are those of the lead's face */
  readonly alternate?: string;
  /** half-plane of a fan, or straight stretch of a profile */
  readonly part?: number;
  /** id of its plane: the seam's, or with the part's number */
  readonly plane: string;
  /** the bodies of the two pieces; at a seam the same */
  readonly bodies: readonly [string, string];
  /** the piece on the − side of the seam, and the one on its + side */
  readonly pieces: readonly [string, string];
  /** the caps of the two pieces that it lies on */
  readonly caps: readonly [CapRegion, CapRegion];
  /** where they touch: mostly the whole of both caps, whose outlines are then the same */
  readonly region: FlatRegion;
  readonly frame: Frame;
  /** where each side's cap lies: at a seam the frame itself, between bodies each one's own plane */
  readonly frames: readonly [Frame, Frame];
  /** mm² */
  readonly area: number;
}

/** A body of the model in its pieces. */
export interface PartedBody {
  readonly sized: SizedBody;
  readonly keyed: readonly KeyedSolid[];
  readonly solids: ReadonlyMap<string, Solid>;
  readonly closed: boolean;
  readonly stages: readonly Stage[];
}

export interface PartedModel {
  readonly bodies: readonly PartedBody[];
  readonly faces: readonly MatingFace[];
  readonly anchors: readonly Anchor[];
  readonly findings: readonly Finding[];
  /** the places of all their planes */
  readonly places: ReadonlyMap<string, SeamPlace>;
}

export interface Contacts {
  /** the bodies, with the faces on which they touch as caps of their pieces */
  readonly bodies: readonly PartedBody[];
  readonly faces: readonly MatingFace[];
  /** their planes */
  readonly places: ReadonlyMap<string, SeamPlace>;
  /** what the plan should keep so that joints stay on them */
  readonly contacts: readonly Contact[];
}
