// Runs a command of the command line in a process of its own, and ends it when it takes longer than --limit says: what is
// deep in a computation cannot be asked to stop.
import { spawn } from 'node:child_process';
import { constants } from 'node:os';
import { fileURLToPath } from 'node:url';

const USUAL = 600;
/** Searches stop by themselves at the limit; this is left to them to write what they have found, seconds. */
const GRACE = 60;

const words = process.argv.slice(2);
const at = words.indexOf('--limit');
const given = at < 0 ? USUAL : Number(words[at + 1]);
// what is no number is refused by the command itself
const limit = given > 0 ? given : USUAL;
const grace = Math.min(GRACE, Math.max(5, limit));

const main = fileURLToPath(new URL('./src/main.ts', import.meta.url));
const child = spawn(process.execPath, ['--import', 'tsx', main, ...words], { stdio: 'inherit' });
let late = false;
const timer = setTimeout(
  () => {
    late = true;
    child.kill('SIGKILL');
  },
  (limit + grace) * 1000,
);
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => child.kill(signal));
child.on('exit', (code, signal) => {
  clearTimeout(timer);
  if (late) {
    console.error(
      `It was not done after ${limit + grace} seconds and was stopped. Simplify the model, or say --limit SECONDS.`,
    );
    process.exitCode = 1;
  } else if (signal === 'SIGABRT') {
    console.error('The computation broke off, most likely for want of memory. Simplify the model first.');
    process.exitCode = 1;
  } else process.exitCode = code ?? 128 + constants.signals[signal];
});
