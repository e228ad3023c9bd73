/** A closed 2D loop: u v u v …; counter-clockwise loops have positive area. */
export type Loop2 = Float64Array;

/** Signed area of a loop in mm², taken from its first point so that far loops keep their digits. */
export function loopArea(l: Loop2): number {
  let sum = 0;
  const x0 = l[0];
  const y0 = l[1];
  for (let i = 2; i + 3 < l.length; i += 2) {
    sum += (l[i] - x0) * (l[i + 3] - y0) - (l[i + 2] - x0) * (l[i + 1] - y0);
  }
  return sum / 2;
}

/** Length of a closed loop in mm. */
export function loopLength(l: Loop2): number {
  let sum = 0;
  for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2) sum += Math.hypot(l[i] - l[j], l[i + 1] - l[j + 1]);
  return sum;
}

/** How often a loop winds counter-clockwise round a point. Sunday, "Inclusion of a point in a polygon" (2001). */
export function winding(l: Loop2, x: number, y: number): number {
  let w = 0;
  for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2) {
    const ax = l[j];
    const ay = l[j + 1];
    const bx = l[i];
    const by = l[i + 1];
    if (ay <= y) {
      if (by > y && (bx - ax) * (y - ay) - (x - ax) * (by - ay) > 0) w++;
    } else if (by <= y && (bx - ax) * (y - ay) - (x - ax) * (by - ay) < 0) w--;
  }
  return w;
}

/** Distance from a point to the nearest edge of a loop, and the nearest point on it. */
export function nearestOnLoop(l: Loop2, x: number, y: number): { distance: number; x: number; y: number } {
  let best = Infinity;
  let bx = x;
  let by = y;
  for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2) {
    const dx = l[i] - l[j];
    const dy = l[i + 1] - l[j + 1];
    const len = dx * dx + dy * dy;
    let s = len > 0 ? ((x - l[j]) * dx + (y - l[j + 1]) * dy) / len : 0;
    s = s < 0 ? 0 : s > 1 ? 1 : s;
    const px = l[j] + s * dx;
    const py = l[j + 1] + s * dy;
    const d = (px - x) * (px - x) + (py - y) * (py - y);
    if (d < best) {
      best = d;
      bx = px;
      by = py;
    }
  }
  return { distance: Math.sqrt(best), x: bx, y: by };
}

/** How far along a line from a point, in lengths of its direction, a loop is crossed: ahead and behind. */
export function crossingsAlong(
  loop: Loop2,
  [x, y]: readonly [number, number],
  [dx, dy]: readonly [number, number],
): number[] {
  const out: number[] = [];
  const side = (i: number): number => dx * (loop[i + 1] - y) - dy * (loop[i] - x);
  for (let i = 0, j = loop.length - 2; i < loop.length; j = i, i += 2) {
    const [a, b] = [side(j), side(i)];
    if (a < 0 === b < 0) continue;
    const t = a / (a - b);
    const [px, py] = [loop[j] + t * (loop[i] - loop[j]), loop[j + 1] + t * (loop[i + 1] - loop[j + 1])];
    out.push(dx * (px - x) + dy * (py - y));
  }
  return out;
}

/** Squared distance of a point to a segment in the plane. */
export function pointSegment2(u: number, v: number, ax: number, ay: number, bx: number, by: number): number {
  const dx = bx - ax;
  const dy = by - ay;
  const l = dx * dx + dy * dy;
  const s = l > 0 ? Math.min(1, Math.max(0, ((u - ax) * dx + (v - ay) * dy) / l)) : 0;
  return (ax + s * dx - u) ** 2 + (ay + s * dy - v) ** 2;
}

/** Whether two segments in the plane cross; those that only touch do not. */
export function segmentsCross(
  ax: number,
  ay: number,
  bx: number,
  by: number,
  cx: number,
  cy: number,
  dx: number,
  dy: number,
): boolean {
  const o1 = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
  const o2 = (bx - ax) * (dy - ay) - (by - ay) * (dx - ax);
  const o3 = (dx - cx) * (ay - cy) - (dy - cy) * (ax - cx);
  const o4 = (dx - cx) * (by - cy) - (dy - cy) * (bx - cx);
  return o1 * o2 < 0 && o3 * o4 < 0;
}

/** Squared distance of two segments in the plane, 0 when they cross. */
export function segmentGap2(
  ax: number,
  ay: number,
  bx: number,
  by: number,
  cx: number,
  cy: number,
  dx: number,
  dy: number,
): number {
  if (segmentsCross(ax, ay, bx, by, cx, cy, dx, dy)) return 0;
  return Math.min(
    pointSegment2(ax, ay, cx, cy, dx, dy),
    pointSegment2(bx, by, cx, cy, dx, dy),
    pointSegment2(cx, cy, ax, ay, bx, by),
    pointSegment2(dx, dy, ax, ay, bx, by),
  );
}
