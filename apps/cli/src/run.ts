import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { EXPORT_FORMATS, type ExportFormat, GephyraError, layOf, printOfFile, writeProject } from '@gephyra/core';
import type { Arguments } from './arguments.ts';
import { writeBytes } from './files.ts';
import { allPrints, planProject, printContext } from './plan-project.ts';

/**
 * Computes the pieces of a plan and writes them into a folder. With stop findings nothing is written, and the exit code
 * is 2, unless --allow-findings is given (then it is written, and the code is still 2).
 */
export async function run({ words, flags }: Arguments): Promise<number> {
  const model = flags.get('model');
  const out = flags.get('out');
  const as = flags.get('as') ?? 'place';
  const format = (flags.get('format') ?? 'stl') as ExportFormat;
  if (words.length !== 1 || !model || !out) {
    throw new GephyraError('usage', 'Say run PLAN.json --model FILE --out DIR.');
  }
  if (!EXPORT_FORMATS.includes(format)) {
    throw new GephyraError('usage', `--format is one of ${EXPORT_FORMATS.join(', ')}.`);
  }
  if (as !== 'place' && as !== 'print') throw new GephyraError('usage', '--as is place or print.');
  const start = performance.now();
  const read = await planProject(words[0], model);
  const { plan, project, shaped, found, stem: name } = read;
  const { bodies } = shaped;
  const { evaluation: e } = project;
  const prints = as === 'print' ? allPrints(printContext(read, plan)) : [];
  const made = e.pieces.filter((p) => !p.aside);
  const { files, written, against } = writeProject(project, made, name, format, {
    palette: found.palette,
    ...(as === 'print' && { lay: (piece, mirrored, mesh) => layOf(printOfFile(prints, piece.key, mirrored), mesh) }),
  });
  const seconds = (performance.now() - start) / 1000;
  const stops = against.length;
  const write = stops === 0 || flags.has('allow-findings');
  if (write) {
    await mkdir(out, { recursive: true });
    for (const file of files) {
      await writeBytes(join(out, file.name), file.bytes);
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
