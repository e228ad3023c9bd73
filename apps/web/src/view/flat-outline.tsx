/** Closed loops of a plane, hatched inside, fitted into the element. */
export function FlatOutline({ loops, className = '' }: { loops: readonly Float64Array[]; className?: string }) {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const l of loops) {
    for (let i = 0; i < l.length; i += 2) {
      x0 = Math.min(x0, l[i]);
      x1 = Math.max(x1, l[i]);
      y0 = Math.min(y0, l[i + 1]);
      y1 = Math.max(y1, l[i + 1]);
    }
  }
  if (!(x1 > x0)) return <div className={className} />;
  const rim = 0.05 * Math.max(x1 - x0, y1 - y0);
  const hatch = Math.max(x1 - x0, y1 - y0) / 18;
  return (
    <svg
      aria-hidden="true"
      className={className}
      viewBox={`${x0 - rim} ${-y1 - rim} ${x1 - x0 + 2 * rim} ${y1 - y0 + 2 * rim}`}
    >
      <defs>
        <pattern id="hatch" width={hatch} height={hatch} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width={hatch} height={hatch} fill="#fbeee2" />
          <path d={`M0 0V${hatch}`} stroke="var(--color-cut)" strokeWidth={hatch * 0.3} />
        </pattern>
      </defs>
      <path
        d={pathOf(loops)}
        fill="url(#hatch)"
        fillRule="evenodd"
        stroke="var(--color-ink)"
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  );
}

/** Loops as an SVG path, v upwards. */
export function pathOf(loops: readonly Float64Array[]): string {
  return loops
    .map((l) => {
      let d = '';
      for (let i = 0; i < l.length; i += 2) d += `${i === 0 ? 'M' : 'L'}${l[i].toFixed(3)} ${(-l[i + 1]).toFixed(3)}`;
      return `${d}Z`;
    })
    .join('');
}
