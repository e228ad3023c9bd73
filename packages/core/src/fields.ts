import { z } from 'zod';
import { isPlainText } from './plain-text.ts';
import { FARTHEST } from './units.ts';

// The kinds of value that plan documents are made of, with messages that name what is wrong.

/** A place, in the source's units. */
export const coordinate = z
  .number({ error: 'must be a number' })
  .refine((x) => Math.abs(x) <= FARTHEST, 'must lie within 1 000 000 of the origin');
export const vec3 = z.tuple([coordinate, coordinate, coordinate], { error: 'must be three numbers: [x, y, z]' });
/** Radians; a few turns at the most. */
export const angle = z
  .number({ error: 'must be a number' })
  .refine((x) => Math.abs(x) <= 100, 'must be from -100 to 100 (radians)');
export const direction = vec3.refine((d) => Math.hypot(...d) > 1e-9, 'must not be [0, 0, 0]');
export const id = z.string().regex(/^[A-Za-z0-9_-]{1,40}$/, 'must be 1 to 40 letters, digits, - or _');
/** What can be kept and shown: no control characters, no halves of characters. */
export const text = z.string().refine(isPlainText, 'must be plain text, without control characters');
export const name = text.max(120);
/** The key of a piece, as evaluation gives it. */
export const pieceKey = text.min(1).max(2000);
/** A place in a plane. */
export const uv = z.tuple([coordinate, coordinate]);
export const between = (low: number, high: number) =>
  z
    .number({ error: 'must be a number' })
    .min(low, `must be from ${low} to ${high}`)
    .max(high, `must be from ${low} to ${high}`);
