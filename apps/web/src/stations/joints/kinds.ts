import { type Joint, type JointInput, type JointOf, jointSchema, STOCKS, sizeOfJoint } from '@gephyra/core';

export type Kind = Joint['kind'];

export const KINDS: readonly { readonly value: Kind; readonly label: string }[] = [
  { value: 'key', label: 'key' },
  { value: 'pin', label: 'pin' },
  { value: 'cone', label: 'cone' },
  { value: 'dowel', label: 'dowel' },
  { value: 'snap', label: 'snap pin' },
  { value: 'magnet', label: 'magnet' },
  { value: 'lap', label: 'lap' },
];

export const kindLabel = (kind: Kind): string => KINDS.find((k) => k.value === kind)?.label ?? kind;

/** What every kind of joint has beside its sizes. */
type Common = Pick<Joint, 'id' | 'seam' | 'at'> &
  Partial<Pick<Joint, 'part' | 'turn' | 'lean' | 'gap' | 'fit' | 'mouth' | 'male'>>;

const half = (x: number): number => Math.round(x * 2) / 2;

/** A joint of a kind in its usual sizes, about `size` mm wide. */
export function newJoint(kind: Kind, common: Common, size: number): JointInput {
  const d = Math.max(1.5, half(size));
  switch (kind) {
    case 'pin':
      return { ...common, kind, shape: 'hexagon', diameter: d, depth: d, chamfer: Math.min(0.5, d / 4) };
    case 'key':
      return {
        ...common,
        kind,
        width: Math.max(2, d),
        height: Math.max(1.5, half(0.7 * d)),
        depth: Math.max(1.5, half(0.7 * d)),
        corner: Math.min(1, d / 8),
      };
    case 'cone':
      return { ...common, kind, diameter: d, tip: Math.min(0.8, d / 2) };
    case 'dowel':
      return { ...common, kind, diameter: d, depth: half(1.5 * d) };
    case 'snap':
      return {
        ...common,
        kind,
        diameter: Math.max(5, d),
        depth: Math.max(10, half(2 * d)),
        slot: Number((Math.max(5, d) / 5).toFixed(1)),
      };
    case 'magnet':
      return { ...common, kind, diameter: Math.max(3, Math.floor(d)), thickness: 3 };
    case 'lap': {
      const { lean: _, ...upright } = common;
      const lip = Math.min(3, Math.max(0.8, Math.floor(size * 20) / 20));
      return { ...upright, kind, lip, depth: Math.max(2, half(3 * lip)) };
    }
  }
}

const SHARED = ['id', 'seam', 'part', 'at', 'turn', 'lean', 'gap', 'fit', 'mouth', 'male'] as const;

/** The joint as another kind, where it is, about as large. */
export function asKind(joint: Joint, kind: Kind): JointInput {
  const common = Object.fromEntries(
    SHARED.flatMap((k) => (joint[k] === undefined ? [] : [[k, joint[k]]])),
  ) as unknown as Common;
  return newJoint(kind, common, kind === 'lap' ? 1 : joint.kind === 'lap' ? 6 : sizeOfJoint(joint));
}

/** What a preset keeps of a joint: everything but where it is. */
export function presetOf(joint: Joint): Record<string, unknown> {
  const { id: _, seam: __, part: ___, at: ____, lean: _____, enabled: ______, ...rest } = joint;
  return rest;
}

/** A joint by a preset; null when the preset is none any more. */
export function fromPreset(
  preset: Record<string, unknown>,
  common: Pick<Common, 'id' | 'seam' | 'at' | 'part'>,
): Joint | null {
  const made = jointSchema.safeParse({ ...preset, ...common });
  return made.success ? made.data : null;
}

/** A joint in a few words: "hexagon pin 8 × 8". */
export function jointTitle(joint: Joint): string {
  switch (joint.kind) {
    case 'pin':
      return `${joint.shape} pin`;
    case 'key':
      return `${joint.outline === 'd' ? 'D' : joint.outline} key`;
    case 'cone':
      return 'cone';
    case 'dowel':
      return joint.stock === 'printed' ? `${joint.shape} dowel` : stockLabel(joint.stock);
    case 'snap':
      return 'snap pin';
    case 'magnet':
      return `${joint.shape} magnet`;
    case 'lap':
      return `lap ${joint.edge}`;
  }
}

export function jointSize(joint: Joint): string {
  switch (joint.kind) {
    case 'key':
      return `${joint.width} × ${joint.height ?? joint.width}`;
    case 'magnet':
      return `${joint.diameter} × ${joint.thickness}`;
    case 'cone':
      return `Ø ${joint.diameter}`;
    case 'lap':
      return `${joint.lip} × ${joint.depth}`;
    default:
      return `${joint.diameter} × ${joint.depth}`;
  }
}

const stockLabel = (stock: JointOf<'dowel'>['stock']): string =>
  STOCKS.find((s) => s.stock === stock)?.label.toLowerCase() ?? stock;

/** What goes into the socket, and what it is called. */
const MALE_WORDS: Partial<Record<Kind, string>> = {
  key: 'Key',
  cone: 'Foot of the cone',
  dowel: 'Rod',
  magnet: 'Magnet',
  lap: 'Lip',
};

export const maleWord = (kind: Kind): string => MALE_WORDS[kind] ?? 'Peg';
