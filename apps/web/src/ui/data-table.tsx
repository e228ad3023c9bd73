import {
  type ColumnDef,
  flexRender,
  getCoreRowModel,
  getFilteredRowModel,
  getSortedRowModel,
  type RowData,
  type SortingState,
  useReactTable,
  type VisibilityState,
} from '@tanstack/react-table';
import { useVirtualizer } from '@tanstack/react-virtual';
import { type ReactNode, useEffect, useMemo, useRef, useState } from 'react';
import { type MenuEntry, Offers } from './menu.tsx';
import { Popover } from './popover.tsx';
import { Tick } from './tick.tsx';

declare module '@tanstack/react-table' {
  // the names are those of the library's own interface
  interface ColumnMeta<TData extends RowData, TValue> {
    /** numbers stand at the right */
    readonly right?: boolean;
    /** always shown */
    readonly fixed?: boolean;
    /** not shown until it is asked for */
    readonly off?: boolean;
  }
}

export type Columns<T> = ColumnDef<T>[];

interface Props<T> {
  /** under which the browser keeps what was changed of it */
  readonly id: string;
  readonly label: string;
  readonly rows: readonly T[];
  readonly columns: Columns<T>;
  readonly keyOf: (row: T) => string;
  readonly selected: string | null;
  /** a click anywhere in a row, besides on what is to be pressed there */
  readonly onChoose?: (row: T) => void;
  /** what can be done with a row */
  readonly offers: (row: T) => readonly MenuEntry[];
  /** what the rows come to, under the table */
  readonly sum?: ReactNode;
}

interface Kept {
  readonly sorting: SortingState;
  readonly hidden: VisibilityState;
  readonly widths: Record<string, number>;
}

const ROW = 33;

/**
 * A table whose rows are sorted by its heads and found by a word, whose columns are chosen and made wider; the browser keeps how.
 * Its head stays in sight, and of many rows only those in sight are drawn.
 */
export function DataTable<T>({ id, label, rows, columns, keyOf, selected, onChoose, offers, sum }: Props<T>) {
  const [kept, setKept] = useKept(id);
  const hidden = useMemo(
    () => ({
      ...Object.fromEntries(columns.flatMap((c) => (c.meta?.off && c.id ? [[c.id, false]] : []))),
      ...kept.hidden,
    }),
    [columns, kept.hidden],
  );
  const [word, setWord] = useState('');
  const table = useReactTable({
    data: rows as T[],
    columns,
    getRowId: keyOf,
    state: {
      sorting: kept.sorting,
      columnVisibility: hidden,
      columnSizing: kept.widths,
      globalFilter: word,
    },
    onSortingChange: (next) => setKept((k) => ({ ...k, sorting: typeof next === 'function' ? next(k.sorting) : next })),
    onColumnVisibilityChange: (next) =>
      setKept((k) => ({ ...k, hidden: typeof next === 'function' ? next(k.hidden) : next })),
    onColumnSizingChange: (next) =>
      setKept((k) => ({ ...k, widths: typeof next === 'function' ? next(k.widths) : next })),
    onGlobalFilterChange: setWord,
    globalFilterFn: 'includesString',
    columnResizeMode: 'onChange',
    enableSortingRemoval: false,
    sortDescFirst: false,
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
    getFilteredRowModel: getFilteredRowModel(),
  });
  const scroller = useRef<HTMLDivElement>(null);
  const found = table.getRowModel().rows;
  const virtual = useVirtualizer({
    count: found.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
    getItemKey: (i) => found[i].id,
  });
  const items = virtual.getVirtualItems();
  const before = items.length > 0 ? items[0].start : 0;
  const after = items.length > 0 ? virtual.getTotalSize() - items[items.length - 1].end : 0;
  return (
    <>
      <div className="mb-2 flex items-center gap-2">
        <input
          type="search"
          aria-label={`Find in ${label}`}
          placeholder="Find"
          value={word}
          onChange={(e) => setWord(e.target.value)}
          className="h-[30px] w-40 rounded border border-rule-strong bg-sheet px-2"
        />
        <p role="status" className="grow text-ink-soft text-sm">
          {word ? `${found.length} of ${rows.length}` : ''}
        </p>
        <Popover label="Columns">
          <ul className="flex flex-col gap-1.5">
            {table.getAllLeafColumns().map(
              (c) =>
                !c.columnDef.meta?.fixed && (
                  <li key={c.id}>
                    <Tick checked={c.getIsVisible()} onChange={(on) => c.toggleVisibility(on)}>
                      {String(c.columnDef.header)}
                    </Tick>
                  </li>
                ),
            )}
          </ul>
        </Popover>
      </div>
      <div ref={scroller} className="slim-scroll relative min-h-24 shrink grow overflow-auto border-rule border-y">
        <table
          aria-label={label}
          aria-rowcount={found.length + 1}
          className="table-fixed border-separate border-spacing-0"
          style={{ width: table.getTotalSize() }}
        >
          <thead>
            {table.getHeaderGroups().map((group) => (
              <tr key={group.id} className="text-left text-sm">
                {group.headers.map((head) => (
                  <th
                    key={head.id}
                    scope="col"
                    aria-sort={
                      { asc: 'ascending' as const, desc: 'descending' as const }[String(head.column.getIsSorted())] ??
                      'none'
                    }
                    style={{ width: head.getSize() }}
                    className={`sticky top-0 z-10 border-ink border-b bg-sheet py-1 pr-2.5 font-normal ${head.column.columnDef.meta?.right ? 'text-right' : ''}`}
                  >
                    <button
                      type="button"
                      className="max-w-full truncate text-ink-soft hover:text-ink"
                      onClick={head.column.getToggleSortingHandler()}
                    >
                      {flexRender(head.column.columnDef.header, head.getContext())}
                      <span aria-hidden>{{ asc: ' ↑', desc: ' ↓' }[String(head.column.getIsSorted())] ?? ''}</span>
                    </button>
                    <Grip
                      label={`Width of ${String(head.column.columnDef.header)}`}
                      width={head.getSize()}
                      onStart={head.getResizeHandler()}
                      onStep={(by) =>
                        setKept((k) => ({
                          ...k,
                          widths: { ...k.widths, [head.column.id]: Math.max(36, head.getSize() + by) },
                        }))
                      }
                    />
                  </th>
                ))}
              </tr>
            ))}
          </thead>
          <tbody>
            {before > 0 && <Gap height={before} columns={table.getVisibleLeafColumns().length} />}
            {items.map((item) => {
              const row = found[item.index];
              return (
                <Offers key={row.id} entries={offers(row.original)}>
                  <tr
                    data-index={item.index}
                    aria-rowindex={item.index + 2}
                    ref={virtual.measureElement}
                    className={`${row.id === selected ? 'bg-lapis-wash' : ''} ${onChoose ? 'cursor-pointer hover:bg-paper' : ''}`}
                    onClick={(event) => {
                      const on = event.target as Element;
                      if (!on.closest('button, a, input, label, select, [role=checkbox]')) onChoose?.(row.original);
                    }}
                  >
                    {row.getVisibleCells().map((cell, i) => {
                      const Cell = i === 0 ? 'th' : 'td';
                      return (
                        <Cell
                          key={cell.id}
                          scope={i === 0 ? 'row' : undefined}
                          className={`overflow-hidden border-rule border-b py-1.5 pr-2.5 font-normal ${cell.column.columnDef.meta?.right ? 'num text-right' : 'text-left'}`}
                        >
                          {flexRender(cell.column.columnDef.cell, cell.getContext())}
                        </Cell>
                      );
                    })}
                  </tr>
                </Offers>
              );
            })}
            {after > 0 && <Gap height={after} columns={table.getVisibleLeafColumns().length} />}
          </tbody>
        </table>
        {found.length === 0 && rows.length > 0 && (
          <p className="py-3 text-ink-soft">Nothing here has “{word}” in it.</p>
        )}
      </div>
      {sum && <p className="py-1.5 text-ink-soft">{sum}</p>}
    </>
  );
}

const Gap = ({ height, columns }: { height: number; columns: number }) => (
  <tr aria-hidden>
    <td colSpan={columns} style={{ height }} />
  </tr>
);

/** The edge of a column: drawn by pointer, moved by the arrow keys. */
function Grip({
  label,
  width,
  onStart,
  onStep,
}: {
  label: string;
  width: number;
  onStart: (event: unknown) => void;
  onStep: (by: number) => void;
}) {
  return (
    <hr
      aria-orientation="vertical"
      aria-label={label}
      aria-valuenow={Math.round(width)}
      aria-valuemin={36}
      aria-valuemax={800}
      tabIndex={0}
      className="absolute top-1 right-0 bottom-1 m-0 w-1.5 cursor-col-resize touch-none border-0 border-rule border-r hover:border-ink"
      onMouseDown={onStart}
      onTouchStart={onStart}
      onKeyDown={(event) => {
        const by = { ArrowLeft: -8, ArrowRight: 8 }[event.key];
        if (!by) return;
        event.preventDefault();
        onStep(by);
      }}
    />
  );
}

/** How a table was left, kept in the browser. */
function useKept(id: string): [Kept, (change: (kept: Kept) => Kept) => void] {
  const key = `gephyra-table-${id}`;
  const [kept, setKept] = useState<Kept>(() => {
    const nothing = { sorting: [], hidden: {}, widths: {} };
    try {
      return { ...nothing, ...(JSON.parse(localStorage.getItem(key) ?? '{}') as Partial<Kept>) };
    } catch {
      return nothing;
    }
  });
  useEffect(() => {
    try {
      localStorage.setItem(key, JSON.stringify(kept));
    } catch {
      // a browser that keeps nothing still shows the table
    }
  }, [key, kept]);
  return [kept, setKept];
}
