import { createContext, type ReactNode, useContext } from 'react';
import { createPortal } from 'react-dom';

interface Slots {
  readonly ledger: HTMLElement | null;
  readonly side: HTMLElement | null;
}

const SlotsContext = createContext<Slots>({ ledger: null, side: null });

/** Says where the columns of a workspace are, which stations fill. */
export const SlotsProvider = SlotsContext.Provider;

/** The ledger on the left: what a station is a list of. */
export function Ledger({ title, action, children }: { title: string; action?: ReactNode; children: ReactNode }) {
  const { ledger } = useContext(SlotsContext);
  if (!ledger) return null;
  return createPortal(
    <section aria-label={title} className="slim-scroll h-full overflow-y-auto bg-sheet px-3.5 py-3">
      <div className="mb-3 flex min-h-[30px] items-center justify-between gap-2">
        <h1 className="text-lg">{title}</h1>
        {action}
      </div>
      {children}
    </section>,
    ledger,
  );
}

/** The column on the right: companion view above, details below. */
export function Side({ children }: { children: ReactNode }) {
  const { side } = useContext(SlotsContext);
  if (!side) return null;
  return createPortal(
    <section aria-label="Details" className="slim-scroll h-full overflow-y-auto bg-sheet">
      {children}
    </section>,
    side,
  );
}

/** A titled part of the right column. */
export function Part({ title, note, children }: { title: string; note?: ReactNode; children: ReactNode }) {
  return (
    <section aria-label={title} className="border-rule border-b px-3.5 py-3 last:border-b-0">
      <div className="mb-2 flex items-baseline justify-between gap-2">
        <h2 className="text-base">{title}</h2>
        {note && <span className="text-ink-soft text-sm">{note}</span>}
      </div>
      {children}
    </section>
  );
}

/** A list of measured things and their numbers. */
export function Facts({ rows }: { rows: readonly (readonly [string, ReactNode])[] }) {
  return (
    <dl className="grid grid-cols-[auto_1fr] gap-x-3 gap-y-1">
      {rows.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="text-ink-soft">{name}</dt>
          <dd className="num text-right">{value}</dd>
        </div>
      ))}
    </dl>
  );
}
