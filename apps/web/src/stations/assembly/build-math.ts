import type { AssemblyStep } from '@gephyra/core/plan';

/** What the drawing of an order needs of a step. */
export type Joined = Pick<AssemblyStep, 'parts'>;

/** A line of the confluence: from where its group was made to the step that joins it on. Steps across, rows down. */
export interface Flow {
  readonly keys: readonly string[];
  readonly from: readonly [number, number];
  readonly to: readonly [number, number];
}

export interface Confluence {
  /** keys of the pieces from top to bottom, so that no two lines cross */
  readonly rows: readonly string[];
  readonly flows: readonly Flow[];
  /** where each step stands */
  readonly nodes: readonly (readonly [number, number])[];
}

/** Pieces flow together, step by step: who stands where. Pieces that no step joins come last, each in a row of its own. */
export function confluence(steps: readonly Joined[], keys: readonly string[]): Confluence {
  const groupOf = new Map<string, string[]>(keys.map((k) => [k, [k]]));
  for (const { parts } of steps) {
    const whole = parts.flatMap((p) => groupOf.get(p[0]) ?? p);
    for (const key of whole) groupOf.set(key, whole);
  }
  const rows = [...new Set(keys.flatMap((k) => groupOf.get(k)!))];
  const rowOf = new Map(rows.map((k, i) => [k, i]));
  const at = new Map<string, readonly [number, number]>(rows.map((k, i) => [k, [0, i] as const]));
  const flows: Flow[] = [];
  const nodes = steps.map(({ parts }, i): readonly [number, number] => {
    const whole = parts.flat();
    const middle = whole.reduce((s, k) => s + rowOf.get(k)!, 0) / whole.length;
    const node = [i + 1, middle] as const;
    for (const part of parts) flows.push({ keys: part, from: at.get(part[0])!, to: node });
    for (const key of whole) at.set(key, node);
    return node;
  });
  return { rows, flows, nodes };
}

/** How deep the steps are nested: how often the piece that is joined most often is joined. */
export function levelsOf(steps: readonly Joined[]): number {
  const depth = new Map<string, number>();
  for (const { parts } of steps) {
    const whole = parts.flat();
    const next = 1 + Math.max(...whole.map((k) => depth.get(k) ?? 0));
    for (const key of whole) depth.set(key, next);
  }
  return Math.max(0, ...depth.values());
}
