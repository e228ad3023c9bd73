import type { PieceNote } from '@gephyra/core/plan';
import { hoursText } from '@gephyra/core/plan';
import type { PrintView } from '../../engine/prints.ts';
import type { PieceView } from '../../engine/types.ts';
import { overText, sizeText } from '../../project/piece-words.ts';
import { useProject } from '../../project/project.tsx';
import type { Columns } from '../../ui/data-table.tsx';
import { Tick } from '../../ui/tick.tsx';

/** A piece as the table shows it. */
export interface PieceRow extends PieceView {
  readonly print: PrintView | undefined;
  readonly note: PieceNote | undefined;
  readonly ticked: boolean;
}

/** The columns of the table. A code sorts by the order of the pieces. */
export const columnsFor = (
  pieces: readonly PieceRow[],
  choose: (key: string) => void,
  selected: string | null,
  tick: (key: string, on: boolean) => void,
): Columns<PieceRow> => [
  {
    id: 'tick',
    header: 'Pick',
    size: 34,
    enableSorting: false,
    enableGlobalFilter: false,
    accessorFn: (p) => p.ticked,
    cell: ({ row: { original: p } }) => (
      <Tick checked={p.ticked} onChange={(on) => tick(p.key, on)}>
        <span className="sr-only">Pick {p.code}</span>
      </Tick>
    ),
  },
  {
    id: 'code',
    header: 'Code',
    size: 54,
    meta: { fixed: true },
    accessorFn: (p) => p.code,
    sortingFn: (a, b) => pieces.indexOf(a.original) - pieces.indexOf(b.original),
    cell: ({ row: { original: p } }) => (
      <button
        type="button"
        aria-pressed={selected === p.key}
        className="flex items-center gap-1.5 font-semibold"
        onClick={() => choose(p.key)}
      >
        <span aria-hidden className="h-3 w-3 shrink-0" style={{ background: p.tint }} />
        {p.code}
      </button>
    ),
  },
  {
    id: 'name',
    header: 'Where',
    size: 90,
    accessorFn: (p) => p.name,
    cell: ({ row: { original: p } }) => (
      <span className={p.aside ? 'text-ink-soft line-through' : ''}>
        <span className="block break-words">{p.name}</span>
        <FileNote piece={p} />
      </span>
    ),
  },
  ...SHAPE,
  ...PRINT,
  ...MORE,
];

/** How large a piece is, and whether it fits. A size sorts by its longest side. */
const SHAPE: Columns<PieceRow> = [
  {
    id: 'size',
    header: 'Size, mm',
    size: 124,
    meta: { right: true },
    accessorFn: (p) => p.size.map((x) => x.toFixed(1)).join(' × '),
    sortingFn: (a, b) => Math.max(...a.original.size) - Math.max(...b.original.size),
    cell: ({ row: { original: p }, getValue }) => (
      <span className="whitespace-nowrap" title={`${String(getValue())} mm`}>
        {sizeText(p.size)}
      </span>
    ),
  },
  {
    id: 'fits',
    header: 'Fits',
    size: 54,
    accessorFn: (p) =>
      p.build.within ? (p.build.posed ? 'posed' : p.build.axes.join() === '0,1,2' ? 'upright' : 'turned') : overText(p),
    cell: ({ row: { original: p }, getValue }) => (
      <span className={p.build.within ? 'text-good' : 'text-stop'}>{String(getValue())}</span>
    ),
  },
];

/** How it prints. */
const PRINT: Columns<PieceRow> = [
  {
    id: 'pose',
    header: 'Lies',
    size: 90,
    accessorFn: (p) => p.print?.why ?? '',
    cell: (c) => (
      <span className="line-clamp-2 break-words" title={String(c.getValue())}>
        {String(c.getValue())}
      </span>
    ),
  },
  {
    id: 'hours',
    header: 'Time',
    size: 64,
    meta: { right: true },
    accessorFn: (p) => p.print?.estimate.hours ?? 0,
    cell: ({ row }) => {
      const hours = row.original.print?.estimate.hours;
      return <span className="whitespace-nowrap">{hours === undefined ? '' : hoursText(hours)}</span>;
    },
    enableGlobalFilter: false,
  },
  {
    id: 'grams',
    header: 'g',
    size: 40,
    meta: { right: true },
    accessorFn: (p) => p.print?.estimate.grams ?? 0,
    cell: ({ row }) => row.original.print?.estimate.grams.toFixed(0) ?? '',
    enableGlobalFilter: false,
  },
  {
    id: 'support',
    header: 'Support',
    size: 54,
    meta: { right: true },
    accessorFn: (p) => p.print?.figures.supportVolume ?? 0,
    cell: ({ row }) => {
      const { print } = row.original;
      return print ? `${(print.figures.supportVolume / 1000).toFixed(1)}` : '';
    },
    enableGlobalFilter: false,
  },
];

/** What is shown when it is asked for, and findings. */
const MORE: Columns<PieceRow> = [
  {
    id: 'copies',
    header: 'Copies',
    size: 48,
    meta: { right: true, off: true },
    accessorFn: (p) => p.note?.copies ?? 1,
    enableGlobalFilter: false,
  },
  {
    id: 'stuff',
    header: 'Printed from',
    size: 96,
    meta: { off: true },
    accessorFn: (p) => p.note?.material ?? '',
    cell: ({ row: { original: p } }) => {
      const { note } = p;
      return (
        <span className="flex items-center gap-1.5">
          {note?.colour && (
            <span
              className="h-3 w-3 shrink-0 border border-rule-strong"
              style={{ background: note.colour }}
              title={note.colour}
            />
          )}
          <span className="truncate">{note?.material ?? ''}</span>
        </span>
      );
    },
  },
  {
    id: 'volume',
    header: 'cm³',
    size: 52,
    meta: { right: true, off: true },
    accessorFn: (p) => p.volume,
    cell: ({ row }) => (row.original.volume / 1000).toFixed(1),
    enableGlobalFilter: false,
  },
  {
    id: 'closed',
    header: 'Watertight',
    size: 78,
    meta: { off: true },
    accessorFn: (p) => (p.closed ? 'yes' : 'open'),
    cell: ({ row: { original: p }, getValue }) => (
      <span className={p.closed ? 'text-good' : 'text-stop'}>{String(getValue())}</span>
    ),
  },
  {
    id: 'joints',
    header: 'Joints',
    size: 48,
    meta: { right: true, off: true },
    accessorFn: (p) => p.joints.length,
    enableGlobalFilter: false,
  },
  {
    id: 'findings',
    header: 'Findings',
    size: 56,
    meta: { right: true },
    accessorFn: (p) => p.findings,
    enableGlobalFilter: false,
    cell: ({ row: { original: p } }) => (
      <span className={p.stops.length > 0 ? 'text-stop' : p.findings > 0 ? 'text-warn' : 'text-good'}>
        {p.findings === 0 ? 'none' : p.findings}
      </span>
    ),
  },
];

/** Which other piece's file a piece is made from. */
function FileNote({ piece }: { piece: PieceView }) {
  const { view, alike } = useProject();
  const code = (key: string): string => view?.pieces.find((p) => p.key === key)?.code ?? key;
  const declared = alike.declared.find((d) => d.key === piece.key);
  const group = alike.groups.find((g) => g.same.includes(piece.key) || g.mirrored.includes(piece.key));
  const lead = alike.groups.find((g) => g.first === piece.key);
  const text = piece.aside
    ? 'set aside'
    : declared
      ? `made as ${code(declared.of)}${declared.mirrored ? ', mirrored' : ''}; differs by ${declared.deviation.toFixed(2)} mm`
      : group
        ? `same file as ${code(group.first)}${group.mirrored.includes(piece.key) ? ', mirrored' : ''}`
        : lead
          ? `${1 + lead.same.length + lead.mirrored.length} × this file`
          : '';
  return text ? <span className="block text-ink-soft text-sm no-underline">{text}</span> : null;
}
