import {
  buildBlocks,
  EvalCache,
  evaluate,
  halfEdges,
  type Kernel,
  kernelTriangulator,
  makeFrame,
  type Plan,
  parsePlan,
  profileAlong,
  sectionAt,
  shapeOf,
} from '@gephyra/core';
import { blob } from '../packages/core/testing/shapes.ts';
import { growth, median, type Row } from './measure.ts';

const model = (triangles: number) => {
  const side = Math.round(Math.sqrt(triangles / 2));
  return blob(side, side, 900, (a, z) => 160 + 12 * Math.sin(6 * a) + 15 * Math.cos(5 * z));
};

const time = (run: () => void): number => {
  const start = performance.now();
  run();
  return performance.now() - start;
};

const quantile = (list: readonly number[], q: number): number =>
  [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * q))];

/** Nine levels, two upright planes across and one lean: about thirty pieces. `moved` shifts one of the levels. */
function twelve(moved: number, count = 12): Plan {
  const seams = Array.from({ length: count }, (_, i) => {
    if (i < 9) return { origin: [0, 0, -400 + i * 95 + (i === 4 ? moved : 0)], normal: [0.01 * i, 0.02, 1] };
    return i === 9
      ? { origin: [3, 0, 0], normal: [1, 0.05, 0] }
      : { origin: [0, 0, i === 10 ? 420 : -430], normal: [0, 0.1, 1] };
  });
  return parsePlan({
    version: 5,
    printer: { size: [220, 220, 250] },
    seams: seams.map((s, i) => ({ id: `s${i + 1}`, kind: 'flat', ...s })),
  });
}

/** Sections, profiles and whole plans of a million triangles. */
export function benchSeams(kernel: Kernel): Row[] {
  const fallback = kernelTriangulator(kernel);
  const mesh = model(1e6);
  const rows: Row[] = [];

  let blocks = buildBlocks(mesh);
  const built = time(() => {
    blocks = buildBlocks(mesh);
  });
  const place = (i: number) => makeFrame([0, 0, -380 + ((i * 61.7) % 760)], [0.1, 0.2, 1]);
  for (let i = 0; i < 40; i++) sectionAt(mesh, place(i + 0.5), blocks);
  let points = 0;
  const sections = Array.from({ length: 200 }, (_, i) =>
    time(() => {
      const { loops } = sectionAt(mesh, place(i), blocks);
      points = Math.max(
        points,
        loops.reduce((n, l) => n + l.length / 2, 0),
      );
    }),
  );
  rows.push({
    what: `section at a new place, up to ${points} points (index built in ${built.toFixed(0)} ms)`,
    measured: `median ${median(sections).toFixed(1)} ms, 95th percentile ${quantile(sections, 0.95).toFixed(1)}`,
    wanted: 'median 6 ms, 95th 10 ms',
    ok: median(sections) <= 6 && quantile(sections, 0.95) <= 10,
  });

  const adjacency = time(() => void halfEdges(mesh));
  const frame = makeFrame([0, 0, 0], [0.1, 0.2, 1]);
  const profiles = Array.from({ length: 5 }, () => time(() => void profileAlong([mesh], frame, 256)));
  rows.push({
    what: `profile of 256 stations (adjacency built in ${adjacency.toFixed(0)} ms)`,
    measured: `${median(profiles).toFixed(0)} ms`,
    wanted: '700 ms at most',
    ok: median(profiles) <= 700,
  });

  const body = { id: 'b1', name: 'bench', part: 0, ...shapeOf(mesh) };
  evaluate(twelve(0), [body], { fallback });
  let pieces = 0;
  const full = Array.from({ length: 3 }, () =>
    time(() => {
      pieces = evaluate(twelve(0), [body], { fallback }).pieces.length;
    }),
  );
  const cache = new EvalCache();
  evaluate(twelve(0), [body], { fallback, cache });
  const moves = Array.from({ length: 7 }, (_, i) =>
    time(() => void evaluate(twelve(i + 1), [body], { fallback, cache })),
  );
  const memory = process.memoryUsage();
  rows.push(
    {
      what: `12 seams on 1 M triangles, ${pieces} pieces`,
      measured: `${median(full).toFixed(0)} ms`,
      wanted: '4000 ms at most',
      ok: median(full) <= 4000,
    },
    {
      what: 'the same after moving the fifth seam',
      measured: `${median(moves).toFixed(0)} ms (worst ${Math.max(...moves).toFixed(0)})`,
      wanted: '800 ms at most',
      ok: median(moves) <= 800,
    },
    {
      what: 'memory after that, a cache of all moves included',
      measured: `${((memory.heapUsed + memory.arrayBuffers) / 1e6).toFixed(0)} MB used, ${(memory.rss / 1e6).toFixed(0)} MB resident`,
      wanted: 'said',
      ok: true,
    },
  );

  const counts = [3, 6, 9, 12].map((n) => {
    const list = Array.from({ length: 3 }, () => time(() => void evaluate(twelve(0, n), [body], { fallback })));
    // all of what is above a seam is met by the next: linear in the triangles met is quadratic in levels at the most
    let met = 0;
    for (let i = 0; i < n; i++) met += i < 9 ? (400 + 450 - i * 95 + 95) / 900 : 1;
    return { size: met, time: median(list) };
  });
  const exponent = growth(counts);
  rows.push({
    what: 'growth with seams, over the triangles they meet',
    measured: `n^${exponent.toFixed(2)} (${counts.map((c) => c.time.toFixed(0)).join(', ')} ms for 3, 6, 9, 12)`,
    wanted: 'n^1 at most',
    ok: exponent <= 1.02,
  });
  return rows;
}
