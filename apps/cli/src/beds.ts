import { mkdir } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import {
  applyChange,
  bedFiles,
  bedFindings,
  bedHours,
  bedName,
  bedRoom,
  fillBeds,
  GephyraError,
  planSchema,
  printerNamed,
  shadowArea,
  shadowOfPrint,
} from '@gephyra/core';
import type { Arguments } from './arguments.ts';
import { writeBytes, writeText } from './files.ts';
import { allPrints, planProject, printContext } from './plan-project.ts';

/**
 * Fills beds with the pieces of a plan in their poses, and writes each bed's file, a picture, a list, and the plan with its
 * beds. Exit code 2 when pieces are left over or something is not sound.
 */
export async function beds({ words, flags }: Arguments): Promise<number> {
  const model = flags.get('model');
  const out = flags.get('out');
  const format = flags.get('format') ?? '3mf';
  if (words.length !== 1 || !model || !out) {
    throw new GephyraError('usage', 'Say beds PLAN.json --model FILE --out DIR [--format 3mf|stl].');
  }
  if (format !== '3mf' && format !== 'stl') throw new GephyraError('usage', '--format is 3mf or stl.');
  const read = await planProject(words[0], model);
  const start = performance.now();
  const context = printContext(read, read.plan);
  const prints = allPrints(context);
  const filling = fillBeds(context, prints);
  const plan = applyChange(read.plan, filling.change);
  const filled = { ...context, plan };
  const { files, beds: written } = bedFiles(filled, prints, plan.beds, read.stem, format, {
    palette: read.found.palette,
  });
  const findings = bedFindings(filled, prints);
  const against = [
    ...read.project.stops.map((f) => f.message),
    ...findings.filter((f) => f.severity === 'stop').map((f) => f.message),
    ...written.flatMap((w) => w.against),
  ];
  await mkdir(out, { recursive: true });
  for (const { name, bytes } of files) {
    await mkdir(dirname(join(out, name)), { recursive: true });
    await writeBytes(join(out, name), bytes);
  }
  await writeText(join(out, 'plan.json'), `${JSON.stringify(planSchema.parse(plan), null, 2)}\n`);
  const byKey = new Map(prints.map((p) => [p.key, p]));
  const result = {
    beds: written.map(({ bed, file }) => {
      const printer = printerNamed(plan, bed.printer);
      const { width, depth } = bedRoom(printer);
      const on = bed.pieces.flatMap((p) => byKey.get(p.piece) ?? []);
      return {
        name: bedName(bed, plan.beds),
        printer: bed.printer,
        fill: on.reduce((sum, p) => sum + shadowArea(shadowOfPrint(filled, p)), 0) / (width * depth),
        pieces: bed.pieces.map(({ piece, copy, x, y, spin }) => ({ key: piece, copy, x, y, spin })),
        hours: bedHours(
          printer,
          on.map((p) => p.estimate.hours),
        ),
        file,
      };
    }),
    left: filling.left,
    against,
    findings: findings.map(({ code, severity, where, message }) => ({ code, severity, where, message })),
    seconds: (performance.now() - start) / 1000,
  };
  if (flags.has('json')) console.log(JSON.stringify(result));
  else {
    for (const b of result.beds) {
      console.log(
        `${b.name}, ${b.printer}: ${b.pieces.length} pieces, ${(100 * b.fill).toFixed(0)} % full, ${b.hours.toFixed(1)} h, ${b.file}`,
      );
    }
    for (const l of result.left) console.log(`left: ${l.piece} copy ${l.copy}, ${l.why}`);
    for (const a of against) console.log(`stop: ${a}`);
  }
  return against.length > 0 || result.left.length > 0 ? 2 : 0;
}
