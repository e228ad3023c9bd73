import { compose, IDENTITY, inverse } from '@gephyra/core';
import { type KeyboardEvent, type ReactNode, useEffect, useRef, useState } from 'react';
import { useProject } from '../project/project.tsx';
import type { PickedPlace, Picker } from '../project/selection.tsx';
import type { Label, Marker, Shown } from '../project/shown.ts';
import { Button } from '../ui/button.tsx';
import { useToasts } from '../ui/toasts.tsx';
import type { Direction } from './eye.ts';
import { Scene } from './scene.ts';
import { useStroke } from './use-stroke.ts';

const WORDS: readonly Exclude<Direction, 'corner'>[] = ['front', 'back', 'left', 'right', 'top', 'under'];

interface Props {
  readonly shown: Shown;
  readonly onPick: (piece: string | null) => void;
  /** while a place is to be picked: what, and who is told */
  readonly picker: Picker | null;
  readonly onCancelPick: () => void;
  /** gone to when it changes */
  readonly near: Marker | null;
  /** little room: nothing lies over the view but what it says */
  readonly small: boolean;
  /** keys that belong over the view */
  readonly tools: ReactNode;
  /** in the lower left corner */
  readonly caption: ReactNode;
}

/** The 3D view in the middle of every station, drawn on demand. */
export function View3D({ shown, onPick, picker, onCancelPick, near, small, tools, caption }: Props) {
  const { view, engine, searcher, geometry, model } = useProject();
  const toasts = useToasts();
  const canvas = useRef<HTMLCanvasElement>(null);
  const bar = useRef<HTMLDivElement>(null);
  const [scene, setScene] = useState<Scene | null>(null);
  const [labels, setLabels] = useState<readonly Label[]>([]);
  const [scale, setScale] = useState(1);
  /** the middle of what is free of the view, and the cross of the keyboard from there, in pixels */
  const [middle, setMiddle] = useState<readonly [number, number]>([0, 0]);
  const [cross, setCross] = useState<readonly [number, number]>([0, 0]);
  const picked = useRef<(piece: string | null, x: number, y: number) => void>(() => {});
  const pickPlace = async (x: number, y: number): Promise<void> => {
    if (!scene || !engine || !picker) return;
    const sight = scene.rayAt(x, y);
    picker.onSight?.(sight);
    const face = picker.onFace && scene.lyingAt(x, y);
    if (face) picker.onFace?.(face.onBed);
    if (!picker.onPlace && !picker.stroke) return;
    const place = await placeAt(x, y);
    if (!place) {
      toasts.say({ text: 'There is nothing of the model there. Pick a place on it.' });
      return;
    }
    picker.onPlace?.(place);
    picker.stroke?.onStroke([place]);
  };
  /** The place of the model under a place of the view, also where its piece lies on a bed. */
  const placeAt = async (x: number, y: number): Promise<PickedPlace | null> => {
    if (!scene || !engine) return null;
    if (!shown.lying) {
      const { origin, direction } = scene.rayAt(x, y);
      return await engine.pick(origin, direction, shown.hidden);
    }
    const place = scene.lyingAt(x, y);
    const body = place?.skin && view?.pieces.find((p) => p.key === place.of)?.body;
    return place && body ? { body, at: place.at, normal: place.normal } : null;
  };
  const stroke = useStroke(canvas, scene, picker?.stroke ?? null, placeAt);
  picked.current = (piece, x, y) => {
    if (picker) void pickPlace(x, y);
    else onPick(piece);
  };

  useEffect(() => {
    const element = canvas.current;
    if (!element) return;
    let made: Scene;
    try {
      made = new Scene(
        element,
        (l, s) => {
          setLabels(l);
          setScale(s);
        },
        (piece, x, y) => picked.current(piece, x, y),
      );
    } catch {
      return;
    }
    setScene(made);
    const fit = (): void => {
      const covered = bar.current ? bar.current.offsetTop + bar.current.offsetHeight : 0;
      made.resize(element.clientWidth, element.clientHeight, covered);
      setMiddle(made.middle);
    };
    const observer = new ResizeObserver(fit);
    observer.observe(element);
    if (bar.current) observer.observe(bar.current);
    return () => {
      observer.disconnect();
      made.dispose();
    };
  }, []);

  useEffect(() => {
    if (!scene || !view) return;
    scene.setView(view, geometry);
  }, [scene, view, geometry]);

  useEffect(() => {
    if (scene && model) scene.setOpenEdges(model.openEdges);
  }, [scene, model]);

  // the model itself is drawn first
  const drawn = view !== null;
  useEffect(() => {
    if (!scene || !searcher || !model || !drawn) return;
    const left = new AbortController();
    searcher
      .ask((engine) => engine.proxy(), { forget: left.signal, first: true })
      .then(
        (g) => !left.signal.aborted && scene.setStandIn(g),
        () => {},
      );
    return () => left.abort();
  }, [scene, searcher, model, drawn]);

  useEffect(() => {
    // the stand-in and the open edges are where the heavy steps left the model; light ones have moved it since
    scene?.show(shown, view && model ? compose(view.map, inverse(model.map)) : IDENTITY);
  }, [scene, shown, view, model]);

  useEffect(() => {
    if (near) scene?.fit(near);
  }, [scene, near]);

  const onKeyDown = (event: KeyboardEvent<HTMLElement>): void => {
    const by = event.shiftKey ? 0.4 : 0.12;
    const turns: Record<string, [number, number, number]> = {
      ArrowLeft: [-by, 0, 1],
      ArrowRight: [by, 0, 1],
      ArrowUp: [0, -by, 1],
      ArrowDown: [0, by, 1],
      '+': [0, 0, 1.15],
      '-': [0, 0, 1 / 1.15],
    };
    if (picker && (event.key === 'Enter' || event.key === 'Escape')) {
      event.preventDefault();
      event.stopPropagation();
      if (event.key === 'Enter') void pickPlace(middle[0] + cross[0], middle[1] + cross[1]);
      else onCancelPick();
      return;
    }
    const turn = turns[event.key];
    if (!turn) return;
    if (picker && event.altKey) {
      event.preventDefault();
      const far = event.shiftKey ? 40 : 8;
      const [dx, dy] = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key] ?? [
        0, 0,
      ];
      setCross(([x, y]) => [x + dx * far, y + dy * far]);
      return;
    }
    event.preventDefault();
    scene?.turn(...turn);
  };

  return (
    <section
      aria-label="3D view"
      className="relative h-full min-w-0 overflow-hidden bg-linear-to-b from-[#f4efe5] to-[#e2d9c8]"
    >
      <div
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the view is turned with the arrow keys
        tabIndex={0}
        role="application"
        aria-label="Model, turn with the arrow keys"
        className="absolute inset-0"
        onKeyDown={onKeyDown}
      >
        <canvas
          ref={canvas}
          className={`block h-full w-full touch-none ${picker ? 'cursor-crosshair' : ''}`}
          data-testid="view"
        />
      </div>
      {picker && (
        <>
          <svg
            aria-hidden="true"
            viewBox="-20 -20 40 40"
            className="-translate-x-1/2 -translate-y-1/2 pointer-events-none absolute h-10 w-10"
            style={{ left: middle[0] + cross[0], top: middle[1] + cross[1] }}
          >
            <path d="M-20 0H-5M5 0H20M0 -20V-5M0 5V20" stroke="var(--color-cut)" strokeWidth="1.5" />
          </svg>
          {/* at the right: messages come in the lower left corner */}
          <div className="absolute right-3 bottom-14 flex w-max max-w-[77%] items-center gap-3 rounded border border-cut bg-sheet px-3 py-1.5">
            <p role="status">
              {picker.prompt}{' '}
              {!picker.take && (
                <span className="text-ink-soft">Click, or press Enter under the cross; Alt and arrows move it.</span>
              )}
            </p>
            {picker.take && (
              <Button look="main" className="h-7 shrink-0" onClick={picker.take.run}>
                {picker.take.title}
              </Button>
            )}
            <Button className="h-7" onClick={onCancelPick}>
              Stop
            </Button>
          </div>
        </>
      )}
      {stroke.length > 0 && (
        <svg aria-hidden="true" className="pointer-events-none absolute inset-0 h-full w-full">
          {stroke.map(([x, y]) => (
            <circle
              key={`${x} ${y}`}
              cx={x}
              cy={y}
              r={Math.max(3, (picker?.stroke?.radius ?? 0) * scale)}
              fill="var(--color-good)"
              opacity="0.25"
            />
          ))}
        </svg>
      )}
      {labels.map((l) => (
        <span
          key={`${l.kind}${l.text}${Math.round(l.x)}`}
          aria-hidden
          className={`num pointer-events-none absolute -translate-x-1/2 -translate-y-1/2 text-[12px] ${l.kind === 'staff' ? 'text-[#766d5b]' : 'bg-paper/80 px-1 text-ink'}`}
          style={{ left: l.x, top: l.y }}
        >
          {l.text}
        </span>
      ))}
      <div
        ref={bar}
        className={`absolute inset-x-3 top-3 flex-wrap items-start justify-between gap-2 ${small ? 'hidden' : 'flex'}`}
      >
        <div className="flex rounded border border-rule bg-sheet/90" role="toolbar" aria-label="Look from">
          {WORDS.map((w) => (
            <button
              key={w}
              type="button"
              className="h-7 px-2 text-ink-soft hover:text-ink hover:underline"
              onClick={() => scene?.look(w)}
            >
              {w}
            </button>
          ))}
          <button
            type="button"
            className="h-7 border-rule border-l px-2 text-ink-soft hover:text-ink hover:underline"
            onClick={() => scene?.look('corner')}
          >
            whole
          </button>
        </div>
        <div className="flex flex-wrap gap-2">{tools}</div>
      </div>
      <div className="absolute bottom-3 left-3 max-w-[70%] rounded border border-rule bg-sheet/90 px-2.5 py-1">
        {caption}
      </div>
      {!small && <ScaleBar pixelsPerMm={scale} />}
    </section>
  );
}

/** A bar of a round length at the model's depth. */
function ScaleBar({ pixelsPerMm }: { pixelsPerMm: number }) {
  const wanted = 110 / Math.max(pixelsPerMm, 1e-9);
  const power = 10 ** Math.floor(Math.log10(wanted));
  const length = [5, 2, 1].map((k) => k * power).find((x) => x <= wanted) ?? power;
  return (
    <div aria-hidden className="absolute right-3 bottom-3 text-right">
      <span className="num text-[12px] text-ink-soft">{Number(length.toPrecision(2))} mm</span>
      <div className="border-ink border-x border-b pt-1" style={{ width: length * pixelsPerMm }} />
    </div>
  );
}
