import { type ReactNode, useMemo, useRef, useState, useSyncExternalStore } from 'react';
import { Group, type Layout, Panel, Separator, useDefaultLayout, useGroupRef } from 'react-resizable-panels';
import type { Station } from '../stations/station.ts';
import { SlotsProvider } from '../ui/panels.tsx';

/** Windows narrower than this have one column beside the view, with details below the ledger, CSS px. */
const NARROW = 1080;
/** Width of the details until it is changed, CSS px. */
const SIDE = 320;
/** Widths of the column at the left until it is changed, and the least it may have, CSS px. */
const LEFT = {
  ledger: { width: 264, least: 236 },
  /** ledger and details one under the other */
  stack: { width: 320, least: 290 },
  table: { width: 598, least: 360 },
  narrowTable: { width: 480, least: 360 },
};

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
  const left = station.column === 'table' ? (narrow ? 'narrowTable' : 'table') : narrow ? 'stack' : 'ledger';
  const hasSide = !folded && left === 'ledger';
  const hasShelf = !folded && station.shelf;
  const columns = [...(folded ? [] : [left]), 'model', ...(hasSide ? ['side'] : [])];
  const rows = ['middle', ...(hasShelf ? ['shelf'] : [])];
  const columnSizes = useDefaultLayout({
    id: 'gephyra-columns',
    panelIds: columns,
    onlySaveAfterUserInteractions: true,
  });
  const rowSizes = useDefaultLayout({ id: 'gephyra-rows', panelIds: rows, onlySaveAfterUserInteractions: true });
  const stackSizes = useDefaultLayout({ id: 'gephyra-stack', onlySaveAfterUserInteractions: true });
  const group = useGroupRef();
  const element = useRef<HTMLDivElement | null>(null);
  const laid = useRef('');
  /** Gives another set of columns its own widths; it would take over the shares of those that were there. */
  const settle = (layout: Layout): void => {
    const ids = Object.keys(layout).sort().join();
    const all = element.current?.offsetWidth ?? 0;
    if (ids === laid.current || all === 0 || ids !== [...columns].sort().join()) return;
    laid.current = ids;
    if (folded) return;
    const first = (LEFT[left].width / all) * 100;
    const last = hasSide ? (SIDE / all) * 100 : 0;
    const own = { [left]: first, model: 100 - first - last, ...(hasSide && { side: last }) };
    queueMicrotask(() => group.current?.setLayout(columnSizes.defaultLayout ?? own));
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
                  defaultSize={`${LEFT[left].width}px`}
                  minSize={`${LEFT[left].least}px`}
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
              {hasSide && <Edge label="Width of the details" upright />}
              {hasSide && (
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
          {hasShelf && <Edge label="Height of the shelf" upright={false} />}
          {hasShelf && (
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

const narrowWindow = matchMedia(`(max-width: ${NARROW - 1}px)`);

const watchWindow = (changed: () => void): (() => void) => {
  narrowWindow.addEventListener('change', changed);
  return () => narrowWindow.removeEventListener('change', changed);
};

const useNarrow = (): boolean => useSyncExternalStore(watchWindow, () => narrowWindow.matches);
