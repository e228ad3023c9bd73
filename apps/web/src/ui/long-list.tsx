import { useVirtualizer } from '@tanstack/react-virtual';
import { type ReactNode, useLayoutEffect, useRef, useState } from 'react';

/** Lists up to this are drawn whole. */
const SHORT = 60;

interface Props<T> {
  readonly label: string;
  readonly items: readonly T[];
  readonly keyOf: (item: T) => string;
  /** about how long an entry is along the list, CSS px */
  readonly about: number;
  /** entries stand side by side */
  readonly sideways?: boolean;
  readonly gap?: number;
  /** kept in sight when it changes; −1: none */
  readonly chosen?: number;
  readonly className?: string;
  readonly children: (item: T, index: number) => ReactNode;
}

/**
 * A list of which only what is in sight is drawn when it is long. It scrolls in the nearest part round it that does, or,
 * sideways, by itself.
 */
export function LongList<T>({
  label,
  items,
  keyOf,
  about,
  sideways = false,
  gap = 0,
  chosen = -1,
  className = '',
  children,
}: Props<T>) {
  const list = useRef<HTMLUListElement>(null);
  const [scroller, setScroller] = useState<HTMLElement | null>(null);
  const [margin, setMargin] = useState(0);
  useLayoutEffect(() => {
    const own = list.current;
    const found = sideways ? own : (own?.closest<HTMLElement>('.slim-scroll') ?? null);
    setScroller(found);
    if (own && found && !sideways) {
      const far = own.getBoundingClientRect().top - found.getBoundingClientRect().top + found.scrollTop;
      setMargin((old) => (Math.abs(old - far) < 1 ? old : far));
    }
  });
  const short = items.length <= SHORT;
  const virtual = useVirtualizer({
    count: items.length,
    enabled: !short && scroller !== null,
    getScrollElement: () => scroller,
    estimateSize: () => about,
    getItemKey: (i) => keyOf(items[i]),
    horizontal: sideways,
    overscan: 8,
    gap,
    scrollMargin: margin,
  });
  useLayoutEffect(() => {
    if (!short && chosen >= 0) virtual.scrollToIndex(chosen, { align: 'auto' });
  }, [short, chosen, virtual]);
  const entries = virtual.getVirtualItems();
  const first = entries.length > 0 ? entries[0].start - margin : 0;
  return (
    <ul ref={list} aria-label={label} className={className}>
      {short
        ? items.map((item, i) => <li key={keyOf(item)}>{children(item, i)}</li>)
        : [
            <li
              key="before"
              aria-hidden
              className="shrink-0"
              style={{ [sideways ? 'width' : 'height']: Math.max(0, first - (first > 0 ? gap : 0)) }}
            />,
            ...entries.map((entry) => (
              <li
                key={entry.key}
                data-index={entry.index}
                ref={virtual.measureElement}
                aria-posinset={entry.index + 1}
                aria-setsize={items.length}
              >
                {children(items[entry.index], entry.index)}
              </li>
            )),
            <li
              key="after"
              aria-hidden
              className="shrink-0"
              style={{
                [sideways ? 'width' : 'height']: Math.max(
                  0,
                  virtual.getTotalSize() - (entries.length > 0 ? entries[entries.length - 1].end - margin : 0),
                ),
              }}
            />,
          ]}
    </ul>
  );
}
