import { ArrowLeftRight } from 'lucide-react';
import { createContext, type ReactNode, useContext, useLayoutEffect } from 'react';
import { createPortal } from 'react-dom';
import { Tip } from './tip.tsx';

interface Slots {
  readonly ledger: HTMLElement | null;
  readonly side: HTMLElement | null;
  /** where a flat drawing goes: above the details, or large into the middle */
  readonly companion: HTMLElement | null;
  /** tells that there is a drawing; gives a function that takes it back */
  addCompanion(): () => void;
  swap(): void;
}

const SlotsContext = createContext<Slots>({
  ledger: null,
  side: null,
  companion: null,
  addCompanion: () => () => {},
  swap: () => {},
});

/** Says where the columns of a workspace are, which stations fill. */
export const SlotsProvider = SlotsContext.Provider;

/** The ledger on the left: what a station is a list of. */
export function Ledger({
  title,
  action,
  filled = false,
  children,
}: {
  title: string;
  action?: ReactNode;
  /** its parts share the height and scroll by themselves */
  filled?: boolean;
  children: ReactNode;
}) {
  const { ledger } = useContext(SlotsContext);
  if (!ledger) return null;
  return createPortal(
    <section
      aria-label={title}
      className={`slim-scroll h-full overflow-y-auto bg-sheet px-3.5 py-3 ${filled ? 'flex flex-col' : ''}`}
    >
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

/**
 * A flat drawing that belongs to the 3D view: above the details, or, when the two are swapped, large in the middle. What is
 * drawn fits the height that is left: its container is a size container (100cqh).
 */
export function Companion({ title, note, children }: { title: string; note?: ReactNode; children: ReactNode }) {
  const { companion, addCompanion, swap } = useContext(SlotsContext);
  useLayoutEffect(() => addCompanion(), [addCompanion]);
  if (!companion) return null;
  return createPortal(
    <section aria-label={title} className="border-rule border-b px-3.5 py-3">
      <div className="mb-2 flex items-center justify-between gap-2">
        <h2 className="text-base">{title}</h2>
        <span className="flex items-center gap-1.5">
          {note && <span className="text-ink-soft text-sm">{note}</span>}
          <Tip text="Swap with the 3D view" keys="X">
            <button
              type="button"
              aria-label="Swap with the 3D view"
              className="-my-1 flex h-7 w-7 items-center justify-center rounded text-ink-soft hover:bg-paper-deep hover:text-ink"
              onClick={swap}
            >
              <ArrowLeftRight size={15} aria-hidden />
            </button>
          </Tip>
        </span>
      </div>
      {children}
    </section>,
    companion,
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
