import { z } from 'zod';
import { between, vec3 } from '../fields.ts';

/** How sharply the surface may bend where a marked face goes on, when nothing else is said: 30°. */
export const CREASE = Math.PI / 6;

/** Faces that are to be seen, or that no longer are: spread from a place of the surface. In the source's coordinates. */
export const showMarkSchema = z.strictObject({
  /** a place of the surface */
  at: vec3,
  /** it spreads over edges that bend no more than this, radians; π: over any */
  angle: between(0, Math.PI).default(CREASE),
  /** and no farther than this from its place, mm */
  radius: between(1e-4, 1e6).optional(),
  /** takes what it covers out of what was marked before */
  off: z.boolean().default(false),
});

/** At most so many marks are kept: a long stroke of the brush is some fifty. */
export const MOST_MARKS = 2000;

export type ShowMark = z.output<typeof showMarkSchema>;
