import { type ReactNode, useCallback, useLayoutEffect, useMemo, useRef, useState, useSyncExternalStore } from 'react';
import { createPortal } from 'react-dom';
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
  table: { width: 692, least: 360 },
  narrowTable: { width: 480, least: 360 },
};

interface Props {
  readonly station: Station;
  /** nothing but the view */
  readonly folded: boolean;
  /** the flat drawing is in the middle, and the view above the details */
  readonly swapped: boolean;
  onSwap(): void;
  /** the view; `small`: it has little room */
  view(small: boolean): ReactNode;
  readonly shelf: ReactNode;
  /** the station's page: its ledger and details go into the columns */
  readonly children: ReactNode;
}

/**
 * How a workspace is laid out; every edge can be moved by pointer or arrow keys, and stays where it was put.
 *
 *     ledger | view | drawing      wide; view and drawing can be swapped
 *            |      | details
 *     ledger | view                narrow: drawing and details below the ledger
 *     side   |
 *     table  | drawing             a table has no details: its drawing is above the view
 *            | view
 *     ledger | drawing | details   stacked
 *            | view    |
 *     shelf
 *
 * The view is one element for good, moved from place to place: a new one would have to send every piece to the graphics card.
 */
export function Frame({ station, folded, swapped: wish, onSwap, view, shelf, children }: Props) {
  const { slots, drawing, refs } = useSlots(onSwap);
  const [host] = useState(() => {
    const element = document.createElement('div');
    element.className = 'h-full min-h-0';
    return element;
  });
  const shape = shapeOf(station, { narrow: useNarrow(), folded, drawing, wish });
  const { left, hasSide, swapped } = shape;
  const hasShelf = !folded && station.shelf;
  const columns = useColumns(shape, folded);
  const ledger = <div ref={refs.ledger} className="h-full min-h-0 bg-sheet" />;
  const details = <Details shape={shape} refs={refs} host={host} />;
  return (
    <SlotsProvider value={slots}>
      <main className="min-h-0 grow">
        <Stack id="gephyra-rows" panelIds={['middle', ...(hasShelf ? ['shelf'] : [])]}>
          <Panel id="middle" minSize="240px">
            <Group id="gephyra-columns" orientation="horizontal" className="h-full" {...columns}>
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
                    <Stack id="gephyra-stack">
                      <Panel id="above" defaultSize="42%" minSize="90px">
                        {ledger}
                      </Panel>
                      <Edge label="Height of the list" upright={false} />
                      <Panel id="below" minSize="120px">
                        {details}
                      </Panel>
                    </Stack>
                  ) : (
                    ledger
                  )}
                </Panel>
              )}
              {!folded && <Edge label="Width of the list" upright />}
              <Panel id="model" minSize="280px">
                <Middle shape={shape} refs={refs} host={host} />
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
                  {details}
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
        </Stack>
      </main>
      {createPortal(view(swapped), host)}
      {children}
    </SlotsProvider>
  );
}

/** The places that a station's page is put into. */
function useSlots(swap: () => void) {
  const [ledger, setLedger] = useState<HTMLElement | null>(null);
  const [side, setSide] = useState<HTMLElement | null>(null);
  const [companion, setCompanion] = useState<HTMLElement | null>(null);
  const [drawings, setDrawings] = useState(0);
  const addCompanion = useCallback(() => {
    setDrawings((n) => n + 1);
    return () => setDrawings((n) => n - 1);
  }, []);
  const slots = useMemo(
    () => ({ ledger, side, companion, addCompanion, swap }),
    [ledger, side, companion, addCompanion, swap],
  );
  return { slots, drawing: drawings > 0, refs: { ledger: setLedger, side: setSide, companion: setCompanion } };
}

type Refs = ReturnType<typeof useSlots>['refs'];

/** What goes where. */
interface Shape {
  readonly left: keyof typeof LEFT;
  readonly narrow: boolean;
  /** there is a flat drawing */
  readonly drawing: boolean;
  readonly swapped: boolean;
  readonly hasSide: boolean;
  readonly stacked: boolean;
  /** the drawing is above the view: beside a table there are no details for it to be above */
  readonly beside: boolean;
}

function shapeOf(
  station: Station,
  { narrow, folded, drawing, wish }: { narrow: boolean; folded: boolean; drawing: boolean; wish: boolean },
): Shape {
  const left = station.column === 'table' ? (narrow ? 'narrowTable' : 'table') : narrow ? 'stack' : 'ledger';
  const hasSide = !folded && left === 'ledger';
  const stacked = hasSide && (station.stacked ?? false);
  return {
    left,
    narrow,
    drawing,
    swapped: wish !== (station.flatFirst ?? false) && drawing && !folded,
    hasSide,
    stacked,
    beside: drawing && !folded && (station.column === 'table' || stacked),
  };
}

/** The widths of the columns: each set of them keeps its own, and would else take over the shares of those that were there. */
function useColumns({ left, hasSide }: Shape, folded: boolean) {
  const ids = [...(folded ? [] : [left]), 'model', ...(hasSide ? ['side'] : [])];
  const sizes = useDefaultLayout({ id: 'gephyra-columns', panelIds: ids, onlySaveAfterUserInteractions: true });
  const groupRef = useGroupRef();
  const elementRef = useRef<HTMLDivElement | null>(null);
  const laid = useRef('');
  const onLayoutChange = (layout: Layout): void => {
    const now = Object.keys(layout).sort().join();
    const all = elementRef.current?.offsetWidth ?? 0;
    if (now === laid.current || all === 0 || now !== [...ids].sort().join()) return;
    laid.current = now;
    if (folded) return;
    const first = (LEFT[left].width / all) * 100;
    const last = hasSide ? (SIDE / all) * 100 : 0;
    const own = { [left]: first, model: 100 - first - last, ...(hasSide && { side: last }) };
    queueMicrotask(() => groupRef.current?.setLayout(sizes.defaultLayout ?? own));
  };
  const { defaultLayout, onLayoutChanged } = sizes;
  return { groupRef, elementRef, defaultLayout, onLayoutChange, onLayoutChanged };
}

/** Panels one above the other, as high as they were left. */
function Stack({
  id,
  kept = id,
  panelIds,
  children,
}: {
  id: string;
  /** under which name heights are kept */
  kept?: string;
  panelIds?: string[];
  children: ReactNode;
}) {
  const { defaultLayout, onLayoutChanged } = useDefaultLayout({
    id: kept,
    ...(panelIds && { panelIds }),
    onlySaveAfterUserInteractions: true,
  });
  return (
    <Group
      id={id}
      orientation="vertical"
      className="h-full"
      defaultLayout={defaultLayout}
      onLayoutChanged={onLayoutChanged}
    >
      {children}
    </Group>
  );
}

interface PartProps {
  readonly shape: Shape;
  readonly refs: Refs;
  /** the view's element */
  readonly host: HTMLElement;
}

const Drawing = ({ refs }: { refs: Refs }) => (
  <div ref={refs.companion} className="slim-scroll h-full min-h-0 overflow-y-auto bg-sheet [container-type:size]" />
);

/** The view, or the drawing in its place, or both one above the other. */
function Middle({ shape: { beside, swapped }, refs, host }: PartProps) {
  if (!beside) return swapped ? <Drawing refs={refs} /> : <Place of={host} />;
  return (
    <Stack key={String(swapped)} id="gephyra-strip" kept={`gephyra-strip-${swapped}`}>
      <Panel id="drawing" defaultSize={swapped ? '70%' : '57%'} minSize="140px">
        <Drawing refs={refs} />
      </Panel>
      <Edge label="Height of the drawing" upright={false} />
      <Panel id="seen" minSize="140px">
        <Place of={host} />
      </Panel>
    </Stack>
  );
}

/** The details, below the drawing or the view where one of them is there. */
function Details({ shape: { drawing, stacked, narrow, swapped }, refs, host }: PartProps) {
  const details = <div ref={refs.side} className="h-full min-h-0 bg-sheet" />;
  if (!drawing || stacked) return details;
  if (narrow && !swapped) {
    return (
      <div className="slim-scroll h-full overflow-y-auto bg-sheet [container-type:size]">
        <div ref={refs.companion} />
        <div ref={refs.side} />
      </div>
    );
  }
  return (
    <Stack id="gephyra-side">
      <Panel id="drawing" defaultSize="50%" minSize="140px">
        {swapped ? <Place of={host} /> : <Drawing refs={refs} />}
      </Panel>
      <Edge label="Height of the drawing" upright={false} />
      <Panel id="details" minSize="100px">
        {details}
      </Panel>
    </Stack>
  );
}

/** Where the element is. */
function Place({ of }: { of: HTMLElement }) {
  const place = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => {
    place.current?.append(of);
  }, [of]);
  return <div ref={place} className="h-full min-h-0" />;
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
