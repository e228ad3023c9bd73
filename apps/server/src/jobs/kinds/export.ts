import { deflateRawSync } from 'node:zlib';
import {
  Blocking,
  bedFiles,
  type ComputedProject,
  checkOrder,
  type Deflate,
  type ExportFile,
  type ExportFormat,
  finished,
  GephyraError,
  layOf,
  loadKernel,
  type Paint,
  type Piece,
  type PrintContext,
  packZip,
  piecePrints,
  printOfFile,
  safeName,
  sharedFiles,
  writeProject,
} from '@gephyra/core';
import { type Paper, sheetPdf } from '@gephyra/sheet';
import { computed, sourceOf } from '../models.ts';
import { type AskedKind, MIB, MINUTE, type Tell } from './kind.ts';

export interface ExportWish {
  readonly plan: unknown;
  readonly projectName: string;
  readonly format: ExportFormat;
  readonly pieces: readonly string[];
  readonly as?: 'place' | 'print' | 'beds' | 'sheet';
  readonly paper?: Paper;
  readonly beds?: readonly string[];
}

// somebody waits for it: on vertices as text some 5 % more bytes than at level 4, in two thirds of the time
const deflate: Deflate = (bytes) => deflateRawSync(bytes, { level: 1 });

/** Pieces as files, in one archive. */
export const exporting: AskedKind<'export', ExportWish> = {
  deadline: 30 * MINUTE,
  isLight: () => false,
  keep: { newest: 60, days: 30, bytes: 2048 * MIB },
  record(wanted, { project }) {
    if (project.revision !== wanted.revision) {
      throw new GephyraError('plan.stale', 'The plan has changed since the export was opened. Open it again.');
    }
    return {
      projectName: project.name,
      plan: project.plan,
      format: wanted.format,
      pieces: [...wanted.pieces].sort(),
      ...(wanted.as !== 'place' && { as: wanted.as }),
      ...(wanted.as === 'sheet' && { paper: wanted.paper ?? 'A4' }),
      ...(wanted.as === 'beds' && wanted.beds && { beds: [...wanted.beds].sort() }),
    };
  },
  async work(request, tell) {
    const project = await computed(request, tell, Infinity);
    const { palette } = sourceOf(request, tell).found;
    const chosen = project.evaluation.pieces.filter((p) => request.pieces.includes(p.key));
    if (chosen.length < request.pieces.length) {
      throw new GephyraError(
        'export.pieces',
        'Some of the chosen pieces are no longer in the plan. Open the export again.',
      );
    }
    if (request.as === 'sheet') return sheetOf(project, request, tell);
    const { folder, files } = await written(project, chosen, request, palette, tell);
    tell(0.92, 'Packing');
    const entries = files.map((f) => ({ name: `${folder}/${f.name}`, bytes: f.bytes }));
    return { do: 'file', bytes: packZip(entries, deflate), fileName: `${folder}.zip` };
  },
};

/** The assembly sheet of all pieces. */
async function sheetOf(
  { plan, evaluation, alike }: ComputedProject,
  { projectName, paper = 'A4' }: ExportWish,
  tell: Tell,
): Promise<{ do: 'file'; bytes: Uint8Array; fileName: string }> {
  tell(0.4, 'Checking each step');
  const kernel = await loadKernel();
  const context: PrintContext = { kernel, plan, evaluation, shared: sharedFiles(evaluation, alike, plan.pieces) };
  const bytes = await sheetPdf({
    context,
    prints: [...piecePrints(context)],
    assembly: finished(checkOrder(plan, evaluation, new Blocking(evaluation))),
    name: projectName,
    date: new Date(),
    paper,
    tell: (share, what) => tell(0.5 + share * 0.5, what),
  });
  return { do: 'file', bytes, fileName: `${safeName(projectName) || 'project'}-assembly.pdf` };
}

async function written(
  project: ComputedProject,
  chosen: readonly Piece[],
  { as = 'place', projectName, format, beds: wantedBeds }: ExportWish,
  palette: readonly Paint[],
  tell: Tell,
): Promise<{ folder: string; files: readonly ExportFile[] }> {
  const report = (share: number, what: string): void => tell(0.4 + share * 0.5, what);
  const common = { palette, progress: report, deflate };
  if (as === 'place') return writeProject(project, chosen, projectName, format, common);
  const { plan, evaluation, alike } = project;
  const kernel = await loadKernel();
  const context: PrintContext = { kernel, plan, evaluation, shared: sharedFiles(evaluation, alike, plan.pieces) };
  tell(0.38, 'Laying the pieces');
  const prints = [...piecePrints(context)];
  if (as === 'print') {
    return writeProject(project, chosen, projectName, format, {
      ...common,
      lay: (piece, mirrored, mesh) => layOf(printOfFile(prints, piece.key, mirrored), mesh),
    });
  }
  if (format !== '3mf' && format !== 'stl') {
    throw new GephyraError('export.format', 'Beds are written as 3MF or STL.');
  }
  const keys = new Set(chosen.map((p) => p.key));
  const isWanted = (bed: string): boolean => wantedBeds?.includes(bed) ?? true;
  // the others stay in the list, so that each keeps its number
  const beds = plan.beds.map((b) => ({ ...b, pieces: b.pieces.filter((p) => isWanted(b.id) && keys.has(p.piece)) }));
  const {
    folder,
    files,
    beds: made,
  } = bedFiles({ ...context, plan: { ...plan, beds } }, prints, beds, projectName, format, common);
  const against = made.flatMap((b) => b.against);
  if (against.length > 0) throw new GephyraError('export.unsound', against.join(' '));
  return { folder, files };
}
