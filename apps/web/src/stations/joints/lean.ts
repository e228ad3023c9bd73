import { type Affine, dot, inverse, type Joint, length, mapVector, perAxis } from '@gephyra/core/plan';
import type { Triple } from '../../engine/types.ts';

/** Where a joint's axis points: square to its face, along a direction that has a name, or as it was made. */
export type AxisName = 'square' | 'way' | 'x' | 'y' | 'z' | 'own';

const AXES: Readonly<Record<'x' | 'y' | 'z', Triple>> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

/** Cosine above which two directions are the same. */
const SAME = 0.99999;

/** The lean of a joint whose axis runs along a named direction, as the plan keeps it; undefined: square to its face. */
export function leanAlong(to: AxisName, way: Triple | null, map: Affine): Joint['lean'] {
  const direction = to === 'way' ? way : to === 'x' || to === 'y' || to === 'z' ? AXES[to] : null;
  if (!direction) return undefined;
  return [...perAxis(mapVector(inverse(map), direction), (x) => Number(x.toFixed(9)))];
}

/** The name of the direction that a joint's axis has. `way`: the way in of its face on the model, where there is one. */
export function axisNameOf(joint: Pick<Joint, 'lean'>, way: Triple | null, map: Affine): AxisName {
  const { lean } = joint;
  if (!lean) return 'square';
  const along = (name: AxisName): boolean => {
    const d = leanAlong(name, way, map);
    return d !== undefined && Math.abs(dot(d, lean)) > SAME * length(d) * length(lean);
  };
  return (['x', 'y', 'z', 'way'] as const).find(along) ?? 'own';
}
