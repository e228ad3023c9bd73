import type { StepReport, Vec3 } from '@gephyra/core/plan';

/** What a heavy step changed, in numbers: only those that differ. */
export function changesOf({ before, after }: StepReport): [string, string][] {
  const rows: [string, number, number][] = [
    ['Bodies', before.bodies, after.bodies],
    ['Closed', before.closed, after.closed],
    ['Triangles', before.triangles, after.triangles],
    ['Open edges', before.openEdges, after.openEdges],
    ['Crowded edges', before.nonManifoldEdges, after.nonManifoldEdges],
    ['Edges at odds', before.inconsistentEdges, after.inconsistentEdges],
    ['Volume, cm³', before.volume / 1000, after.volume / 1000],
  ];
  const show = (x: number): string => (Number.isInteger(x) ? x.toLocaleString('en') : x.toFixed(1));
  return rows.filter(([, a, b]) => show(a) !== show(b)).map(([name, a, b]) => [name, `${show(a)} → ${show(b)}`]);
}

/** How far a step moved the surface, in words; empty where that was not measured. */
export function deviationText({ deviation }: StepReport): string {
  if (!deviation) return '';
  const old = `What was there has moved by at most ${deviation.old.toFixed(3)} mm`;
  if (deviation.added <= deviation.old * 1.001 + 1e-4) return `${old}.`;
  return `${old}; what was added lies up to ${deviation.added.toFixed(2)} mm from it.`;
}

/** A place or map as the plan keeps it: without digits that only mapping back and forth gives. */
export const tidy = (v: Vec3): [number, number, number] =>
  v.map((x) => Number(x.toFixed(6)) + 0) as [number, number, number];
