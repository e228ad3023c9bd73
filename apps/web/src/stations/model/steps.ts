import type { Step, StepReport, Vec3 } from '@gephyra/core';

const degrees = (x: number): string => `${Number(((x * 180) / Math.PI).toFixed(2))}°`;
const mm = (x: number): string => `${Number(x.toFixed(3))} mm`;
const UNIT_WORDS = { micron: 'microns', mm: 'millimetres', cm: 'centimetres', in: 'inches', ft: 'feet', m: 'metres' };
export const AXIS_WORDS = { x: 'width', y: 'depth', z: 'height' } as const;

/** A step of the recipe in a few words. */
export function stepTitle(step: Step): string {
  switch (step.kind) {
    case 'scale':
      if (step.factor !== undefined) return `Scale × ${Number(step.factor.toFixed(5))}`;
      if (step.factors) return `Scale × ${step.factors.map((f) => Number(f.toFixed(4))).join(', ')}`;
      return `To ${mm(step.size ?? 0)} ${AXIS_WORDS[step.axis ?? 'z']}`;
    case 'unit':
      return `Numbers are ${UNIT_WORDS[step.unit]}`;
    case 'tailor':
      return `Fit ${step.name || 'the wearer'}: ${mm(step.wanted)}${step.room === 0 ? '' : ` + ${mm(step.room)}`}`;
    case 'turn':
      return `Turn ${degrees(step.angle)} about ${step.axis}`;
    case 'lay':
      return 'Lay on a face';
    case 'place':
      return step.to === 'floor' ? 'Onto the floor' : 'To the centre';
    case 'mirror':
      return step.copy ? 'Mirrored copy' : 'Mirror';
    case 'bring':
      return `Bring ${step.body} against a face`;
    case 'weld':
      return `Weld within ${mm(step.tolerance)}`;
    case 'drop':
      return step.dust > 0 ? `Drop dust under ${mm(step.dust)}` : 'Drop duplicates and slivers';
    case 'split':
      return 'Take apart what only touches';
    case 'orient':
      return 'Turn outward';
    case 'close':
      return step.openings ? 'Close all holes' : 'Close holes';
    case 'mend':
      return 'Mend all';
    case 'join':
      return 'Join into one solid';
    case 'separate':
      return 'One body per shell';
    case 'takeOut':
      return `Take ${step.body} out, gap ${mm(step.gap)}`;
    case 'remove':
      return step.on.length === 1 ? `Drop body ${step.on[0]}` : `Drop ${step.on.length} bodies`;
    case 'simplify':
      return step.triangles === undefined
        ? `Simplify within ${mm(step.deviation ?? 0)}`
        : `Simplify to ${step.triangles.toLocaleString('en')} triangles`;
    case 'wall':
      return `Wall of ${mm(step.thickness)} ${step.side}`;
    case 'hollow':
      return `Hollow, wall ${mm(step.thickness)}`;
  }
}

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
