import { rename, writeFile } from 'node:fs/promises';
import { basename, extname } from 'node:path';
import {
  type CouponWish,
  couponOf,
  GephyraError,
  kernelTriangulator,
  loadKernel,
  NO_PAINT,
  type RawModel,
  writeModel,
} from '@gephyra/core';
import type { Arguments } from './arguments.ts';

const FORMATS = { '.stl': 'stl', '.obj': 'obj', '.ply': 'ply', '.3mf': '3mf' } as const;

/** Writes a test piece for fits: a ladder of gaps for one kind of joint, by the sizes given; the rest are usual ones. */
export async function coupon({ words, flags }: Arguments): Promise<number> {
  const out = flags.get('out');
  const kind = flags.get('kind') ?? 'pin';
  if (words.length > 0 || !out) {
    throw new GephyraError('usage', 'Say coupon --kind pin --diameter 6 --from 0.05 --step 0.05 --count 6 --out FILE.');
  }
  const format = FORMATS[extname(out).toLowerCase() as keyof typeof FORMATS];
  if (!format) throw new GephyraError('usage', '--out ends in .stl, .obj, .ply or .3mf.');
  const number = (name: string, preset: number): number => {
    const x = Number(flags.get(name) ?? preset);
    if (!Number.isFinite(x)) throw new GephyraError('usage', `--${name} is a number.`);
    return x;
  };
  const across = number('diameter', kind === 'key' ? 12 : 6);
  const made = couponOf(
    {
      joint: sizesOf(kind, across, number('depth', 5)),
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

function sizesOf(kind: string, across: number, depth: number): CouponWish['joint'] {
  switch (kind) {
    case 'pin':
      return { kind, diameter: across, depth };
    case 'key':
      return { kind, width: across, height: across * 0.6, depth };
    case 'cone':
      return { kind, diameter: across };
    case 'dowel':
      return { kind, diameter: across, depth };
    case 'snap':
      return { kind, diameter: across, depth: Math.max(depth, 2 * across), slot: across / 5 };
    case 'magnet':
      return { kind, diameter: across, thickness: 3 };
    case 'lap':
      return { kind, lip: Math.min(across, 1.2), depth };
    default:
      throw new GephyraError('usage', '--kind is one of pin, key, cone, dowel, snap, magnet, lap.');
  }
}
