import {
  type Bed,
  bedName,
  type CopyProgress,
  copyKey,
  isPrinted,
  type LogEntry,
  type LogEntryInput,
  type PieceState,
  STATES,
} from '@gephyra/core/plan';

export const STATE_WORDS: Readonly<Record<PieceState, string>> = {
  toPrint: 'to print',
  printing: 'printing',
  printed: 'printed',
  cleaned: 'cleaned',
  fitted: 'fitted',
  joined: 'joined',
  filled: 'filled',
  sanded: 'sanded',
  primed: 'primed',
  painted: 'painted',
  done: 'done',
};

/** Rows of the tally that belong together. */
export interface TallyGroup {
  /** null: on no bed */
  readonly bed: Bed | null;
  readonly title: string;
  readonly rows: readonly CopyProgress[];
}

/** Copies by the bed they lie on, in the order of the beds; those on none last. */
export function byBed(progress: readonly CopyProgress[], beds: readonly Bed[]): TallyGroup[] {
  const left = new Map(progress.map((p) => [copyKey(p.piece, p.copy), p]));
  const groups: TallyGroup[] = [];
  for (const bed of beds) {
    const rows = bed.pieces.flatMap((at) => {
      const own = left.get(copyKey(at.piece, at.copy));
      left.delete(copyKey(at.piece, at.copy));
      return own ? [own] : [];
    });
    if (rows.length > 0) groups.push({ bed, title: bedName(bed, beds), rows });
  }
  if (left.size > 0) {
    groups.push({ bed: null, title: beds.length > 0 ? 'On no bed' : 'Pieces', rows: [...left.values()] });
  }
  return groups;
}

/** What is to be noted when copies get somewhere; those that are printed now keep what tells their file again. */
export function entryOf(
  rows: readonly CopyProgress[],
  to: PieceState,
  fileOf: (piece: string) => string | undefined,
  more: Partial<Pick<LogEntryInput, 'bed' | 'who' | 'note' | 'failed'>> & { readonly at: Date },
): LogEntryInput {
  const { at, ...rest } = more;
  return {
    at: at.toISOString(),
    pieces: rows.map(({ piece, copy, state }) => {
      const file = isPrinted(to) && !isPrinted(state) ? fileOf(piece) : undefined;
      return { piece, copy, ...(file && { file }) };
    }),
    to,
    ...rest,
  };
}

/** An entry in words: "A1, A2 printed". */
export function entryWords({ pieces, to, failed, note }: LogEntry, codeOf: (piece: string) => string): string {
  const codes = pieces.map((p) => codeOf(p.piece) + (p.copy > 1 ? ` (${p.copy})` : ''));
  const who = codes.length > 3 ? `${codes.slice(0, 3).join(', ')} and ${codes.length - 3} more` : codes.join(', ');
  if (!failed) return `${who} ${STATE_WORDS[to]}${note ? `: ${note}` : ''}`;
  const height = failed.height === undefined ? '' : ` at ${failed.height.toFixed(0)} mm`;
  return `${who} failed${height}${failed.why ? `: ${failed.why}` : ''}`;
}

export const stateAt = (index: number): PieceState => STATES[Math.max(0, Math.min(STATES.length - 1, index))];
