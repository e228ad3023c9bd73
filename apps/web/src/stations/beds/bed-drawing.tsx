import { bedRoom, boxOfShadow, nameOfCopy, type PlacedPiece, type Printer, placed, radians } from '@gephyra/core/plan';
import { type KeyboardEvent, type PointerEvent, useRef, useState } from 'react';
import type { PieceView } from '../../engine/types.ts';
import { arrowStep } from '../../ui/arrow-step.ts';
import { useSize } from '../../ui/use-size.ts';
import { middleOf, type OnBed, pathOfShadow } from './bed-math.ts';

/** Room for the rulers, CSS px. */
const RULER = 38;
/** Of a piece that is not there, for a moment. */
const PLAIN = '#7c93a1';

interface Props {
  readonly label: string;
  readonly printer: Printer;
  readonly lying: readonly OnBed[];
  readonly brim: number;
  readonly selected: string | null;
  readonly pieceOf: (key: string) => PieceView | undefined;
  /** nothing can be moved */
  readonly locked: boolean;
  onSelect(at: PlacedPiece | null): void;
  onMove(at: PlacedPiece, x: number, y: number): void;
  onTurn(at: PlacedPiece, by: number): void;
  onLock(at: PlacedPiece): void;
  onTakeOff(at: PlacedPiece): void;
  /** dropped on a bed of the list */
  onDrop(at: PlacedPiece, bed: string): void;
}

/**
 * A bed drawn flat and to scale, as on a cutting table: a ruler along two edges, outlines of the pieces filled faintly with
 * their colour and hatched, their codes in the middle. Pieces are dragged, or nudged by the arrow keys.
 */
export function BedDrawing(props: Props) {
  const { label, printer, lying, pieceOf, onSelect } = props;
  const svg = useRef<SVGSVGElement>(null);
  const { width, height } = useSize(svg);
  const [moving, setMoving] = useState<Moving | null>(null);
  const [w, d] = printer.size;
  // mm a pixel, so that bed and rulers fit
  const px = Math.max(w / Math.max(60, width - RULER - 14), d / Math.max(60, height - RULER - 10));
  const toBed = (e: PointerEvent): [number, number] => {
    const m = svg.current?.getScreenCTM()?.inverse();
    if (!m) return [0, 0];
    const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(m);
    return [p.x, -p.y];
  };
  const tintOf = (o: OnBed): string => pieceOf(o.print.of)?.tint ?? PLAIN;
  const tints = [...new Set(lying.map(tintOf))];

  return (
    <svg
      ref={svg}
      role="group"
      aria-label={label}
      className="block w-full touch-none select-none"
      style={{ height: 'max(230px, calc(100cqh - 64px))' }}
      viewBox={`${-RULER * px} ${-d - 8 * px} ${w + (RULER + 12) * px} ${d + (RULER + 8) * px}`}
      preserveAspectRatio="xMidYMid meet"
      onPointerDown={(e) => e.target === e.currentTarget && onSelect(null)}
    >
      <defs>
        {tints.map((colour, i) => (
          <pattern
            key={colour}
            id={`hatch${colour.slice(1)}`}
            width={7 * px}
            height={7 * px}
            patternUnits="userSpaceOnUse"
            patternTransform={`rotate(${45 + (i % 3) * 30})`}
          >
            <rect width={7 * px} height={7 * px} fill={colour} fillOpacity={0.16} />
            <path d={`M0 0V${7 * px}`} stroke={colour} strokeWidth={1.1 * px} strokeOpacity={0.5} />
          </pattern>
        ))}
      </defs>
      <Rulers width={w} depth={d} px={px} />
      <Ground printer={printer} px={px} />
      {lying.map((o) => (
        <Lying
          key={nameOfCopy(o.at)}
          {...props}
          of={o}
          tint={tintOf(o)}
          px={px}
          moving={moving}
          setMoving={setMoving}
          toBed={toBed}
        />
      ))}
      {moving && <Distances moving={moving} lying={lying} printer={printer} px={px} />}
    </svg>
  );
}

/** The bed, what of it can be used, and what is kept free. */
function Ground({ printer, px }: { printer: Printer; px: number }) {
  const [w, d] = printer.size;
  const room = bedRoom(printer);
  return (
    <g pointerEvents="none">
      <rect x={0} y={-d} width={w} height={d} fill="#fffcf5" stroke="var(--color-ink)" strokeWidth={px} />
      <rect
        x={printer.margin}
        y={-printer.margin - room.depth}
        width={room.width}
        height={room.depth}
        fill="none"
        stroke="var(--color-rule-strong)"
        strokeWidth={px}
        strokeDasharray={`${4 * px} ${3 * px}`}
      />
      {(printer.keepOut ?? []).map(({ at, size }) => (
        <g key={at.join()}>
          <rect
            x={at[0]}
            y={-at[1] - size[1]}
            width={size[0]}
            height={size[1]}
            fill="var(--color-stop-wash)"
            stroke="var(--color-stop)"
            strokeWidth={px}
          />
          <text
            x={at[0] + size[0] / 2}
            y={-at[1] - size[1] / 2}
            fontSize={12 * px}
            textAnchor="middle"
            className="fill-stop"
          >
            kept free
          </text>
        </g>
      ))}
    </g>
  );
}

/** A copy that is dragged: where it is, and where it was taken hold of. */
interface Moving {
  readonly name: string;
  readonly x: number;
  readonly y: number;
  readonly from: readonly [number, number];
}

interface LyingProps extends Props {
  readonly of: OnBed;
  readonly tint: string;
  /** mm a pixel */
  readonly px: number;
  readonly moving: Moving | null;
  setMoving(to: Moving | null): void;
  toBed(event: PointerEvent): [number, number];
}

/** A copy on the bed, which keys and the pointer move. */
function Lying({ of: o, tint, px, moving, setMoving, toBed, ...props }: LyingProps) {
  const { brim, selected, pieceOf, locked, onSelect, onMove } = props;
  const name = nameOfCopy(o.at);
  const held = moving?.name === name ? moving : null;
  const piece = pieceOf(o.at.piece);
  const [x, y] = held ? [held.x, held.y] : [o.at.x, o.at.y];
  const shadow = placed(o.print.shadow, 0, 0, o.at.spin);
  const [cx, cy] = middleOf(o.print.shadow, o.at.spin);
  const chosen = selected === name;
  const drop = (e: PointerEvent): void => {
    if (!held) return;
    setMoving(null);
    const bed = document
      .elementsFromPoint(e.clientX, e.clientY)
      .find((b) => b.closest('[data-bed]'))
      ?.closest('[data-bed]');
    const onto = bed?.getAttribute('data-bed');
    if (onto) props.onDrop(o.at, onto);
    else if (held.x !== o.at.x || held.y !== o.at.y) onMove(o.at, held.x, held.y);
  };
  return (
    <g
      role="button"
      tabIndex={0}
      aria-pressed={chosen}
      aria-label={`${piece?.code ?? o.at.piece}${o.print.copies > 1 ? ` copy ${o.at.copy}` : ''} at ${o.at.x.toFixed(1)}, ${o.at.y.toFixed(1)}${o.at.locked ? ', locked' : ''}${o.bad ? ', lies badly' : ''}`}
      transform={`translate(${x} ${-y})`}
      className={`outline-none ${locked || o.at.locked ? '' : 'cursor-move'} [&:focus-visible>path]:stroke-lapis`}
      onKeyDown={(e) => {
        if (!pressed(e, o.at, props)) return;
        e.preventDefault();
        e.stopPropagation();
      }}
      onPointerDown={(e) => {
        onSelect(o.at);
        if (o.at.locked || locked) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        const [bx, by] = toBed(e);
        setMoving({ name, x: o.at.x, y: o.at.y, from: [bx - o.at.x, by - o.at.y] });
      }}
      onPointerMove={(e) => {
        if (!held) return;
        const [bx, by] = toBed(e);
        setMoving({ ...held, x: bx - held.from[0], y: by - held.from[1] });
      }}
      onPointerUp={drop}
      onPointerCancel={() => setMoving(null)}
    >
      <path
        d={pathOfShadow(shadow)}
        fill={o.bad ? 'var(--color-stop-wash)' : `url(#hatch${tint.slice(1)})`}
        fillRule="evenodd"
        stroke={o.bad ? 'var(--color-stop)' : chosen ? 'var(--color-lapis)' : tint}
        strokeWidth={(chosen ? 2.4 : 1.3) * px}
      />
      {brim > 0 && (
        <path
          d={pathOfShadow(shadow)}
          fill="none"
          stroke={tint}
          strokeOpacity={0.18}
          strokeWidth={2 * brim}
          pointerEvents="none"
        />
      )}
      <text
        textAnchor="middle"
        x={cx}
        y={-cy + 4 * px}
        fontSize={13 * px}
        className="fill-ink font-semibold"
        pointerEvents="none"
      >
        {piece?.code}
        {o.print.copies > 1 ? `·${o.at.copy}` : ''}
      </text>
      {(o.at.locked || locked) && <Pin x={cx} y={-cy} px={px} />}
    </g>
  );
}

/** Does what a key on a copy asks for: arrows move it, R turns it, L locks it, Delete takes it off. False for other keys. */
function pressed(event: KeyboardEvent, at: PlacedPiece, props: Props): boolean {
  const { locked, onSelect, onMove, onTurn, onLock, onTakeOff } = props;
  const way = arrowStep(event);
  const key = event.ctrlKey ? '' : event.key.toLowerCase();
  if (event.key === 'Enter' || event.key === ' ') onSelect(at);
  else if (locked) return false;
  else if (way && !at.locked) onMove(at, at.x + way[0], at.y + way[1]);
  else if (key === 'r' && !at.locked) {
    onTurn(at, (event.shiftKey ? -1 : 1) * radians(event.altKey ? 1 : 15));
  } else if (key === 'l') onLock(at);
  else if (event.key === 'Delete' || event.key === 'Backspace') onTakeOff(at);
  else return false;
  return true;
}

/** A tick every 10 mm, a number every 50, along the front and the left edge. */
function Rulers({ width, depth, px }: { width: number; depth: number; px: number }) {
  const ticks = (length: number): number[] => Array.from({ length: Math.floor(length / 10) + 1 }, (_, i) => i * 10);
  const tall = (at: number): number => (at % 50 === 0 ? 9 : 5) * px;
  return (
    <g pointerEvents="none" className="fill-ink-soft">
      <path
        d={[
          ...ticks(width).map((x) => `M${x} ${2 * px}v${tall(x)}`),
          ...ticks(depth).map((y) => `M${-2 * px} ${-y}h${-tall(y)}`),
        ].join('')}
        stroke="var(--color-ink-soft)"
        strokeWidth={0.8 * px}
      />
      {ticks(width)
        .filter((x) => x % 50 === 0)
        .map((x) => (
          <text key={x} x={x} y={22 * px} textAnchor="middle" fontSize={12 * px}>
            {x}
          </text>
        ))}
      {ticks(depth)
        .filter((y) => y % 50 === 0 && y > 0)
        .map((y) => (
          <text key={y} x={-13 * px} y={-y + 4 * px} textAnchor="end" fontSize={12 * px}>
            {y}
          </text>
        ))}
    </g>
  );
}

/** A pin through what stays where it is. */
const Pin = ({ x, y, px }: { x: number; y: number; px: number }) => (
  <g transform={`translate(${x} ${y - 14 * px}) scale(${px})`} pointerEvents="none">
    <circle cy={-4} r={3.6} fill="var(--color-ink)" />
    <path d="M0 -1V5" stroke="var(--color-ink)" strokeWidth={1.4} />
  </g>
);

/** How far what is moved is from the edges of what the printer can use. */
function Distances({
  moving,
  lying,
  printer,
  px,
}: {
  moving: { name: string; x: number; y: number };
  lying: readonly OnBed[];
  printer: Printer;
  px: number;
}) {
  const own = lying.find((o) => nameOfCopy(o.at) === moving.name);
  if (!own) return null;
  const { min, max } = boxOfShadow(placed(own.print.shadow, moving.x, moving.y, own.at.spin));
  const { width, depth } = bedRoom(printer);
  const { margin } = printer;
  const middle = [(min[0] + max[0]) / 2, (min[1] + max[1]) / 2];
  const lines = [
    [margin, middle[1], min[0], middle[1]],
    [max[0], middle[1], margin + width, middle[1]],
    [middle[0], margin, middle[0], min[1]],
    [middle[0], max[1], middle[0], margin + depth],
  ];
  return (
    <g pointerEvents="none" className="fill-cut">
      {lines.map(([x0, y0, x1, y1]) => (
        <g key={`${x0 === x1}${x0 < middle[0] || y0 < middle[1]}`}>
          <path d={`M${x0} ${-y0}L${x1} ${-y1}`} stroke="var(--color-cut)" strokeWidth={px} />
          <text x={(x0 + x1) / 2 + 3 * px} y={-(y0 + y1) / 2 - 3 * px} fontSize={12 * px}>
            {(x1 - x0 + (y1 - y0)).toFixed(1)}
          </text>
        </g>
      ))}
    </g>
  );
}
