import { isPlainText } from '@gephyra/core';
import { z } from 'zod';

export const text = z.string().refine(isPlainText, 'holds characters that cannot be shown');
export const projectName = text.trim().min(1, 'A name needs at least one letter.').max(120);
/** What the record can count to. */
export const revision = z
  .int()
  .min(0)
  .max(2 ** 31 - 1);
