import { type PoseNote, WISHES, type Wish } from '@gephyra/core/plan';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { ChoiceView } from '../../engine/prints.ts';
import type { PieceView } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';
import { useSearch } from '../../project/use-search.ts';
import { Chart, type ChartOption } from '../../ui/chart.tsx';
import { Companion } from '../../ui/panels.tsx';
import { Pick } from '../../ui/pick.tsx';
import { Working } from '../../ui/working.tsx';
import { measuresOf, sharesOf, WISH_WORDS } from './pose-words.ts';

const SIZE = [132, 96] as const;

/** Poses of a piece side by side: each drawn on the bed, over thin bars of what it costs; the chosen one underlined. */
export function PoseStrip({ piece, onShow }: { piece: PieceView; onShow: (choice: ChoiceView | null) => void }) {
  const { plan, view, prints, change } = useProject();
  const { choices, searching, failed } = useChoices(piece);
  const note = plan.pieces.find((p) => p.key === piece.key);
  const print = prints.byKey.get(piece.key);
  const shared = print && print.of !== piece.key;
  const wish = note?.wish ?? plan.wish;
  const measures = useMemo(() => choices.map(measuresOf), [choices]);
  const shares = useMemo(() => sharesOf(measures), [measures]);
  const isChosen = (pose: PoseNote): boolean => note?.pose !== undefined && samePose(note.pose, pose);
  return (
    <Companion
      title={`Poses of ${piece.code}`}
      note={
        <Pick
          label="Favour"
          inline
          value={wish}
          options={WISHES.map((value) => ({ value, label: WISH_WORDS[value] }))}
          onChange={(next: Wish) =>
            change(`Favour ${WISH_WORDS[next]} for ${piece.code}`, {
              do: 'setPiece',
              key: piece.key,
              set: { wish: next },
            })
          }
        />
      }
    >
      {shared ? (
        <p className="text-ink-soft">
          {piece.code} is one file with {view?.pieces.find((p) => p.key === print.of)?.code}
          {print.mirrored ? ', mirrored' : ''}, and lies as that does. Choose the pose there.
        </p>
      ) : (
        <>
          {searching && <Working label="Looking for poses" working={searching} />}
          {failed && <p className="text-stop">{failed}</p>}
          {!searching && choices.length === 0 && !failed && (
            <p className="text-ink-soft">
              {piece.closed ? 'Poses are being looked for.' : 'This piece is not closed, so it cannot be posed.'}
            </p>
          )}
          <ul aria-label={`Poses of ${piece.code}`} className="slim-scroll flex gap-2 overflow-x-auto pb-1">
            {choices.map((choice, i) => {
              const chosen = isChosen(choice.note);
              const said = measures[i].map((m) => `${m.name} ${m.text}`).join(', ');
              return (
                <li key={choice.note.up.join()} className="w-[148px] shrink-0">
                  <button
                    type="button"
                    aria-pressed={chosen}
                    aria-label={`Pose ${i + 1}: ${choice.why}; ${said}${choice.figures.fits ? '' : '; does not fit'}`}
                    className={`block w-full border-b-[3px] text-left ${chosen ? 'border-lapis' : 'border-transparent hover:border-rule-strong'}`}
                    onMouseEnter={() => onShow(choice)}
                    onMouseLeave={() => onShow(null)}
                    onFocus={() => onShow(choice)}
                    onBlur={() => onShow(null)}
                    onClick={() =>
                      change(`Lay ${piece.code} ${choice.why}`, {
                        do: 'setPiece',
                        key: piece.key,
                        set: { pose: choice.note },
                      })
                    }
                  >
                    <Drawing pixels={choice.pixels} />
                    <span className={`block h-9 leading-[18px] ${chosen ? 'font-semibold text-lapis' : ''}`}>
                      {choice.why}
                      {!choice.figures.fits && <span className="text-stop">, does not fit</span>}
                    </span>
                  </button>
                  <Bars measures={measures[i]} shares={shares[i]} chosen={chosen} />
                </li>
              );
            })}
          </ul>
        </>
      )}
    </Companion>
  );
}

const samePose = (a: Pick<PoseNote, 'up' | 'spin'>, b: Pick<PoseNote, 'up' | 'spin'>): boolean => {
  const [x, y] = [Math.hypot(...a.up), Math.hypot(...b.up)];
  const cosine = a.up.reduce((sum, v, k) => sum + v * b.up[k], 0) / (x * y);
  return cosine > 1 - 1e-6 && Math.cos(a.spin - b.spin) > 1 - 1e-6;
};

/** The poses of a piece, looked for anew when its shape, its printer or what it favours changes. */
function useChoices(piece: PieceView) {
  const { plan, busy } = useProject();
  const { searching, search } = useSearch();
  const [found, setFound] = useState<{ of: string; choices: readonly ChoiceView[] } | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const note = plan.pieces.find((p) => p.key === piece.key);
  const wish = note?.wish ?? plan.wish;
  const asked = JSON.stringify([
    piece.key,
    piece.skin,
    piece.caps,
    wish,
    note?.printer,
    note?.material,
    plan.printer,
    plan.printers,
  ]);
  const now = useRef({ plan, piece });
  now.current = { plan, piece };
  useEffect(() => {
    if (busy) return;
    setFailed(null);
    const { plan: document, piece: own } = now.current;
    if (!own.closed) return;
    let alive = true;
    search(`Looking for poses of ${own.code}`, (engine) =>
      engine.choices(document, own.key, wish, own.tint, SIZE),
    ).then(
      (choices) => alive && choices && setFound({ of: asked, choices }),
      (error: unknown) => alive && setFailed((error as Error).message),
    );
    return () => {
      alive = false;
    };
  }, [search, asked, wish, busy]);
  return { choices: found?.of === asked ? found.choices : [], searching, failed };
}

function Drawing({ pixels }: { pixels: Uint8ClampedArray }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    context?.putImageData(new ImageData(new Uint8ClampedArray(pixels), ...SIZE), 0, 0);
  }, [pixels]);
  return <canvas ref={canvas} width={SIZE[0]} height={SIZE[1]} aria-hidden className="mx-auto block" />;
}

/** Thin bars of what a pose costs, each with its number. */
function Bars({
  measures,
  shares,
  chosen,
}: {
  measures: ReturnType<typeof measuresOf>;
  shares: readonly number[];
  chosen: boolean;
}) {
  const option = useMemo(
    (): ChartOption => ({
      animation: false,
      grid: { left: 0, right: 0, top: 0, bottom: 0 },
      xAxis: { type: 'value', max: 1, show: false },
      yAxis: { type: 'category', inverse: true, show: false, data: measures.map((m) => m.name) },
      series: [
        {
          type: 'bar',
          barWidth: 3,
          data: shares.map((s) => Math.max(s, 0.004)),
          silent: true,
          itemStyle: { color: chosen ? '#1f5673' : '#8d8571' },
          showBackground: true,
          backgroundStyle: { color: '#ece4d3' },
        },
      ],
    }),
    [measures, shares, chosen],
  );
  return (
    <div className="relative mt-1 h-[138px]">
      <Chart
        label={measures.map((m) => `${m.name}: ${m.text}`).join(', ')}
        option={option}
        className="absolute inset-x-0 top-[8px] h-[132px]"
      />
      <dl className="pointer-events-none absolute inset-x-0 top-0 grid h-[132px] grid-rows-6" aria-hidden>
        {measures.map((m) => (
          <div key={m.name} className="flex items-start justify-between text-[12px] leading-none">
            <dt className="text-ink-soft">{m.name}</dt>
            <dd className="num">{m.text}</dd>
          </div>
        ))}
      </dl>
    </div>
  );
}
