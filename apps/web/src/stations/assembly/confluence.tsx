import type { AssemblyStep } from '@gephyra/core/plan';
import { useMemo, useRef } from 'react';
import type { PieceView } from '../../engine/types.ts';
import { useSize } from '../../ui/use-size.ts';
import { confluence } from './build-math.ts';

const LABELS = 152;
const TOP = 34;
const RIGHT = 22;
/** Most and least height of a row, CSS px. */
const ROW = [15, 30] as const;

/** The order of joining as a drawing: pieces at the left flow together until one line is the whole. */
export function ConfluenceDrawing({
  steps,
  pieces,
  moment,
  chosen,
  onChoose,
}: {
  steps: readonly AssemblyStep[];
  pieces: readonly PieceView[];
  moment: number;
  chosen: number | null;
  onChoose(step: number): void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const size = useSize(box);
  const flow = useMemo(
    () =>
      confluence(
        steps,
        pieces.map((p) => p.key),
      ),
    [steps, pieces],
  );
  const byKey = useMemo(() => new Map(pieces.map((p) => [p.key, p])), [pieces]);
  const row = Math.max(ROW[0], Math.min(ROW[1], (size.height - TOP - 16) / Math.max(1, flow.rows.length)));
  const width = Math.max(320, size.width);
  const step = (width - LABELS - RIGHT) / Math.max(1, steps.length);
  const height = TOP + flow.rows.length * row + 8;
  const x = (s: number): number => LABELS + s * step;
  const y = (r: number): number => TOP + (r + 0.5) * row;
  const thick = (n: number): number => Math.min(row * 0.62, 2.5 + 2.2 * Math.sqrt(n));
  /** steps whose number is written */
  const every = [1, 2, 5, 10, 20, 50].find((n) => n * step >= 26) ?? 100;
  return (
    <div ref={box} className="h-full min-h-[160px]">
      <svg
        width={width}
        height={height}
        role="img"
        aria-label={`${pieces.length} pieces joined in ${steps.length} steps`}
      >
        <line x1={x(0)} x2={x(steps.length)} y1={22} y2={22} stroke="var(--color-ink)" />
        {Array.from({ length: steps.length + 1 }, (_, i) => i)
          .filter((i) => i % every === 0)
          .map((i) => (
            <g key={i}>
              <line x1={x(i)} x2={x(i)} y1={18} y2={26} stroke="var(--color-ink)" />
              {Math.abs(i - moment) * step > 12 && (
                <text x={x(i)} y={13} textAnchor="middle" className="num fill-ink-soft text-[12px]">
                  {i}
                </text>
              )}
            </g>
          ))}
        {flow.flows.map((f) => {
          const [x0, y0, x1, y1] = [x(f.from[0]), y(f.from[1]), x(f.to[0]), y(f.to[1])];
          const bend = Math.min(x1 - x0, 3 * step) / 2;
          return (
            <path
              key={`${f.keys[0]} ${f.to[0]}`}
              d={`M${x0} ${y0} H${x1 - 2 * bend} C${x1 - bend} ${y0}, ${x1 - bend} ${y1}, ${x1} ${y1}`}
              fill="none"
              stroke={byKey.get(f.keys[0])?.tint ?? '#888'}
              strokeWidth={thick(f.keys.length)}
              strokeOpacity={0.85}
            />
          );
        })}
        {flow.rows.map((key, i) => {
          const piece = byKey.get(key);
          return (
            <text key={key} x={0} y={y(i) + 4} className="fill-ink text-[13px]">
              <tspan className="font-semibold">{piece?.code}</tspan>{' '}
              <tspan className="fill-ink-soft">{shortened(piece?.name ?? '', 20 - (piece?.code.length ?? 0))}</tspan>
            </text>
          );
        })}
        <line x1={x(moment)} x2={x(moment)} y1={22} y2={height - 4} stroke="var(--color-cut)" strokeDasharray="3 3" />
        <path d={`M${x(moment)} 22 l-7 -12 h14 z`} fill="var(--color-cut)" />
        {flow.nodes.map(([s, r], i) => (
          // biome-ignore lint/a11y/noStaticElementInteractions: the list of steps does the same by keyboard
          <g
            // biome-ignore lint/suspicious/noArrayIndexKey: a step is its place
            key={i}
            className="cursor-pointer"
            onClick={() => onChoose(i)}
          >
            <circle cx={x(s)} cy={y(r)} r={13} fill="transparent" />
            <circle
              cx={x(s)}
              cy={y(r)}
              r={chosen === i ? 8 : 6.5}
              fill={
                steps[i].blockers.length > 0
                  ? 'var(--color-stop)'
                  : moment >= i + 1
                    ? 'var(--color-good)'
                    : 'var(--color-sheet)'
              }
              stroke={chosen === i ? 'var(--color-cut)' : 'var(--color-ink)'}
              strokeWidth={chosen === i ? 3 : 1.5}
            />
          </g>
        ))}
      </svg>
    </div>
  );
}

const shortened = (text: string, most: number): string => (text.length > most ? `${text.slice(0, most - 1)}…` : text);
