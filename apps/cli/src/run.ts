import { mkdir, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import {
  computeProject,
  EXPORT_FORMATS,
  type ExportFormat,
  GephyraError,
  kernelTriangulator,
  loadKernel,
  loadSimplifier,
  parsePlan,
  shapeProject,
  writeProject,
} from '@gephyra/core';
import type { Arguments } from './arguments.ts';
import { readModelFile } from './model-file.ts';
import { readJson } from './plan-check.ts';

/**
 * Computes the pieces of a plan and writes them into a folder. With stop findings nothing is written, and the exit code
 * is 2, unless --allow-findings is given (then it is written, and the code is still 2).
 */
export async function run({ words, flags }: Arguments): Promise<number> {
  const model = flags.get('model');
  const out = flags.get('out');
  const format = (flags.get('format') ?? 'stl') as ExportFormat;
  if (words.length !== 1 || !model || !out) {
    throw new GephyraError('usage', 'Say run PLAN.json --model FILE --out DIR.');
  }
  if (!EXPORT_FORMATS.includes(format)) {
    throw new GephyraError('usage', `--format is one of ${EXPORT_FORMATS.join(', ')}.`);
  }
  const plan = parsePlan(await readJson(words[0]));
  const { found, stem: name } = await readModelFile(model);
  const kernel = await loadKernel();
  await loadSimplifier();
  const start = performance.now();
  const shaped = shapeProject(plan, found, kernel);
  const { bodies } = shaped;
  const project = computeProject(plan, shaped, { fallback: kernelTriangulator(kernel), kernel });
  const { evaluation: e } = project;
  const made = e.pieces.filter((p) => !p.aside);
  const { files, written, against } = writeProject(project, made, name, format, found.palette);
  const seconds = (performance.now() - start) / 1000;
  const stops = against.length;
  const write = stops === 0 || flags.has('allow-findings');
  if (write) {
    await mkdir(out, { recursive: true });
    for (const file of files) {
      const path = join(out, file.name);
      await writeFile(`${path}.part`, file.bytes);
      await rename(`${path}.part`, path);
    }
  }
  const result = {
    source: {
      volume: bodies.reduce((sum, b) => sum + b.volume, 0),
      triangles: bodies.reduce((sum, b) => sum + b.mesh.tags.length, 0),
    },
    recipe: shaped.reports,
    pieces: written.map(({ piece: p, file, watertight, triangles }) => ({
      key: p.key,
      name: `${p.code} ${p.name}`,
      file: write ? file : null,
      size: p.size,
      volume: p.volume,
      triangles,
      watertight,
      fits: p.build.within,
    })),
    faces: e.faces.map((f) => ({
      id: f.id,
      seam: f.seam,
      pieces: f.pieces,
      area: f.area,
      joints: e.joints.filter((j) => j.face === f.id && j.built).map((j) => j.id),
    })),
    findings: e.findings.map(({ code, severity, where, message }) => ({ code, severity, where, message })),
    seconds,
  };
  if (flags.has('json')) console.log(JSON.stringify(result));
  else {
    for (const p of result.pieces) {
      console.log(`${p.name}: ${p.size.map((x) => x.toFixed(1)).join(' × ')} mm, ${p.fits ? 'fits' : 'does not fit'}`);
    }
    for (const f of result.faces) {
      const codes = f.pieces.map((key) => e.pieces.find((p) => p.key === key)?.code).join(' to ');
      console.log(`face ${f.id}, ${codes}: ${f.joints.length === 0 ? 'no joint' : f.joints.join(', ')}`);
    }
    for (const f of result.findings) console.log(`${f.severity}: ${f.message}`);
    console.log(write ? `${files.length} files in ${out}` : 'Nothing written: there are stop findings.');
  }
  if (stops > 0 && !write) {
    console.error(`${stops} stop findings; nothing was written. --allow-findings writes all the same.`);
  }
  return stops > 0 ? 2 : 0;
}
