import { fork } from 'node:child_process';
import { once } from 'node:events';
import { rm } from 'node:fs/promises';
import { resolve } from 'node:path';
import process from 'node:process';
import { fileURLToPath } from 'node:url';
import { GephyraError } from '@gephyra/core';
import { startServer } from '@gephyra/server';

const root = fileURLToPath(new URL('../', import.meta.url));
const data = resolve(process.env.GEPHYRA_DATA ?? resolve(root, 'data/demo'));
const wanted = Number(process.env.GEPHYRA_PORT ?? 4330);
const options = { data, web: resolve(root, 'apps/web/dist') };

try {
  if (process.argv.includes('--fresh')) await rm(data, { recursive: true, force: true });
  const server = await startServer({ ...options, port: wanted }).catch((error: unknown) => {
    if (error instanceof GephyraError && error.code === 'port.taken') return startServer({ ...options, port: 0 });
    throw error;
  });
  const base = `http://localhost:${server.port}`;
  const [code] = await once(fork(fileURLToPath(new URL('./seeding.ts', import.meta.url)), [base, data]), 'exit');
  if (code !== 0) throw new Error('The sample projects could not be made.');
  console.log(`Gephyra is at ${base}`);
  for (const signal of ['SIGINT', 'SIGTERM'] as const) {
    process.once(signal, () => {
      server.close().finally(() => process.exit(0));
    });
  }
} catch (error) {
  console.error(error instanceof GephyraError ? error.message : error);
  process.exit(1);
}
