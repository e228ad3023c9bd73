import { JOINT_KINDS, type Joint, type JointKind, jointSchema, kindOf } from '@gephyra/core/plan';

/** The kinds to choose from. */
export const KINDS: readonly { readonly value: JointKind; readonly label: string }[] = JOINT_KINDS.map((kind) => ({
  value: kind,
  label: kindOf({ kind }).name,
}));

/** What a preset keeps of a joint: everything but where it is. */
export function presetOf(joint: Joint): Record<string, unknown> {
  const { id: _, seam: __, part: ___, at: ____, lean: _____, enabled: ______, ...rest } = joint;
  return rest;
}

/** A joint by a preset; null when the preset is none any more. */
export function fromPreset(
  preset: Record<string, unknown>,
  common: Pick<Joint, 'id' | 'seam' | 'at' | 'part'>,
): Joint | null {
  const made = jointSchema.safeParse({ ...preset, ...common });
  return made.success ? made.data : null;
}
