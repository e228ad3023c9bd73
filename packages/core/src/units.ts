/** Millimetres for people: two digits below 10, one above, no trailing zeros. */
export const mm = (x: number): string => `${Number(x.toFixed(Math.abs(x) < 10 ? 2 : 1))} mm`;

/** Farther than this from the origin there is no model, mm: beyond, float32 files could not keep a tenth of a millimetre. */
export const FARTHEST = 1e6;

/** Angles are radians inside, and degrees where people read and write them. */
export const radians = (degrees: number): number => (degrees * Math.PI) / 180;
export const degrees = (radians: number): number => (radians * 180) / Math.PI;

/** An angle in whole degrees, rounded down: "45°". */
export const wholeDegrees = (angle: number): string => `${Math.floor(degrees(angle) + 1e-6)}°`;
