import { ampleWall, type Joint, jointGap, kindOf, type Plan } from '@gephyra/core/plan';
import type { JointView } from '../../engine/types.ts';

type Row = readonly [title: string, value: string];

/** What is made of a joint's width by its gap: “Peg 10.00, socket 10.40 mm”. */
export function jointSizes(joint: Joint, gap: number): string {
  const kind = kindOf(joint);
  const width = kind.sizeOf(joint);
  const thinRod = kind.thinned(joint);
  const lap = kind.follows === 'wall';
  const male = thinRod ? width - 2 * gap : width;
  // a lap has its gap on one side only
  const socket = thinRod ? width : width + (lap ? gap : 2 * gap);
  return `${kind.male} ${male.toFixed(2)}, ${lap ? 'rebate' : 'socket'} ${socket.toFixed(2)} mm`;
}

/**
 * What was measured round a joint, a row each. `codes`: of the pieces on the − and the + side. Walls that were not looked for
 * have no row; those thicker than needs telling are only said to be.
 */
export function jointRows(
  joint: Joint,
  measured: JointView | null,
  codes: readonly string[],
  printer: Plan['printer'],
): Row[] {
  const ample = ampleWall(printer);
  const number = (x: number | null | undefined): string =>
    x === null || x === undefined ? 'none' : x >= ample ? `over ${ample} mm` : `${x.toFixed(2)} mm`;
  const [own, other] = joint.male === '-' ? [codes[0], codes[1]] : [codes[1], codes[0]];
  const walls = measured?.walls.map((w, i): Row | null =>
    w === null ? null : [`Wall in ${i === 0 ? own : other}`, number(w)],
  );
  const root = measured?.root;
  return [
    ['To the edge', number(measured?.edge)],
    ...(walls ?? []).filter((row) => row !== null),
    ...(root === null || root === undefined ? [] : [[`Under its foot in ${own}`, number(root)] as const]),
    ['To the next joint', number(measured?.apart)],
    ['Shears at', measured ? `${measured.shear.toFixed(0)} mm²` : 'none'],
    ...kindOf(joint).numbers(joint, jointGap(joint, printer), printer),
  ];
}
