import { type Print, routes } from '@gephyra/contract';
import {
  type Bed,
  type CopyProgress,
  copiesOf,
  copyKey,
  days,
  forecast,
  happened,
  hoursText,
  isListedAt,
  MOST_ENTRIES,
  nextAtBench,
  type PieceState,
  progressOf,
  type SalvageJoin,
  STATES,
  salvaged,
  stepWords,
  tallyOf,
} from '@gephyra/core';
import { format, parseISO } from 'date-fns';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { Findings } from '../../project/findings.tsx';
import { useProject } from '../../project/project.tsx';
import { useSelection } from '../../project/selection.tsx';
import { isUnderWay, useBedPrints } from '../../project/use-bed-prints.ts';
import { useSearch } from '../../project/use-search.ts';
import { Button } from '../../ui/button.tsx';
import { Chart, type ChartOption } from '../../ui/chart.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Companion, Facts, Ledger, Part, Side } from '../../ui/panels.tsx';
import { Pick } from '../../ui/pick.tsx';
import { useToasts } from '../../ui/toasts.tsx';
import { byBed, entryOf, entryWords, STATE_WORDS } from './bench.ts';
import { CopyDetails } from './copy-details.tsx';
import { Printers, type Simulation } from './printers.tsx';
import { sendBed, waitingOn } from './send-bed.ts';
import { Tally } from './tally.tsx';

const NAME = 'gephyra-name';
const PACE = 'gephyra-pace';
/** Entries of the log that are shown. */
const SHOWN = 40;

/** Where the build stands, copy by copy: noted by hand, undone like any change; what comes next, what is left, what happened. */
export default function WorkshopStation() {
  const { project, plan, view, alike, prints, assembly, saveState, change } = useProject();
  const { searching, search } = useSearch();
  const toasts = useToasts();
  const [wrong, setWrong] = useState<string | null>(null);
  const [{ piece, copy }, select] = useSelection();
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const [to, setTo] = useState<PieceState>('printed');
  const [hoursADay, setHoursADay] = useState(10);
  const [who, setWho] = useState(() => localStorage.getItem(NAME) ?? '');
  const [simulation, setSimulation] = useState<Simulation>(() => ({
    pace: Number(localStorage.getItem(PACE) ?? '') || 60,
    failAt: null,
  }));
  const [sending, setSending] = useState<string | null>(null);
  const sent = useBedPrints(project.id);
  const log = plan.log ?? [];
  const copies = useMemo(() => copiesOf(prints.prints), [prints.prints]);
  const progress = useMemo(() => progressOf(plan.log ?? [], copies), [plan.log, copies]);
  const groups = useMemo(() => byBed(progress, plan.beds), [progress, plan.beds]);
  const tally = useMemo(
    () => tallyOf(progress, (key) => prints.byKey.get(key)?.estimate ?? { hours: 0, grams: 0, cost: 0 }),
    [progress, prints.byKey],
  );
  const next = useMemo(() => nextAtBench(plan, progress, assembly?.steps ?? []), [plan, progress, assembly]);
  const byKey = useMemo(() => new Map(view?.pieces.map((p) => [p.key, p])), [view]);
  const codeOf = (key: string): string => byKey.get(key)?.code ?? 'a piece that is gone';
  const titleOf = (bed: string): string => groups.find((g) => g.bed?.id === bed)?.title ?? bed;
  const fileOf = (row: CopyProgress): string | null => {
    const last = sent.prints.findLast((p) => p.pieces.some((x) => x.piece === row.piece && x.copy === row.copy));
    return last ? routes.printFile(last.id) : null;
  };
  const chosenKey = piece === null ? null : copyKey(piece, Number(copy ?? '1'));
  const chosen = progress.find((p) => copyKey(p.piece, p.copy) === chosenKey) ?? null;
  const chosenPiece = chosen && byKey.get(chosen.piece);
  const full = log.length >= MOST_ENTRIES;

  const note = (
    rows: readonly CopyProgress[],
    state: PieceState,
    more: { bed?: string; failed?: { height?: number; why: string } } = {},
  ): void => {
    if (rows.length === 0 || full) return;
    const entry = entryOf(rows, state, (key) => prints.byKey.get(key)?.file, {
      at: new Date(),
      ...(who !== '' && { who }),
      ...more,
    });
    const names = rows.length === 1 ? codeOf(rows[0].piece) : `${rows.length} pieces`;
    change(more.failed ? `${names} failed` : `${names}: ${STATE_WORDS[state]}`, (now) => happened(now, entry));
  };
  const save = async (key: string, height: number, join: SalvageJoin): Promise<void> => {
    setWrong(null);
    try {
      const found = await search('Parting it', (engine) => engine.salvage(plan, key, height, join, alike.files));
      if (!found) return;
      change(`Save the rest of ${codeOf(key)}`, (now) => salvaged(now, found));
      if (found.height < height - 1e-6) {
        toasts.say({
          text: `${codeOf(key)} is parted at ${found.height.toFixed(1)} mm: joints are in the way above that. Saw or file off what stands higher.`,
          tone: 'warn',
        });
      }
    } catch (error) {
      setWrong((error as Error).message);
    }
  };
  const send = async (bed: Bed, title: string): Promise<void> => {
    const rows = waitingOn(bed, progress);
    setWrong(null);
    setSending(bed.id);
    try {
      await sendBed({ project, plan, bed, title, rows, byKey: prints.byKey, simulation, who });
      setSimulation({ ...simulation, failAt: null });
      sent.refresh();
    } catch (error) {
      setWrong((error as Error).message);
    }
    setSending(null);
  };
  const act = (print: Print, what: 'pause' | 'resume' | 'stop'): void => {
    sent.act(print.id, what).catch((error: unknown) => setWrong((error as Error).message));
  };
  const rowsOf = (keys: readonly string[]): CopyProgress[] =>
    progress.filter((p) => keys.includes(p.piece) && p.copy === 1);
  const until = forecast(tally.hours.left, hoursADay, new Date());
  const findings = view?.findings.filter((f) => isListedAt('workshop', f)) ?? [];
  return (
    <>
      <Ledger title="Workshop">
        {progress.length === 0 ? (
          <p className="text-ink-soft" role="status">
            {view?.pieces.every((p) => p.aside)
              ? 'Every piece is set aside, so nothing is made.'
              : 'Hours and weights of the pieces are being reckoned.'}
          </p>
        ) : (
          <>
            <p className="mb-3">
              <span className="num">{tally.printed}</span> of <span className="num">{tally.copies}</span> printed,{' '}
              <span className="num">{tally.joined}</span> joined.
            </p>
            <section aria-label="What comes next" className="mb-4">
              <h2 className="mb-1 text-base">What comes next</h2>
              {next.length === 0 && (
                <p className="text-ink-soft">
                  {tally.joined === tally.copies
                    ? 'All of it is joined. What is left is filling, sanding and paint.'
                    : plan.beds.length === 0
                      ? 'No bed is filled yet.'
                      : 'Wait for what is printing.'}
                  {plan.beds.length === 0 && tally.printed < tally.copies && (
                    <>
                      {' '}
                      <Link to={`/p/${project.id}/beds`} className="text-lapis underline underline-offset-2">
                        Fill beds
                      </Link>
                    </>
                  )}
                </p>
              )}
              <ul className="flex flex-col gap-1.5">
                {next.map((n) =>
                  n.do === 'print' ? (
                    <li key={n.bed} className="flex items-center justify-between gap-2">
                      <span>
                        print {titleOf(n.bed)}, {n.pieces} {n.pieces === 1 ? 'piece' : 'pieces'}
                      </span>
                      <Button
                        className="h-7"
                        aria-label={`Send ${titleOf(n.bed)} to its printer`}
                        disabled={sending !== null || saveState !== 'saved' || full}
                        onClick={() => void send(plan.beds.find((b) => b.id === n.bed)!, titleOf(n.bed))}
                      >
                        {sending === n.bed ? 'Sending' : 'Send'}
                      </Button>
                    </li>
                  ) : (
                    <li key={n.step} className="flex items-center justify-between gap-2">
                      <span>join {stepWords(n.parts, codeOf)}</span>
                      <Button
                        className="h-7"
                        aria-label={`Step ${n.step + 1} is joined`}
                        onClick={() => note(rowsOf(n.parts.flat()), 'joined')}
                      >
                        Joined
                      </Button>
                    </li>
                  ),
                )}
              </ul>
            </section>
            {wrong && (
              <p className="mb-3 text-stop" role="alert">
                {wrong}
              </p>
            )}
            <Findings list={findings} />
            <section aria-label="Left to print" className="my-4">
              <h2 className="mb-1 text-base">Left to print</h2>
              <Facts
                rows={[
                  ['time', hoursText(tally.hours.left)],
                  ['weight', `${tally.grams.left.toFixed(0)} g`],
                  ['cost', tally.cost.left.toFixed(2)],
                  ['printed so far', `${hoursText(tally.hours.made)}, ${tally.grams.made.toFixed(0)} g`],
                  ['failed prints', String(tally.failures)],
                ]}
              />
              <div className="mt-2">
                <NumberField
                  label="Hours of printing a day"
                  unit="h"
                  value={hoursADay}
                  min={0.5}
                  max={240}
                  onCommit={setHoursADay}
                />
              </div>
              {until && (
                <p className="mt-1">
                  All printed on <strong>{format(until, 'EEEE, d MMMM')}</strong>.
                </p>
              )}
            </section>
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
          </>
        )}
      </Ledger>
      {progress.length > 0 && (
        <Companion
          title="Tally"
          note={
            <span className="flex items-center gap-2">
              <span className="num">{ticked.size}</span> ticked
              <Pick
                hideLabel
                inline
                label="Set the ticked to"
                value={to}
                options={STATES.map((value) => ({ value, label: STATE_WORDS[value] }))}
                onChange={(x) => setTo(x)}
              />
              <Button
                className="h-7"
                disabled={ticked.size === 0}
                onClick={() => {
                  note(
                    progress.filter((p) => ticked.has(copyKey(p.piece, p.copy)) && p.state !== to),
                    to,
                  );
                  setTicked(new Set());
                }}
              >
                Set
              </Button>
            </span>
          }
        >
          <Tally
            groups={groups}
            pieceOf={(key) => byKey.get(key)}
            printOf={(bed) => sent.prints.find((p) => p.bed === bed && isUnderWay(p))}
            ticked={ticked}
            chosen={chosenKey}
            onTick={(keys, on) => {
              const set = new Set(ticked);
              for (const k of keys) {
                if (on) set.add(k);
                else set.delete(k);
              }
              setTicked(set);
            }}
            onChoose={(row) => select({ piece: row.piece, copy: String(row.copy) })}
            onMove={(rows, state, bed) => note(rows, state, bed === undefined ? {} : { bed })}
          />
        </Companion>
      )}
      <Side>
        {chosen && chosenPiece && (
          <CopyDetails
            key={chosenKey}
            row={chosen}
            piece={chosenPiece}
            onFail={(failed) => note([chosen], 'toPrint', { failed })}
            onSave={(height, join) => void save(chosen.piece, height, join)}
            file={fileOf(chosen)}
            saving={searching !== null}
          />
        )}
        <Printers
          printers={[plan.printer, ...plan.printers]}
          prints={sent.prints}
          simulation={simulation}
          onSimulation={(next) => {
            setSimulation(next);
            localStorage.setItem(PACE, String(next.pace));
          }}
          onAct={act}
        />
        <Days log={log} copies={copies} />
        <Part title="Your name" note="goes into the log">
          <input
            aria-label="Your name"
            className="h-[30px] w-full rounded border border-rule-strong bg-sheet px-2"
            value={who}
            maxLength={60}
            onChange={(e) => {
              setWho(e.target.value);
              localStorage.setItem(NAME, e.target.value);
            }}
          />
        </Part>
      </Side>
    </>
  );
}

/** What had been printed and joined by each day. */
function Days({ log, copies }: { log: Parameters<typeof days>[0]; copies: Parameters<typeof days>[1] }) {
  const list = useMemo(() => days(log, copies), [log, copies]);
  const option = useMemo(
    (): ChartOption => ({
      animation: false,
      grid: { left: 26, right: 10, top: 8, bottom: 20 },
      xAxis: {
        type: 'category',
        data: list.map((d) => d.day.slice(5)),
        axisTick: { show: false },
        axisLine: { lineStyle: { color: '#1e2a32' } },
        axisLabel: { color: '#5e686c', fontSize: 12 },
      },
      yAxis: {
        type: 'value',
        max: Math.max(1, copies.length),
        minInterval: 1,
        axisLabel: { color: '#5e686c', fontSize: 12 },
        splitLine: { lineStyle: { color: '#e4dac6' } },
      },
      series: [
        { type: 'line', data: list.map((d) => d.printed), itemStyle: { color: '#2c7a66' } },
        { type: 'line', data: list.map((d) => d.joined), itemStyle: { color: '#1f5673' } },
      ],
    }),
    [list, copies],
  );
  if (list.length === 0) return null;
  const last = list[list.length - 1];
  return (
    <Part title="Days" note="green printed, blue joined">
      <Chart
        label={`${last.printed} printed and ${last.joined} joined by ${last.day}`}
        option={option}
        className="h-36 w-full"
      />
    </Part>
  );
}
