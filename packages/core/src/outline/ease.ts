import type { Loop2 } from '../mesh/index.ts';

/**
 * A line without the points that it can do without: what is left strays nowhere by more than `within` mm from where it ran.
 * Both ends stay; a closed loop is taken as a line from its first point to its last. Ramer (1972), Douglas and Peucker (1973).
 */
export function easedLine(line: Loop2, within: number): Loop2 {
  const n = line.length / 2;
  if (n < 3) return line;
  const kept = new Uint8Array(n);
  kept[0] = 1;
  kept[n - 1] = 1;
  const open = [0, n - 1];
  const limit = within * within;
  while (open.length > 0) {
    const to = open.pop()!;
    const from = open.pop()!;
    const [ax, ay] = [line[2 * from], line[2 * from + 1]];
    const dx = line[2 * to] - ax;
    const dy = line[2 * to + 1] - ay;
    const long = dx * dx + dy * dy;
    let worst = limit;
    let at = -1;
    for (let i = from + 1; i < to; i++) {
      const px = line[2 * i] - ax;
      const py = line[2 * i + 1] - ay;
      const s = long > 0 ? Math.min(1, Math.max(0, (px * dx + py * dy) / long)) : 0;
      const [ex, ey] = [px - s * dx, py - s * dy];
      const off = ex * ex + ey * ey;
      if (off > worst) [worst, at] = [off, i];
    }
    if (at < 0) continue;
    kept[at] = 1;
    open.push(from, at, at, to);
  }
  let count = 0;
  for (const k of kept) count += k;
  const out = new Float64Array(2 * count);
  let k = 0;
  for (let i = 0; i < n; i++) {
    if (!kept[i]) continue;
    out[k++] = line[2 * i];
    out[k++] = line[2 * i + 1];
  }
  return out;
}

/**
 * A closed loop without the corners that it can do without, as `easedLine`, from its two corners that lie far apart. Fewer
 * than three corners when nothing is left of it.
 */
export function easedLoop(loop: Loop2, within: number): Loop2 {
  const n = loop.length / 2;
  if (n < 4) return loop;
  let far = 0;
  let most = -1;
  for (let i = 1; i < n; i++) {
    const d = (loop[2 * i] - loop[0]) ** 2 + (loop[2 * i + 1] - loop[1]) ** 2;
    if (d > most) [most, far] = [d, i];
  }
  const there = easedLine(loop.subarray(0, 2 * far + 2), within);
  const rest = new Float64Array(loop.length - 2 * far + 2);
  rest.set(loop.subarray(2 * far));
  rest.set(loop.subarray(0, 2), loop.length - 2 * far);
  const back = easedLine(rest, within);
  const out = new Float64Array(there.length + back.length - 4);
  out.set(there.subarray(0, there.length - 2));
  out.set(back.subarray(0, back.length - 2), there.length - 2);
  return out;
}
