import type { EndedPrint } from '@gephyra/contract';
import { writeArchive } from '../archive.ts';
import { storedBytes } from '../models.ts';
import { type AskedKind, MIB, MINUTE } from './kind.ts';

interface Printed {
  readonly print: EndedPrint;
  readonly hash: string;
}

interface Wish<P extends Printed> {
  readonly plan: unknown;
  readonly projectName: string;
  /** absent in requests from before beds were sent to printers */
  readonly prints?: readonly P[];
}

/** A whole project as one file: its source, its plan, and what was printed. */
export const archive: AskedKind<'archive', Wish<Printed & { readonly path: string }>, Wish<Printed>> = {
  deadline: 10 * MINUTE,
  isLight: () => true,
  keep: { newest: 20, days: 7, bytes: 1024 * MIB },
  record: async (_, { project, prints }) => ({
    projectName: project.name,
    plan: project.plan,
    prints: await prints(),
  }),
  work: (request) => {
    const printed = (request.prints ?? []).map(({ print, ...file }) => ({ print, bytes: storedBytes(file) }));
    return { do: 'file', ...writeArchive(request, storedBytes(request), printed) };
  },
};
