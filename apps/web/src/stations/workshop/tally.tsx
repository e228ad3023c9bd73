import type { Print } from '@gephyra/contract';
import { type CopyProgress, copyKey, type PieceState, STATES, stateIndex } from '@gephyra/core/plan';
import { Slider } from 'radix-ui';
import { useEffect, useState } from 'react';
import type { PieceView } from '../../engine/types.ts';
import { Bar } from '../../ui/bar.tsx';
import { Button } from '../../ui/button.tsx';
import { LongList } from '../../ui/long-list.tsx';
import { Tick } from '../../ui/tick.tsx';
import { STATE_WORDS, stateAt, type TallyGroup } from './bench.ts';

const LAST = STATES.length - 1;
const GRID = 'grid grid-cols-[22px_minmax(150px,max-content)_1fr_14px] items-center gap-2';

type Item = { readonly group: TallyGroup } | { readonly row: CopyProgress };

/** The tally: a row a copy, a column a state, a mark where it stands. Marks are moved by pointer or arrow keys; rows are ticked to be set together. */
export function Tally({
  groups,
  pieceOf,
  printOf,
  ticked,
  chosen,
  onTick,
  onChoose,
  onMove,
}: {
  groups: readonly TallyGroup[];
  pieceOf(key: string): PieceView | undefined;
  /** what a printer is at, by the bed's id */
  printOf(bed: string | undefined): Print | undefined;
  /** copy keys */
  ticked: ReadonlySet<string>;
  chosen: string | null;
  onTick(keys: readonly string[], on: boolean): void;
  onChoose(row: CopyProgress): void;
  onMove(rows: readonly CopyProgress[], to: PieceState, bed?: string): void;
}) {
  const items: Item[] = groups.flatMap((group) => [{ group }, ...group.rows.map((row) => ({ row }))]);
  return (
    <div>
      <div className={`${GRID} sticky top-0 z-10 h-12 bg-sheet`} aria-hidden>
        <span />
        <span />
        <div className="relative h-full">
          {STATES.map((s, i) => (
            <span
              key={s}
              className="absolute bottom-1 origin-bottom-left -rotate-[32deg] whitespace-nowrap text-[12px] text-ink-soft"
              style={{ left: `${(100 * i) / LAST}%` }}
            >
              {STATE_WORDS[s]}
            </span>
          ))}
        </div>
      </div>
      <LongList
        label="Tally"
        items={items}
        keyOf={(i) => ('group' in i ? `group ${i.group.bed?.id ?? ''}` : copyKey(i.row.piece, i.row.copy))}
        about={30}
      >
        {(item) =>
          'group' in item ? (
            <Heading
              group={item.group}
              print={printOf(item.group.bed?.id)}
              ticked={ticked}
              onTick={onTick}
              onMove={onMove}
            />
          ) : (
            <Row
              row={item.row}
              piece={pieceOf(item.row.piece)}
              ticked={ticked.has(copyKey(item.row.piece, item.row.copy))}
              chosen={chosen === copyKey(item.row.piece, item.row.copy)}
              onTick={(on) => onTick([copyKey(item.row.piece, item.row.copy)], on)}
              onChoose={() => onChoose(item.row)}
              onMove={(to) => onMove([item.row], to)}
            />
          )
        }
      </LongList>
    </div>
  );
}

function Heading({
  group: { bed, title, rows },
  print,
  ticked,
  onTick,
  onMove,
}: {
  group: TallyGroup;
  /** what a printer is at */
  print: Print | undefined;
  ticked: ReadonlySet<string>;
  onTick(keys: readonly string[], on: boolean): void;
  onMove(rows: readonly CopyProgress[], to: PieceState, bed?: string): void;
}) {
  const waiting = rows.filter((r) => r.state === 'toPrint');
  const printing = rows.filter((r) => r.state === 'printing');
  const keys = rows.map((r) => copyKey(r.piece, r.copy));
  return (
    <div className="mt-2 flex h-9 items-center gap-2 border-rule border-b">
      <Tick
        label={`All of ${title}`}
        tone="ink"
        checked={keys.every((k) => ticked.has(k))}
        onChange={(on) => onTick(keys, on)}
      />
      <h3 className="grow text-base">
        {title}
        {bed && <span className="ml-2 font-normal font-sans text-ink-soft text-sm">{bed.printer}</span>}
      </h3>
      {print && (
        <span className="flex items-center gap-2 text-ink-soft text-sm">
          <Bar label={`${title}, how far it is`} share={print.share} />
          <span className="num">{Math.round(print.share * 100)} %</span>
        </span>
      )}
      {bed && waiting.length > 0 && (
        <Button className="h-7" onClick={() => onMove(waiting, 'printing', bed.id)}>
          Start {title}
        </Button>
      )}
      {bed && !print && printing.length > 0 && (
        <Button className="h-7" onClick={() => onMove(printing, 'printed', bed.id)}>
          {title} is done
        </Button>
      )}
    </div>
  );
}

function Row({
  row,
  piece,
  ticked,
  chosen,
  onTick,
  onChoose,
  onMove,
}: {
  row: CopyProgress;
  piece: PieceView | undefined;
  ticked: boolean;
  chosen: boolean;
  onTick(on: boolean): void;
  onChoose(): void;
  onMove(to: PieceState): void;
}) {
  const at = stateIndex(row.state);
  // while it is dragged
  const [mark, setMark] = useState(at);
  useEffect(() => setMark(at), [at]);
  // one that is being made again is no failure for now
  const broke = row.state === 'toPrint' ? row.failed : null;
  const name = `${piece?.code ?? ''}${row.copy > 1 ? ` (${row.copy})` : ''}`;
  return (
    <div className={`${GRID} h-[30px] ${chosen ? 'bg-cut-wash shadow-[inset_3px_0_0_var(--color-cut)]' : ''}`}>
      <Tick label={`Tick ${name}`} tone="ink" checked={ticked} onChange={onTick} />
      <button type="button" aria-pressed={chosen} className="flex min-w-0 gap-1 text-left" onClick={onChoose}>
        <strong className="shrink-0 font-semibold">{name}</strong>{' '}
        <span className={`truncate ${broke ? 'text-stop' : 'text-ink-soft'}`} title={piece?.name}>
          {broke ? `failed${broke.height === null ? '' : ` at ${broke.height.toFixed(0)} mm`}` : piece?.name}
        </span>
      </button>
      <Slider.Root
        value={[mark]}
        min={0}
        max={LAST}
        step={1}
        onValueChange={([x]) => setMark(x)}
        onValueCommit={([x]) => x !== at && onMove(stateAt(x))}
        className="relative flex h-6 touch-none items-center"
      >
        <Slider.Track className="relative h-px grow bg-rule">
          <Slider.Range className="absolute h-full bg-ink" />
          {STATES.map((s, i) => (
            <span
              key={s}
              aria-hidden
              className={`-translate-x-1/2 -translate-y-1/2 absolute top-1/2 size-[5px] rounded-full ${i <= mark ? 'bg-ink' : 'bg-rule-strong'}`}
              style={{ left: `${(100 * i) / LAST}%` }}
            />
          ))}
        </Slider.Track>
        <Slider.Thumb
          aria-label={`How far ${name} is`}
          aria-valuetext={STATE_WORDS[stateAt(mark)]}
          className="block h-[18px] w-[14px] cursor-grab rounded-t-[2px] rounded-b-[7px] border border-ink"
          style={{ background: broke ? 'var(--color-stop)' : (piece?.tint ?? '#888') }}
        />
      </Slider.Root>
      <span />
    </div>
  );
}
