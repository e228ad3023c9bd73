import { type Affine, compose, moving, type Printer, type PrintSetting, turning } from '@gephyra/core/plan';
import type { BoxView } from '../engine/types.ts';
import type { Lying } from './shown.ts';

interface Thing extends Omit<Lying['things'][number], 'lay'> {
  /** to the bed, about the middle of its box */
  readonly lay: Affine;
  readonly at: { readonly x: number; readonly y: number; readonly spin: number };
}

/** Pieces on a printer's bed, as the view draws them. */
export function lyingOn({
  things,
  printer,
  setting,
  columns,
  columnsAt = [0, 0],
  stamped = null,
  name,
  box,
  caption,
}: {
  things: readonly Thing[];
  printer: Printer;
  setting: PrintSetting;
  columns: Float32Array | null;
  columnsAt?: readonly [number, number];
  stamped?: Float32Array | null;
  name: string;
  box: BoxView;
  caption: string;
}): Lying {
  const tallest = box.max[2];
  return {
    things: things.map(({ at, lay, ...thing }) => ({
      ...thing,
      lay: compose(compose(moving([at.x, at.y, 0]), turning([0, 0, 1], at.spin, [0, 0, 0])), lay),
    })),
    plate: { width: printer.size[0], depth: printer.size[1], margin: printer.margin, keepOut: printer.keepOut ?? [] },
    columns: columns?.map((v, i) => (i % 4 < 2 ? v + columnsAt[i % 4] : v)) ?? null,
    stamped,
    overhang: setting.overhang,
    rest: setting.layer / 2,
    // about sixty rules over the height, at whole layers
    rules: Math.max(1, Math.ceil(tallest / 60 / setting.layer)) * setting.layer,
    frame: { name, box },
    caption,
  };
}
