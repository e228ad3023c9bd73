import { type KeyboardEvent, type PointerEvent, useId } from 'react';
import type { WallView } from '../../engine/seams.ts';
import { pathOf } from '../../view/path-of.ts';
import type { SeamSection } from './use-section.ts';

interface Props {
  readonly section: SeamSection;
  /** whether each region is cut, in the section's order */
  readonly cut: readonly boolean[];
  /** null where all of it is cut */
  readonly onToggle: ((index: number) => void) | null;
  /** the plane's u and v as letters of the model's axes */
  readonly axes: readonly [string, string];
}

/** The section of a seam, flat and at one scale for both directions, its regions to be switched on and off. */
export function FlatSection({ section, cut, onToggle, axes }: Props) {
  const hatchId = useId();
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { outer2: l } of section.regions) {
    for (let i = 0; i < l.length; i += 2) {
      x0 = Math.min(x0, l[i]);
      x1 = Math.max(x1, l[i]);
      y0 = Math.min(y0, l[i + 1]);
      y1 = Math.max(y1, l[i + 1]);
    }
  }
  if (!(x1 > x0)) return <p className="text-ink-soft">The plane meets nothing here.</p>;
  const wide = Math.max(x1 - x0, (y1 - y0) * 1.5);
  const high = wide / 1.5;
  const rim = 0.07 * wide;
  const left = (x0 + x1 - wide) / 2 - rim;
  const top = -(y0 + y1 + high) / 2 - rim;
  const hatch = wide / 40;
  const mark = niceLength(wide / 3);
  const key = (event: KeyboardEvent, i: number): void => {
    if (event.key !== 'Enter' && event.key !== ' ') return;
    event.preventDefault();
    onToggle?.(i);
  };
  const press = (event: PointerEvent, i: number): void => {
    if (event.button === 0) onToggle?.(i);
  };
  return (
    <svg
      role="group"
      aria-label="Section"
      className="w-full border border-rule bg-paper"
      viewBox={`${left} ${top} ${wide + 2 * rim} ${high + 2 * rim}`}
    >
      <defs>
        <pattern id={hatchId} width={hatch} height={hatch} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width={hatch} height={hatch} fill="#fbeee2" />
          <path d={`M0 0V${hatch}`} stroke="var(--color-cut)" strokeWidth={hatch * 0.3} />
        </pattern>
      </defs>
      {section.regions.map((r, i) => {
        const [u, v] = r.seed;
        const name = `Region ${i + 1}, ${(r.area / 100).toFixed(1)} cm²`;
        return (
          <g
            key={`${u}${v}${r.area}`}
            {...(onToggle
              ? {
                  role: 'checkbox',
                  'aria-checked': cut[i] ?? true,
                  'aria-label': `${name} in the drawing`,
                  tabIndex: 0,
                  className: 'group cursor-pointer focus-visible:outline-none',
                  onKeyDown: (e) => key(e, i),
                  onPointerUp: (e) => press(e, i),
                }
              : { role: 'img', 'aria-label': name })}
          >
            <path
              d={pathOf([r.outer2, ...r.holes2])}
              fill={cut[i] ? `url(#${hatchId})` : 'var(--color-sheet)'}
              fillRule="evenodd"
              stroke={cut[i] ? 'var(--color-ink)' : 'var(--color-ink-soft)'}
              strokeDasharray={cut[i] ? undefined : '4 3'}
              vectorEffect="non-scaling-stroke"
              className="group-hover:stroke-[2px] group-focus-visible:stroke-[3px] group-focus-visible:stroke-lapis"
            />
            {section.regions.length > 1 && (
              <text
                x={u}
                y={-v}
                textAnchor="middle"
                dominantBaseline="central"
                style={{ fontSize: wide / 17 }}
                className="num fill-ink [paint-order:stroke]"
                stroke="var(--color-paper)"
                strokeWidth={wide / 60}
              >
                {i + 1}
              </text>
            )}
          </g>
        );
      })}
      {section.walls && <Walls walls={section.walls} width={wide / 90} />}
      <g aria-hidden className="fill-ink-soft" style={{ fontSize: wide / 20 }}>
        <path
          d={`M${left + rim * 0.5} ${top + high + 1.55 * rim}h${mark}`}
          stroke="var(--color-ink)"
          vectorEffect="non-scaling-stroke"
        />
        <text x={left + rim * 0.5} y={top + high + 1.3 * rim}>
          {mark} mm
        </text>
        <text x={left + wide + 1.6 * rim} y={top + high + 1.6 * rim} textAnchor="end">
          {axes[0]} →
        </text>
        <text x={left + rim * 0.5} y={top + rim * 0.9}>
          {axes[1]} ↑
        </text>
      </g>
    </svg>
  );
}

/** Outlines in the colour of the wall's thickness. */
function Walls({ walls, width }: { walls: WallView; width: number }) {
  const lines: Record<string, string> = { stop: '', warn: '', good: '' };
  for (let i = 0; i < walls.length; i += 5) {
    const t = walls[i + 4];
    const tone = t < THIN ? 'stop' : t < WEAK ? 'warn' : 'good';
    lines[tone] +=
      `M${walls[i].toFixed(2)} ${(-walls[i + 1]).toFixed(2)}L${walls[i + 2].toFixed(2)} ${(-walls[i + 3]).toFixed(2)}`;
  }
  return (
    <g aria-hidden fill="none" strokeWidth={width} className="pointer-events-none">
      {Object.entries(lines).map(([tone, d]) => (
        <path key={tone} d={d} stroke={`var(--color-${tone})`} />
      ))}
    </g>
  );
}

/** Walls thinner than this can hardly be joined; thinner than WEAK they are weak. mm */
export const THIN = 1.2;
export const WEAK = 3;

function niceLength(rough: number): number {
  const power = 10 ** Math.floor(Math.log10(Math.max(rough, 1e-9)));
  return Number(([5, 2, 1].map((k) => k * power).find((x) => x <= rough) ?? power).toPrecision(2));
}
