import { mkdir } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { deflateRawSync } from 'node:zlib';
import {
  bedFiles,
  type Deflate,
  GephyraError,
  kernelTriangulator,
  loadKernel,
  loadSimplifier,
  type Prepared,
  piecePrints,
  planSchema,
  prepare as preparations,
  sharedFiles,
  writeProject,
} from '@gephyra/core';
import type { Arguments } from './arguments.ts';
import { writeBytes, writeText } from './files.ts';
import { limitOf } from './limit.ts';
import { readModelFile } from './model-file.ts';
import { withPrinters } from './printers.ts';

/** Packs archives: by the machine's own, since a hundred pieces take a minute otherwise. */
const deflate: Deflate = (bytes) => deflateRawSync(bytes, { level: 4 });

/**
 * Makes a model printable from file to beds: mends it, proposes seams, seats joints, looks for poses, fills beds, and writes the plan,
 * the pieces in their places, a file for each bed, and a report. Exit code 2 when something is left for the maker.
 */
export async function prepare({ words, flags }: Arguments): Promise<number> {
  const out = flags.get('out');
  if (words.length !== 1 || !out) throw new GephyraError('usage', 'Say prepare FILE --printer 220x220x250 --out DIR.');
  const limit = limitOf(flags);
  const start = withPrinters(null, flags.get('printer'));
  const { found, stem } = await readModelFile(words[0]);
  const kernel = await loadKernel();
  await loadSimplifier();
  const began = performance.now();
  const steps: Prepared[] = [];
  const tools = { fallback: kernelTriangulator(kernel), kernel };
  for (const step of preparations(start, found, tools, limit.past)) {
    steps.push(step);
    if (!flags.has('json')) console.log(`${step.step}: ${step.did}`);
  }
  const { project } = steps[steps.length - 1];
  const { plan, evaluation } = project;
  const pieces = writeProject(
    project,
    evaluation.pieces.filter((p) => !p.aside),
    stem,
    '3mf',
    { palette: found.palette, deflate },
  );
  const shared = sharedFiles(evaluation, project.alike, plan.pieces);
  const context = { kernel, plan, evaluation, shared };
  const beds =
    plan.beds.length > 0
      ? bedFiles(context, [...piecePrints(context)], plan.beds, stem, '3mf', { palette: found.palette, deflate })
      : null;
  const against = [...new Set([...pieces.against, ...(beds?.beds.flatMap((b) => b.against) ?? [])])];
  const left = [...steps.flatMap((s) => s.left), ...against];
  for (const { name, bytes } of pieces.files) await put(join(out, 'pieces', name), bytes);
  for (const { name, bytes } of beds?.files ?? []) await put(join(out, 'beds', name), bytes);
  await writeText(join(out, 'plan.json'), `${JSON.stringify(planSchema.parse(plan), null, 2)}\n`);
  const report = [
    `# ${stem}`,
    '',
    ...steps.map((s) => `- ${s.step}: ${s.did}`),
    '',
    ...(left.length > 0 ? ['## What is left to do', '', ...left.map((l) => `- ${l}`), ''] : []),
  ];
  await writeText(join(out, 'report.md'), report.join('\n'));
  const seconds = (performance.now() - began) / 1000;
  const result = {
    steps: steps.map(({ step, did, left: open }) => ({ step, did, left: open })),
    pieces: evaluation.pieces.length,
    fits: evaluation.pieces.filter((p) => p.build.within).length,
    beds: plan.beds.length,
    files: pieces.files.length + (beds?.files.length ?? 0),
    left,
    seconds,
  };
  if (flags.has('json')) console.log(JSON.stringify(result));
  else {
    for (const l of left) console.log(`left: ${l}`);
    console.log(`${result.pieces} pieces on ${result.beds} beds, ${result.files} files in ${out}.`);
  }
  return left.length > 0 ? 2 : 0;
}

async function put(path: string, bytes: Uint8Array): Promise<void> {
  await mkdir(dirname(path), { recursive: true });
  await writeBytes(path, bytes);
}
