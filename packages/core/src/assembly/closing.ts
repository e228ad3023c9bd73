import type { Closing } from '../document/index.ts';
import type { Evaluation } from '../evaluate/index.ts';
import { kindOf } from '../joints/kinds/index.ts';
import type { PlacedJoint } from '../mating/index.ts';

/** The joints that are built on some faces, by the faces' ids. */
export const jointsOn = (e: Pick<Evaluation, 'joints'>, faces: readonly string[]): PlacedJoint[] =>
  faces.flatMap((face) =>
    e.joints.filter((j) => j.built && (j.face === face || j.alternates.some((a) => a.face === face))),
  );

/** How faces with these joints are closed when nothing is said: glued, unless one of them is there to come apart again. */
export const closingWith = (joints: readonly PlacedJoint[]): Closing =>
  joints.map((j) => kindOf(j).closing).find((c) => c !== 'glue') ?? 'glue';
