import { type Printer, printSettingOf } from '../document/index.ts';
import { usableSize } from './build-volume.ts';
import type { PrintRule } from './figures.ts';

/** What a printer asks of the poses of its pieces. */
export function printRule(printer: Printer): PrintRule {
  const { overhang, layer, support } = printSettingOf(printer);
  return { room: usableSize(printer), overhang, layer, density: support, kind: printer.kind };
}
