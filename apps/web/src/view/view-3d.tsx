import { type KeyboardEvent, type ReactNode, useRef, useState } from 'react';
import type { Picker } from '../project/selection.tsx';
import type { Marker, Shown } from '../project/shown.ts';
import { arrowWay } from '../ui/arrow-step.ts';
import { Labels, LookFrom, ScaleBar, Stroke } from './overlays.tsx';
import { PickerBar } from './picker-bar.tsx';
import { usePicking } from './use-picking.ts';
import { useDrawn, useScene } from './use-scene.ts';
import { useStroke } from './use-stroke.ts';

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
  const canvas = useRef<HTMLCanvasElement>(null);
  const bar = useRef<HTMLDivElement>(null);
  const picked = useRef<(piece: string | null, x: number, y: number) => void>(() => {});
  const { scene, labels, scale, middle } = useScene(canvas, bar, picked);
  useDrawn(scene, shown, near);
  const { placeAt, pickPlace } = usePicking(scene, shown, picker);
  const stroke = useStroke(canvas, scene, picker?.stroke ?? null, placeAt);
  /** the cross of the keyboard, from the middle, in pixels */
  const [[dx, dy], setCross] = useState<readonly [number, number]>([0, 0]);
  const cross = [middle[0] + dx, middle[1] + dy] as const;
  picked.current = (piece, x, y) => {
    if (picker) void pickPlace(x, y);
    else onPick(piece);
  };

  const onKeyDown = (event: KeyboardEvent<HTMLElement>): void => {
    if (picker && (event.key === 'Enter' || event.key === 'Escape')) {
      event.preventDefault();
      event.stopPropagation();
      if (event.key === 'Enter') void pickPlace(...cross);
      else onCancelPick();
      return;
    }
    const way = arrowWay(event.key);
    if (way && picker && event.altKey) {
      event.preventDefault();
      const far = event.shiftKey ? 40 : 8;
      setCross(([x, y]) => [x + way[0] * far, y - way[1] * far]);
      return;
    }
    const by = event.shiftKey ? 0.4 : 0.12;
    const nearer = { '+': 1.15, '-': 1 / 1.15 }[event.key];
    if (!way && !nearer) return;
    event.preventDefault();
    scene?.turn((way?.[0] ?? 0) * by, -(way?.[1] ?? 0) * by, nearer ?? 1);
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
      {picker && <PickerBar picker={picker} cross={cross} onCancel={onCancelPick} />}
      <Stroke places={stroke} radius={(picker?.stroke?.radius ?? 0) * scale} />
      <Labels labels={labels} />
      <div
        ref={bar}
        className={`absolute inset-x-3 top-3 flex-wrap items-start justify-between gap-2 ${small ? 'hidden' : 'flex'}`}
      >
        <LookFrom onLook={(from) => scene?.look(from)} />
        <div className="flex flex-wrap gap-2">{tools}</div>
      </div>
      <div className="absolute bottom-3 left-3 max-w-[70%] rounded border border-rule bg-sheet/90 px-2.5 py-1">
        {caption}
      </div>
      {!small && <ScaleBar pixelsPerMm={scale} />}
    </section>
  );
}
