import type { Print, Project } from '@gephyra/contract';
import { type Bed, bedHours, type CopyProgress, copyKey, type Plan, printerNamed } from '@gephyra/core/plan';
import { api, follow } from '../../api/client.ts';
import type { PrintView } from '../../engine/prints.ts';
import type { Simulation } from './printers.tsx';

/** Copies of a bed that are yet to print. */
export function waitingOn(bed: Bed, progress: readonly CopyProgress[]): CopyProgress[] {
  const own = new Set(bed.pieces.map((p) => copyKey(p.piece, p.copy)));
  return progress.filter((p) => own.has(copyKey(p.piece, p.copy)) && p.state === 'toPrint');
}

/**
 * Has the file of a bed written, with those of its pieces that are yet to print, and hands it to the bed's printer. The plan must
 * be saved. Throws an Error in words for the maker.
 */
export async function sendBed(order: {
  readonly project: Project;
  readonly plan: Plan;
  readonly bed: Bed;
  readonly title: string;
  readonly rows: readonly CopyProgress[];
  readonly byKey: ReadonlyMap<string, PrintView>;
  readonly simulation: Simulation;
  readonly who: string;
}): Promise<Print> {
  const { project, plan, bed, title, rows, byKey, simulation, who } = order;
  const lying = rows.flatMap((r) => byKey.get(r.piece) ?? []);
  const printer = printerNamed(plan, bed.printer);
  const hours = bedHours(
    printer,
    lying.map((p) => p.estimate.hours),
  );
  const written = await api.ask(project.id, 'export', {
    revision: project.revision,
    format: '3mf',
    pieces: [...new Set(rows.map((r) => r.piece))],
    as: 'beds',
  });
  const { id: job } = await follow(written, () => {});
  return api.startPrint({
    project: project.id,
    printer: printer.name,
    bed: bed.id,
    title,
    pieces: rows.map(({ piece, copy }) => {
      const print = byKey.get(piece);
      return { piece, copy, height: print?.figures.height ?? 0, ...(print && { file: print.file }) };
    }),
    seconds: Math.max(1, Math.round(hours * 3600)),
    layers: Math.max(1, ...lying.map((p) => p.estimate.layers)),
    job,
    pace: simulation.pace,
    ...(who && { who }),
    ...(simulation.failAt !== null && { failAt: simulation.failAt / 100 }),
  });
}
