// Starts a program of the server in a process of its own, and ends with it.
import { spawn } from 'node:child_process';
import process from 'node:process';
import { root } from './setup.mjs';

/**
 * How the C library keeps memory: few arenas, and what is large given back when it is let go of. Threads that read and cut models
 * come and go; without this what they have used stays with the process for good.
 */
const LEAN = { MALLOC_ARENA_MAX: '2', MALLOC_MMAP_THRESHOLD_: '262144', MALLOC_TRIM_THRESHOLD_: '262144' };

/** Runs a TypeScript file of the project's root with these words. */
export function startServer(file, words) {
  const child = spawn(process.execPath, ['--import', 'tsx', file, ...words], {
    cwd: root,
    stdio: 'inherit',
    env: { ...LEAN, ...process.env },
  });
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => child.kill(signal));
  child.on('exit', (code) => process.exit(code ?? 0));
}
