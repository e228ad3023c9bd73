import type { LogEntryInput, PieceState } from '../document/index.ts';

/** A print of a bed that has ended. */
export interface EndedPrint {
  readonly id: string;
  readonly bed: string;
  readonly state: 'done' | 'failed' | 'stopped';
  /** what stands on the bed, mm */
  readonly height: number;
  readonly endedAt: string;
  readonly pieces: readonly {
    readonly piece: string;
    readonly copy: number;
    /** as it lies there, mm */
    readonly height: number;
    readonly file?: string | undefined;
  }[];
}

/**
 * What is to be noted of it. All pieces of a bed grow together: those no taller than what stands there are printed, the others
 * failed at that height, or were not begun. Pieces that the maker has moved on by hand meanwhile are left where they are.
 */
export function notesOfPrint(
  { id, bed, state, height, endedAt, pieces }: EndedPrint,
  stateOf: (piece: string, copy: number) => PieceState,
): LogEntryInput[] {
  const own = pieces.filter((p) => stateOf(p.piece, p.copy) === 'printing');
  const whole = own.filter((p) => state === 'done' || p.height <= height + 1e-3);
  const broken = own.filter((p) => !whole.includes(p));
  const common = { at: endedAt, bed, print: id };
  const out: LogEntryInput[] = [];
  if (whole.length > 0) {
    const made = whole.map(({ piece, copy, file }) => ({ piece, copy, ...(file && { file }) }));
    out.push({ ...common, pieces: made, to: 'printed' });
  }
  if (broken.length > 0) {
    const why = state === 'failed' ? 'the printer failed' : 'stopped';
    const failed = height > 0 ? { failed: { height: Number(height.toFixed(1)), why } } : { note: why };
    out.push({ ...common, pieces: broken.map(({ piece, copy }) => ({ piece, copy })), to: 'toPrint', ...failed });
  }
  return out;
}
