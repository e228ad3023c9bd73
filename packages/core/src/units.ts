/** Millimetres for people: two digits below 10, one above, no trailing zeros. */
export const mm = (x: number): string => `${Number(x.toFixed(Math.abs(x) < 10 ? 2 : 1))} mm`;
