// npm run bench [cut|seams|read|evaluate|joints|seats|model|mend|print|order|import|browser]: measured comparisons; ratios come from one run, both sides in turn.
import { cpus } from 'node:os';
import process from 'node:process';
import { loadKernel } from '@gephyra/core';
import { table } from './measure.ts';

const only = process.argv.slice(2);
const wanted = (name: string): boolean => only.length === 0 || only.includes(name);
const kernel = await loadKernel();
console.log(`Node ${process.version}, ${cpus().length} × ${cpus()[0]?.model ?? 'unknown'}`);
if (wanted('cut')) table('Cut', (await import('./cut.ts')).benchCut(kernel));
if (wanted('read')) table('Read', (await import('./read.ts')).benchRead());
if (wanted('seams')) table('Seams', (await import('./seams.ts')).benchSeams(kernel));
if (wanted('evaluate')) table('Evaluate', (await import('./evaluate.ts')).benchEvaluate(kernel));
if (wanted('joints')) table('Joints', (await import('./joints.ts')).benchJoints(kernel));
if (wanted('seats')) table('Seats', (await import('./seats.ts')).benchSeats(kernel));
if (wanted('model')) table('Model', (await import('./model.ts')).benchModel(kernel));
if (wanted('mend')) table('Mend', (await import('./mend.ts')).benchMend(kernel));
if (wanted('print')) table('Print', await (await import('./print.ts')).benchPrint(kernel));
if (wanted('order')) table('Order', (await import('./order.ts')).benchOrder(kernel));
if (wanted('import')) table('Import', await (await import('./import.ts')).benchImport());
if (wanted('browser')) table('Browser', await (await import('./browser.ts')).benchBrowser());
