import { z } from 'zod';
import { isPlainText } from '../formats/index.ts';

// The kinds of value that plan documents are made of, with messages that name what is wrong.

export const finite = z.number({ error: 'must be a number' }).refine(Number.isFinite, 'must be a finite number');
export const vec3 = z.tuple([finite, finite, finite], { error: 'must be three numbers: [x, y, z]' });
export const direction = vec3.refine((d) => Math.hypot(...d) > 1e-9, 'must not be [0, 0, 0]');
export const id = z.string().regex(/^[A-Za-z0-9_-]{1,40}$/, 'must be 1 to 40 letters, digits, - or _');
/** What can be kept and shown: no control characters, no halves of characters. */
export const text = z.string().refine(isPlainText, 'must be plain text, without control characters');
export const name = text.max(120);
export const between = (low: number, high: number) =>
  finite.refine((x) => x >= low && x <= high, `must be from ${low} to ${high}`);
