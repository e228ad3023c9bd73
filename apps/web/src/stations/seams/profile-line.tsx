import { fromFrame, IDENTITY, type ProfileSeam, perAxis, sampled, seamPlace } from '@gephyra/core/plan';
import { type KeyboardEvent, type PointerEvent, useEffect, useMemo, useRef, useState } from 'react';
import type { RegionView } from '../../engine/seam-scope.ts';
import type { Triple } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';
import { seamTitle } from '../../project/seam-math.ts';
import { useWorkspace } from '../../project/selection.tsx';
import { arrowStep } from '../../ui/arrow-step.ts';
import { Button } from '../../ui/button.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Companion, Part } from '../../ui/panels.tsx';
import { pathOf } from '../../view/path-of.ts';

type Point = [number, number];

/** Depths along the sweep at which the model's outline is drawn behind the line. */
const DEPTHS = [0.08, 0.25, 0.5, 0.75, 0.92];

/** A drawn line, looked at along its sweep: points that are dragged, typed or nudged. */
export function ProfileLine({ seam }: { seam: ProfileSeam }) {
  const line = useLine(seam);
  const { points, onModel, chosen } = line;
  const current = onModel[Math.min(chosen, points.length - 1)];
  return (
    <>
      <Companion title="Profile line" note="along its sweep">
        <LineDrawing seam={seam} line={line} />
      </Companion>
      <Part title="Points">
        <div className="flex flex-col gap-2">
          <div className="grid grid-cols-2 gap-2">
            {[0, 1].map((c) => (
              <NumberField
                key={c}
                label={`Point ${Math.min(chosen, points.length - 1) + 1} ${c === 0 ? 'across' : 'up'}`}
                value={current?.[c] ?? 0}
                onCommit={(x) => line.move(chosen, c === 0 ? [x, current[1]] : [current[0], x])}
              />
            ))}
          </div>
          <div className="flex flex-wrap gap-1.5">
            <Button className="h-7" onClick={() => line.addAfter(chosen)}>
              Add a point
            </Button>
            <Button className="h-7" disabled={points.length < 3} onClick={() => line.takeOut(chosen)}>
              Take it out
            </Button>
            <Button className="h-7" onClick={() => line.redraw([])}>
              Draw in the view
            </Button>
          </div>
        </div>
      </Part>
    </>
  );
}

/** The points of a line, and what is done to them. */
function useLine(seam: ProfileSeam) {
  const { change, view } = useProject();
  const { setPicker } = useWorkspace();
  const map = view?.map ?? IDENTITY;
  const place = useMemo(() => seamPlace(seam, map), [seam, map]);
  const [chosen, choose] = useState(0);
  const [draft, setDraft] = useState<Point[] | null>(null);
  const title = seamTitle(seam);
  const points = draft ?? (seam.points as Point[]);
  const keep = (next: Point[]): void => {
    setDraft(null);
    const points = next.map(([u, v]) => [Number(u.toFixed(3)), Number(v.toFixed(3))]);
    change(`Draw ${title}`, { do: 'setSeam', id: seam.id, set: { points } });
  };
  const movedTo = (i: number, at: readonly [number, number]): Point[] =>
    points.map((p, k) => (k === i ? ([...place.toSource(at)] as Point) : p));
  /** Draws the line anew by places of the view; the sweep stays what it is. */
  const redraw = (soFar: readonly Point[]): void =>
    setPicker({
      prompt: `Pick point ${soFar.length + 1} of the line${soFar.length > 1 ? '; Stop ends it' : ''}.`,
      onSight: ({ origin, direction }) => {
        const { frame } = place;
        const slope = direction.reduce((s, x, a) => s + x * frame.normal[a], 0);
        if (Math.abs(slope) < 1e-6) return;
        const s = (frame.offset - origin.reduce((sum, x, a) => sum + x * frame.normal[a], 0)) / slope;
        const at = perAxis(origin, (x, a) => x + direction[a] * s - frame.origin[a]);
        const dot = (n: Triple): number => at[0] * n[0] + at[1] * n[1] + at[2] * n[2];
        const next: Point[] = [...soFar, [...place.toSource([dot(frame.u), dot(frame.v)])] as Point];
        if (next.length > 1) keep(next);
        redraw(next);
      },
    });
  return {
    place,
    points,
    /** the same, at the model's size */
    onModel: points.map((p) => place.toModel(p)),
    chosen,
    choose,
    /** while a point is dragged */
    drag: (i: number, at: readonly [number, number]): void => setDraft(movedTo(i, at)),
    move: (i: number, at: readonly [number, number]): void => keep(movedTo(i, at)),
    takeOut: (i: number): void => keep(points.filter((_, k) => k !== i)),
    addAfter: (i: number): void => {
      const j = Math.min(i, points.length - 2);
      const middle: Point = [(points[j][0] + points[j + 1][0]) / 2, (points[j][1] + points[j + 1][1]) / 2];
      keep([...points.slice(0, j + 1), middle, ...points.slice(j + 1)]);
      choose(j + 1);
    },
    redraw,
  };
}

/** What of the plane along the sweep is drawn: a square round the line and the model's outlines. */
function squareRound(points: readonly (readonly number[])[]): { left: number; low: number; span: number } {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const [x, y] of points) {
    x0 = Math.min(x0, x);
    x1 = Math.max(x1, x);
    y0 = Math.min(y0, y);
    y1 = Math.max(y1, y);
  }
  const wide = Math.max(x1 - x0, y1 - y0, 1);
  const rim = 0.08 * wide;
  return { left: (x0 + x1 - wide) / 2 - rim, low: (y0 + y1 - wide) / 2 - rim, span: wide + 2 * rim };
}

/** The line before the model's outlines, its points to be dragged and nudged. */
function LineDrawing({ seam, line }: { seam: ProfileSeam; line: ReturnType<typeof useLine> }) {
  const { place, points, onModel, chosen, choose } = line;
  const svg = useRef<SVGSVGElement>(null);
  const held = useRef(false);
  const outlines = useOutlines(place.frame);
  const { left, low, span } = squareRound([...onModel, ...outlines.flatMap((r) => pairs(r.outer2))]);
  const read = (event: PointerEvent): Point => {
    const box = svg.current!.getBoundingClientRect();
    return [
      left + ((event.clientX - box.left) / box.width) * span,
      low + span - ((event.clientY - box.top) / box.height) * span,
    ];
  };
  const onKeyDown = (event: KeyboardEvent, i: number): void => {
    const step = arrowStep(event);
    if (step) {
      event.preventDefault();
      line.move(i, [onModel[i][0] + step[0], onModel[i][1] + step[1]]);
    } else if ((event.key === 'Delete' || event.key === 'Backspace') && points.length > 2) {
      event.preventDefault();
      event.stopPropagation();
      line.takeOut(i);
    }
  };
  return (
    <svg
      ref={svg}
      viewBox={`${left} ${-low - span} ${span} ${span}`}
      className="mx-auto block w-full touch-none select-none border border-rule bg-paper"
      style={{ maxWidth: 'max(180px, calc(100cqh - 70px))' }}
      role="group"
      aria-label="The line, seen along its sweep"
    >
      {outlines.map((r) => (
        <path
          key={`${r.seed.join()}${r.area}`}
          d={pathOf([r.outer2, ...r.holes2])}
          fill="var(--color-lapis)"
          fillOpacity="0.05"
          fillRule="evenodd"
          stroke="var(--color-ink-soft)"
          strokeOpacity="0.6"
          vectorEffect="non-scaling-stroke"
        />
      ))}
      <path
        d={lineOf(sampled({ points, curve: seam.curve }).map((p) => place.toModel(p)))}
        fill="none"
        stroke="var(--color-cut)"
        strokeWidth="2"
        vectorEffect="non-scaling-stroke"
      />
      {onModel.map(([x, y], i) => (
        <g
          // biome-ignore lint/suspicious/noArrayIndexKey: points are known by their order
          key={i}
          role="button"
          tabIndex={0}
          aria-label={`Point ${i + 1} of ${points.length}`}
          className="group cursor-grab focus-visible:outline-none"
          onFocus={() => choose(i)}
          onKeyDown={(e) => onKeyDown(e, i)}
          onPointerDown={(e) => {
            held.current = true;
            e.currentTarget.setPointerCapture(e.pointerId);
            e.currentTarget.focus();
          }}
          onPointerMove={(e) => held.current && line.drag(i, read(e))}
          onPointerUp={(e) => {
            if (!held.current) return;
            held.current = false;
            line.move(i, read(e));
          }}
        >
          <circle cx={x} cy={-y} r={span / 24} fill="transparent" />
          <circle
            cx={x}
            cy={-y}
            r={span / 48}
            fill={i === chosen ? 'var(--color-cut)' : 'var(--color-sheet)'}
            stroke="var(--color-cut)"
            vectorEffect="non-scaling-stroke"
            className="group-focus-visible:stroke-[3px] group-focus-visible:stroke-lapis"
          />
        </g>
      ))}
    </svg>
  );
}

const pairs = (l: Float64Array): Point[] => Array.from({ length: l.length / 2 }, (_, i) => [l[i * 2], l[i * 2 + 1]]);

const lineOf = (points: readonly (readonly [number, number])[]): string =>
  points.map(([x, y], i) => `${i === 0 ? 'M' : 'L'}${x.toFixed(3)} ${(-y).toFixed(3)}`).join('');

/** The model's outlines at some depths along the sweep. */
function useOutlines(frame: ReturnType<typeof seamPlace>['frame']): readonly RegionView[] {
  const { engine, view } = useProject();
  const [regions, setRegions] = useState<readonly RegionView[]>([]);
  const box = view?.box;
  const key = `${frame.origin.join()}|${frame.normal.join()}|${frame.v.join()}|${box?.min.join()}|${box?.max.join()}`;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key holds all that the answer depends on
  useEffect(() => {
    if (!engine || !box) return;
    let alive = true;
    let [from, to] = [Infinity, -Infinity];
    for (let i = 0; i < 8; i++) {
      const corner = [0, 1, 2].map((a) => (i & (1 << a) ? box.max[a] : box.min[a]));
      const w = corner.reduce((s, x, a) => s + x * frame.normal[a], 0) - frame.offset;
      from = Math.min(from, w);
      to = Math.max(to, w);
    }
    const frames = DEPTHS.map((d) => {
      const w = from + d * (to - from);
      return { ...frame, origin: fromFrame(frame, 0, 0, w), offset: frame.offset + w };
    });
    Promise.all(frames.map((f) => engine.regions(f, false))).then(
      (all) => alive && setRegions(all.flatMap((r) => r.regions)),
      () => {},
    );
    return () => {
      alive = false;
    };
  }, [engine, key]);
  return regions;
}
