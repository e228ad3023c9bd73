import { boundsOf } from '@gephyra/core/plan';

/** The bounds of a number in a schema, as a field for it takes them: `<NumberField {...bounded(printerSchema.shape.margin)} … />`. */
export function bounded(schema: unknown): { min: number; max: number } {
  const { least, most } = boundsOf(schema);
  return { min: least, max: most };
}
