import { z } from 'zod';
import { between, id, name, text } from '../fields.ts';

/** How far a piece is, in the order in which it gets there. */
export const STATES = [
  'toPrint',
  'printing',
  'printed',
  'cleaned',
  'fitted',
  'joined',
  'filled',
  'sanded',
  'primed',
  'painted',
  'done',
] as const;
export type PieceState = (typeof STATES)[number];

/** Most entries of a log. */
export const MOST_ENTRIES = 10_000;

/**
 * Something that happened at the bench: pieces that got somewhere, or whose print failed and is to be made again. Entries are
 * added and never changed; how far a piece is is what its last entry says.
 */
const logEntrySchema = z.strictObject({
  at: z.iso.datetime(),
  /** copies of pieces; `file` tells the file again that a printed one was made from */
  pieces: z
    .array(
      z.strictObject({
        piece: text.min(1).max(2000),
        copy: z.int().min(1).max(500).default(1),
        file: z
          .string()
          .regex(/^[0-9a-f]{8,64}$/)
          .optional(),
      }),
    )
    .min(1)
    .max(2000),
  to: z.enum(STATES),
  /** the print failed: at what height, mm, where that is known, and why */
  failed: z.strictObject({ height: between(0, 5000).optional(), why: text.max(300).default('') }).optional(),
  bed: id.optional(),
  /** the print that it came of, where a printer was sent the bed */
  print: text.max(80).optional(),
  note: text.max(500).optional(),
  /** whoever did it, by the name they gave */
  who: name.optional(),
});

export const logSchema = z.array(logEntrySchema).max(MOST_ENTRIES);

export type LogEntry = z.output<typeof logEntrySchema>;
export type LogEntryInput = z.input<typeof logEntrySchema>;
