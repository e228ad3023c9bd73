import { type ReactNode, useMemo, useRef, useState, useSyncExternalStore } from 'react';
import { Group, type Layout, Panel, Separator, useDefaultLayout, useGroupRef } from 'react-resizable-panels';
import type { Station } from '../stations/station.ts';
import { SlotsProvider } from '../ui/panels.tsx';

/** Windows narrower than this have one column beside the view, with details below the ledger, CSS px. */
const NARROW = 1080;
/** Width of the details until it is changed, CSS px. */
const SIDE = 320;

interface Props {
  readonly station: Station;
  /** nothing but the view */
  readonly folded: boolean;
  readonly view: ReactNode;
  readonly shelf: ReactNode;
  /** the station's page: its ledger and details go into the columns */
  readonly children: ReactNode;
}

/**
 * How a workspace is laid out; every edge can be moved by pointer or arrow keys, and stays where it was put.
 *
 *     ledger | view | side         wide
 *     ledger | view                narrow: details below the ledger, or nothing for a table
 *     side   |
 *     shelf
 */
export function Frame({ station, folded, view, shelf, children }: Props) {
  const narrow = useNarrow();
  const [ledger, setLedger] = useState<HTMLElement | null>(null);
  const [side, setSide] = useState<HTMLElement | null>(null);
  const slots = useMemo(() => ({ ledger, side }), [ledger, side]);
  const table = station.column === 'table';
  const left = table ? 'table' : narrow ? 'stack' : 'ledger';
  const columns = folded ? ['model'] : table || narrow ? [left, 'model'] : [left, 'model', 'side'];
  const rows = folded || !station.shelf ? ['middle'] : ['middle', 'shelf'];
  const columnSizes = useDefaultLayout({
    id: 'gephyra-columns',
    panelIds: columns,
    onlySaveAfterUserInteractions: true,
  });
  const rowSizes = useDefaultLayout({ id: 'gephyra-rows', panelIds: rows, onlySaveAfterUserInteractions: true });
  const stackSizes = useDefaultLayout({ id: 'gephyra-stack', onlySaveAfterUserInteractions: true });
  const group = useGroupRef();
  const element = useRef<HTMLDivElement | null>(null);
  const width = table ? (narrow ? 480 : 598) : narrow ? 320 : 264;
  const kept = useRef<Layout | undefined>(undefined);
  kept.current = columnSizes.defaultLayout;
  const laid = useRef('');
  /** Gives another set of columns its own widths; it would take over the shares of those that were there. */
  const settle = (layout: Layout): void => {
    const ids = Object.keys(layout).sort().join();
    const all = element.current?.offsetWidth ?? 0;
    if (ids === laid.current || all === 0 || ids !== [...columns].sort().join()) return;
    laid.current = ids;
    if (columns.length === 1) return;
    const first = (width / all) * 100;
    const last = columns.length === 3 ? (SIDE / all) * 100 : 0;
    const own = { [columns[0]]: first, model: 100 - first - last, ...(last > 0 && { side: last }) };
    queueMicrotask(() => group.current?.setLayout(kept.current ?? own));
  };
  const ledgerSlot = <div ref={setLedger} className="h-full min-h-0 bg-sheet" />;
  const sideSlot = <div ref={setSide} className="h-full min-h-0 bg-sheet" />;
  return (
    <SlotsProvider value={slots}>
      <main className="min-h-0 grow">
        <Group
          id="gephyra-rows"
          orientation="vertical"
          className="h-full"
          defaultLayout={rowSizes.defaultLayout}
          onLayoutChanged={rowSizes.onLayoutChanged}
        >
          <Panel id="middle" minSize="240px">
            <Group
              id="gephyra-columns"
              groupRef={group}
              elementRef={element}
              orientation="horizontal"
              className="h-full"
              defaultLayout={columnSizes.defaultLayout}
              onLayoutChange={settle}
              onLayoutChanged={columnSizes.onLayoutChanged}
            >
              {!folded && (
                <Panel
                  key={left}
                  id={left}
                  groupResizeBehavior="preserve-pixel-size"
                  defaultSize={`${width}px`}
                  minSize={table ? '360px' : narrow ? '290px' : '236px'}
                  maxSize="60%"
                >
                  {left === 'stack' ? (
                    <Group
                      id="gephyra-stack"
                      orientation="vertical"
                      className="h-full"
                      defaultLayout={stackSizes.defaultLayout}
                      onLayoutChanged={stackSizes.onLayoutChanged}
                    >
                      <Panel id="above" defaultSize="42%" minSize="90px">
                        {ledgerSlot}
                      </Panel>
                      <Edge label="Height of the list" upright={false} />
                      <Panel id="below" minSize="120px">
                        {sideSlot}
                      </Panel>
                    </Group>
                  ) : (
                    ledgerSlot
                  )}
                </Panel>
              )}
              {!folded && <Edge label="Width of the list" upright />}
              <Panel id="model" minSize="280px">
                {view}
              </Panel>
              {columns.includes('side') && <Edge label="Width of the details" upright />}
              {columns.includes('side') && (
                <Panel
                  id="side"
                  groupResizeBehavior="preserve-pixel-size"
                  defaultSize={`${SIDE}px`}
                  minSize="290px"
                  maxSize="60%"
                >
                  {sideSlot}
                </Panel>
              )}
            </Group>
          </Panel>
          {rows.includes('shelf') && <Edge label="Height of the shelf" upright={false} />}
          {rows.includes('shelf') && (
            <Panel id="shelf" groupResizeBehavior="preserve-pixel-size" defaultSize="92px" minSize="92px" maxSize="50%">
              {shelf}
            </Panel>
          )}
        </Group>
      </main>
      {children}
    </SlotsProvider>
  );
}

/** An edge between two panels. */
function Edge({ label, upright }: { label: string; upright: boolean }) {
  return (
    <Separator
      aria-label={label}
      className={`bg-rule outline-offset-0 hover:bg-rule-strong data-[separator=active]:bg-lapis ${upright ? 'w-px' : 'h-px'}`}
    />
  );
}

const narrowWindow = typeof matchMedia === 'undefined' ? null : matchMedia(`(max-width: ${NARROW - 1}px)`);

const watchWindow = (changed: () => void): (() => void) => {
  narrowWindow?.addEventListener('change', changed);
  return () => narrowWindow?.removeEventListener('change', changed);
};

const useNarrow = (): boolean => useSyncExternalStore(watchWindow, () => narrowWindow?.matches ?? false);
