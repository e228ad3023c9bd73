import { EvalCache, evaluate, type Kernel, kernelTriangulator, type Plan, parsePlan, shapeOf } from '@gephyra/core';
import { blob } from '../packages/core/testing/shapes.ts';
import { median, type Row } from './measure.ts';

/** Four seams and twelve pins; the last seam and the fourth pin can be moved. */
function plan(lastSeam: number, pinShift: number): Plan {
  return parsePlan({
    version: 5,
    printer: { size: [220, 220, 250] },
    seams: [-150, 0, 150, lastSeam].map((at, i) => ({
      id: `s${i + 1}`,
      kind: 'flat' as const,
      origin: (i < 3 ? [0, 0, at] : [at, 0, 0]) as [number, number, number],
      normal: (i < 3 ? [0, 0.05, 1] : [1, 0, 0]) as [number, number, number],
    })),
    joints: Array.from({ length: 12 }, (_, i) => ({
      id: `j${i}`,
      kind: 'pin' as const,
      seam: `s${1 + (i % 3)}`,
      at: [(i < 6 ? -40 : 40) + (i % 2) * 20 + (i === 3 ? pinShift : 0), -50 + Math.floor(i / 3) * 30 + i] as [
        number,
        number,
      ],
      diameter: 6,
      depth: 8,
      shape: i % 2 === 0 ? ('round' as const) : ('hexagon' as const),
    })),
  });
}

/** Evaluation of a whole plan, after moving a pin, and after moving the last seam. */
export function benchEvaluate(kernel: Kernel): Row[] {
  const fallback = kernelTriangulator(kernel);
  const mesh = blob(387, 387, 600, (a, z) => 150 + 10 * Math.sin(6 * a) + 15 * Math.cos(5 * z));
  const body = { id: 'b1', name: 'bench', part: 0, ...shapeOf(mesh) };
  const time = (run: () => void): number => {
    const start = performance.now();
    run();
    return performance.now() - start;
  };
  const full = Array.from({ length: 5 }, () => time(() => evaluate(plan(7, 0), [body], { fallback })));
  const cache = new EvalCache();
  evaluate(plan(7, 0), [body], { fallback, cache });
  const pin = Array.from({ length: 15 }, (_, i) =>
    time(() => evaluate(plan(7, 0.1 * (i + 1)), [body], { fallback, cache })),
  );
  const seam = Array.from({ length: 9 }, (_, i) => time(() => evaluate(plan(8 + i, 0), [body], { fallback, cache })));
  const row = (what: string, list: readonly number[], most: number): Row => ({
    what: `evaluate 300 k triangles, 4 seams, 12 pins: ${what}`,
    measured: `${median(list).toFixed(0)} ms (worst ${Math.max(...list).toFixed(0)})`,
    wanted: `${most} ms at most`,
    ok: median(list) <= most,
  });
  return [row('full', full, 1000), row('a pin moved', pin, 60), row('the last seam moved', seam, 200)];
}
