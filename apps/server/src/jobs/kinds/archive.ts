import { writeArchive } from '../archive.ts';
import { storedBytes } from '../models.ts';
import { type JobKind, MIB, MINUTE } from './kind.ts';

/** A whole project as one file: its source and its plan. */
export const archive: JobKind<{ readonly plan: unknown; readonly projectName: string }> = {
  deadline: 10 * MINUTE,
  isLight: () => true,
  keep: { newest: 20, days: 7, bytes: 1024 * MIB },
  work: (request) => ({ do: 'file', ...writeArchive(request, storedBytes(request)) }),
};
