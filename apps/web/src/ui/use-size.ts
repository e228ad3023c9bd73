import { type RefObject, useEffect, useLayoutEffect, useRef, useState } from 'react';

/** The size of an element as it is laid out, CSS px; kept up with, also when the element comes later or is another. */
export function useSize(of: RefObject<Element | null>): { readonly width: number; readonly height: number } {
  const [size, setSize] = useState({ width: 292, height: 236 });
  const observer = useRef<ResizeObserver>(null);
  const watched = useRef<Element>(null);
  useLayoutEffect(() => {
    if (of.current === watched.current) return;
    watched.current = of.current;
    observer.current?.disconnect();
    if (!of.current) return;
    observer.current ??= new ResizeObserver((entries) => {
      const { width, height } = entries[entries.length - 1].contentRect;
      if (width > 0 && height > 0) setSize({ width, height });
    });
    observer.current.observe(of.current);
  });
  useEffect(
    () => () => {
      observer.current?.disconnect();
      watched.current = null;
    },
    [],
  );
  return size;
}
