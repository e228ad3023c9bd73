import { hoursText, planSchema, poseOnModel, printSettingOf } from '@gephyra/core/plan';
import { useMemo, useState } from 'react';
import type { ChoiceView, LyingView } from '../../engine/prints.ts';
import type { BoxView, PieceView, Triple } from '../../engine/types.ts';
import { Findings } from '../../project/findings.tsx';
import { lyingOn } from '../../project/lying.ts';
import { usePieceOffers } from '../../project/piece-offers.ts';
import { useProject } from '../../project/project.tsx';
import { useSelection, useStationView, useWorkspace } from '../../project/selection.tsx';
import { ShowFaces } from '../../project/show-faces.tsx';
import { bounded } from '../../ui/bounded.ts';
import { Button } from '../../ui/button.tsx';
import { DataTable } from '../../ui/data-table.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Ledger } from '../../ui/panels.tsx';
import { Tabs } from '../../ui/tabs.tsx';
import { ByHand } from './by-hand.tsx';
import { Codes } from './codes.tsx';
import { columnsFor, type PieceRow } from './columns.tsx';
import { PieceNotes } from './piece-notes.tsx';
import { PoseAll } from './pose-all.tsx';
import { PoseStrip } from './pose-strip.tsx';
import { StuffFields } from './stuff-fields.tsx';
import { useLying } from './use-lying.ts';

const TABS = ['piece', 'pose', 'show', 'findings', 'all'] as const;
type Tab = (typeof TABS)[number];

/** Pieces: their table, what is said of each, how they lie on the bed. */
export default function PiecesStation() {
  const { plan, view, prints } = useProject();
  const { open } = useWorkspace();
  const [{ piece: selected, tool }, select] = useSelection();
  const offers = usePieceOffers();
  const pieces = useMemo(() => view?.pieces ?? [], [view]);
  const chosen = pieces.find((p) => p.key === selected) ?? null;
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const [tried, setTried] = useState<ChoiceView | null>(null);
  const tab: Tab = TABS.find((t) => t === tool) ?? (chosen ? 'piece' : 'all');
  const rows = useMemo(() => {
    const notes = new Map(plan.pieces.map((p) => [p.key, p]));
    return pieces.map(
      (p): PieceRow => ({ ...p, print: prints.byKey.get(p.key), note: notes.get(p.key), ticked: ticked.has(p.key) }),
    );
  }, [pieces, plan.pieces, prints.byKey, ticked]);
  const columns = useMemo(
    () =>
      columnsFor(
        rows,
        (key) => select({ piece: selected === key ? null : key }),
        selected,
        (key, on) =>
          setTicked((old) => {
            const next = new Set(old);
            if (on) next.add(key);
            else next.delete(key);
            return next;
          }),
      ),
    [rows, selected, select],
  );
  const lying = usePosedView(chosen, tried);
  const picked = pieces.filter((p) => ticked.has(p.key));
  const own = view?.findings.filter((f) => chosen && f.where.piece === chosen.key) ?? [];
  const total = prints.prints.reduce((sum, p) => sum + p.estimate.hours * p.copies, 0);
  const grams = prints.prints.reduce((sum, p) => sum + p.estimate.grams * p.copies, 0);
  return (
    <>
      <Ledger
        title="Pieces"
        filled
        action={
          <Button look="main" disabled={pieces.length === 0} onClick={() => open('export')}>
            Export pieces
          </Button>
        }
      >
        <DataTable
          id="pieces"
          label="the pieces"
          rows={rows}
          columns={columns}
          keyOf={(p) => p.key}
          selected={selected}
          onChoose={(p) => select({ piece: p.key })}
          offers={offers}
          sum={
            pieces.length > 1 && (
              <>
                {pieces.length} pieces, {pieces.filter((p) => p.build.within).length} fit
                {!prints.busy && `, about ${hoursText(total)}, ${grams.toFixed(0)} g`}
                {prints.busy && ', being measured'}
              </>
            )
          }
        />
        <div className="slim-scroll max-h-[46%] shrink-0 overflow-y-auto">
          {pieces.length === 0 && <p className="text-ink-soft">The pieces are being computed.</p>}
          {pieces.length > 0 && (
            <Tabs label="About" tabs={TABS} chosen={tab} onChoose={(t) => select({ tool: t })}>
              {tab === 'piece' && (chosen ? <PieceNotes piece={chosen} /> : <ChooseFirst />)}
              {tab === 'pose' && (chosen ? <ByHand piece={chosen} lying={tried ? null : lying} /> : <ChooseFirst />)}
              {tab === 'show' &&
                (chosen ? (
                  <div className="-mx-3.5">
                    <ShowFaces />
                  </div>
                ) : (
                  <ChooseFirst />
                ))}
              {tab === 'findings' &&
                (chosen ? (
                  <div className="pt-3">
                    <Findings list={own} measured empty={`Nothing to mend on ${chosen.code}.`} />
                  </div>
                ) : (
                  <ChooseFirst />
                ))}
              {tab === 'all' && (
                <>
                  <PoseAll />
                  {picked.length > 0 && <Many pieces={picked} />}
                  <Codes />
                  <Equal />
                </>
              )}
            </Tabs>
          )}
        </div>
      </Ledger>
      {chosen && <PoseStrip piece={chosen} onShow={setTried} />}
    </>
  );
}

const ChooseFirst = () => (
  <p className="pt-3 text-ink-soft">Choose a piece in the table, on the shelf or in the view.</p>
);

/** What is said of several pieces at once. */
function Many({ pieces }: { pieces: readonly PieceView[] }) {
  const name = pieces.length === 1 ? pieces[0].code : `${pieces.length} pieces`;
  return (
    <section aria-label={`About ${name}`} className="mt-3 border-rule border-t pt-3">
      <h2 className="mb-2 text-base">
        {pieces.length === 1 ? 'The picked piece' : `The ${pieces.length} picked pieces`}
      </h2>
      <div className="grid grid-cols-3 gap-3">
        <StuffFields keys={pieces.map((p) => p.key)} name={name} />
      </div>
    </section>
  );
}

/** What counts as equal, and which pieces are. */
function Equal() {
  const { plan, view, alike, change } = useProject();
  const codeOf = (key: string): string => view?.pieces.find((p) => p.key === key)?.code ?? key;
  if ((view?.pieces.length ?? 0) < 2) return null;
  return (
    <div className="mt-3 flex flex-wrap items-end gap-x-4 gap-y-2 border-rule border-t pt-3">
      <div className="w-44">
        <NumberField
          label="Equal when they differ by at most"
          {...bounded(planSchema.shape.alike)}
          digits={3}
          step={0.01}
          value={plan.alike}
          onCommit={(x) => change('Set what counts as equal', { do: 'set', set: { alike: x } })}
        />
      </div>
      <p className="pb-1.5 text-ink-soft">
        {alike.groups.length === 0
          ? 'No two pieces are equal.'
          : alike.groups
              .map(
                (g) =>
                  `${1 + g.same.length + g.mirrored.length} × ${codeOf(g.first)}, within ${g.deviation.toFixed(3)} mm`,
              )
              .join('; ')}
      </p>
    </div>
  );
}

/** Round a piece in the middle of a bed, however it lies. */
function boxOnBed(x: number, y: number, size: Triple): BoxView {
  const long = Math.max(...size) * 0.55;
  return { min: [x - long, y - long, 0], max: [x + long, y + long, long * 1.4] };
}

/**
 * Shows the chosen piece as it lies on its printer's bed, or as it would in a pose that is looked at; and says what was measured
 * of that, which is known before all pieces have been measured anew.
 */
function usePosedView(piece: PieceView | null, tried: ChoiceView | null): LyingView | null {
  const { plan, view, prints } = useProject();
  const print = piece ? prints.byKey.get(piece.key) : undefined;
  const mirrored = print?.mirrored ?? false;
  const own = plan.pieces.find((p) => p.key === piece?.key);
  const set = print?.of === piece?.key ? own?.pose : undefined;
  const pose = useMemo(
    () => tried?.pose ?? (set && view ? poseOnModel(set, view.map) : (print?.pose ?? null)),
    [tried, set, view, print],
  );
  const lying = useLying(piece && !mirrored ? (print?.of ?? null) : null, pose);
  const printer = [plan.printer, ...plan.printers].find((p) => p.name === print?.printer) ?? plan.printer;
  useStationView(
    useMemo(() => {
      if (!piece || !print) return {};
      const setting = printSettingOf(printer);
      const [width, depth] = printer.size;
      return {
        crate: { size: printer.size, at: [0, 0, 0], follows: false },
        lying: lyingOn({
          things: [
            {
              key: piece.key,
              of: print.of,
              lay: lying?.lay ?? print.lay,
              at: { x: width / 2, y: depth / 2, spin: 0 },
              chosen: false,
              bad: !(lying?.figures ?? print.figures).fits,
              colour: own?.colour,
            },
          ],
          printer,
          setting,
          columns: lying?.columns ?? null,
          columnsAt: [width / 2, depth / 2],
          stamped: lying?.stamped ?? null,
          name: `${piece.key} ${printer.name}`,
          box: boxOnBed(width / 2, depth / 2, piece.size),
          caption: `${piece.code}, ${(lying?.figures ?? print.figures).height.toFixed(1)} mm tall on ${printer.name}`,
        }),
      };
    }, [piece, print, lying, printer, own]),
  );
  return lying;
}
