import { rename, writeFile } from 'node:fs/promises';
import { basename, extname } from 'node:path';
import {
  couponOf,
  formatOfName,
  GephyraError,
  JOINT_KINDS,
  type JointKind,
  kernelTriangulator,
  kindOf,
  loadKernel,
  NO_PAINT,
  type RawModel,
  writeModel,
} from '@gephyra/core';
import type { Arguments } from './arguments.ts';

/** Writes a test piece for fits: a ladder of gaps for one kind of joint, by the sizes given; the rest are usual ones. */
export async function coupon({ words, flags }: Arguments): Promise<number> {
  const out = flags.get('out');
  if (words.length > 0 || !out) {
    throw new GephyraError('usage', 'Say coupon --kind pin --diameter 6 --from 0.05 --step 0.05 --count 6 --out FILE.');
  }
  const format = formatOfName(out);
  const number = (name: string, preset: number): number => {
    const x = Number(flags.get(name) ?? preset);
    if (!Number.isFinite(x)) throw new GephyraError('usage', `--${name} is a number.`);
    return x;
  };
  const kind = kindNamed(flags.get('kind') ?? 'pin');
  const across = number('diameter', kind.tried);
  const made = couponOf(
    {
      joint: { kind: kind.kind as JointKind, ...kind.plain(across, number('depth', 5)) },
      from: number('from', 0.05),
      step: number('step', 0.05),
      count: number('count', 6),
    },
    kernelTriangulator(await loadKernel()),
  );
  const model: RawModel = {
    format: 'stl-binary',
    parts: made.parts.map(({ name, mesh }) => ({ name, positions: mesh.positions, triangles: mesh.triangles })),
    palette: NO_PAINT,
    notes: [],
  };
  const files = writeModel(model, format, basename(out, extname(out)));
  await writeFile(`${out}.part`, files[0].bytes);
  await rename(`${out}.part`, out);
  const result = { file: out, gaps: made.gaps, volume: made.volume, minutes: made.minutes };
  if (flags.has('json')) console.log(JSON.stringify(result));
  else console.log(`Gaps ${made.gaps.join(', ')} mm, about ${Math.round(made.minutes)} minutes to print, in ${out}.`);
  return 0;
}

function kindNamed(name: string): ReturnType<typeof kindOf> {
  const kind = JOINT_KINDS.find((k) => k === name);
  if (!kind) throw new GephyraError('usage', `--kind is one of ${JOINT_KINDS.join(', ')}.`);
  return kindOf({ kind });
}
