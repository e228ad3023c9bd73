/** Millimetres for people: two digits below 10, one above, no trailing zeros. */
export const mm = (x: number): string => `${Number(x.toFixed(Math.abs(x) < 10 ? 2 : 1))} mm`;

/** Farther than this from the origin there is no model, mm: beyond, float32 files could not keep a tenth of a millimetre. */
export const FARTHEST = 1e6;
