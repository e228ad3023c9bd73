declare module 'polylabel' {
  /** Pole of inaccessibility of a polygon with holes: the inside point farthest from all edges. */
  export default function polylabel(
    polygon: readonly (readonly (readonly [number, number])[])[],
    precision?: number,
  ): [number, number] & { distance: number };
}
