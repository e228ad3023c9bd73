import { degrees } from '../../units.ts';
/** A length in the words of a step: "0.125 mm". */
export const lengthText = (x: number): string => `${Number(x.toFixed(3))} mm`;
export const degreesText = (x: number): string => `${Number(degrees(x).toFixed(2))}°`;
/** What the model's size along an axis is called. */
export const AXIS_WORDS = { x: 'width', y: 'depth', z: 'height' } as const;
