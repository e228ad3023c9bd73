/** What is needed to know of a plastic to judge a joint by. */
export interface Material {
  readonly name: string;
  readonly kind: 'filament' | 'resin';
  /** stiffness, MPa */
  readonly modulus: number;
  /** strain that it bears again and again, as a share */
  readonly strain: number;
  /** shear strength along and across its layers, MPa */
  readonly shear: readonly [number, number];
}

/** Rounded values of common printed plastics, on the careful side. */
export const MATERIALS: readonly Material[] = [
  { name: 'PLA', kind: 'filament', modulus: 3000, strain: 0.015, shear: [30, 15] },
  { name: 'Tough PLA', kind: 'filament', modulus: 2400, strain: 0.025, shear: [28, 15] },
  { name: 'PETG', kind: 'filament', modulus: 1900, strain: 0.03, shear: [26, 16] },
  { name: 'ABS', kind: 'filament', modulus: 2000, strain: 0.025, shear: [24, 12] },
  { name: 'ASA', kind: 'filament', modulus: 2000, strain: 0.025, shear: [24, 12] },
  { name: 'Nylon', kind: 'filament', modulus: 1200, strain: 0.05, shear: [28, 18] },
  { name: 'Standard resin', kind: 'resin', modulus: 2200, strain: 0.012, shear: [25, 25] },
  { name: 'Tough resin', kind: 'resin', modulus: 1600, strain: 0.03, shear: [22, 22] },
];

/** The material of that name, or the first of the printer's kind. */
export const materialOf = (name: string | undefined, kind: 'filament' | 'resin'): Material =>
  MATERIALS.find((m) => m.name === name) ?? MATERIALS.find((m) => m.kind === kind)!;
