import type { Solid, Triangulator } from '../cut/index.ts';
import type { Plan } from '../document/index.ts';
import type { Exit, JointForm } from '../joints/index.ts';
import type { Joint, LapLine } from '../joints/kinds/index.ts';
import type { Affine, Vec3 } from '../mesh/index.ts';
import type { MatingFace, SeamPlace, SizedBody } from '../seams/index.ts';
import type { MatingCache } from './mating-cache.ts';
import type { Occupant } from './occupants.ts';
/** What checking needs to know of the pieces of a body. */
export interface Around {
  readonly sized: SizedBody;
  readonly solids: ReadonlyMap<string, Solid>;
}

/** Everything that a joint is measured against. */
export interface JointContext {
  readonly plan: Plan;
  readonly map: Affine;
  readonly faces: readonly MatingFace[];
  readonly around: ReadonlyMap<string, Around>;
  readonly places: ReadonlyMap<string, SeamPlace>;
  readonly cache: MatingCache;
  readonly fallback: Triangulator;
  /** what points up while a piece prints, unit, on the model; null where it is not known */
  readonly upOf: (piece: string) => Vec3 | null;
}

/** A joint with the face it lies on, formed and measured. */
export interface MeasuredJoint {
  readonly joint: Joint;
  readonly formed: FormedJoint;
  readonly face: MatingFace;
  readonly place: SeamPlace;
  /** pieces: the own one and its neighbour */
  readonly own: string;
  readonly other: string;
  readonly edge: number;
  readonly walls: readonly [number, number];
  readonly root: number;
  /** least material between the face and a closed pocket below it; infinite where there is none */
  readonly cover: number;
  readonly apart: number;
  readonly next: string;
  /** more than one shell at its place */
  readonly overlap: boolean;
  /** of a lap: where it runs; null where it cannot, and then why */
  readonly lap: LapLine | null;
  readonly trouble: string;
  /** where a room of it comes out of its piece */
  readonly exit: Exit | null;
  readonly occupants: readonly Occupant[];
}

/** A joint on its plane: where it is, the faces of that plane, and, when it lies on one, what was measured there. */
export interface Measuring {
  readonly formed: FormedJoint;
  readonly place: SeamPlace;
  readonly onPlane: readonly MatingFace[];
  readonly measured: MeasuredJoint | null;
}

/** A joint with its numbers resolved, at its place on the model. */
export interface FormedJoint {
  /** centre in its plane's frame, mm */
  readonly u: number;
  readonly v: number;
  readonly gap: number;
  readonly form: JointForm;
  /** +1: the male half stands out along the plane's normal */
  readonly direction: 1 | -1;
  /** from the own piece into its neighbour, unit */
  readonly axis: Vec3;
  /** between the axis and the square, radians */
  readonly leaning: number;
}

/** A joint on its mating face, with what was measured of it. Lengths in mm, at the plan's size. */
export interface PlacedJoint {
  readonly id: string;
  readonly kind: Joint['kind'];
  readonly face: string | null;
  /** centre in the seam's effective frame */
  readonly u: number;
  readonly v: number;
  /** clearance per side */
  readonly gap: number;
  readonly form: JointForm;
  /** +1: what stands out does so along the face's normal */
  readonly direction: 1 | -1;
  /** from the own piece into its neighbour, unit, on the model */
  readonly axis: Vec3;
  /** keys of the own piece (with the male half, where there is one) and of its neighbour */
  readonly male: string | null;
  readonly socket: string | null;
  /** least distance from the widest outline to the edge of the face */
  readonly edge: number | null;
  /**
   * least wall round its sockets, floors included, in the own piece and in its neighbour; null where it has none. Walls and
   * roots are measured up to `ampleWall`: that much stands for more.
   */
  readonly walls: readonly [number | null, number | null];
  /** the lesser of both, the edge, and what covers a closed pocket */
  readonly wall: number | null;
  /** material under a male half's root */
  readonly root: number | null;
  /** least distance to another joint */
  readonly apart: number | null;
  /** id of the nearest other joint */
  readonly next: string | null;
  /** of a lap: where it runs on its face */
  readonly lap: LapLine | null;
  /** where a room of it comes out of its piece */
  readonly exit: Exit | null;
  /** the same on the faces of bodies that take the place of the one it lies on */
  readonly alternates: readonly PlacedJoint[];
  readonly built: boolean;
}

/** A joint wherever it is built in, or nowhere: on its face, and on those of alternates. */
export const everywhere = (joint: PlacedJoint): PlacedJoint[] => [
  joint,
  ...joint.alternates.map((a) => ({ ...a, built: joint.built })),
];
