import {
  bedName,
  freeId,
  hoursText,
  nameOfCopy,
  type PlacedPiece,
  planSchema,
  printSettingOf,
} from '@gephyra/core/plan';
import { useMemo } from 'react';
import type { PieceView } from '../../engine/types.ts';
import { Findings } from '../../project/findings.tsx';
import { lyingOn } from '../../project/lying.ts';
import { useProject } from '../../project/project.tsx';
import { useSelection, useStationView, useWorkspace } from '../../project/selection.tsx';
import { bounded } from '../../ui/bounded.ts';
import { Button } from '../../ui/button.tsx';
import { Chart, type ChartOption } from '../../ui/chart.tsx';
import { Fold } from '../../ui/fold.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Companion, Ledger, Part, Side } from '../../ui/panels.tsx';
import { BedDetails, PlacedDetails } from './bed-details.tsx';
import { BedDrawing } from './bed-drawing.tsx';
import { BedList } from './bed-list.tsx';
import { freePlace, type OnBed, onBed, printerOfBed, sumOfBed, unplaced } from './bed-math.ts';
import { FillPanel, useFilling } from './fill-panel.tsx';
import { PrintersInUse } from './printers-in-use.tsx';

/** Beds: print jobs as plans drawn to scale, filled by themselves or by hand. */
export default function BedsStation() {
  const { unsure, plan, view, prints, change } = useProject();
  const { open } = useWorkspace();
  const [{ bed: bedId, piece, copy }, select] = useSelection();
  const filling = useFilling();
  const bed = plan.beds.find((b) => b.id === bedId) ?? plan.beds[0] ?? null;
  const printer = bed ? printerOfBed(plan, bed) : plan.printer;
  const lying = useMemo(
    () => (bed ? onBed(bed, prints.byKey, printer, plan.bedding) : []),
    [bed, prints.byKey, printer, plan.bedding],
  );
  const byKey = useMemo(() => new Map(view?.pieces.map((p) => [p.key, p])), [view]);
  const pieceOf = useMemo(
    () =>
      (key: string): PieceView | undefined =>
        byKey.get(key),
    [byKey],
  );
  const left = useMemo(() => unplaced(plan, prints.prints), [plan, prints.prints]);
  const chosen = lying.find((o) => o.at.piece === piece && o.at.copy === Number(copy ?? '1')) ?? null;
  const codeOf = (key: string): string => byKey.get(key)?.code ?? key;
  const place = (label: string, at: PlacedPiece, to: string | null, set: Partial<PlacedPiece> = {}) =>
    change(label, { do: 'placePiece', piece: at.piece, copy: at.copy, bed: to, set });
  const choose = (at: PlacedPiece | null): void =>
    select({ piece: at?.piece ?? null, copy: at ? String(at.copy) : null });
  useBedView(lying, chosen);
  const findings = view?.findings.filter((f) => bed && f.where.bed === bed.id) ?? [];

  const addBed = (): void => {
    const id = freeId('bed', plan.beds);
    const ids = change('Add a bed', { do: 'addBed', bed: { id, printer: plan.printer.name } });
    select({ bed: ids.get(id) ?? id, piece: null, copy: null });
  };
  const put = (key: string, number: number): void => {
    const print = prints.byKey.get(key);
    if (!bed || !print) return;
    place(`Put ${codeOf(key)} on ${bedName(bed, plan.beds)}`, { piece: key, copy: number } as PlacedPiece, bed.id, {
      ...freePlace(print, lying, printer, plan.bedding),
    });
    select({ piece: key, copy: String(number) });
  };

  return (
    <>
      <Ledger
        title="Beds"
        action={
          <Button
            look="main"
            disabled={prints.busy || prints.prints.length === 0 || filling.searching !== null}
            onClick={() => void filling.fill()}
          >
            Fill beds
          </Button>
        }
      >
        <FillPanel filling={filling} />
        {plan.beds.length === 0 ? (
          <p className="mb-3 text-ink-soft">
            No bed yet. Fill beds to have every piece put on as few as will do, by printer, material and colour; or add
            one and put pieces on it by hand.
          </p>
        ) : (
          <>
            <BedList
              open={bed?.id ?? null}
              pieceOf={pieceOf}
              onOpen={(id) => select({ bed: id, piece: null, copy: null })}
            />
            {plan.beds.length > 1 && <HoursByBed onBed={(id) => select({ bed: id, piece: null, copy: null })} />}
          </>
        )}
        <div className="mt-2 flex flex-wrap gap-2">
          <Button onClick={addBed}>Add a bed</Button>
          <Button disabled={plan.beds.every((b) => b.pieces.length === 0)} onClick={() => open('export')}>
            Export beds
          </Button>
        </div>
        {left.length > 0 && (
          <section aria-label="On no bed" className="mt-4">
            <h2 className="mb-1 text-base">
              On no bed <span className="num text-ink-soft text-sm">{left.length}</span>
            </h2>
            <ul>
              {left.slice(0, 60).map(({ print, copy: number }) => (
                <li
                  key={`${number} ${print.key}`}
                  className="flex items-center justify-between gap-2 border-rule border-b py-1"
                >
                  <span className="truncate">
                    <strong className="font-semibold">{codeOf(print.key)}</strong> {byKey.get(print.key)?.name}
                    {print.copies > 1 ? `, copy ${number}` : ''}
                  </span>
                  <Button
                    className="h-7"
                    disabled={!bed || bed.locked}
                    aria-label={`Put ${codeOf(print.key)}${print.copies > 1 ? ` copy ${number}` : ''} on this bed`}
                    onClick={() => put(print.key, number)}
                  >
                    Put
                  </Button>
                </li>
              ))}
            </ul>
          </section>
        )}
        <PrintersInUse />
        <div className="mt-4" />
        <Fold title="How beds are filled">
          <div className="grid grid-cols-2 gap-2">
            <NumberField
              label="Spacing"
              {...bounded(planSchema.shape.bedding.unwrap().shape.spacing)}
              value={plan.bedding.spacing}
              onCommit={(spacing) =>
                change('Set the spacing on beds', { do: 'set', set: { bedding: { ...plan.bedding, spacing } } })
              }
            />
            <NumberField
              label="Brim"
              {...bounded(planSchema.shape.bedding.unwrap().shape.brim)}
              value={plan.bedding.brim}
              onCommit={(brim) => change('Set the brim', { do: 'set', set: { bedding: { ...plan.bedding, brim } } })}
            />
            <NumberField
              label="Longest, 0 for any"
              unit="h"
              min={0}
              max={1000}
              value={plan.bedding.hours ?? 0}
              onCommit={(hours) =>
                change('Set how long a bed may take', {
                  do: 'set',
                  set: { bedding: { ...plan.bedding, hours: hours > 0 ? hours : undefined } },
                })
              }
            />
          </div>
        </Fold>
      </Ledger>
      {bed && (
        <Companion title={bedName(bed, plan.beds)} note={`${printer.name}, ${printer.size[0]} × ${printer.size[1]} mm`}>
          <BedDrawing
            label={`${bedName(bed, plan.beds)}, drawn from above`}
            printer={printer}
            lying={lying}
            brim={plan.bedding.brim}
            locked={bed.locked}
            selected={chosen ? nameOfCopy(chosen.at) : null}
            pieceOf={pieceOf}
            onSelect={choose}
            onMove={(at, x, y) => place(`Move ${codeOf(at.piece)}`, at, bed.id, { x: tidy(x), y: tidy(y) })}
            onTurn={(at, by) => place(`Turn ${codeOf(at.piece)}`, at, bed.id, { spin: at.spin + by })}
            onLock={(at) =>
              place(`${at.locked ? 'Free' : 'Lock'} ${codeOf(at.piece)}`, at, bed.id, { locked: !at.locked })
            }
            onTakeOff={(at) => place(`Take ${codeOf(at.piece)} off`, at, null)}
            onDrop={(at, to) => to !== bed.id && place(`Move ${codeOf(at.piece)} to another bed`, at, to)}
          />
        </Companion>
      )}
      <Side>
        {bed && chosen && <PlacedDetails bed={bed} at={chosen.at} />}
        {bed ? (
          <>
            <BedDetails bed={bed} />
            <Part title="Findings">
              <Findings list={findings} measured empty={unsure ? 'Being measured.' : 'Nothing to mend on this bed.'} />
            </Part>
          </>
        ) : (
          <Part title="Bed">
            <p className="text-ink-soft">A bed is one print job: its pieces, drawn from above and to scale.</p>
          </Part>
        )}
      </Side>
    </>
  );
}

const tidy = (x: number): number => Math.round(x * 100) / 100;

/** Hours by bed, as bars; a click opens the bed. */
function HoursByBed({ onBed: onOpen }: { onBed: (id: string) => void }) {
  const { plan, prints } = useProject();
  const hours = useMemo(
    () => plan.beds.map((b) => sumOfBed(b, prints.byKey, printerOfBed(plan, b)).hours),
    [plan, prints.byKey],
  );
  const names = useMemo(() => plan.beds.map((b) => bedName(b, plan.beds)), [plan.beds]);
  const option = useMemo(
    (): ChartOption => ({
      animation: false,
      grid: { left: 4, right: 4, top: 16, bottom: 18 },
      xAxis: {
        type: 'category',
        data: names.map((_, i) => String(i + 1)),
        axisTick: { show: false },
        axisLine: { lineStyle: { color: '#1e2a32' } },
        axisLabel: { color: '#5e686c', fontSize: 12 },
      },
      yAxis: { type: 'value', show: false },
      series: [
        {
          type: 'bar',
          barMaxWidth: 22,
          data: hours,
          itemStyle: { color: '#1f5673' },
          label: {
            show: hours.length <= 9,
            position: 'top',
            fontSize: 12,
            color: '#1e2a32',
            formatter: ({ value }) => `${Number(value).toFixed(0)} h`,
          },
        },
      ],
    }),
    [names, hours],
  );
  return (
    <section aria-label="Hours by bed" className="mt-3">
      <h2 className="text-base">
        Hours by bed <span className="num text-ink-soft text-sm">{hoursText(hours.reduce((a, b) => a + b, 0))}</span>
      </h2>
      <Chart
        label={names.map((n, i) => `${n}: ${hoursText(hours[i])}`).join(', ')}
        option={option}
        className="h-24 w-full"
        onBar={(i) => onOpen(plan.beds[i].id)}
      />
    </section>
  );
}

/** The bed in three dimensions. */
function useBedView(lying: readonly OnBed[], chosen: OnBed | null): void {
  const { plan } = useProject();
  const [{ bed: bedId }] = useSelection();
  const bed = plan.beds.find((b) => b.id === bedId) ?? plan.beds[0] ?? null;
  useStationView(
    useMemo(() => {
      if (!bed) return {};
      const printer = printerOfBed(plan, bed);
      const [w, d] = printer.size;
      const tall = Math.max(20, ...lying.map((o) => o.print.figures.height));
      return {
        lying: lyingOn({
          things: lying.map((o) => ({
            key: o.at.piece,
            of: o.print.of,
            lay: o.print.lay,
            at: o.at,
            chosen: o === chosen,
            bad: o.bad,
            colour: bed.colour,
          })),
          printer,
          setting: printSettingOf(printer),
          columns: null,
          name: `${bed.id} ${printer.name}`,
          box: { min: [0, 0, 0], max: [w, d, Math.min(tall, w / 2)] },
          caption: `${bedName(bed, plan.beds)}, up to ${tall.toFixed(0)} mm tall`,
        }),
      };
    }, [bed, plan, lying, chosen]),
  );
}
