import { type ExportFormat, GephyraError, writeProject } from '@gephyra/core';
import { zipSync } from 'fflate';
import { computed, sourceOf } from '../models.ts';
import { type JobKind, MIB, MINUTE } from './kind.ts';

interface ExportWish {
  readonly plan: unknown;
  readonly projectName: string;
  readonly format: ExportFormat;
  readonly pieces: readonly string[];
}

/** Pieces as files, in one archive. */
export const exporting: JobKind<ExportWish> = {
  deadline: 30 * MINUTE,
  isLight: () => false,
  keep: { newest: 60, days: 30, bytes: 2048 * MIB },
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
    const report = (share: number, what: string): void => tell(0.4 + share * 0.5, what);
    const { folder, files } = writeProject(project, chosen, request.projectName, request.format, palette, report);
    tell(0.92, 'Packing');
    const entries = Object.fromEntries(files.map((f) => [`${folder}/${f.name}`, f.bytes]));
    return { do: 'file', bytes: zipSync(entries, { level: 3 }), fileName: `${folder}.zip` };
  },
};
