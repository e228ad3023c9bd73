import type { EndedPrint } from '@gephyra/contract';
import { writeArchive } from '../archive.ts';
import { storedBytes } from '../models.ts';
import { type JobKind, MIB, MINUTE } from './kind.ts';

interface Wish {
  readonly plan: unknown;
  readonly projectName: string;
  /** absent in requests from before beds were sent to printers */
  readonly prints?: readonly { readonly print: EndedPrint; readonly hash: string; readonly path: string }[];
}

/** A whole project as one file: its source, its plan, and what was printed. */
export const archive: JobKind<Wish> = {
  deadline: 10 * MINUTE,
  isLight: () => true,
  keep: { newest: 20, days: 7, bytes: 1024 * MIB },
  work: (request) => {
    const printed = (request.prints ?? []).map(({ print, ...file }) => ({ print, bytes: storedBytes(file) }));
    return { do: 'file', ...writeArchive(request, storedBytes(request), printed) };
  },
};
