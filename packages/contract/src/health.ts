import { DEFECTS } from '@gephyra/core';
import { z } from 'zod';

const point = z.tuple([z.number(), z.number(), z.number()]).readonly();

/** Where to look: a point and how much around it, mm. */
const place = z.object({ at: point, radius: z.number(), value: z.number().exactOptional() });

/** What is wrong with the bodies of a model, and which of them lie in one another. */
export const healthReport = z.object({
  bodies: z
    .array(
      z.object({
        body: z.string(),
        closed: z.boolean(),
        triangles: z.number().int(),
        shells: z.number().int(),
        /** closed shells that enclose a hollow of the body */
        cavities: z.number().int(),
        defects: z
          .array(z.object({ kind: z.enum(DEFECTS), count: z.number().int(), places: z.array(place).readonly() }))
          .readonly(),
        /** whether self-crossings were looked for, and to the end */
        crossingsTested: z.boolean(),
      }),
    )
    .readonly(),
  overlaps: z.array(z.object({ bodies: z.tuple([z.string(), z.string()]).readonly(), at: point })).readonly(),
});

export type HealthReport = z.infer<typeof healthReport>;
