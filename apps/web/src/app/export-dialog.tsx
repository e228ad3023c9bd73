import { routes } from '@gephyra/contract';
import {
  bedName,
  codesWritten,
  EXPORT_FORMATS,
  type ExportFormat,
  isPrinted,
  type Plan,
  progressOf,
  writerOf,
} from '@gephyra/core/plan';
import { type ReactNode, useMemo, useState } from 'react';
import { useLocation } from 'react-router';
import { ApiError, api, follow } from '../api/client.ts';
import type { PieceView } from '../engine/types.ts';
import { useProject } from '../project/project.tsx';
import { Bar } from '../ui/bar.tsx';
import { Button } from '../ui/button.tsx';
import { Choice } from '../ui/choice.tsx';
import { Dialog } from '../ui/dialog.tsx';
import { Scroll } from '../ui/scroll.tsx';
import { Tick } from '../ui/tick.tsx';

/** How pieces are laid in the files. */
type As = 'place' | 'print' | 'beds' | 'sheet';

type State =
  | { at: 'choosing'; error?: string }
  | { at: 'working'; job: string | null; share: number; what: string }
  | { at: 'done'; job: string; fileName: string; beds: number };

const NONE: readonly PieceView[] = [];

/** A bed that can be written. */
interface BedRow {
  readonly id: string;
  readonly name: string;
  /** everything on it is printed, or being printed */
  readonly printed: boolean;
  /** of the pieces of which copies are written */
  readonly keys: readonly string[];
  /** codes of those that are not, with why */
  readonly left: readonly string[];
}

function bedRows(plan: Plan, pieces: readonly PieceView[], chosen: ReadonlySet<string>): BedRow[] {
  const byKey = new Map(pieces.map((p) => [p.key, p]));
  return plan.beds
    .filter((bed) => bed.pieces.length > 0)
    .map((bed) => {
      const progress = progressOf(plan.log ?? [], bed.pieces);
      const left = [...new Set(bed.pieces.map((p) => p.piece))].filter((key) => !chosen.has(key));
      return {
        id: bed.id,
        name: bedName(bed, plan.beds),
        printed: progress.every((p) => p.state === 'printing' || isPrinted(p.state)),
        keys: bed.pieces.map((p) => p.piece).filter((key) => chosen.has(key)),
        left: left.map((key) => {
          const piece = byKey.get(key);
          if (!piece) return 'a piece that is gone';
          return piece.stops.length > 0 ? `${piece.code} has a stop finding` : piece.code;
        }),
      };
    });
}

/** A set with something taken in, or out where it was in. */
function switched(set: ReadonlySet<string>, one: string): ReadonlySet<string> {
  const next = new Set(set);
  if (!next.delete(one)) next.add(one);
  return next;
}

/** What can be written or left, with what speaks against it. */
const Row = ({
  checked,
  onChange,
  title,
  note,
  faults,
}: {
  checked: boolean;
  onChange: () => void;
  title: ReactNode;
  note: ReactNode;
  faults: readonly string[];
}) => (
  <li className="border-rule border-b py-1.5 last:border-b-0">
    <Tick checked={checked} onChange={onChange}>
      <span className="flex justify-between gap-2">
        {title}
        <span className="text-ink-soft">{note}</span>
      </span>
      {faults.map((f) => (
        <span key={f} className="block text-sm text-stop">
          {f}
        </span>
      ))}
    </Tick>
  </li>
);

/** What is to be written, as it is chosen. */
function useChoices() {
  const { plan, view } = useProject();
  const pieces = view?.pieces ?? NONE;
  const station = useLocation().pathname.split('/').at(-1);
  const hasBeds = plan.beds.some((b) => b.pieces.length > 0);
  const [as, setAs] = useState<As>(station === 'assembly' ? 'sheet' : station === 'beds' && hasBeds ? 'beds' : 'place');
  const [paper, setPaper] = useState<'A4' | 'LETTER'>('A4');
  const [wanted, setFormat] = useState<ExportFormat>(as === 'beds' ? '3mf' : 'stl');
  const formats = as === 'beds' ? EXPORT_FORMATS.filter((f) => f === '3mf' || f === 'stl') : EXPORT_FORMATS;
  const [chosen, setChosen] = useState<ReadonlySet<string>>(
    () => new Set(pieces.filter((p) => p.stops.length === 0 && !p.aside).map((p) => p.key)),
  );
  const beds = useMemo(() => bedRows(plan, pieces, chosen), [plan, pieces, chosen]);
  const [bedsOff, setBedsOff] = useState<ReadonlySet<string>>(
    () => new Set(beds.filter((b) => b.printed).map((b) => b.id)),
  );
  const bedsOn = beds.filter((b) => !bedsOff.has(b.id) && b.keys.length > 0);
  const onBeds = new Set(bedsOn.flatMap((b) => b.keys));
  // a sheet is of all that is made
  const isWritten = (p: PieceView): boolean =>
    as === 'sheet' ? !p.aside : chosen.has(p.key) && (as !== 'beds' || onBeds.has(p.key));
  return {
    pieces,
    hasBeds,
    as,
    setAs,
    paper,
    setPaper,
    formats,
    format: formats.includes(wanted) ? wanted : ('3mf' as const),
    setFormat,
    chosen,
    choose: (key: string): void => setChosen(switched(chosen, key)),
    beds,
    bedsOn,
    switchBed: (id: string): void => setBedsOff(switched(bedsOff, id)),
    /** keys of what goes into the files */
    keys: pieces.filter(isWritten).map((p) => p.key),
    count: pieces.filter((p) => chosen.has(p.key)).length,
  };
}

type Choices = ReturnType<typeof useChoices>;

/** Has the server write what is chosen: how far that is, what came of it, and the acts of beginning and cancelling. */
function useWriting({ as, format, paper, bedsOn, keys }: Choices) {
  const { project, view, change } = useProject();
  const [state, setState] = useState<State>({ at: 'choosing' });
  const start = async (): Promise<void> => {
    setState({ at: 'working', job: null, share: 0, what: 'Waiting' });
    try {
      const job = await api.ask(project.id, 'export', {
        revision: project.revision,
        format,
        as,
        ...(as === 'sheet' && { paper }),
        ...(as === 'beds' && { beds: bedsOn.map((b) => b.id) }),
        pieces: keys,
      });
      const done = await follow(job, (now) =>
        setState({ at: 'working', job: now.id, share: now.progress, what: now.what || 'Waiting' }),
      );
      setState({ at: 'done', job: done.id, fileName: done.fileName ?? 'pieces.zip', beds: bedsOn.length });
      // from now on these codes are no other piece's
      const written = (view?.codes ?? []).filter((c) => keys.includes(c.key));
      if (as !== 'sheet' && written.some((c) => !c.out)) {
        change('Codes are on files', (now) => ({ do: 'set', set: { codes: codesWritten(now.codes, written) } }));
      }
    } catch (error) {
      const stopped = error instanceof ApiError && error.code === 'cancelled';
      setState({ at: 'choosing', ...(stopped ? {} : { error: (error as Error).message }) });
    }
  };
  return { state, start };
}

/** Chooses pieces and a format, writes them on the server, and offers the archive. */
export function ExportDialog({ onClose }: { onClose: () => void }) {
  const choices = useChoices();
  const { state, start } = useWriting(choices);
  const { as } = choices;
  const left = choices.pieces.filter((p) => p.stops.length > 0 && !p.aside);
  return (
    <Dialog title="Export pieces" onClose={onClose}>
      {left.length > 0 && as !== 'sheet' && (
        <p className="mb-3 border-stop border-l-[3px] bg-stop-wash py-1.5 pr-2 pl-2.5">
          {left.length === 1 ? 'One piece has' : `${left.length} pieces have`} a stop finding and{' '}
          {left.length === 1 ? 'is' : 'are'} left out. Tick what you want all the same.
        </p>
      )}
      <fieldset disabled={state.at === 'working'}>
        {as !== 'sheet' && <PieceList {...choices} />}
        {as === 'beds' && <BedList {...choices} />}
        <Manner {...choices} />
      </fieldset>
      <div aria-live="polite">
        <Outcome state={state} choices={choices} />
      </div>
      <div className="mt-4 flex justify-end gap-2">
        {state.at === 'working' ? (
          <Button onClick={() => state.job && void api.cancel(state.job)}>Cancel</Button>
        ) : (
          <Button onClick={onClose}>Close</Button>
        )}
        {state.at === 'done' ? (
          <a
            href={routes.jobFile(state.job)}
            download={state.fileName}
            className="flex h-[30px] items-center rounded border border-ink bg-ink px-2.5 text-sheet hover:bg-[#2c3c47]"
          >
            Save {state.fileName}
          </a>
        ) : (
          <Button look="main" disabled={isNothing(choices) || state.at === 'working'} onClick={() => void start()}>
            {writeWords(choices)}
          </Button>
        )}
      </div>
    </Dialog>
  );
}

const isNothing = ({ as, bedsOn, count }: Choices): boolean =>
  as === 'beds' ? bedsOn.length === 0 : count === 0 && as !== 'sheet';

function writeWords({ as, bedsOn, count }: Choices): string {
  if (as === 'sheet') return 'Write the sheet';
  if (as === 'beds') return bedsOn.length === 1 ? 'Write 1 bed' : `Write ${bedsOn.length} beds`;
  return count === 1 ? 'Write 1 piece' : `Write ${count} pieces`;
}

const Rows = ({ children }: { children: ReactNode }) => (
  <Scroll className="mb-3 max-h-56 border-rule border-y">
    <ul className="pr-3">{children}</ul>
  </Scroll>
);

const PieceList = ({ pieces, chosen, choose }: Choices) => (
  <>
    <legend className="mb-1 text-ink-soft text-sm">Pieces</legend>
    <Rows>
      {pieces.map((p) => (
        <Row
          key={p.key}
          checked={chosen.has(p.key)}
          onChange={() => choose(p.key)}
          title={
            <span>
              <strong className="font-semibold">{p.code}</strong> {p.name}
            </span>
          }
          note={<span className="num text-[12px]">{p.size.map((x) => x.toFixed(1)).join(' × ')}</span>}
          faults={p.stops}
        />
      ))}
    </Rows>
  </>
);

const BedList = ({ beds, bedsOn, switchBed }: Choices) => (
  <>
    <p className="mb-1 text-ink-soft text-sm">Beds</p>
    <Rows>
      {beds.map((b) => (
        <Row
          key={b.id}
          checked={bedsOn.includes(b)}
          onChange={() => switchBed(b.id)}
          title={<strong className="font-semibold">{b.name}</strong>}
          note={b.printed ? 'printed already' : ''}
          faults={
            b.left.length > 0
              ? [`${b.keys.length === 0 ? 'Nothing is written of it' : 'Left out'}: ${b.left.join(', ')}`]
              : []
          }
        />
      ))}
    </Rows>
  </>
);

/** How it is written: laid as, on which paper, in which format. */
const Manner = ({ as, setAs, hasBeds, paper, setPaper, format, formats, setFormat }: Choices) => (
  <>
    <div className="mb-3">
      <Choice<As>
        label="What is written"
        value={as}
        options={[
          { value: 'place', label: 'in their places' },
          { value: 'print', label: 'each as it prints' },
          ...(hasBeds ? [{ value: 'beds' as const, label: 'on their beds' }] : []),
          { value: 'sheet', label: 'assembly sheet' },
        ]}
        onChange={setAs}
      />
    </div>
    {as === 'sheet' ? (
      <Choice
        label="Paper"
        value={paper}
        options={[
          { value: 'A4', label: 'A4' },
          { value: 'LETTER', label: 'Letter' },
        ]}
        onChange={(next) => setPaper(next)}
      />
    ) : (
      <Choice<ExportFormat>
        label="Files"
        value={format}
        options={formats.map((f) => ({
          value: f,
          label: as === 'beds' ? `${f.toUpperCase()}, one a bed` : (writerOf(f).offered ?? f),
        }))}
        onChange={setFormat}
      />
    )}
  </>
);

function Outcome({ state, choices: { as, beds, count } }: { state: State; choices: Choices }) {
  if (state.at === 'choosing') return state.error ? <p className="mt-3 text-stop">{state.error}</p> : null;
  if (state.at === 'working') {
    return (
      <div className="mt-3">
        <p>{state.what}</p>
        <Bar label="Export" share={state.share} className="mt-1 w-full" />
      </div>
    );
  }
  return (
    <p className="mt-3 text-good">
      {as === 'sheet'
        ? 'The sheet is written.'
        : as === 'beds'
          ? `${state.beds} of ${beds.length} beds written and checked.`
          : `${count} pieces written and checked.`}
    </p>
  );
}
