import { across, kindOf, type RoomField } from '@gephyra/core/plan';
import { type KeyboardEvent, type PointerEvent, useMemo, useRef, useState } from 'react';
import type { FaceHelp } from '../../engine/joints.ts';
import type { FaceView, JointView, OutlineView } from '../../engine/types.ts';
import { arrowStep } from '../../ui/arrow-step.ts';
import { useNudge } from '../../ui/use-nudge.ts';
import { useSize } from '../../ui/use-size.ts';
import { pathOf } from '../../view/path-of.ts';
import { type Aligned, aligned } from './align.ts';

interface Props {
  readonly face: FaceView;
  /** which side is looked at: 0 the − side's piece, from within its neighbour; 1 the other, so that u runs to the left */
  readonly side: 0 | 1;
  readonly title: string;
  readonly joints: readonly JointView[];
  readonly selected: string | null;
  /** joints with a stop or a warning */
  readonly troubled: ReadonlyMap<string, 'stop' | 'warn'>;
  readonly help: FaceHelp | null;
  readonly heat: boolean;
  /** looked at from near: round the chosen joint, or the roomiest place */
  readonly near: boolean;
  /** what was measured of the joint that is being moved */
  readonly live: JointView | null;
  readonly onSelect: (id: string) => void;
  readonly onPlace: (u: number, v: number) => void;
  readonly onMove: (id: string, u: number, v: number) => void;
  /** while it moves, before it is let go; null: it is let go */
  readonly onMoving: (at: { id: string; u: number; v: number } | null) => void;
}

/**
 * A mating face, flat: the region with its walls, the room there is, the joints on it with their gap, drawn to one scale. A
 * click on empty ground places a joint; joints are dragged or nudged, align with what they come near, and while one moves the
 * distances to the edge are written beside it.
 */
export function MatingFaceView(props: Props) {
  const { side, title, joints, selected, troubled, help, heat, live, onSelect, onPlace, onMove, onMoving } = props;
  const sign = side === 0 ? 1 : -1;
  const svg = useRef<SVGSVGElement>(null);
  const size = useSize(svg);
  const [moving, setMoving] = useState<{ id: string; u: number; v: number } | null>(null);
  const [cursor, setCursor] = useState<Aligned | null>(null);
  const nudge = useNudge(350, ({ id, u, v }: { id: string; u: number; v: number }) => {
    tell(null);
    onMove(id, u, v);
  });
  const face = useMemo(() => turnedFace(props.face, sign), [props.face, sign]);
  const loops = useMemo(() => [face.outer, ...face.holes], [face]);
  const path = useMemo(() => pathOf(loops), [loops]);
  const bands = useMemo(() => (heat && help ? heatBands(help.room, sign) : []), [heat, help, sign]);
  const whole = useMemo(() => boxOf(face.outer), [face]);
  const chosen = joints.find((j) => j.id === selected);
  const [nu, nv] = chosen ? [chosen.u, chosen.v] : [props.face.pole.u, props.face.pole.v];
  const reach = Math.max(4 * (chosen ? radius(chosen.other[0].loop, chosen) : 0), 3 * props.face.pole.distance, 4);
  const box =
    props.near && 2 * reach < Math.max(whole.x1 - whole.x0, whole.y1 - whole.y0)
      ? { x0: sign * nu - reach, x1: sign * nu + reach, y0: nv - reach, y1: nv + reach }
      : whole;
  const span = Math.max(box.x1 - box.x0, box.y1 - box.y0);
  const rim = span * 0.07;
  // millimetres a pixel, as the drawing is laid out
  const px = Math.max((box.x1 - box.x0 + 2 * rim) / size.width, (box.y1 - box.y0 + 2 * rim) / size.height);
  const id = `ground-${side}`;

  const placeOf = (event: PointerEvent): Aligned => {
    const matrix = svg.current!.getScreenCTM()!.inverse();
    const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix);
    const raw: [number, number] = [p.x * sign, -p.y];
    return aligned(raw, event.altKey ? null : help, props.face.pole, 7 * px, span > 60 ? 0.1 : 0.01);
  };
  const tell = (at: { id: string; u: number; v: number } | null): void => {
    setMoving(at);
    onMoving(at);
  };
  const nudgeBy = (joint: JointView, event: KeyboardEvent): void => {
    const step = arrowStep(event);
    if (!step) {
      if (event.key !== 'Shift' && event.key !== 'Alt') nudge.settle();
      return;
    }
    // a lap follows its wall wherever it is held
    if (kindOf(joint).follows === 'wall') return;
    event.preventDefault();
    event.stopPropagation();
    const from = moving?.id === joint.id ? moving : joint;
    const next = { id: joint.id, u: from.u + sign * step[0], v: from.v + step[1] };
    tell(next);
    nudge.push(next);
  };

  const troubleOf = (j: JointView): 'stop' | 'warn' | undefined =>
    live?.id === j.id ? (live.built ? undefined : 'stop') : troubled.get(j.id);
  const grid = gridStep(span);
  return (
    <svg
      ref={svg}
      viewBox={`${box.x0 - rim} ${-box.y1 - rim} ${box.x1 - box.x0 + 2 * rim} ${box.y1 - box.y0 + 2 * rim}`}
      className="max-h-[max(110px,calc(100cqh-170px))] w-full touch-none select-none border border-rule bg-paper"
      role="group"
      aria-label={title}
      onPointerMove={(e) => {
        const at = placeOf(e);
        setCursor(at);
        if (moving && e.buttons > 0) tell({ ...moving, u: at.u, v: at.v });
      }}
      onPointerLeave={() => setCursor(null)}
    >
      <defs>
        <pattern id={id} width={grid} height={grid} patternUnits="userSpaceOnUse">
          <path d={`M0 0H${grid}M0 0V${grid}`} stroke="var(--color-rule)" strokeWidth={px} fill="none" />
        </pattern>
      </defs>
      <path
        d={path}
        fill="#fbf1e6"
        fillRule="evenodd"
        className="cursor-crosshair"
        onPointerDown={(e) => {
          if (e.button !== 0) return;
          const at = placeOf(e);
          onPlace(at.u, at.v);
        }}
      />
      {bands.map((d, i) => (
        <path key={BAND_NAMES[i]} d={d} fill="var(--color-good)" fillOpacity={0.13} pointerEvents="none" />
      ))}
      <path d={path} fill={`url(#${id})`} fillRule="evenodd" pointerEvents="none" />
      <path d={path} fill="none" stroke="var(--color-ink)" strokeWidth={1.4 * px} pointerEvents="none" />
      {help?.axis && <Axis axis={help.axis} sign={sign} span={span} px={px} />}
      {joints.map((j) => (
        <Mark
          key={j.id}
          joint={j}
          at={moving?.id === j.id ? moving : j}
          colour={`var(--color-${troubleOf(j) ?? 'lapis'})`}
          sign={sign}
          px={px}
          own={j.male === face.pieces[side]}
          chosen={selected === j.id}
          onSelect={() => onSelect(j.id)}
          onHold={() => setMoving({ id: j.id, u: j.u, v: j.v })}
          onRelease={() => {
            if (!moving) return;
            const { u, v } = moving;
            tell(null);
            if (u !== j.u || v !== j.v) onMove(j.id, u, v);
          }}
          onKeyDown={(e) => nudgeBy(j, e)}
          onBlur={nudge.settle}
        />
      ))}
      {moving && <Distances loops={loops} u={sign * moving.u} v={moving.v} px={px} />}
      {cursor && (
        <text
          x={box.x0 - rim + 5 * px}
          y={-box.y0 + rim - 5 * px}
          fontSize={12 * px}
          className="num fill-ink-soft"
          pointerEvents="none"
        >
          {cursor.u.toFixed(1)}, {cursor.v.toFixed(1)}
          {cursor.to ? ` ${cursor.to}` : ''}
        </text>
      )}
    </svg>
  );
}

interface MarkProps {
  readonly joint: JointView;
  /** where it is while it is moved */
  readonly at: { readonly u: number; readonly v: number };
  readonly colour: string;
  readonly sign: number;
  readonly px: number;
  /** the male half is on the side that is looked at */
  readonly own: boolean;
  readonly chosen: boolean;
  onSelect(): void;
  onHold(): void;
  onRelease(): void;
  onKeyDown(event: KeyboardEvent): void;
  onBlur(): void;
}

/** A joint on the face, both halves of it, to be dragged and nudged. */
function Mark({ joint: j, at, colour, sign, px, own, chosen, ...acts }: MarkProps) {
  const mine = own ? j.own : j.other;
  const theirs = own ? j.other : j.own;
  const followsWall = kindOf(j).follows === 'wall';
  const top = followsWall ? 2 * px : Math.max(...[...mine, ...theirs].map((o) => radius(o.loop, j)));
  const outlines = (list: readonly OutlineView[], faint: boolean) =>
    list.map((o) => (
      <Outline
        key={`${faint} ${o.kind} ${o.loop[0]} ${o.loop[1]}`}
        of={o}
        sign={sign}
        colour={colour}
        px={px}
        faint={faint}
        chosen={chosen}
      />
    ));
  return (
    <g
      role="button"
      tabIndex={0}
      aria-pressed={chosen}
      aria-label={`${capital(kindOf(j).name)} ${j.id} at ${at.u.toFixed(1)}, ${at.v.toFixed(1)}`}
      transform={`translate(${sign * (at.u - j.u)} ${-(at.v - j.v)})`}
      className="cursor-move"
      onFocus={acts.onSelect}
      onKeyDown={acts.onKeyDown}
      onBlur={acts.onBlur}
      onPointerDown={(e) => {
        acts.onSelect();
        if (followsWall) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        acts.onHold();
      }}
      onPointerUp={acts.onRelease}
    >
      {outlines(theirs, true)}
      {outlines(mine, false)}
      <text
        x={sign * j.u}
        y={-j.v - top - 4 * px}
        textAnchor="middle"
        fontSize={12 * px}
        className="fill-ink font-semibold"
      >
        {j.id}
      </text>
    </g>
  );
}

/** What stands out is filled, what goes in is hollow; the neighbour's half is only hinted at. */
function Outline({
  of,
  sign,
  colour,
  px,
  faint,
  chosen,
}: {
  of: OutlineView;
  sign: number;
  colour: string;
  px: number;
  faint: boolean;
  chosen: boolean;
}) {
  const d = pathOf([turnedLoop(of.loop, sign)]);
  if (of.kind === 'male') {
    return (
      <path
        d={d}
        fill={colour}
        fillOpacity={faint ? 0.12 : chosen ? 0.75 : 0.35}
        stroke={colour}
        strokeWidth={(faint ? 0.8 : 1.4) * px}
      />
    );
  }
  return (
    <path
      d={d}
      fill={faint ? 'none' : chosen ? 'var(--color-lapis-wash)' : '#fffcf5'}
      fillOpacity={faint ? 0 : 0.85}
      stroke={colour}
      strokeWidth={(faint ? 0.8 : 1.4) * px}
      strokeDasharray={of.kind === 'void' ? `${px} ${2 * px}` : `${3 * px} ${2 * px}`}
    />
  );
}

function Axis({
  axis,
  sign,
  span,
  px,
}: {
  axis: NonNullable<FaceHelp['axis']>;
  sign: number;
  span: number;
  px: number;
}) {
  const at = (s: number): string => `${sign * (axis.u + axis.du * s)} ${-(axis.v + axis.dv * s)}`;
  return (
    <path
      d={`M${at(-span)}L${at(span)}`}
      stroke="var(--color-ink-soft)"
      strokeWidth={px}
      strokeDasharray={`${8 * px} ${3 * px} ${px} ${3 * px}`}
      pointerEvents="none"
    />
  );
}

/** Distances from a point to the edge in the four directions of the plane. */
function Distances({ loops, u, v, px }: { loops: readonly Float64Array[]; u: number; v: number; px: number }) {
  return (
    <g pointerEvents="none">
      {[
        [1, 0],
        [-1, 0],
        [0, 1],
        [0, -1],
      ].map(([du, dv]) => {
        const d = across(loops, u, v, du, dv);
        if (!Number.isFinite(d)) return null;
        return (
          <g key={`${du}${dv}`}>
            <path d={`M${u} ${-v}L${u + du * d} ${-(v + dv * d)}`} stroke="var(--color-cut)" strokeWidth={px} />
            <text
              x={u + (du * d) / 2 + 3 * px}
              y={-(v + (dv * d) / 2) - 3 * px}
              fontSize={12 * px}
              className="num fill-cut"
            >
              {d.toFixed(1)}
            </text>
          </g>
        );
      })}
    </g>
  );
}

const BAND_NAMES = ['some', 'more', 'much', 'most'];

/** Where there is more than a fifth, two fifths … of the most room there is, as rows of cells. */
function heatBands({ u0, v0, cell, width, height, room }: RoomField, sign: number): string[] {
  let most = 0;
  for (const r of room) most = Math.max(most, r);
  return [0.2, 0.4, 0.6, 0.8].map((share) => {
    const least = share * most;
    let d = '';
    for (let j = 0; j < height; j++) {
      for (let i = 0; i < width; i++) {
        if (room[j * width + i] < least) continue;
        const from = i;
        while (i < width && room[j * width + i] >= least) i++;
        const a = sign * (u0 + from * cell);
        const b = sign * (u0 + i * cell);
        d += `M${a.toFixed(2)} ${(-(v0 + j * cell)).toFixed(2)}H${b.toFixed(2)}v${(-cell).toFixed(3)}H${a.toFixed(2)}Z`;
      }
    }
    return d;
  });
}

const turnedLoop = (l: Float64Array, sign: number): Float64Array =>
  sign > 0 ? l : l.map((x, i) => (i % 2 === 0 ? -x : x));

function turnedFace(face: FaceView, sign: number): FaceView {
  if (sign > 0) return face;
  return { ...face, outer: turnedLoop(face.outer, sign), holes: face.holes.map((h) => turnedLoop(h, sign)) };
}

function boxOf(l: Float64Array): { x0: number; y0: number; x1: number; y1: number } {
  const box = { x0: Infinity, y0: Infinity, x1: -Infinity, y1: -Infinity };
  for (let i = 0; i < l.length; i += 2) {
    box.x0 = Math.min(box.x0, l[i]);
    box.x1 = Math.max(box.x1, l[i]);
    box.y0 = Math.min(box.y0, l[i + 1]);
    box.y1 = Math.max(box.y1, l[i + 1]);
  }
  return box;
}

function radius(l: Float64Array, at: { v: number }): number {
  let r = 0;
  for (let i = 1; i < l.length; i += 2) r = Math.max(r, l[i] - at.v);
  return r;
}

const capital = (word: string): string => word[0].toUpperCase() + word.slice(1);

const gridStep = (span: number): number => {
  const power = 10 ** Math.floor(Math.log10(Math.max(span, 1e-6) / 6));
  return [1, 2, 5, 10].map((k) => k * power).find((s) => s >= span / 12) ?? power;
};
