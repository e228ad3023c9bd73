import { MOST_ENTRIES } from '@gephyra/core/plan';
import { format, parseISO } from 'date-fns';
import { entryWords } from './bench.ts';
import type { Standing } from './use-standing.ts';

/** Entries of the log that are shown. */
const SHOWN = 40;

/** The log, the newest entry first. */
export function WhatHappened({ log, full, codeOf }: Pick<Standing, 'log' | 'full' | 'codeOf'>) {
  return (
    <section aria-label="What happened">
      <h2 className="mb-1 text-base">What happened</h2>
      {full && <p className="text-warn">The log is full: {MOST_ENTRIES} entries. Undo some to go on.</p>}
      {log.length === 0 && <p className="text-ink-soft">Nothing yet. Move a mark of the tally.</p>}
      <ul>
        {log
          .map((entry, i) => ({ entry, i }))
          .slice(-SHOWN)
          .reverse()
          .map(({ entry, i }) => (
            <li key={i} className="border-rule border-t py-1 text-sm">
              <span className="num text-ink-soft">{format(parseISO(entry.at), 'd MMM HH:mm')}</span>{' '}
              {entryWords(entry, codeOf)}
              {entry.who && <span className="text-ink-soft">, {entry.who}</span>}
            </li>
          ))}
      </ul>
      {log.length > SHOWN && <p className="text-ink-soft text-sm">and {log.length - SHOWN} before</p>}
    </section>
  );
}
