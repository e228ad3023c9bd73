import {
  closedMesh,
  halve,
  type IndexedMesh,
  type Kernel,
  kernelTriangulator,
  makeFrame,
  toKernel,
  topology,
} from '@gephyra/core';
import { blob } from '../packages/core/testing/shapes.ts';
import { growth, interleaved, median, type Row } from './measure.ts';

const frame = makeFrame([0, 0, 31.7], [0, 0, 1]);

/** A closed mesh whose level section has twice `sides` points. */
const model = (rings: number, sides: number, lobes: number): IndexedMesh =>
  blob(rings, sides, 600, (a, z) => 150 + 14 * Math.sin(lobes * a) + 15 * Math.cos(5 * z));

/** The flat cut with caps, tags and compacted sides against the CSG kernel's own split of the same mesh. */
export function benchCut(kernel: Kernel): Row[] {
  const fallback = kernelTriangulator(kernel);
  const rows: Row[] = [];
  for (const { rings, sides, lobes, times } of [
    { rings: 707, sides: 707, lobes: 6, times: 35 },
    { rings: 200, sides: 2500, lobes: 6, times: 35 },
    { rings: 62, sides: 8060, lobes: 40, times: 12 },
  ]) {
    const mesh = model(rings, sides, lobes);
    const solid = toKernel(kernel, mesh);
    solid.numTri();
    const { above, below } = halve(mesh, frame, fallback);
    const sound = [above, below].every((s) => s && topology(closedMesh(s, () => 1)).watertight);
    const { ours, theirs } = interleaved(5, {
      ours: () => void halve(mesh, frame, fallback),
      theirs: () => {
        const halves = solid.splitByPlane([0, 0, 1], 31.7);
        for (const half of halves) {
          half.numTri();
          half.delete();
        }
      },
    });
    solid.delete();
    rows.push({
      what: `cut ${(mesh.tags.length / 1e6).toFixed(2)} M triangles, section of ${sides * 2} points`,
      measured: `${ours.toFixed(0)} ms, kernel ${theirs.toFixed(0)} ms: ${(theirs / ours).toFixed(1)} ×`,
      wanted: `${times} ×`,
      ok: sound && theirs / ours >= times,
    });
  }
  const points = [60e3, 250e3, 1e6, 4e6].map((triangles) => {
    const side = Math.round(Math.sqrt(triangles / 2));
    const mesh = model(side, side, 6);
    for (let i = 0; i < 3; i++) halve(mesh, frame, fallback);
    const list: number[] = [];
    for (let i = 0; i < 7; i++) {
      const start = performance.now();
      halve(mesh, frame, fallback);
      list.push(performance.now() - start);
    }
    return { size: mesh.tags.length, time: median(list) };
  });
  const exponent = growth(points);
  rows.push({
    what: 'growth of the cut, 60 k to 4 M triangles',
    measured: `n^${exponent.toFixed(2)} (${points.map((p) => p.time.toFixed(0)).join(', ')} ms)`,
    wanted: 'n^1.1 at most',
    ok: exponent <= 1.1,
  });
  return rows;
}
