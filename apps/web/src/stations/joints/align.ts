import type { FaceHelp } from '../../engine/joints.ts';

/** A place on a face, and what it was drawn to. */
export interface Aligned {
  readonly u: number;
  readonly v: number;
  readonly to: 'middle' | 'axis' | 'wall' | null;
}

/**
 * The place that a pointer means: the roomiest one, the axis of symmetry or the middle of a wall when it is within `reach`
 * mm, else the nearest multiple of `grid`. Without help nothing but the grid draws it.
 */
export function aligned(
  [u, v]: readonly [number, number],
  help: Pick<FaceHelp, 'axis' | 'middle'> | null,
  pole: { readonly u: number; readonly v: number },
  reach: number,
  grid: number,
): Aligned {
  const round = (x: number): number => Number((Math.round(x / grid) * grid).toFixed(4));
  if (help) {
    if (Math.hypot(u - pole.u, v - pole.v) <= reach) return { u: round(pole.u), v: round(pole.v), to: 'middle' };
    let best = reach;
    let at: Aligned | null = null;
    for (let i = 0; i < help.middle.length; i += 2) {
      const d = Math.hypot(u - help.middle[i], v - help.middle[i + 1]);
      if (d <= best) {
        best = d;
        at = { u: round(help.middle[i]), v: round(help.middle[i + 1]), to: 'wall' };
      }
    }
    if (at) return at;
    if (help.axis) {
      const { axis } = help;
      const along = (u - axis.u) * axis.du + (v - axis.v) * axis.dv;
      const [au, av] = [axis.u + along * axis.du, axis.v + along * axis.dv];
      if (Math.hypot(u - au, v - av) <= reach)
        return { u: Number(au.toFixed(3)), v: Number(av.toFixed(3)), to: 'axis' };
    }
  }
  return { u: round(u), v: round(v), to: null };
}
