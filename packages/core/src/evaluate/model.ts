import type { Solid, Triangulator } from '../cut/index.ts';
import type { CodeEntry, Contact, Finding } from '../document/index.ts';
import type { BuiltCap } from '../joints/index.ts';
import type { JointContext, LoosePart, MeasuredJoint, PlacedJoint, WayIn } from '../mating/index.ts';
import type { Affine, Box, Vec3 } from '../mesh/index.ts';
import type { BuildCheck } from '../print/index.ts';
import type { Anchor, MatingFace } from '../seams/index.ts';
import type { ShowFaces } from '../show/index.ts';
import type { Kernel } from '../solid/index.ts';
import type { EvalCache } from './eval-cache.ts';

/** A solid that results from the plan, joints included. Lengths in mm at the plan's size. */
export interface Piece {
  /** body, seams and sides: survives edits */
  readonly key: string;
  /** A1, A2 …: by body, from the bottom up */
  readonly code: string;
  /** where it sits: "upper left" */
  readonly name: string;
  /** set aside: not made */
  readonly aside: boolean;
  /** of a body whose place another takes in the whole: made, but not joined with it */
  readonly spare: boolean;
  readonly body: string;
  readonly solid: Solid;
  /** one a cap of the solid: the cap with its joints */
  readonly caps: readonly BuiltCap[];
  readonly box: Box;
  readonly size: Vec3;
  /** mm³ */
  readonly volume: number;
  readonly triangles: number;
  /** whether it is a closed solid: its body is, and the seams' faces close it */
  readonly closed: boolean;
  readonly build: BuildCheck;
  /** joints built into it */
  readonly joints: readonly string[];
}

export interface Evaluation {
  /** from the source's coordinates to the model as it is cut */
  readonly map: Affine;
  /** the box of the model at the plan's size */
  readonly box: Box;
  readonly pieces: readonly Piece[];
  readonly faces: readonly MatingFace[];
  readonly joints: readonly PlacedJoint[];
  /** what was measured of those that are built */
  readonly measured: readonly MeasuredJoint[];
  /** what further joints are measured against */
  readonly context: JointContext;
  /** how the pieces go together, step by step */
  readonly ways: readonly WayIn[];
  /** rods and magnets */
  readonly loose: readonly LoosePart[];
  /** faces that are to be seen */
  readonly show: ShowFaces;
  readonly findings: readonly Finding[];
  /** what the plan should keep so that keys survive the next edit */
  readonly anchors: readonly Anchor[];
  /** the ledger of codes that the plan should keep, so that they survive the next edit */
  readonly codes: readonly CodeEntry[];
  /** faces of bodies that the plan should keep, so that joints stay on them */
  readonly contacts: readonly Contact[];
}

/** What every pass needs beside what earlier ones made. */
export interface PassContext {
  /** triangulates what ear cutting refuses */
  readonly fallback: Triangulator;
  /** needed for seams that are no planes */
  readonly kernel?: Kernel;
  readonly cache: EvalCache;
  /** called after each piece of work by the kernel that is kept; it may throw */
  readonly breath?: () => void;
}
