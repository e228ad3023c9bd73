import { type Bed, bedName, hoursText, nameOfCopy } from '@gephyra/core/plan';
import { Lock } from 'lucide-react';
import { useMemo } from 'react';
import type { PieceView } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';
import { onBed, pathOfShadow, printerOfBed, sumOfBed } from './bed-math.ts';

/** The beds as small plans, each with hours, weight and how full it is. */
export function BedList({
  open,
  onOpen,
  pieceOf,
}: {
  open: string | null;
  onOpen: (id: string) => void;
  pieceOf: (key: string) => PieceView | undefined;
}) {
  const { plan } = useProject();
  return (
    <ol aria-label="Beds" className="flex flex-col">
      {plan.beds.map((bed) => (
        <li key={bed.id} data-bed={bed.id} className="border-rule border-b">
          <button
            type="button"
            aria-pressed={open === bed.id}
            className={`flex w-full items-center gap-2.5 py-2 text-left ${open === bed.id ? 'bg-lapis-wash' : 'hover:bg-paper'}`}
            onClick={() => onOpen(bed.id)}
          >
            <Small bed={bed} pieceOf={pieceOf} />
            <span className="min-w-0 grow leading-[18px]">
              <span className="flex items-center gap-1 font-semibold">
                <span className="truncate">{bedName(bed, plan.beds)}</span>
                {bed.locked && <Lock size={13} aria-label="locked" className="shrink-0" />}
              </span>
              <Words bed={bed} />
            </span>
            {bed.colour && (
              <span
                className="h-4 w-4 shrink-0 border border-rule-strong"
                role="img"
                aria-label={`colour ${bed.colour}`}
                style={{ background: bed.colour }}
              />
            )}
          </button>
        </li>
      ))}
    </ol>
  );
}

const SIDE = 56;

function Small({ bed, pieceOf }: { bed: Bed; pieceOf: (key: string) => PieceView | undefined }) {
  const { plan, prints } = useProject();
  const printer = printerOfBed(plan, bed);
  const { bedding } = plan;
  const lying = useMemo(() => onBed(bed, prints.byKey, printer, bedding), [bed, prints.byKey, printer, bedding]);
  const [w, d] = printer.size;
  const px = Math.max(w, d) / SIDE;
  return (
    <svg
      aria-hidden
      width={SIDE}
      height={SIDE}
      viewBox={`${-px} ${-d - px} ${w + 2 * px} ${d + 2 * px}`}
      className="shrink-0"
    >
      <rect x={0} y={-d} width={w} height={d} fill="#fffcf5" stroke="var(--color-rule-strong)" strokeWidth={px} />
      {lying.map((o) => (
        <path
          key={nameOfCopy(o.at)}
          d={pathOfShadow(o.shadow)}
          fill={o.bad ? 'var(--color-stop)' : (pieceOf(o.print.of)?.tint ?? '#7c93a1')}
          fillOpacity={0.6}
          fillRule="evenodd"
        />
      ))}
    </svg>
  );
}

function Words({ bed }: { bed: Bed }) {
  const { plan, prints } = useProject();
  const printer = printerOfBed(plan, bed);
  const { hours, grams, share } = sumOfBed(bed, prints.byKey, printer);
  return (
    <>
      <span className="block truncate text-ink-soft text-sm">
        {bed.printer}
        {bed.material ? `, ${bed.material}` : ''}
      </span>
      <span className={`num block whitespace-nowrap text-[12px] ${prints.busy ? 'text-ink-soft' : ''}`}>
        {bed.pieces.some((p) => !prints.byKey.has(p.piece)) && prints.busy
          ? 'being measured'
          : `${hoursText(hours)}, ${grams.toFixed(0)} g, ${(100 * share).toFixed(0)} %`}
      </span>
    </>
  );
}
