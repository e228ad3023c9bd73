import type { Job } from '@gephyra/contract';
import { jobKind } from './kinds/index.ts';

/** A finished job that has a file. */
export interface Finished {
  readonly id: string;
  readonly kind: Job['kind'];
  readonly bytes: number;
  readonly createdAt: Date;
}

/**
 * Ids of the finished jobs that are kept no longer, of a list with the newest first: each kind by itself, by number, age and
 * bytes. What is forgotten is computed again when it is wanted.
 */
export function beyondKeeping(finished: readonly Finished[], now: Date): string[] {
  const used = new Map<Job['kind'], { count: number; bytes: number }>();
  return finished.flatMap(({ id, kind, bytes, createdAt }) => {
    const { keep } = jobKind(kind);
    if (!keep) return [];
    const own = used.get(kind) ?? { count: 0, bytes: 0 };
    own.count++;
    own.bytes += bytes;
    used.set(kind, own);
    const days = (now.getTime() - createdAt.getTime()) / 86_400_000;
    return own.count > keep.newest || own.bytes > keep.bytes || days > keep.days ? [id] : [];
  });
}
