import { EvalCache, evaluate, type Kernel, kernelTriangulator, type Plan, parsePlan, shapeOf } from '@gephyra/core';
import { passings } from '../packages/core/src/evaluate/passing.ts';
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

/** Three seams with 34 pins each. */
const manyJoints = (): Plan =>
  parsePlan({
    version: 5,
    printer: { size: [220, 220, 250] },
    seams: [-150, 0, 150].map((at, i) => ({
      id: `s${i + 1}`,
      kind: 'flat' as const,
      origin: [0, 0, at] as [number, number, number],
      normal: [0, 0, 1] as [number, number, number],
    })),
    joints: Array.from({ length: 102 }, (_, i) => ({
      id: `j${i}`,
      kind: 'pin' as const,
      seam: `s${1 + (i % 3)}`,
      at: [18 * ((Math.floor(i / 3) % 6) - 2.5), 18 * (Math.floor(i / 18) - 2.5)] as [number, number],
      diameter: 6,
      depth: 8,
    })),
  });

/** What looking for triangles that pass through each other adds to an evaluation, both in turn. */
function gateRow(body: Parameters<typeof evaluate>[1][number], fallback: ReturnType<typeof kernelTriangulator>): Row {
  const shares = Array.from({ length: 5 }, () => {
    const start = performance.now();
    const { pieces } = evaluate(manyJoints(), [body], { fallback });
    const whole = performance.now() - start;
    // copies, since what was looked at is known by its caps
    const fresh = pieces.map((p) => ({ solid: p.solid, caps: p.caps.map((c) => ({ ...c })) }));
    const begun = performance.now();
    for (const { solid, caps } of fresh) passings(solid, caps);
    const gate = performance.now() - begun;
    return (100 * gate) / (whole - gate);
  });
  return {
    what: 'evaluate 300 k triangles, 3 seams, 102 pins: what the check for crossings adds',
    measured: `${median(shares).toFixed(1)} % (worst ${Math.max(...shares).toFixed(1)})`,
    wanted: '15 % at most',
    ok: median(shares) <= 15,
  };
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
  return [
    row('full', full, 1000),
    row('a pin moved', pin, 60),
    row('the last seam moved', seam, 200),
    gateRow(body, fallback),
  ];
}
